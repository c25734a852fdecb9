// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/film_lattice.h"

#include "search/colour_grid.h"
#include "search/film_fit.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace finch {
namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr std::array haze_steps{-0.10, -0.05, 0.0, 0.05, 0.10};
constexpr std::array slope_steps{-0.2, -0.1, 0.0, 0.1, 0.2};
constexpr int slopes = static_cast<int>(slope_steps.size());
double slope_at(int i) {
    return slope_steps[static_cast<std::size_t>(i)];
}

/// A likelihood over the grid, levelled over 0.1 of ln thickness.
VectorXd levelled(const VectorXd& ln_likelihood) {
    constexpr int half = 30;
    static const VectorXd bell = [] {
        VectorXd out(2 * half + 1);
        for (int i = 0; i <= 2 * half; ++i)
            out(i) = std::exp(-0.5 * std::pow((i - half) * grid_step() / 0.10, 2));
        return out;
    }();
    const Eigen::Index size = ln_likelihood.size();
    const double top = ln_likelihood.maxCoeff();
    VectorXd p = VectorXd::Zero(size + 2 * half), sum = VectorXd::Zero(size);
    p.segment(half, size) = (ln_likelihood.array() - top).exp();
    for (int i = 0; i <= 2 * half; ++i)
        sum += bell(2 * half - i) * p.segment(i, size);
    return (sum.array() / bell.sum() + 1e-9).log() + top;
}

} // namespace

double median_of(const std::vector<SeenCell>& cells, double Trial::*number) {
    std::vector<double> v;
    for (const SeenCell& c : cells)
        v.push_back(c.trial.*number);
    std::sort(v.begin(), v.end());
    const auto n = v.size();
    return n % 2 ? v[n / 2] : 0.5 * (v[n / 2 - 1] + v[n / 2]);
}

FilmLattice::FilmLattice(const FilmTable& table, const std::vector<SeenCell>& cells, const FilmPrior& prior)
    : cells_(cells), prior_(prior), wide_(*std::max_element(prior.widths.begin(), prior.widths.end())),
      sd_(wide_ * std::hypot(prior.sd[0], median_of(cells, &Trial::ga) * prior.sd[1],
                             median_of(cells, &Trial::gs) * prior.sd[2])),
      reach_(std::max(2.0, 2.5 * sd_)), count_(2 * static_cast<int>(std::ceil(reach_ / 0.04)) + 1) {
    for (const SeenCell& c : cells) {
        at_.emplace_back(count_, slopes);
        for (int o = 0; o < count_; ++o)
            for (int b = 0; b < slopes; ++b)
                at_.back()(o, b) = c.trial.told({offset_at(o), 0, 0, slope_at(b), prior.mean[4]}).ln_nm;
        for (const double haze : haze_steps)
            film_.push_back(film_colours(table, seen_haze(c.trial.haze, haze)));
    }
}

std::vector<LatticePoint> FilmLattice::starts(double scale) const {
    const int count = count_;
    const double low = ln_nm_grid()(0), step = grid_step();
    const int last = static_cast<int>(ln_nm_grid().size()) - 1;
    std::vector<MatrixXd> score;
    for (std::size_t h = 0; h < haze_steps.size(); ++h) {
        MatrixXd s(count, slopes);
        for (int o = 0; o < count; ++o)
            for (int b = 0; b < slopes; ++b)
                s(o, b) = -0.5 * std::pow(offset_at(o) / sd_, 2) -
                          0.5 * std::pow(slope_at(b) / (wide_ * prior_.sd[3]), 2) -
                          0.5 * std::pow(haze_steps[h] / prior_haze_sd, 2);
        for (std::size_t k = 0; k < cells_.size(); ++k) {
            const VectorXd smooth = levelled(colour_likelihood(film_[k * haze_steps.size() + h], cells_[k], {},
                                                               reading_variance(cells_[k], scale * model_colour_sd)));
            for (int o = 0; o < count; ++o)
                for (int b = 0; b < slopes; ++b) {
                    const double x = std::clamp((at_[k](o, b) - low) / step, 0.0, static_cast<double>(last));
                    const int i = std::min(static_cast<int>(x), last - 1);
                    s(o, b) += smooth(i) + (x - i) * (smooth(i + 1) - smooth(i));
                }
        }
        score.push_back(std::move(s));
    }
    VectorXd best = VectorXd::Constant(count, -1e300);
    for (const MatrixXd& s : score)
        best = best.cwiseMax(s.rowwise().maxCoeff());
    std::vector<int> peaks;
    for (int o = 0; o < count; ++o)
        if (best(o) >= best(std::max(o - 1, 0)) && best(o) >= best(std::min(o + 1, count - 1)) &&
            best(o) > best.maxCoeff() - 9)
            peaks.push_back(o);
    std::stable_sort(peaks.begin(), peaks.end(), [&](int a, int b) { return best(a) > best(b); });
    peaks.resize(std::min<std::size_t>(peaks.size(), 3));
    std::vector<LatticePoint> out;
    for (const int o : peaks) {
        LatticePoint s{offset_at(o), 0, 0};
        double top = -1e300;
        for (int b = 0; b < slopes; ++b)
            for (std::size_t h = 0; h < haze_steps.size(); ++h)
                if (score[h](o, b) > top) {
                    top = score[h](o, b);
                    s = {offset_at(o), slope_at(b), haze_steps[h]};
                }
        out.push_back(s);
    }
    return out;
}

} // namespace finch
