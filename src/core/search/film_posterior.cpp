// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/film_posterior.h"

#include "search/colour_grid.h"
#include "search/film_fit.h"

#include <algorithm>
#include <cmath>
#include <Eigen/Cholesky>

namespace finch {
namespace {

/// A colour tells the thickness times the refractive index, which is known to four in a hundred.
constexpr double index_ln = 0.04;

using Eigen::MatrixXd;
using Eigen::VectorXd;

/// Thickness of settings in one mode, or by the prior alone.
struct Thickness {
    VectorXd ln_nm;
    MatrixXd covariance; ///< n x n if joint, else n x 1
};

Eigen::Index size(std::span<const Trial> trials) {
    return static_cast<Eigen::Index>(trials.size());
}

std::pair<VectorXd, MatrixXd> told_all(std::span<const Trial> trials, const BenchOffsets& at) {
    VectorXd u(size(trials));
    MatrixXd slopes(size(trials), 5);
    for (std::size_t i = 0; i < trials.size(); ++i) {
        const Trial::Told t = trials[i].told(at);
        u(static_cast<Eigen::Index>(i)) = t.ln_nm;
        for (int k = 0; k < 5; ++k)
            slopes(static_cast<Eigen::Index>(i), k) = t.slope[static_cast<std::size_t>(k)];
    }
    return {u, slopes};
}

Thickness prior_thickness(std::span<const Trial> trials, const FilmPrior& prior, bool joint) {
    const auto [u, slopes] = told_all(trials, prior.mean);
    VectorXd var(5);
    for (int k = 0; k < 5; ++k)
        var(k) = prior.sd[static_cast<std::size_t>(k)] * prior.sd[static_cast<std::size_t>(k)];
    const double rest = prior.rest_amplitudes[1] * prior.rest_amplitudes[1],
                 own = prior.cell_sds[0] * prior.cell_sds[0];
    if (!joint)
        return {u, (slopes.cwiseProduct(slopes) * var).array() + rest + own + far_variance(prior)};
    MatrixXd c = slopes * var.asDiagonal() * slopes.transpose() + rest * likenesses(trials, trials) +
                 far_covariance(trials, trials, prior);
    c.diagonal().array() += own;
    return {u, c};
}

Thickness fitted_thickness(std::span<const Trial> trials, const FilmPosterior::Fit& fit, const FilmPrior& prior,
                           bool joint) {
    const auto [u, slopes] = told_all(trials, fit.linear_at);
    VectorXd away(5);
    for (int k = 0; k < 5; ++k)
        away(k) = prior.mean[static_cast<std::size_t>(k)] - fit.linear_at[static_cast<std::size_t>(k)];
    const double rest = fit.mode.rest_amplitude * fit.mode.rest_amplitude, own = fit.mode.cell_sd * fit.mode.cell_sd,
                 calm = fit.mode.calm * fit.mode.calm;
    const MatrixXd cross = slopes * fit.offset_variance.asDiagonal() * fit.slopes.transpose() +
                           rest * likenesses(trials, fit.trials) + far_covariance(trials, fit.trials, prior);
    Thickness out;
    out.ln_nm = (u + slopes * away + cross * fit.weights).cwiseMax(0.5).cwiseMin(7.6);
    const MatrixXd known = fit.lower.triangularView<Eigen::Lower>().solve(MatrixXd(cross.transpose()));
    if (!joint) {
        out.covariance = ((slopes.cwiseProduct(slopes) * fit.offset_variance).array() + rest + own +
                          far_variance(prior) - known.colwise().squaredNorm().transpose().array()) *
                         calm;
        return out;
    }
    MatrixXd c = slopes * fit.offset_variance.asDiagonal() * slopes.transpose() + rest * likenesses(trials, trials) +
                 far_covariance(trials, trials, prior) - known.transpose() * known;
    c.diagonal().array() += own;
    out.covariance = 0.5 * calm * (c + c.transpose());
    return out;
}

} // namespace

FilmPosterior::FilmPosterior(std::shared_ptr<const FilmTable> table, std::vector<SeenCell> cells,
                             const FilmPrior& prior)
    : table_(std::move(table)), cells_(std::move(cells)), prior_(prior) {
    std::vector<DamageSeen> seen;
    for (const SeenCell& c : cells_)
        seen.push_back({c.trial, c.spoiled});
    damage_ = {seen, prior_.damage};
    std::vector<SeenCell> readable;
    for (std::size_t i = 0; i < cells_.size() && readable.size() < most_cells; ++i)
        if (!cells_[i].spoiled && cells_[i].read_sd < unread_sd) {
            used_.push_back(i);
            readable.push_back(cells_[i]);
        }
    if (readable.empty())
        return;
    for (Fit& f : fit_film(*table_, readable, prior_))
        fits_.push_back(std::make_shared<const Fit>(std::move(f)));
}

std::vector<FilmPosterior::Mode> FilmPosterior::modes() const {
    std::vector<Mode> out;
    for (const auto& f : fits_)
        out.push_back(f->mode);
    return out;
}

std::size_t FilmPosterior::likeliest() const {
    const auto best = std::max_element(fits_.begin(), fits_.end(),
                                       [](const auto& a, const auto& b) { return a->mode.weight < b->mode.weight; });
    return static_cast<std::size_t>(best - fits_.begin());
}

std::vector<FilmPosterior::Told> FilmPosterior::told(std::span<const Trial> trials, std::size_t mode) const {
    std::vector<Told> out(trials.size());
    if (mode >= fits_.size()) {
        const Thickness t = prior_thickness(trials, prior_, false);
        for (std::size_t i = 0; i < trials.size(); ++i)
            out[i] = {t.ln_nm(static_cast<Eigen::Index>(i)),
                      t.covariance(static_cast<Eigen::Index>(i), 0),
                      trials[i].haze,
                      prior_haze_sd,
                      {},
                      std::sqrt(shift_variance(t.ln_nm(static_cast<Eigen::Index>(i)), 1, prior_))};
        return out;
    }
    const Fit& f = *fits_[mode];
    const Thickness t = fitted_thickness(trials, f, prior_, false);
    const MatrixXd like = shift_prior(likenesses(trials, f.trials), t.ln_nm, f.ln_nm, f.mode.colour_scale, prior_);
    const MatrixXd shift = like * f.shift_weights;
    const VectorXd known = f.shift_lower.triangularView<Eigen::Lower>()
                               .solve(MatrixXd(like.transpose()))
                               .colwise()
                               .squaredNorm()
                               .transpose();
    for (std::size_t i = 0; i < trials.size(); ++i) {
        const auto k = static_cast<Eigen::Index>(i);
        out[i] = {t.ln_nm(k),
                  t.covariance(k, 0),
                  std::clamp(trials[i].haze + f.mode.haze_shift, 0.02, 0.98),
                  f.haze_sd,
                  {shift(k, 0), shift(k, 1), shift(k, 2)},
                  std::sqrt(std::max(shift_variance(t.ln_nm(k), f.mode.colour_scale, prior_) - known(k), 0.01))};
    }
    return out;
}

std::vector<std::vector<Lab>> FilmPosterior::worlds(std::span<const Trial> trials, std::size_t count,
                                                    Draws& draws) const {
    std::vector<std::vector<Lab>> out;
    out.reserve(count);
    const std::size_t modes = std::max<std::size_t>(fits_.size(), 1);
    std::vector<std::size_t> counts(modes, count);
    if (!fits_.empty()) {
        std::size_t others = 0;
        for (std::size_t m = 1; m < modes; ++m)
            others += counts[m] = std::max<std::size_t>(
                1, static_cast<std::size_t>(std::lround(fits_[m]->mode.weight * static_cast<double>(count))));
        counts[0] = count - std::min(count, others);
    }
    for (std::size_t m = 0; m < modes; ++m) {
        const Thickness t =
            fits_.empty() ? prior_thickness(trials, prior_, true) : fitted_thickness(trials, *fits_[m], prior_, true);
        std::vector<Told> told = this->told(trials, fits_.empty() ? modes : m);
        const MatrixXd lower = steady_cholesky(t.covariance);
        // Cells are chosen for colours that this bench can make. An order of the film that was never seen may look
        // otherwise than the table says, which the bands tell; as a world to choose for it is one that nothing reaches.
        const double most_shift =
            (fits_.empty() ? 1 : fits_[m]->mode.colour_scale) * std::hypot(shift_constant_sd, shift_smooth_sd);
        for (Told& c : told)
            c.shift_sd = std::min(c.shift_sd, most_shift);
        // All worlds at once: one product of matrices is many times faster than as many of a matrix and a vector.
        const auto drawn = static_cast<Eigen::Index>(counts[m]);
        MatrixXd own(size(trials), drawn), whole(4, drawn);
        for (Eigen::Index w = 0; w < drawn; ++w) {
            for (double& v : own.col(w))
                v = draws.normal();
            for (double& v : whole.col(w))
                v = draws.normal();
        }
        const MatrixXd ln_nm = (lower.triangularView<Eigen::Lower>() * own).colwise() + t.ln_nm;
        for (Eigen::Index w = 0; w < drawn; ++w) {
            std::vector<Lab> world(trials.size());
            for (std::size_t i = 0; i < trials.size(); ++i) {
                const Told& c = told[i];
                const Lab film = table_->at(std::exp(std::clamp(ln_nm(static_cast<Eigen::Index>(i), w), 0.0, 6.9)),
                                            std::clamp(c.haze + c.haze_sd * whole(0, w), 0.02, 0.98));
                world[i] = {film.l + c.shift.l + c.shift_sd * whole(1, w),
                            film.a + c.shift.a + c.shift_sd * whole(2, w),
                            film.b + c.shift.b + c.shift_sd * whole(3, w)};
            }
            out.push_back(std::move(world));
        }
    }
    return out;
}

std::vector<double> FilmPosterior::covariance(std::span<const Trial> trials) const {
    const Thickness t = fits_.empty() ? prior_thickness(trials, prior_, true)
                                      : fitted_thickness(trials, *fits_[likeliest()], prior_, true);
    std::vector<double> out(trials.size() * trials.size());
    Eigen::Map<MatrixXd>(out.data(), size(trials), size(trials)) = t.covariance; // symmetric: either order
    return out;
}

std::vector<std::optional<Lab>> FilmPosterior::fitted() const {
    std::vector<std::optional<Lab>> out(cells_.size());
    if (fits_.empty())
        return out;
    const Fit& f = *fits_[likeliest()];
    for (std::size_t k = 0; k < used_.size(); ++k) {
        const auto i = static_cast<Eigen::Index>(k);
        const Lab film = table_->at(std::exp(f.ln_nm(i)), std::clamp(f.trials[k].haze + f.mode.haze_shift, 0.02, 0.98));
        out[used_[k]] = Lab{film.l + f.shift(i, 0), film.a + f.shift(i, 1), film.b + f.shift(i, 2)};
    }
    return out;
}

double FilmPosterior::stated_ln(const Trial& trial, const Told& film) const {
    if (fits_.empty())
        return std::sqrt(film.variance);
    double variance = 0;
    for (std::size_t m = 0; m < fits_.size(); ++m) {
        const Told own = m == likeliest() ? film : told({&trial, 1}, m).front();
        variance += fits_[m]->mode.weight * (own.variance + (own.ln_nm - film.ln_nm) * (own.ln_nm - film.ln_nm));
    }
    return std::sqrt(std::max(variance, 0.0) + index_ln * index_ln);
}

std::optional<double> FilmPosterior::surprise(const SeenCell& cell) const {
    const Told t = told({&cell.trial, 1}, fits_.empty() ? 1 : likeliest()).front();
    if (cell.spoiled || cell.read_sd >= unread_sd || t.ln_nm < std::log(10.0) ||
        t.ln_nm > std::log(FilmTable::thickest_nm))
        return std::nullopt;
    const double scale = fits_.empty() ? 1 : fits_[likeliest()]->mode.colour_scale;
    const double variance = reading_variance(cell, scale * model_colour_sd) + t.shift_sd * t.shift_sd;
    // The least mismatch of thickness and colour together, less what no thickness explains: with one order in reach and
    // a colour that goes straight with it this is the distance in deviations, and no window decides what is looked at.
    const Eigen::ArrayXd colour =
        -2 * colour_likelihood(film_colours(*table_, t.haze), cell, t.shift, variance).array();
    const Eigen::ArrayXd away = ln_nm_grid().array() - t.ln_nm;
    Eigen::Index at = 0;
    const double least = (colour + (away / stated_ln(cell.trial, t)).square()).minCoeff(&at);
    return std::copysign(std::sqrt(std::max(0.0, least - colour.minCoeff())), away(at));
}

} // namespace finch
