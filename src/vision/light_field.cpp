// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/light_field.h"

#include <algorithm>
#include <cmath>
#include <Eigen/Dense>

namespace finch {
namespace {

double median_of(std::vector<double> v) {
    const auto middle = v.begin() + static_cast<long>(v.size() / 2);
    std::nth_element(v.begin(), middle, v.end());
    return *middle;
}

} // namespace

std::array<double, LightField::terms> LightField::basis(double x, double y) const {
    const double u = 2 * x / width_ - 1;
    const double v = 2 * y / height_ - 1;
    return {1, u, v, u * u, u * v, v * v};
}

LightField::LightField(const std::vector<BareSample>& samples, double width_mm, double height_mm)
    : width_(width_mm), height_(height_mm), samples_(samples) {
    if (samples.empty())
        return; // even light
    const auto n = static_cast<Eigen::Index>(samples.size());
    Eigen::MatrixXd a(n, terms);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto row = basis(samples[static_cast<std::size_t>(i)].x, samples[static_cast<std::size_t>(i)].y);
        for (int t = 0; t < terms; ++t)
            a(i, t) = row[static_cast<std::size_t>(t)];
    }
    Eigen::VectorXd weight = Eigen::VectorXd::Ones(n);
    for (std::size_t channel = 0; channel < 3; ++channel) {
        Eigen::VectorXd b(n);
        for (Eigen::Index i = 0; i < n; ++i)
            b(i) = std::log(std::max(samples[static_cast<std::size_t>(i)].light[channel], 1e-5));
        Eigen::VectorXd c;
        // Tukey weights: eight rounds are enough to let go of glare that covers a fifth of the metal.
        for (int round = 0; round < 8; ++round) {
            const Eigen::MatrixXd wa = weight.asDiagonal() * a;
            // A touch of ridge keeps the square terms quiet when a small sheet offers few samples.
            const Eigen::MatrixXd normal = a.transpose() * wa + 1e-4 * Eigen::MatrixXd::Identity(terms, terms);
            c = normal.ldlt().solve(wa.transpose() * b);
            const Eigen::VectorXd rest = b - a * c;
            std::vector<double> size(static_cast<std::size_t>(n));
            for (Eigen::Index i = 0; i < n; ++i)
                size[static_cast<std::size_t>(i)] = std::abs(rest(i));
            const double scale = std::max(1.4826 * median_of(size) * 4.0, 0.012);
            for (Eigen::Index i = 0; i < n; ++i) {
                const double t = rest(i) / scale;
                weight(i) = std::abs(t) < 1 ? (1 - t * t) * (1 - t * t) : 0;
            }
        }
        for (int t = 0; t < terms; ++t)
            coefficients_[channel][static_cast<std::size_t>(t)] = c(t);
    }
    double low = 1e300, high = 0;
    for (std::size_t i = 0; i < samples.size(); ++i)
        if (weight(static_cast<Eigen::Index>(i)) > 0.2) {
            low = std::min(low, samples[i].light[1]);
            high = std::max(high, samples[i].light[1]);
        }
    range_ = low < high ? high / low : 1;
}

std::array<double, 3> LightField::at(double x, double y) const {
    const auto row = basis(x, y);
    std::array<double, 3> out{};
    for (std::size_t channel = 0; channel < 3; ++channel) {
        double sum = 0;
        for (std::size_t t = 0; t < terms; ++t)
            sum += row[t] * coefficients_[channel][t];
        out[channel] = std::exp(sum);
    }
    return out;
}

double LightField::departure(double x, double y, double reach_mm) const {
    double brighter = 0;
    std::vector<double> near; // each sample's light over the surface, in the channel that kept most of it
    for (const BareSample& s : samples_) {
        if (std::hypot(s.x - x, s.y - y) > reach_mm)
            continue;
        const auto field = at(s.x, s.y);
        double most = 0;
        for (std::size_t channel = 0; channel < 3; ++channel)
            most = std::max(most, s.light[channel] / field[channel]);
        brighter = std::max(brighter, most - 1);
        near.push_back(most);
    }
    if (near.empty())
        return 0;
    // Glare shows in a single spot. A shadow darkens all channels of a good part of the metal; a single dark sample is
    // only a stroke of a label or a speck.
    const auto quarter = near.begin() + static_cast<long>(near.size() / 4);
    std::nth_element(near.begin(), quarter, near.end());
    return std::max(brighter, 1 / std::max(*quarter, 1e-3) - 1);
}

} // namespace finch
