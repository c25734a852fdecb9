// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/colour_difference.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cmath>

namespace finch {

Expected<Robustness> robustness(const Scene& scene, const Recipe& recipe, const Fill& fill) {
    const Metal& metal = scene.metal;
    const DriftModel& drift = scene.materials.model.drift;
    const auto middle = predict(scene, recipe, fill, straight);
    if (!middle)
        return tl::unexpected(middle.error());
    Robustness out;
    std::optional<Error> error;
    // The larger colour change of both signs; thicknesses of both are kept for the slope.
    const auto both = [&](const char* what, double step, auto&& change, double& de) {
        std::array<double, 2> oxide{};
        for (const int sign : {-1, 1}) {
            Bench b = scene.bench;
            Stock s = scene.stock;
            Recipe r = recipe;
            change(b, s, r, sign * step);
            const auto p = predict({scene.materials, metal, b, s, scene.evidence}, r, fill, straight);
            if (!p) {
                error = p.error();
                return oxide;
            }
            if (p->effect != middle->effect)
                out.effect_changes.push_back({what, sign * step, p->effect, p->mark.regime});
            if (p->mark.regime != middle->mark.regime)
                out.heat_changes.push_back({what, sign * step, p->effect, p->mark.regime});
            de = std::max(de, delta_e_ab(p->lab(), middle->lab()));
            oxide[sign > 0 ? 1 : 0] = p->mark.oxide.thickness_m;
        }
        return oxide;
    };
    both(
        "focus", drift.focus_mm, [](Bench&, Stock&, Recipe& r, double d) { r.setting.focus_offset += mm(d); },
        out.focus_de);
    // Drift acts on what the source emits, at 100 % too, so it scales the source rather than the setting.
    const auto oxide = both(
        "power", drift.power, [](Bench& b, Stock&, Recipe&, double d) { b.source = emitting(b.source, 1 + d); },
        out.power_de);
    both(
        "thickness", drift.thickness, [](Bench&, Stock& s, Recipe&, double d) { s.thickness *= 1 + d; },
        out.thickness_de);
    if (error)
        return tl::unexpected(*error);
    if (metal.oxide && oxide[0] > 0) {
        out.oxide_per_power = std::log(oxide[1] / oxide[0]) / std::log((1 + drift.power) / (1 - drift.power));
        out.de_per_percent_oxide =
            0.5 * delta_e_ab(film_colour(*middle, metal, 0.99, 0), film_colour(*middle, metal, 1.01, 0));
    }
    out.fragility = std::hypot(out.focus_de, out.power_de, out.thickness_de);
    return out;
}

} // namespace finch
