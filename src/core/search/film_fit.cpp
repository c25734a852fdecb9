// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/film_fit.h"

#include "search/colour_grid.h"
#include "search/film_lattice.h"

#include <algorithm>
#include <cmath>
#include <Eigen/Cholesky>
#include <numbers>

namespace finch {
namespace {

using Eigen::ArrayXd;
using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr double window = 0.15; ///< sd of the window in ln thickness in which a mode looks at a colour

Lab lab(const Eigen::RowVector3d& r) {
    return {r(0), r(1), r(2)};
}

double optics_sd(double ln_nm, const FilmPrior& prior) {
    return std::min(prior.optics_per_nm * std::exp(ln_nm), prior.optics_most);
}

/// Follows one mode: each colour as a mean and variance of ln thickness inside a window, then one exact Gaussian
/// regression, then haze and colour of what thickness cannot explain; five times.
class ModeFit {
public:
    ModeFit(const FilmTable& table, const std::vector<SeenCell>& cells, const FilmPrior& prior,
            const LatticePoint& start, double scale)
        : table_(table), cells_(cells), prior_(prior), scale_(scale), n_(static_cast<Eigen::Index>(cells.size())),
          haze_(start.haze), mean_(n_), variance_(n_), shift_(MatrixXd::Zero(n_, 3)) {
        for (const SeenCell& c : cells)
            out_.trials.push_back(c.trial);
        like_ = likenesses(out_.trials, out_.trials);
        far_ = far_covariance(out_.trials, out_.trials, prior);
        // The offset is shared out in proportion to what each cause may be off.
        const double ga = median_of(cells, &Trial::ga), gs = median_of(cells, &Trial::gs);
        const std::array<double, 3> var{prior.sd[0] * prior.sd[0], std::pow(ga * prior.sd[1], 2),
                                        std::pow(gs * prior.sd[2], 2)};
        const double all = var[0] + var[1] + var[2];
        at_ = prior.mean;
        at_[0] = start.offset * var[0] / all;
        at_[1] = ga != 0 ? start.offset * var[1] / all / ga : 0;
        at_[2] = gs != 0 ? start.offset * var[2] / all / gs : 0;
        at_[3] = start.slope;
        ln_nm_ = told().first;
    }

    FilmPosterior::Fit run() {
        for (int i = 0; i < 5; ++i) {
            sites();
            regress();
            colours();
        }
        finish();
        return std::move(out_);
    }

private:
    [[nodiscard]] std::pair<VectorXd, MatrixXd> told() const {
        VectorXd u(n_);
        MatrixXd slopes(n_, 5);
        for (Eigen::Index i = 0; i < n_; ++i) {
            const Trial::Told t = cells_[static_cast<std::size_t>(i)].trial.told(at_);
            u(i) = t.ln_nm;
            for (int k = 0; k < 5; ++k)
                slopes(i, k) = t.slope[static_cast<std::size_t>(k)];
        }
        return {u, slopes};
    }

    void sites() {
        const ArrayXd grid = ln_nm_grid().array();
        constexpr double v = window * window;
        likely_ = 0;
        for (Eigen::Index k = 0; k < n_; ++k) {
            const SeenCell& c = cells_[static_cast<std::size_t>(k)];
            const double seen = reading_variance(c, scale_ * model_colour_sd);
            const ArrayXd t =
                colour_likelihood(film_colours(table_, seen_haze(c.trial.haze, haze_)), c, lab(shift_.row(k)), seen)
                    .array() -
                0.5 * (grid - ln_nm_(k)).square() / v;
            const double top = t.maxCoeff();
            const ArrayXd w = (t - top).exp();
            const double sum = w.sum(), mean = (w * grid).sum() / sum;
            const double tilted = std::max((w * (grid - mean).square()).sum() / sum, 1e-6);
            const double own = 1 / tilted - 1 / v, precision = std::max(own, 1e-2);
            mean_(k) = own > 1e-2 ? (mean / tilted - ln_nm_(k) / v) / precision : ln_nm_(k);
            variance_(k) = 1 / precision;
            likely_ += top + std::log(sum * grid_step() / std::sqrt(2 * std::numbers::pi * v)) -
                       1.5 * std::log(seen / reading_variance(c, model_colour_sd));
        }
    }

