// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/coating.h"

#include "quantity/angles.h"
#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double least_depth_um = 0.01;

CoatFate fate(const CoatingOutcome& o) {
    if (o.fluence_j_cm2 < o.coat_threshold_j_cm2)
        return o.bleach_threshold_j_cm2 > 0 && o.fluence_j_cm2 >= o.bleach_threshold_j_cm2 ? CoatFate::bleached
                                                                                           : CoatFate::untouched;
    if (o.fluence_j_cm2 >= o.metal_threshold_j_cm2 || o.tint >= 1)
        return o.passes > 0 ? CoatFate::stripped_marked : CoatFate::marked;
    return o.passes == 1 ? CoatFate::stripped : CoatFate::partly_stripped;
}

} // namespace

double moving_tint(const RemovalConstants& m, double heat_w, double spot_um, double speed_mm_s) {
    // Between the limits of a spot that stands and one that is fast.
    const double radius = spot_um * 1e-6 / (2 * std::numbers::sqrt2);
    const double standing = heat_w / (2 * std::sqrt(pi) * m.conductivity_w_mk * radius);
    return standing / std::sqrt(1 + 0.533 * speed_mm_s * 1e-3 * radius / (m.diffusivity_mm2_s * 1e-6)) / m.tint_rise_k;
}

std::string_view word(CoatFate f) {
    switch (f) {
    case CoatFate::untouched:
        return "coat untouched";
    case CoatFate::bleached:
        return "bleached, film kept";
    case CoatFate::partly_stripped:
        return "partly stripped, metal clean";
    case CoatFate::stripped:
        return "stripped, metal clean";
    case CoatFate::stripped_marked:
        return "stripped, metal marked";
    case CoatFate::marked:
        return "metal marked under the coat";
    }
    return "";
}

CoatingOutcome coating_pass(const CoatConstants& c, const RemovalConstants& m, const RemovalModel& model,
                            const PulseTrain& train, const BeamWaist& beam, const Raster& raster, Length focus_offset,
                            double thickness_um, const ThresholdFactors& factors) {
    CoatingOutcome o;
    const Length spot = spot_at(beam, focus_offset);
    const double d = o.spot_um = in_micrometres(spot);
    const double speed = in_mm_per_second(raster.speed);
    const double per_mm2 = in_hertz(train.frequency) / (speed * in_mm(raster.pitch));
    const double width = in_nanoseconds(train.width) / 100;
    o.pulses_per_spot = std::max(1.0, per_mm2 * 1e-6 * pi / 4 * d * d);
    o.fluence_j_cm2 = peak_fluence_j_cm2(train.energy, spot);
    const auto seen = [&](double single) {
        return incubated_threshold(single, c.incubation, o.pulses_per_spot, model);
    };
    o.coat_threshold_j_cm2 = seen(c.threshold_j_cm2 * factors.coat * std::pow(width, c.width_exponent));
    o.bleach_threshold_j_cm2 = c.bleach_j_cm2 > 0 ? seen(c.bleach_j_cm2 * factors.coat * std::sqrt(width)) : 0;
    o.metal_threshold_j_cm2 =
        model.mark_ratio * incubated_threshold(m.threshold_j_cm2 * factors.metal * std::sqrt(width), m.incubation,
                                               o.pulses_per_spot, model);
    o.coat_margin = o.fluence_j_cm2 / o.coat_threshold_j_cm2;
    o.metal_margin = o.metal_threshold_j_cm2 / o.fluence_j_cm2;
    const double log_ratio = std::max(0.0, std::log(o.coat_margin));
    o.depth_um = per_mm2 * 1e-6 * pi / 16 * d * d * c.penetration_um * log_ratio * log_ratio;
    o.passes = o.depth_um > least_depth_um ? std::max(1, static_cast<int>(std::ceil(thickness_um / o.depth_um))) : -1;
    o.tint = moving_tint(m, m.heat_share * in_watts(train.average_power()), d, speed);
    o.fate = fate(o);
    return o;
}

double strip_margin(const CoatingOutcome& o, double coat_margin, double metal_margin) {
    return std::min({o.coat_margin / coat_margin, o.metal_margin / metal_margin, o.tint > 0 ? 1 / o.tint : 1e9});
}

std::optional<CoatingWindow> coating_window(const CoatConstants& coat, const RemovalConstants& metal,
                                            const RemovalModel& model, const PulseTrain& train, const BeamWaist& beam,
                                            const Raster& raster, double coat_margin, double metal_margin) {
    constexpr int steps = 600;
    const double reach = 12 * in_mm(beam.rayleigh);
    std::optional<CoatingWindow> out;
    double most = -1;
    for (int i = 0; i <= steps; ++i) {
        const double z = i * reach / steps;
        // The thickness decides the passes only, which the window does not ask for.
        const auto o = coating_pass(coat, metal, model, train, beam, raster, mm(z), 1);
        if (!(o.coat_margin >= coat_margin && o.metal_margin >= metal_margin && o.tint < 1))
            continue;
        if (!out)
            out = CoatingWindow{z, z, z};
        out->farthest_mm = z;
        if (const double margin = strip_margin(o, coat_margin, metal_margin); margin > most) {
            most = margin;
            out->best_mm = z;
        }
    }
    return out;
}

} // namespace finch
