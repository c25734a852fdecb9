// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/damage.h"

#include "search/film_fit.h"

#include <algorithm>
#include <boost/math/special_functions/erf.hpp>
#include <cmath>
#include <Eigen/Cholesky>
#include <numbers>

namespace finch {
namespace {

using Eigen::ArrayXd;
using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr int heats = 97, tears = 49;
constexpr double threshold_reach = 1.2 / 0.35; // deviations that are looked at, as in the reference
constexpr double never_surer = 0.05, least_chance = 1e-22;

double rises(double x) {
    return 1 / (1 + std::exp(std::clamp(-x / damage_width, -50.0, 50.0)));
}

double whole_share(double ln, double sd) {
    return 0.5 * std::erfc(ln / std::hypot(sd, damage_width) / std::numbers::sqrt2);
}

/// How far a setting lies beyond each border of the nominal bench, in ln.
struct Beyond {
    double heat, tear;
};
Beyond beyond(const DamagePrior& prior, const Trial& t) {
    return {t.heat_ln, prior.by_wear ? t.worn_ln : t.tear_ln};
}

/// ln of the chance of what was seen, when the local rest is g.
double ln_chance(const DamageSeen& c, const Beyond& b, double heat, double tear, double g) {
    const double whole = (1 - rises(b.heat + heat + g)) * (1 - rises(b.tear + tear + g));
    return std::log(std::max(c.spoiled ? 1 - whole : whole, least_chance));
}

struct Thresholds {
    double heat = 0, heat_sd = 0, tear = 0, tear_sd = 0;
};

/// Whole cells and spoiled ones say together how much earlier or later this bench spoils metal. Which of the two causes
/// spoiled a cell is not seen: both are told at once.
Thresholds thresholds(std::span<const DamageSeen> seen, const VectorXd& rest, const DamagePrior& prior) {
    const ArrayXd from_prior_heat = ArrayXd::LinSpaced(heats, -threshold_reach, threshold_reach),
                  from_prior_tear = ArrayXd::LinSpaced(tears, -threshold_reach, threshold_reach);
    const ArrayXd heat = prior.earlier + prior.sd * from_prior_heat, tear = prior.earlier + prior.sd * from_prior_tear;
    Eigen::ArrayXXd l(heats, tears);
    for (Index t = 0; t < tears; ++t)
        l.col(t) = -0.5 * (from_prior_heat.square() + from_prior_tear(t) * from_prior_tear(t));
    for (Index i = 0; i < rest.size(); ++i) {
        const DamageSeen& c = seen[static_cast<std::size_t>(i)];
        const Beyond b = beyond(prior, c.trial);
        const ArrayXd by_heat = heat.unaryExpr([&](double h) { return rises(b.heat + h + rest(i)); });
        if (c.spoiled) {
            for (Index t = 0; t < tears; ++t)
                l.col(t) += (1 - (1 - by_heat) * (1 - rises(b.tear + tear(t) + rest(i)))).max(least_chance).log();
            continue;
        }
        // Of a whole cell, and most are, the two causes part: a logarithm for each border instead of one for each pair.
        const ArrayXd ln_not_heat = (1 - by_heat).log();
        for (Index t = 0; t < tears; ++t)
            l.col(t) += (ln_not_heat + std::log(1 - rises(b.tear + tear(t) + rest(i)))).max(std::log(least_chance));
    }
    l = (l - l.maxCoeff()).exp();
    l /= l.sum();
    const ArrayXd by_heat = l.rowwise().sum(), by_tear = l.colwise().sum();
    Thresholds out;
    out.heat = (by_heat * heat).sum();
    out.tear = (by_tear * tear).sum();
    out.heat_sd = std::hypot(std::sqrt((by_heat * (heat - out.heat).square()).sum()), never_surer);
    out.tear_sd = std::hypot(std::sqrt((by_tear * (tear - out.tear).square()).sum()), never_surer);
    return out;
}

} // namespace

/// The rest at the cells: a Gaussian about its likeliest values (Laplace).
struct DamagePosterior::Rest {
    std::vector<Trial> trials;
    VectorXd pull;  ///< inverse prior covariance on the likeliest values
    MatrixXd lower; ///< Cholesky factor of prior covariance + what each cell leaves open