    /// Covariance of the thicknesses that the colours mean, from a shift that all of them share: what it moves along
    /// the film's own colours cannot be told from thickness.
    [[nodiscard]] MatrixXd shifted_together() const {
        constexpr double hardly = 1; // of CIELAB for a whole ln: no flatter is told apart
        MatrixXd by_colour(n_, 3);
        for (Eigen::Index i = 0; i < n_; ++i) {
            const double haze = seen_haze(cells_[static_cast<std::size_t>(i)].trial.haze, haze_);
            const Eigen::RowVector3d d = (as_row(table_.at(std::exp(ln_nm_(i) + 0.02), haze)) -
                                          as_row(table_.at(std::exp(ln_nm_(i) - 0.02), haze))) /
                                         0.04;
            by_colour.row(i) = d / std::max(d.squaredNorm(), hardly * hardly);
        }
        return prior_.shift_as_thickness *
               shift_prior(like_, ln_nm_, ln_nm_, scale_, prior_).cwiseProduct(by_colour * by_colour.transpose());
    }

    void regress() {
        auto [u, slopes] = told();
        const MatrixXd together = shifted_together();
        BenchOffsets away{};
        for (std::size_t k = 0; k < 5; ++k)
            away[k] = prior_.mean[k] - at_[k];
        const VectorXd prior_u = u + slopes * Eigen::Map<const VectorXd>(away.data(), 5);
        const VectorXd r = mean_ - prior_u;
        double best = -1e300;
        MatrixXd best_k;
        for (const double width : prior_.widths) {
            VectorXd var(5);
            for (int k = 0; k < 5; ++k)
                var(k) = std::pow(prior_.sd[static_cast<std::size_t>(k)] * (k < 4 ? width : 1), 2);
            const MatrixXd offsets = slopes * var.asDiagonal() * slopes.transpose() + far_;
            for (const double rest : prior_.rest_amplitudes)
                for (const double cell : prior_.cell_sds) {
                    MatrixXd k = offsets + rest * rest * like_;
                    k.diagonal().array() += cell * cell;
                    MatrixXd c = k + together;
                    c.diagonal() += variance_;
                    c.diagonal().array() += 1e-9;
                    const MatrixXd lower = c.llt().matrixL();
                    const VectorXd a = lower.triangularView<Eigen::Lower>().solve(r);
                    const double evidence = -0.5 * a.squaredNorm() - lower.diagonal().array().log().sum() +
                                            0.5 * variance_.array().log().sum() -
                                            0.5 * std::pow(std::log(width) / 0.7, 2) -
                                            0.5 * std::pow(std::log(rest / 0.05) / 0.8, 2) -
                                            0.5 * std::pow(std::log(cell / prior_.cell_sds[0]), 2);
                    if (evidence > best) {
                        best = evidence;
                        out_.mode.width = width;
                        out_.mode.rest_amplitude = rest;
                        out_.mode.cell_sd = cell;
                        out_.offset_variance = var;
                        out_.lower = lower;
                        out_.weights = lower.transpose().triangularView<Eigen::Upper>().solve(a);
                        best_k = k;
                    }
                }
        }
        evidence_ = best;
        const VectorXd step = out_.offset_variance.cwiseProduct(slopes.transpose() * out_.weights);
        ln_nm_ = prior_u + best_k * out_.weights;
        // What follows is linear about where the regression was factored, not about where it arrives.
        out_.linear_at = at_;
        out_.slopes = slopes;
        for (std::size_t k = 0; k < 5; ++k)
            at_[k] = prior_.mean[k] + step(static_cast<Eigen::Index>(k));
        at_[1] = std::clamp(at_[1], -0.4, 0.4);
        at_[2] = std::clamp(at_[2], -0.4, 0.4);
        at_[3] = std::clamp(at_[3], -0.45, 0.45);
    }

