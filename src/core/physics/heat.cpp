// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/heat.h"

#include "physics/quadrature.h"
#include "quantity/angles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

/// Sum of g(1..n): 16 exact terms, the rest by 32 Gauss points in ln j.
template <typename G>
double series(G&& g, double n) {
    constexpr int exact = 16;
    double sum = 0;
    for (int j = 1; j <= exact && j <= n; ++j)
        sum += g(static_cast<double>(j));
    if (n > exact)
        sum += integrate<32>(std::log(exact + 0.5), std::log(n + 0.5), [&](double y) {
            const double j = std::exp(y);
            return j * g(j);
        });
    return sum;
}

} // namespace

double scaled_bessel_i0(double x) {
    if (x < 3.75) {
        const double t = (x / 3.75) * (x / 3.75);
        return std::exp(-x) *
               (1 + t * (3.5156229 +
                         t * (3.0899424 + t * (1.2067492 + t * (0.2659732 + t * (0.0360768 + t * 0.0045813))))));
    }
    const double t = 3.75 / x;
    const double tail = 0.00916281 + t * (-0.02057706 + t * (0.02635537 + t * (-0.01647633 + t * 0.00392377)));
    return (0.39894228 + t * (0.01328592 + t * (0.00225319 + t * (-0.00157565 + t * tail)))) / std::sqrt(x);
}

double plate_factor(double fo) {
    // Beyond these every term is below half a unit of the last place.
    if (fo < 0.027)
        return 1;
    if (fo > 3.75)
        return std::sqrt(pi * fo);
    double sum = 0;
    for (int m = 1; m <= 4; ++m)
        sum += fo < 0.6 ? std::exp(-m * m / std::max(fo, 1e-9)) : std::exp(-m * m * pi * pi * fo);
    return (fo < 0.6 ? 1.0 : std::sqrt(pi * fo)) * (1 + 2 * sum);
}

double pulse_rise(double t, double pulse_width, double radius, double conductivity, double diffusivity) {
    const double scale = radius / (pulse_width * conductivity * std::sqrt(2 * pi));
    return scale * (std::atan(std::sqrt(8 * diffusivity * t) / radius) -
                    std::atan(std::sqrt(8 * diffusivity * std::max(t - pulse_width, 0.0)) / radius));
}

double line_accumulation(double absorbed_power, const Pattern& pattern, double speed, double pitch, double thickness,
                         const Metal& metal, const ProcessModel& model) {
    if (pattern.lines < 2)
        return 0;
    const double diffusivity = metal.diffusivity_bulk();
    const double line_s = pattern.line_m / speed + model.turn_s;
    const double w = pattern.spot_radius_m;
    const auto left_by = [&](double j) {
        const double t = j * line_s;
        const double s2 = 4 * diffusivity * t;
        const double b2 = s2 + w * w / 2;
        return 2 * absorbed_power / speed / (metal.heat_capacity_bulk * pi * std::sqrt(s2 * b2)) *
               std::exp(-(j * pitch) * (j * pitch) / b2) * std::erf(pattern.line_m / 2 / std::sqrt(s2)) *
               plate_factor(diffusivity * t / (thickness * thickness)) *
               std::exp(-2 * model.surface_loss * t / (metal.heat_capacity_bulk * thickness));
    };
    return series(left_by, pattern.lines - 1);
}

double pass_accumulation(double absorbed_j_m2, const Pattern& pattern, double width, int earlier, double thickness,
                         const Metal& metal, const ProcessModel& model) {
    if (earlier < 1)
        return 0;
    const double diffusivity = metal.diffusivity_bulk();
    const auto left_by = [&](double j) {
        const double t = j * pattern.pass_s;
        const double r = 2 * std::sqrt(4 * diffusivity * t);
        return absorbed_j_m2 / (metal.heat_capacity_bulk * std::sqrt(pi * diffusivity * t)) *
               plate_factor(diffusivity * t / (thickness * thickness)) * std::erf(pattern.line_m / r) *
               std::erf(width / r) * std::exp(-2 * model.surface_loss * t / (metal.heat_capacity_bulk * thickness));
    };
    return series(left_by, earlier);
}

double real_temperature(double linear_k, const Metal& metal) {
    const double t = linear_k < metal.melting_k ? linear_k : std::max(metal.melting_k, linear_k - metal.latent_rise_k);
    return std::min(t, metal.boiling_k);
}

double growth_constant(double temperature_k, const OxideGrowth& growth, double gain) {
    const double free =
        gain * growth.prefactor_m2_s * std::exp(-growth.activation_j_mol / (gas_constant * temperature_k));
    return free / (1 + free / (gain * growth.ceiling_m2_s));
}

} // namespace finch
