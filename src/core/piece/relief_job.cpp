// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief_cut.h"

#include "piece/bitmap.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

// A relief as a job like any other.
namespace finch {

Recipe cleaning_recipe(const Scene& s, const Recipe& recipe) {
    Recipe out = recipe;
    out.name = "cleaning";
    out.deep = {};
    out = with_knob(std::move(out), Knob::passes, 1);
    const KnobLimits speed = knob_limits(s.bench, Knob::scan_speed), power = knob_limits(s.bench, Knob::power);
    out =
        with_knob(std::move(out), Knob::scan_speed,
                  std::min(speed.high, knob_value(recipe, Knob::scan_speed) * s.materials.model.effort.cleaning_speed));
    if (!s.metal.removal)
        return out;
    // What marks lies well under what removes; loose powder leaves earlier still.
    const RemovalModel& model = s.materials.model.removal;
    const Cutting cut = cutting(s.materials, s.metal, s.bench, recipe);
    const PulseOnSpot p =
        pulse_on_spot(cut.metal, cut.model, cut.train, spot_at(cut.beam, recipe.setting.focus_offset));
    const double share = std::min(1.0, model.mark_ratio * p.single_threshold_j_cm2 / p.fluence_j_cm2);
    return with_knob(std::move(out), Knob::power,
                     std::max(power.low, std::floor(10 * share * knob_value(recipe, Knob::power)) / 10));
}

Expected<Job> relief_job(std::string name, const Scene& scene, const Setup& setup, const Recipe& recipe,
                         const ReliefRules& rules, const ReliefMap& map, const ReliefCut& cut) {
    Job job{std::move(name), rules.width_mm, map.pixel_mm * map.height(), setup, {}, {}, {}};
    const Recipe cleaning = cleaning_recipe(scene, recipe);
    for (int k = 0; k < map.layers; ++k) {
        const auto outlines = pixel_outlines(map.mask(k));
        if (!outlines)
            return tl::unexpected(outlines.error());
        if (outlines->empty())
            break; // layers below cut less still
        Region region;
        for (const Outline& o : *outlines)
            region.rings.push_back(o.points);
        const auto at = [&](Recipe of, int passes) {
            of.cross_hatch = false;
            of.deep = {};
            of = with_knob(std::move(of), Knob::passes, passes);
            of = with_knob(
                std::move(of), Knob::focus_offset,
                std::round(1e3 * (in_mm(recipe.setting.focus_offset) - cut.focus_mm[static_cast<std::size_t>(k)])) /
                    1e3);
            return with_knob(std::move(of), Knob::hatch_angle,
                             std::fmod(recipe.setting.hatch_angle_deg +
                                           static_cast<double>(k) * cut.passes_per_layer * recipe.turn_per_pass_deg,
                                       360));
        };
        const std::string number = fmt::format("{}", k + 1);
        job.layers.push_back({"relief " + number, "#000000", false, at(recipe, cut.passes_per_layer), region, false});
        if (rules.clean_every > 0 && (k + 1) % rules.clean_every == 0)
            job.layers.push_back(
                {"cleaning after " + number, "#808080", false, at(cleaning, 1), std::move(region), false});
    }
    return job;
}

} // namespace finch
