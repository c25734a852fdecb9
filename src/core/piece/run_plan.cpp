// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/run_plan.h"

#include "piece/shapes.h"

#include <algorithm>
#include <map>

namespace finch {
namespace {

bool is_marked(const JobLayer& l) {
    return !l.guide && l.recipe;
}

/// Seconds of one pass of a hatch.
double one_pass_s(const ScannerKnowledge& scanner, const Hatch& lines, const Recipe& recipe) {
    const ScanLoad load = load_of(lines, in_mm_per_second(recipe.setting.scan_speed), 1);
    return lines.line_start.empty() ? 0 : time_of(scanner, {&load, 1}).likely;
}

} // namespace

Expected<Hatch> portion_hatch(const Job& job, const RunPortion& portion) {
    const JobLayer& layer = job.layers.at(portion.layer);
    if (portion.shapes == 0)
        return layer_at(layer, places_of(job).at(portion.place)).and_then([&](const LayerAt& part) {
            return pass_hatch(part, portion.pass);
        });
    const auto shapes = shapes_of(layer.region);
    return pass_hatch(layer, portion.pass, std::span(shapes).subspan(portion.first_shape, portion.shapes));
}

Expected<std::vector<RunPortion>> run_plan(const Job& job, const ScannerKnowledge& scanner) {
    if (const auto ready = settled(job); !ready)
        return tl::unexpected(ready.error());
    if (const auto all = steps_complete(job); !all)
        return tl::unexpected(all.error());
    std::vector<RunPortion> out;
    const auto places = places_of(job);
    std::map<std::pair<std::size_t, std::size_t>, double> known; // time of a pass, by layer and step, in every nest
    const auto add = [&](RunPortion portion, std::size_t step) -> Expected<void> {
        const JobLayer& layer = job.layers[portion.layer];
        const JobPlace& place = places[portion.place];
        const bool same_everywhere = !place.only && layer.only_at.empty();
        const auto key = std::pair(portion.layer, step);
        if (!same_everywhere || !known.contains(key)) {
            const auto lines = portion_hatch(job, portion);
            if (!lines)
                return tl::unexpected(lines.error().in_field(layer.name));
            known[key] = one_pass_s(scanner, *lines, *layer.recipe);
        }
        portion.likely_s = known[key];
        if (portion.likely_s == 0)
            return {}; // nothing of it lies here
        portion.passes = burned_setting(*layer.recipe).passes;
        for (; portion.pass < portion.passes; ++portion.pass) {
            out.push_back(portion);
            out.back().likely_s += portion.pause_s;
            portion.pause_s = 0;
            portion.moved_by_hand = false;
        }
        return {};
    };
    for (std::size_t p = 0; p < places.size(); ++p) {
        const std::size_t before = out.size();
        for (std::size_t l = 0; l < job.layers.size() && job.steps.empty(); ++l)
            if (is_marked(job.layers[l]) && is_at(job.layers[l], places[p]))
                if (const auto added = add({p, l}, 0); !added)
                    return tl::unexpected(added.error());
        for (std::size_t s = 0; s < job.steps.size(); ++s) {
            const JobStep& step = job.steps[s];
            if (const auto added = add({p, step.layer, 0, 1, step.first_shape, step.shapes, step.pause_s}, s + 1);
                !added)
                return tl::unexpected(added.error());
        }
        if (places[p].by_hand && p > 0 && out.size() > before)
            out[before].moved_by_hand = true;
    }
    if (out.empty())
        return failure("job.empty", "Nothing of this job is marked.", "Give a layer a recipe, and look at its fill.");
    return out;
}

RectMm part_box(const Job& job, const JobPlace& place) {
    return place.only ? RectMm{place.only->x + place.by.x, place.only->y + place.by.y, place.only->w, place.only->h}
                      : RectMm{place.by.x, place.by.y, job.width_mm, job.height_mm};
}

} // namespace finch
