// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "search/film_posterior.h"

#include <algorithm>
#include <Eigen/Core>

namespace finch {

inline constexpr double model_colour_sd = 0.6; ///< of L*, a*, b*, of the film's optics

/// Grid of ln thickness on which the likelihood of a colour is worked out.
[[nodiscard]] const Eigen::VectorXd& ln_nm_grid();
[[nodiscard]] double grid_step();

[[nodiscard]] inline double seen_haze(double haze, double shift) {
    return std::clamp(haze + shift, 0.02, 0.98);
}
[[nodiscard]] inline Eigen::RowVector3d as_row(const Lab& lab) {
    return {lab.l, lab.a, lab.b};
}

/// Colours of films at every point of the grid, in rows of L*, a*, b*.
[[nodiscard]] Eigen::MatrixXd film_colours(const FilmTable& table, double haze);
/// Variance of each of L*, a*, b* of a reading about the film's colour. `colour_sd`: of the optics and the camera.
[[nodiscard]] double reading_variance(const SeenCell& cell, double colour_sd);
/// ln likelihood of a cell's colour over the grid, from the films' colours there.
[[nodiscard]] Eigen::VectorXd colour_likelihood(const Eigen::MatrixXd& film, const SeenCell& cell, const Lab& shift,
                                                double variance);

} // namespace finch
