// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/colour_grid.h"

#include <cmath>

namespace finch {
namespace {

/// 4 to 1000 nm in 519 steps, and as fine far below the film that air leaves on bare metal and far above those that
/// have a colour: where a grid ends, a colour seems to say that the film goes no further.
constexpr int steps_between = 519, steps_below = 151, steps_above = 100;

} // namespace

const Eigen::VectorXd& ln_nm_grid() {
    static const double step = std::log(1000.0 / 4.0) / steps_between;
    static const Eigen::VectorXd grid =
        Eigen::VectorXd::LinSpaced(steps_below + steps_between + steps_above + 1, std::log(4.0) - steps_below * step,
                                   std::log(1000.0) + steps_above * step);
    return grid;
}

double grid_step() {
    return ln_nm_grid()(1) - ln_nm_grid()(0);
}

Eigen::MatrixXd film_colours(const FilmTable& table, double haze) {
    static const Eigen::VectorXd nm = ln_nm_grid().array().exp();
    Eigen::MatrixXd out(nm.size(), 3);
    for (Eigen::Index i = 0; i < nm.size(); ++i)
        out.row(i) = as_row(table.at(nm(i), haze));
    return out;
}

double reading_variance(const SeenCell& c, double colour_sd) {
    const double c_star = chroma(c.lab), read = std::clamp(c.read_sd, 0.63, unread_sd);
    return read * read + colour_sd * colour_sd + 0.0009 * c_star * c_star;
}

Eigen::VectorXd colour_likelihood(const Eigen::MatrixXd& film, const SeenCell& cell, const Lab& shift,
                                  double variance) {
    constexpr double freedom = 4; // of a Student t: a misread cell is an outlier, not a lever
    Eigen::VectorXd out(film.rows());
    for (Eigen::Index i = 0; i < film.rows(); ++i) {
        const double l = film(i, 0) + shift.l - cell.lab.l, a = film(i, 1) + shift.a - cell.lab.a,
                     b = film(i, 2) + shift.b - cell.lab.b;
        out(i) = -0.5 * (freedom + 3) * std::log1p((l * l + a * a + b * b) / variance / freedom);
    }
    return out;
}

} // namespace finch
