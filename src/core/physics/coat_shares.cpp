// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/coat_shares.h"

#include "physics/metal.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double room_k = 293.15, zero_celsius_k = 273.15;

double pulses_on(const PulseTrain& train, const Raster& raster, double spot_um) {
    return in_hertz(train.frequency) / (in_mm_per_second(raster.speed) * in_mm(raster.pitch)) * 1e-6 * pi / 4 *
           spot_um * spot_um;
}

} // namespace

double coat_warm_share(const CoatConstants& coat, double start_c) {
    return std::max(0.2, (coat.gives_way_k - start_c - zero_celsius_k) / (coat.gives_way_k - room_k));
}

CoatingOutcome pulsed_coat(const CoatConstants& coat, const Cutting& cut, const MetSurface& surface,
                           Length focus_offset, const CoatConditions& c) {
    return coating_pass(coat, cut.metal, cut.model, cut.train, cut.beam, cut.raster, focus_offset, c.thickness_um,
                        {c.threshold_gain * coat_warm_share(coat, c.start_c), surface.warm / surface.finish});
}

Shares coat_shares(const CoatingOutcome& o, const CoatConditions& c, const JoinModel& j) {
    using enum Effect;
    const double gone = share_over(o.fluence_j_cm2, o.coat_threshold_j_cm2, c.spread);
    const double bleached =
        o.bleach_threshold_j_cm2 > 0 ? share_over(o.fluence_j_cm2, o.bleach_threshold_j_cm2, c.spread) : 0;
    const double marked = std::max(share_over(o.fluence_j_cm2, o.metal_threshold_j_cm2, j.mark_spread),
                                   share_over(o.tint, 1, j.tint_spread));
    const double done = share_over(o.depth_um * c.passes, c.thickness_um, j.done_spread);
    Shares s;
    s[coat_kept] = (1 - gone) * (1 - bleached);
    s[bleaches] = (1 - gone) * bleached;
    s[strips_and_marks] = gone * marked;
    s[strips] = gone * (1 - marked) * done;
    s[partly_strips] = gone * (1 - marked) * (1 - done);
    return s;
}

namespace {

double taken_by(const GasCoat& g, double thickness_um) {
    return g.absorbed * (1 - std::exp(-thickness_um / g.depth_um));
}

} // namespace

GasCoatOutcome gas_coat(const CoatConstants& coat, const RemovalConstants& m, const GasBeam& b, const CoatConditions& c,
                        const JoinModel& j) {
    const GasCoat& g = *coat.gas;
    GasCoatOutcome o;
    const double t = c.thickness_um;
    const double taken = taken_by(g, t);
    o.dose_j_mm2 = b.power_w / (b.speed_mm_s * b.pitch_mm);
    // What was learned of this coat is learned of all of it: its skin and what lies below.
    const double volume = g.volume_j_mm3 * c.threshold_gain;
    o.first_j_mm2 = c.threshold_gain * g.heat_capacity_j_mm3k * std::max(50.0, g.start_rise_k - (c.start_c - 20)) *
                    std::min(t, g.depth_um) * 1e-3 / taken;
    double bare_share = 1; // of the beam time
    if (volume > 0) {
        const double all = volume * t * 1e-3 / taken;
        bare_share = std::max(0.0, 1 - (o.first_j_mm2 + all) / (o.dose_j_mm2 * c.passes));
        const double depth = 1e3 * taken * std::max(0.0, o.dose_j_mm2 - o.first_j_mm2) / volume;
        o.depth_um = std::min(depth, t);
        o.passes = depth > 0.01 ? std::max(1, static_cast<int>(std::ceil(t / depth))) : -1;
        o.finish_j_mm2 = o.first_j_mm2 + all / c.passes;
    } else {
        o.finish_j_mm2 = j.gas_bleach * o.first_j_mm2;
    }
    o.tint = moving_tint(m, bare_share * j.gas_metal * b.power_w, b.spot_mm * 1e3, b.speed_mm_s);
    return o;
}