    /// Mean and covariance at other settings.
    [[nodiscard]] VectorXd mean(const MatrixXd& cross) const { return cross * pull; }
    [[nodiscard]] MatrixXd known(const MatrixXd& cross) const {
        return lower.triangularView<Eigen::Lower>().solve(MatrixXd(cross.transpose()));
    }
};

DamagePosterior::DamagePosterior(std::span<const DamageSeen> seen, const DamagePrior& prior)
    : prior_(prior), heat_(prior.earlier), heat_sd_(prior.sd), tear_(prior.earlier), tear_sd_(prior.sd) {
    const double rest_sd = prior.rest_sd;
    if (seen.empty())
        return;
    const auto n = static_cast<Index>(seen.size());
    auto rest = std::make_shared<Rest>();
    for (const DamageSeen& c : seen)
        rest->trials.push_back(c.trial);
    const MatrixXd k = rest_sd * rest_sd * likenesses(rest->trials, rest->trials);
    VectorXd g = VectorXd::Zero(n);
    Thresholds at;
    // Thresholds with the rest held, then the rest with the thresholds held: each step climbs the same hill.
    for (int round = 0; round < (rest_sd > 0 ? 6 : 1); ++round) {
        at = thresholds(seen, g, prior);
        for (int step = 0; rest_sd > 0 && step < 8; ++step) {
            VectorXd bend(n), push(n);
            constexpr double d = 0.02;
            for (Index i = 0; i < n; ++i) {
                const auto l = [&](double more) {
                    const DamageSeen& c = seen[static_cast<std::size_t>(i)];
                    return ln_chance(c, beyond(prior, c.trial), at.heat, at.tear, g(i) + more);
                };
                push(i) = (l(d) - l(-d)) / (2 * d);
                // No surer than a cell can be of a border as wide as this.
                bend(i) = std::clamp(-(l(d) + l(-d) - 2 * l(0)) / (d * d), 0.05, 40.0);
            }
            MatrixXd c = k;
            c.diagonal() += bend.cwiseInverse();
            const Eigen::LLT<MatrixXd> llt(c);
            rest->pull = llt.solve(g + push.cwiseQuotient(bend));
            const VectorXd next = k * rest->pull;
            // Half steps: far from the border the hill is a cliff on one side and flat on the other.
            const VectorXd moved = (next - g).cwiseMax(-0.3).cwiseMin(0.3);
            g += 0.7 * moved;
            rest->lower = llt.matrixL();
        }
    }
    if (rest_sd > 0) {
        MatrixXd c = k;
        c.diagonal().array() += 1e-6;
        rest->pull = c.llt().solve(g);
    }
    heat_ = at.heat;
    heat_sd_ = at.heat_sd;
    tear_ = at.tear;
    tear_sd_ = at.tear_sd;
    if (rest_sd > 0)
        rest_ = std::move(rest);
}

std::vector<double> DamagePosterior::chances(std::span<const Trial> trials) const {
    const auto n = static_cast<Index>(trials.size());
    VectorXd mean = VectorXd::Zero(n), var = VectorXd::Constant(n, prior_.rest_sd * prior_.rest_sd);
    if (rest_ != nullptr) {
        const MatrixXd cross = prior_.rest_sd * prior_.rest_sd * likenesses(trials, rest_->trials);
        mean = rest_->mean(cross);
        var -= rest_->known(cross).colwise().squaredNorm();
    }
    std::vector<double> out;
    for (Index i = 0; i < n; ++i) {
        const Beyond b = beyond(prior_, trials[static_cast<std::size_t>(i)]);
        const double sd = std::sqrt(std::max(var(i), 0.0));
        // The rest moves both borders at once: summed over it, evenly in its share.
        constexpr int parts = 9;
        double whole = 0;
        for (int k = 0; k < parts; ++k) {
            const double z = -std::numbers::sqrt2 * boost::math::erfc_inv((2 * k + 1.0) / parts);
            const double rest = mean(i) + sd * z;
            whole += whole_share(b.heat + heat_ + rest, heat_sd_) * whole_share(b.tear + tear_ + rest, tear_sd_);
        }
        out.push_back(1 - whole / parts);
    }
    return out;
}

double DamagePosterior::earlier(const Trial& trial) const {
    if (rest_ == nullptr && heat_ == prior_.earlier && tear_ == prior_.earlier)
        return 0; // nothing was seen
    const auto score = [&](const DamagePosterior& d) {
        // No surer than one in a thousand: beyond, the scores of two certainties would be compared.
        return -std::numbers::sqrt2 *
               boost::math::erfc_inv(2 * std::clamp(d.chances({&trial, 1}).front(), 1e-3, 0.999));
    };
    return std::hypot(prior_.sd, damage_width, prior_.rest_sd) * (score(*this) - score(DamagePosterior(prior_)));
}

std::vector<std::vector<bool>> DamagePosterior::worlds(std::span<const Trial> trials, std::size_t count,
                                                       Draws& draws) const {
    const auto n = static_cast<Index>(trials.size());
    VectorXd mean = VectorXd::Zero(n);
    MatrixXd lower;
    if (prior_.rest_sd > 0) {
        MatrixXd c = prior_.rest_sd * prior_.rest_sd * likenesses(trials, trials);
        if (rest_ != nullptr) {
            const MatrixXd cross = prior_.rest_sd * prior_.rest_sd * likenesses(trials, rest_->trials);
            mean = rest_->mean(cross);
            const MatrixXd known = rest_->known(cross);
            c -= known.transpose() * known;
        }
        lower = steady_cholesky(c);
    }
    struct Borders {
        double heat, tear;
    };
    std::vector<Borders> borders;
    const auto drawn = static_cast<Index>(count);
    MatrixXd rest(n, prior_.rest_sd > 0 ? drawn : 0), blur(n, drawn);
    for (Index w = 0; w < drawn; ++w) {
        borders.push_back({heat_ + heat_sd_ * draws.normal(), 0});
        borders.back().tear = tear_ + tear_sd_ * draws.normal();
        if (prior_.rest_sd > 0)
            for (double& v : rest.col(w))
                v = draws.normal();
        // The border itself is not sharp: two cells of one setting need not come out alike.
        for (double& v : blur.col(w))
            v = damage_width * draws.normal();
    }
    if (prior_.rest_sd > 0)
        blur += lower.triangularView<Eigen::Lower>() * rest;
    std::vector<std::vector<bool>> out;
    for (Index w = 0; w < drawn; ++w) {
        std::vector<bool> world;
        for (Index i = 0; i < n; ++i) {
            const Beyond b = beyond(prior_, trials[static_cast<std::size_t>(i)]);
            const Borders& at = borders[static_cast<std::size_t>(w)];
            world.push_back(std::max(b.heat + at.heat, b.tear + at.tear) + mean(i) + blur(i, w) > 0);
        }
        out.push_back(std::move(world));
    }
    return out;
}

} // namespace finch
