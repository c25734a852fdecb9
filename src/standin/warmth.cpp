// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/warmth.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch::standin {
namespace {

constexpr double pi = std::numbers::pi;
constexpr double turn_s = 0.0008;  // of the mirrors, from line to line
constexpr double lost_w_m2k = 180; // to the air above and the jig below, from each face
constexpr double reach = 1.6;      // table, in radii

/// Adds value(n) for n = 1 .. last: the first dozen one by one, the others in bunches that grow by a quarter.
template <typename Value>
double add_up(double last, Value&& value) {
    double sum = 0, from = 1;
    while (from <= last) {
        const double bunch = from < 12 ? 1 : std::min(std::floor(from / 4), last - from + 1);
        sum += bunch * value(from + 0.5 * (bunch - 1));
        from += bunch;
    }
    return sum;
}

} // namespace

Ground ground(const World& w, const OwnMetal& m, double finish, double thickness_m, double about_k) {
    Ground g;
    g.absorptance = std::min(0.97, m.absorptance * w.absorptance * finish);
    const auto conducts = [&](double k) {
        return w.conductivity * m.conductivity_w_mk * std::max(0.3, 1 + m.conductivity_rise * (k - 300) / 1000);
    };
    g.capacity = w.capacity * m.capacity_mj_m3k * 1e6;
    g.conductivity = conducts(about_k);
    g.diffusivity = g.conductivity / g.capacity;
    g.bulk_diffusivity = conducts(400) / (0.78 * g.capacity);
    g.thickness_m = thickness_m;
    g.melting_k = m.melting_k;
    g.fusion_rise_k = m.fusion_rise_k * w.fusion;
    g.boiling_k = m.boiling_k * w.boiling;
    g.vapour_j_m3 = m.vapour_gj_m3 * 1e9;
    return g;
}

double Warmth::plate(double s) const {
    const double fourier = ground_.bulk_diffusivity * s / (ground_.thickness_m * ground_.thickness_m);
    // Heat that comes back from the far face: by images while it is young, then as a plate of one temperature.
    return fourier < 0.5 ? 1 + 2 * std::exp(-1 / fourier) + 2 * std::exp(-4 / fourier)
                         : std::sqrt(pi * fourier) * (1 + 2 * std::exp(-pi * pi * fourier));
}

double Warmth::cooled(double s) const {
    return std::exp(-2 * lost_w_m2k * s / (ground_.capacity * ground_.thickness_m));
}

Warmth::Warmth(const Ground& ground, const Strike& strike, double absorbed_share)
    : ground_(ground), strike_(strike), share_(absorbed_share), radius_m_(strike.heat_radius_m()) {
    for (int r = 0; r < rows; ++r)
        for (int c = 0; c < columns; ++c)
            table_[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)] = spread_spot(
                reach * strike.along_m * (2.0 * c / (columns - 1) - 1), reach * strike.across_m * r / (rows - 1));
    const double line_s = strike.line_m / strike.speed_m_s + turn_s;
    const double d = ground.bulk_diffusivity, capacity = 0.78 * ground.capacity;
    // Two thirds of the lines stand for the typical place of the area.
    lines_ = add_up(std::floor(0.66 * (strike.lines - 1)), [&](double n) {
        const double t = n * line_s, wide = radius_m_ * radius_m_ + 4 * d * t;
        const double y = n * strike.pitch_m;
        return share_ * strike.power_w / strike.speed_m_s / capacity / std::sqrt(pi * d * t) / std::sqrt(pi * wide) *
               std::exp(-y * y / wide) * std::erf(0.5 * strike.line_m / std::sqrt(wide)) * plate(t) * cooled(t);
    });
}

double Warmth::spread_spot(double along, double across) const {
    const double step = strike_.speed_m_s / strike_.frequency_hz;
    const double last = std::floor(0.5 * strike_.line_m / step);
    const double d = ground_.diffusivity;
    return add_up(std::max(1.0, last), [&](double n) {
        // A little later than the next pulse: what matters is the metal while it is hot, not just before.
        const double t = (n + 0.25) / strike_.frequency_hz, wide = radius_m_ * radius_m_ + 4 * d * t;
        const double x = along + n * step;
        return share_ * strike_.energy_j / ground_.capacity / std::sqrt(pi * d * t) / (pi * wide) *
               std::exp(-(x * x + across * across) / wide) * plate(t);
    });
}

double Warmth::line_so_far(double along, double across) const {
    const double u = std::clamp((along / (reach * strike_.along_m) + 1) * 0.5 * (columns - 1), 0.0, columns - 1.001);
    const double v = std::clamp(std::abs(across) / (reach * strike_.across_m) * (rows - 1), 0.0, rows - 1.001);
    const auto i = static_cast<std::size_t>(u), j = static_cast<std::size_t>(v);
    const double a = u - static_cast<double>(i), b = v - static_cast<double>(j);
    return (1 - b) * ((1 - a) * table_[j][i] + a * table_[j][i + 1]) +
           b * ((1 - a) * table_[j + 1][i] + a * table_[j + 1][i + 1]);
}

double Warmth::passes_before(int passes) const {
    const double pass_s = strike_.lines * (strike_.line_m / strike_.speed_m_s + turn_s);
    const double d = ground_.bulk_diffusivity, capacity = 0.78 * ground_.capacity;
    const double heat = share_ * strike_.power_w / (strike_.speed_m_s * strike_.pitch_m);
    const double wide = strike_.lines * strike_.pitch_m;
    return add_up(passes, [&](double n) {
        const double t = n * pass_s, r = 2 * std::sqrt(4 * d * t);
        return heat / capacity / std::sqrt(pi * d * t) * std::erf(strike_.line_m / r) * std::erf(wide / r) * plate(t) *
               cooled(t);
    });
}

double flash(const Ground& g, double seconds, double pulse_s) {
    const double rise = std::sqrt(seconds) - (seconds > pulse_s ? std::sqrt(seconds - pulse_s) : 0);
    return 2 / pulse_s * rise / std::sqrt(pi * g.conductivity * g.capacity);
}

double shown_temperature(const Ground& g, double heat_k) {
    if (heat_k < g.melting_k)
        return heat_k;
    return std::min(g.boiling_k, std::max(g.melting_k, heat_k - g.fusion_rise_k));
}

} // namespace finch::standin