Shares gas_coat_shares(const CoatConstants& coat, const RemovalConstants& m, const GasBeam& b, const CoatConditions& c,
                       const JoinModel& j) {
    using enum Effect;
    const GasCoatOutcome o = gas_coat(coat, m, b, c, j);
    Shares s;
    if (!o.depth_um) {
        s[bleaches] = share_over(o.dose_j_mm2, o.finish_j_mm2, c.spread);
        s[coat_kept] = 1 - s[bleaches];
        return s;
    }
    const double taken = taken_by(*coat.gas, c.thickness_um);
    const double depth =
        1e3 * taken * std::max(0.0, o.dose_j_mm2 - o.first_j_mm2) / (coat.gas->volume_j_mm3 * c.threshold_gain);
    const double on = share_over(o.dose_j_mm2, o.first_j_mm2, c.spread);
    const double done = share_over(depth * c.passes, c.thickness_um, j.done_spread);
    const double marked = share_over(o.tint, 1, j.tint_spread);
    s[coat_kept] = 1 - on;
    s[partly_strips] = on * (1 - done);
    s[strips] = on * done * (1 - marked);
    s[strips_and_marks] = on * done * marked;
    return s;
}

BlackFilmOutcome black_film(const PulseTrain& train, Length spot, const Raster& raster, int passes, double start_c,
                            const JoinModel& j) {
    using enum Effect;
    constexpr double film_breaks_k = 1295; // the ground lets go
    BlackFilmOutcome o;
    const double tau = in_nanoseconds(train.width);
    o.fluence_j_cm2 = peak_fluence_j_cm2(train.energy, spot);
    const double warm = std::max(0.2, (film_breaks_k - start_c - zero_celsius_k) / (film_breaks_k - room_k));
    o.low_j_cm2 = j.black_low_j_cm2 * warm * std::sqrt(tau / 10);
    o.high_j_cm2 = j.black_high_j_cm2 * warm * std::pow(tau / 10, j.black_width_power);
    o.pulses_per_spot = passes * pulses_on(train, raster, in_micrometres(spot));
    const double on = share_over(o.fluence_j_cm2, o.low_j_cm2, j.black_spread);
    const double broken = share_over(o.fluence_j_cm2, o.high_j_cm2, j.black_spread);
    const double is_short = share_over(j.black_width_ns, tau, j.black_width_spread);
    const double many = share_over(o.pulses_per_spot, j.black_pulses, j.black_pulses_spread);
    o.shares[strips_and_marks] = broken;
    o.shares[darkens] = std::max(0.0, on - broken) * is_short * many;
    o.shares[coat_kept] = 1 - broken - o.shares[darkens];
    if (o.shares[darkens] > 0.05)
        o.l_star = j.black_l_from - j.black_l_drop * (1 - std::exp(-o.pulses_per_spot / (2 * j.black_pulses)));
    return o;
}

PowderPulse powder_pulse(const Cutting& cut, const MetSurface& surface, Length spot, const JoinModel& j) {
    PowderPulse o;
    const double width = in_nanoseconds(cut.train.width) / 100;
    const double n = std::max(1.0, pulses_on(cut.train, cut.raster, in_micrometres(spot)));
    o.fluence_j_cm2 = peak_fluence_j_cm2(cut.train.energy, spot);
    o.film_threshold_j_cm2 =
        incubated_threshold(j.powder_j_cm2 * std::pow(width, j.powder_width_power), j.powder_incubation, n, cut.model);
    o.metal_threshold_j_cm2 = cut.model.mark_ratio * incubated_threshold(cut.metal.threshold_j_cm2 * surface.warm /
                                                                             surface.finish * std::sqrt(width),
                                                                         cut.metal.incubation, n, cut.model);
    return o;
}

Shares compound_shares(const Shares& fused, const PowderPulse& p, const JoinModel& j) {
    using enum Effect;
    const double off = share_over(p.fluence_j_cm2, p.film_threshold_j_cm2, j.powder_spread);
    const double marked = std::min(off, share_over(p.fluence_j_cm2, p.metal_threshold_j_cm2, j.mark_spread));
    Shares s;
    for (const Effect e : {no_bond, under_fused, bonds, over_burns})
        s[e] = (1 - off) * fused[e];
    s[frosts] += marked;
    s[blown_off] += off - marked;
    return s;
}

} // namespace finch