    /// Haze and colour from what is left once the direction in which thickness changes the colour is taken out.
    void colours() {
        MatrixXd rest(n_, 3), by_haze(n_, 3), direction(n_, 3);
        VectorXd weight(n_), var(n_);
        for (Eigen::Index i = 0; i < n_; ++i) {
            const SeenCell& c = cells_[static_cast<std::size_t>(i)];
            const double nm = std::exp(ln_nm_(i));
            const Eigen::RowVector3d f = as_row(table_.at(nm, seen_haze(c.trial.haze, haze_)));
            const Eigen::RowVector3d d =
                (as_row(table_.at(std::exp(ln_nm_(i) + 0.02), seen_haze(c.trial.haze, haze_))) - f) / 0.02;
            by_haze.row(i) = (as_row(table_.at(nm, seen_haze(c.trial.haze, haze_ + 0.03))) - f) / 0.03;
            rest.row(i) = as_row(c.lab) - f;
            direction.row(i) = d / std::max(d.norm(), 1e-6);
            weight(i) = 1 / (1 + rest.row(i).squaredNorm() / 30);
            var(i) = reading_variance(c, scale_ * model_colour_sd);
        }
        const auto without_thickness = [&](const MatrixXd& m) -> MatrixXd {
            return m - (m.cwiseProduct(direction).rowwise().sum()).asDiagonal() * direction;
        };
        const MatrixXd b = without_thickness(by_haze), r = without_thickness(rest - shift_);
        const VectorXd w = weight.cwiseQuotient(var);
        const double given = w.dot(b.cwiseProduct(r).rowwise().sum());
        const double sharp = w.dot(b.cwiseProduct(b).rowwise().sum()) + 1 / (prior_haze_sd * prior_haze_sd);
        // The haze shift so far is out of r already: the prior pulls the whole of it back.
        const double step = (given - haze_ / (prior_haze_sd * prior_haze_sd)) / sharp;
        haze_ = std::clamp(haze_ + step, -0.25, 0.25);
        out_.haze_sd = 1 / std::sqrt(sharp);
        const MatrixXd k = shift_prior(like_, ln_nm_, ln_nm_, scale_, prior_);
        out_.shift_covariance = k;
        out_.shift_covariance.diagonal() += var.cwiseQuotient(weight.cwiseMax(0.05));
        out_.shift_weights = out_.shift_covariance.llt().solve(without_thickness(rest - by_haze * step));
        shift_ = k * out_.shift_weights;
    }

    void finish() {
        // How well each cell is told by the others sets the width of the bands.
        const MatrixXd inverse = out_.lower.transpose().triangularView<Eigen::Upper>().solve(
            MatrixXd(out_.lower.triangularView<Eigen::Lower>().solve(MatrixXd::Identity(n_, n_))));
        double squares = 0;
        for (Eigen::Index i = 0; i < n_; ++i)
            squares += std::pow(std::clamp(out_.weights(i) / std::sqrt(inverse(i, i)), -3.0, 3.0), 2);
        out_.mode.calm = std::sqrt((squares + 3) / (static_cast<double>(n_) + 3));
        out_.mode.offsets = at_;
        out_.mode.colour_scale = scale_;
        out_.mode.haze_shift = haze_;
        out_.ln_nm = ln_nm_;
        out_.shift = shift_;
        out_.evidence = evidence_ + likely_;
        out_.shift_lower = out_.shift_covariance.llt().matrixL();
    }

