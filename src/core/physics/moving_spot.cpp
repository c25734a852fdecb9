// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/heat.h"
#include "physics/quadrature.h"
#include "physics/vector_clones.h"
#include "quantity/angles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr std::size_t points = 48, places = 9;
using OverPath = std::array<double, points>;

/// Rise at places behind the spot: plain arrays in loops of their own, so that the compiler takes several points at
/// once.
FINCH_VECTOR_CLONES void rises(const OverPath& s2, const OverPath& base, double peclet,
                               std::array<double, places>& out) {
    for (std::size_t i = 0; i < places; ++i) {
        OverPath left;
        for (std::size_t k = 0; k < points; ++k) {
            const double lag = peclet * s2[k] - 0.15 * static_cast<double>(i);
            left[k] = base[k] * std::exp(-lag * lag / (1 + s2[k]));
        }
        double sum = 0;
        for (std::size_t k = 0; k < points; ++k)
            sum += left[k];
        out[i] = sum;
    }
}

} // namespace

double moving_spot_rise(double absorbed_power, double radius, double speed, double thickness, double conductivity,
                        double diffusivity, double line_s) {
    const double a = radius / std::numbers::sqrt2;
    const double peclet = speed * a / (4 * diffusivity);
    const double reach = std::min(4 * diffusivity * line_s / (a * a), 9 / peclet + (6 / peclet) * (6 / peclet));
    const double end = std::asinh(std::sqrt(reach));
    const GaussRule<points>& rule = gauss_legendre<points>();
    OverPath s2, base;
    for (std::size_t k = 0; k < points; ++k) {
        const double s = std::sinh(0.5 * end * (rule.x[k] + 1));
        s2[k] = s * s;
        base[k] =
            0.5 * end * rule.w[k] * plate_factor(a * a * s2[k] / (4 * thickness * thickness)) / std::sqrt(1 + s2[k]);
    }
    std::array<double, places> rise{};
    rises(s2, base, peclet, rise);
    const auto top = static_cast<std::size_t>(std::max_element(rise.begin(), rise.end()) - rise.begin());
    double best = rise[top];
    if (top > 0 && top < places - 1) {
        const double bend = 2 * rise[top] - rise[top - 1] - rise[top + 1];
        const double tilt = rise[top - 1] - rise[top + 1];
        if (bend > 0)
            best += tilt * tilt / (8 * bend);
    }
    return absorbed_power / (std::pow(pi, 1.5) * conductivity * a) * best;
}

} // namespace finch
