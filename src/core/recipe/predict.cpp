// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/predict.h"

#include "physics/colour_difference.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

/// Thickness spread without local calibration, with one test card, and with many cells that agree.
double oxide_spread(const Evidence& evidence) {
    if (evidence.sheets == 0)
        return 0.30;
    // Growth goes with the square of the thickness, so half of the spread of ln(gain) is the spread of ln(thickness).
    return std::clamp(0.5 * evidence.gain_spread_ln, 0.05, 0.10);
}

} // namespace

Workpiece workpiece(const Stock& stock, const Evidence& evidence) {
    return {stock.finish, stock.coating, stock.thickness, stock.start_temperature_c, evidence.growth_gain};
}

Expected<Prediction> predict(const Materials& materials, const Metal& metal, const Bench& bench, const Stock& stock,
                             const Recipe& recipe, const Fill& fill, const Evidence& evidence,
                             const ViewingAngles& angles) {
    const Setting setting = burned_setting(recipe);
    const Workpiece part = workpiece(stock, evidence);
    if (const auto fault = input_fault(bench.source, bench.lens(), setting, part, fill))
        return tl::unexpected(input_error(*fault));
    Prediction out;
    out.mark = anneal(metal, materials.model, bench.source, bench.lens(), setting, part, fill, angles);
    out.oxide_spread = oxide_spread(evidence);
    out.evidence = evidence;
    return out;
}

ColourBand colour_band(const Prediction& prediction, const Metal& metal, double angle_deg) {
    const auto at = [&](double factor) {
        const double x = prediction.mark.oxide.thickness_m * factor;
        return specular_included(*metal.film, x, prediction.mark.look.haze, angle_deg, metal.film->hemispherical(x))
            .lab;
    };
    const double grow = 1 + prediction.oxide_spread;
    return {at(1 / grow), at(1), at(grow)};
}

Expected<Robustness> robustness(const Materials& materials, const Metal& metal, const Bench& bench, const Stock& stock,
                                const Recipe& recipe, const Fill& fill, const Evidence& evidence) {
    constexpr double focus_step = 0.3, power_step = 0.03, thickness_step = 0.10;
    const ViewingAngles normal{{0, 0, 0}, 1};
    const auto middle = predict(materials, metal, bench, stock, recipe, fill, evidence, normal);
    if (!middle)
        return tl::unexpected(middle.error());
    Robustness out;
    std::optional<Error> error;
    // The larger colour change of both signs; thicknesses of both are kept for the slope.
    const auto both = [&](const char* what, double step, auto&& change, double& de) {
        std::array<double, 2> oxide{};
        for (const int sign : {-1, 1}) {
            Bench b = bench;
            Stock s = stock;
            Recipe r = recipe;
            change(b, s, r, sign * step);
            const auto p = predict(materials, metal, b, s, r, fill, evidence, normal);
            if (!p) {
                error = p.error();
                return oxide;
            }
            if (p->mark.regime != middle->mark.regime)
                out.regime_changes.push_back({what, sign * step, p->mark.regime});
            de = std::max(de, delta_e_ab(p->lab(), middle->lab()));
            oxide[sign > 0 ? 1 : 0] = p->mark.oxide.thickness_m;
        }
        return oxide;
    };
    both(
        "focus", focus_step, [](Bench&, Stock&, Recipe& r, double d) { r.setting.focus_offset += mm(d); },
        out.focus_de);
    // Drift acts on what the source emits, at 100 % too, so it scales the source rather than the setting.
    const auto oxide = both(
        "power", power_step,
        [](Bench& b, Stock&, Recipe&, double d) {
            b.source.rated_power *= 1 + d;
            b.source.largest_pulse *= 1 + d;
            b.source.peak_power_limit *= 1 + d;
            for (EnergyLimit& limit : b.source.energy_limits)
                limit.energy *= 1 + d;
        },
        out.power_de);
    both(
        "thickness", thickness_step, [](Bench&, Stock& s, Recipe&, double d) { s.thickness *= 1 + d; },
        out.thickness_de);
    if (error)
        return tl::unexpected(*error);
    if (metal.oxide && oxide[0] > 0) {
        out.oxide_per_power = std::log(oxide[1] / oxide[0]) / std::log((1 + power_step) / (1 - power_step));
        const auto at = [&](double factor) {
            const double x = middle->mark.oxide.thickness_m * factor;
            return specular_included(*metal.film, x, middle->mark.look.haze, 0, metal.film->hemispherical(x)).lab;
        };
        out.de_per_percent_oxide = 0.5 * delta_e_ab(at(0.99), at(1.01));
    }
    out.fragility = std::hypot(out.focus_de, out.power_de, out.thickness_de);
    return out;
}

} // namespace finch
