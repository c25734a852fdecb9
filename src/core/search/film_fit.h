// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "search/film_posterior.h"

#include <Eigen/Core>

namespace finch {

inline constexpr double shift_constant_sd = 1.0, shift_smooth_sd = 0.7;
inline constexpr double prior_haze_sd = 0.08;

/// A fitted mode: a Gaussian in the offsets and in what they leave, linear about `linear_at`.
struct FilmPosterior::Fit {
    Mode mode;
    BenchOffsets linear_at{};
    double evidence = 0;
    double haze_sd = prior_haze_sd;
    std::vector<Trial> trials; ///< of the cells that were used
    Eigen::VectorXd ln_nm;     ///< of each, after the fit
    Eigen::MatrixXd shift;     ///< of each, n x 3
    Eigen::VectorXd offset_variance;
    Eigen::MatrixXd slopes;  ///< n x 5
    Eigen::MatrixXd lower;   ///< Cholesky factor of the covariance of the thickness readings
    Eigen::VectorXd weights; ///< its inverse on their residuals
    Eigen::MatrixXd shift_covariance, shift_weights;
    Eigen::MatrixXd shift_lower; ///< Cholesky factor of the former
};

/// Covariance by likeness of settings.
[[nodiscard]] Eigen::MatrixXd likenesses(std::span<const Trial> a, std::span<const Trial> b, double length = 1);
/// Covariance of what grows with the distance from all that was seen, and of a bench's own law of growth.
[[nodiscard]] Eigen::MatrixXd far_covariance(std::span<const Trial> a, std::span<const Trial> b,
                                             const FilmPrior& prior);
/// What that is of a setting with itself.
[[nodiscard]] double far_variance(const FilmPrior& prior);
/// Prior covariance of the colour shift: what is common, what goes by likeness of the settings, both times the square
/// of `scale`, and what goes with the film, whose ln thickness is given of rows and columns.
[[nodiscard]] Eigen::MatrixXd shift_prior(const Eigen::MatrixXd& likeness, const Eigen::VectorXd& ln_nm,
                                          const Eigen::VectorXd& other_ln_nm, double scale, const FilmPrior& prior);
/// What that is of a setting with itself.
[[nodiscard]] double shift_variance(double ln_nm, double scale, const FilmPrior& prior);
/// Lower factor, with as much added to the diagonal as it takes.
[[nodiscard]] Eigen::MatrixXd steady_cholesky(const Eigen::MatrixXd& covariance);
/// Modes of the cells, all of which must be readable; at least one.
[[nodiscard]] std::vector<FilmPosterior::Fit> fit_film(const FilmTable& table, const std::vector<SeenCell>& cells,
                                                       const FilmPrior& prior);

} // namespace finch