    const FilmTable& table_;
    const std::vector<SeenCell>& cells_;
    const FilmPrior& prior_;
    double scale_;
    Eigen::Index n_;
    double haze_, evidence_ = 0, likely_ = 0;
    BenchOffsets at_{};
    VectorXd ln_nm_, mean_, variance_;
    MatrixXd shift_, like_, far_;
    FilmPosterior::Fit out_;
};

} // namespace

MatrixXd likenesses(std::span<const Trial> a, std::span<const Trial> b, double length) {
    MatrixXd out(static_cast<Eigen::Index>(a.size()), static_cast<Eigen::Index>(b.size()));
    for (std::size_t j = 0; j < b.size(); ++j)
        for (std::size_t i = 0; i < a.size(); ++i)
            out(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(j)) = likeness(a[i], b[j], length);
    return out;
}

MatrixXd far_covariance(std::span<const Trial> a, std::span<const Trial> b, const FilmPrior& prior) {
    MatrixXd out = MatrixXd::Zero(static_cast<Eigen::Index>(a.size()), static_cast<Eigen::Index>(b.size()));
    if (prior.far_rest > 0)
        out = prior.far_rest * prior.far_rest * likenesses(a, b, prior.far_length);
    if (prior.law_rest > 0) {
        const auto thickness = [&](std::span<const Trial> of) {
            ArrayXd ln_nm(static_cast<Eigen::Index>(of.size()));
            for (std::size_t i = 0; i < of.size(); ++i)
                ln_nm(static_cast<Eigen::Index>(i)) = of[i].told(prior.mean).ln_nm;
            return ln_nm;
        };
        const ArrayXd at = thickness(a), other = thickness(b);
        for (Eigen::Index j = 0; j < out.cols(); ++j) {
            const ArrayXd away = (at - other(j)) / prior.law_length;
            out.col(j).array() += prior.law_rest * prior.law_rest * (-0.5 * away.square()).exp();
        }
    }
    return out;
}

double far_variance(const FilmPrior& prior) {
    return prior.far_rest * prior.far_rest + prior.law_rest * prior.law_rest;
}

MatrixXd steady_cholesky(const MatrixXd& covariance) {
    const double largest = covariance.diagonal().maxCoeff();
    for (double more = 1e-9 * largest; more <= 1e3 * largest; more *= 30) {
        MatrixXd c = covariance;
        c.diagonal().array() += more;
        const Eigen::LLT<MatrixXd> llt(c);
        if (llt.info() == Eigen::Success)
            return llt.matrixL();
    }
    return covariance.diagonal().cwiseMax(1e-8).cwiseSqrt().asDiagonal();
}

MatrixXd shift_prior(const MatrixXd& likeness, const VectorXd& ln_nm, const VectorXd& other_ln_nm, double scale,
                     const FilmPrior& prior) {
    MatrixXd out = scale * scale *
                   (shift_constant_sd * shift_constant_sd + (shift_smooth_sd * shift_smooth_sd * likeness).array());
    for (Eigen::Index j = 0; j < out.cols(); ++j)
        for (Eigen::Index i = 0; i < out.rows(); ++i)
            out(i, j) += optics_sd(ln_nm(i), prior) * optics_sd(other_ln_nm(j), prior) *
                         std::exp(-0.5 * std::pow((ln_nm(i) - other_ln_nm(j)) / prior.optics_length, 2));
    return out;
}

double shift_variance(double ln_nm, double scale, const FilmPrior& prior) {
    return scale * scale * (shift_constant_sd * shift_constant_sd + shift_smooth_sd * shift_smooth_sd) +
           std::pow(optics_sd(ln_nm, prior), 2);
}

std::vector<FilmPosterior::Fit> fit_film(const FilmTable& table, const std::vector<SeenCell>& cells,
                                         const FilmPrior& prior) {
    const FilmLattice lattice(table, cells, prior);
    std::vector<FilmPosterior::Fit> fits;
    double best = -1e300;
    for (const double scale : prior.colour_scales) {
        std::vector<FilmPosterior::Fit> own;
        double likely = -1e300;
        for (const LatticePoint& s : lattice.starts(scale)) {
            FilmPosterior::Fit fit = ModeFit(table, cells, prior, s, scale).run();
            fit.evidence -= 0.5 * std::pow(std::log(scale) / 0.8, 2);
            likely = std::max(likely, fit.evidence);
            // Peaks of the lattice may run into one.
            if (std::none_of(own.begin(), own.end(), [&](const FilmPosterior::Fit& o) {
                    return (o.ln_nm - fit.ln_nm).cwiseAbs().maxCoeff() < 0.03;
                }))
                own.push_back(std::move(fit));
        }
        if (likely > best) {
            best = likely;
            fits = std::move(own);
        }
    }
    double top = -1e300, sum = 0;
    for (const auto& f : fits)
        top = std::max(top, f.evidence);
    for (auto& f : fits)
        sum += f.mode.weight = std::exp(f.evidence - top);
    for (auto& f : fits)
        f.mode.weight /= sum;
    std::erase_if(fits, [](const FilmPosterior::Fit& f) { return f.mode.weight <= 0.02; });
    sum = 0;
    for (const auto& f : fits)
        sum += f.mode.weight;
    for (auto& f : fits)
        f.mode.weight /= sum;
    return fits;
}

} // namespace finch
