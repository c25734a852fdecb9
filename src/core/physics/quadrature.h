// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cmath>
#include <cstddef>
#include <numbers>

namespace finch {

/// Nodes and weights of a rule on [-1, 1].
template <std::size_t N>
struct GaussRule {
    std::array<double, N> x{};
    std::array<double, N> w{};
};

/// Gauss-Legendre rule by Newton iteration on the Legendre polynomial, to double precision.
template <std::size_t N>
[[nodiscard]] const GaussRule<N>& gauss_legendre() {
    static const GaussRule<N> rule = [] {
        GaussRule<N> r;
        for (std::size_t i = 0; i < N; ++i) {
            double x = -std::cos(std::numbers::pi * (static_cast<double>(i) + 0.75) / (static_cast<double>(N) + 0.5));
            double slope = 1;
            for (int step = 0; step < 100; ++step) {
                double p0 = 1;
                double p1 = x;
                for (std::size_t k = 2; k <= N; ++k) {
                    const double n = static_cast<double>(k);
                    const double p2 = ((2 * n - 1) * x * p1 - (n - 1) * p0) / n;
                    p0 = p1;
                    p1 = p2;
                }
                slope = static_cast<double>(N) * (x * p1 - p0) / (x * x - 1);
                const double move = p1 / slope;
                x -= move;
                if (std::abs(move) < 1e-16)
                    break;
            }
            r.x[i] = x;
            r.w[i] = 2 / ((1 - x * x) * slope * slope);
        }
        return r;
    }();
    return rule;
}

/// Integral of f over [a, b] by an N point Gauss-Legendre rule.
template <std::size_t N, typename F>
[[nodiscard]] double integrate(double a, double b, F&& f) {
    const GaussRule<N>& rule = gauss_legendre<N>();
    double sum = 0;
    for (std::size_t i = 0; i < N; ++i)
        sum += rule.w[i] * f(0.5 * (b - a) * rule.x[i] + 0.5 * (a + b));
    return 0.5 * (b - a) * sum;
}

/// Positive nodes of the 9 point Gauss-Hermite rule of a standard normal variable; weights of +-z, weight of 0 first.
inline constexpr std::array<double, 4> hermite_nodes{1.0232556637891326, 2.07684797867783, 3.20542900285647,
                                                     4.512745863399783};
inline constexpr std::array<double, 5> hermite_weights{0.40634920634920635, 0.24409750289493953, 0.04991640676521782,
                                                       0.0027891413212317692, 2.2345844007746607e-05};

} // namespace finch
