// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/run_plan.h"

#include "piece/marking_order.h"
#include "piece/shapes.h"

#include <algorithm>
#include <map>
#include <optional>
#include <tuple>

namespace finch {
namespace {

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
    const auto order = marking_order(job);
    if (!order)
        return tl::unexpected(order.error());
    std::vector<RunPortion> out;
    const auto places = places_of(job);
    std::map<std::tuple<std::size_t, std::size_t, std::size_t>, double> known; // time of a pass, in every nest
    bool moved_by_hand = false;
    std::optional<std::size_t> at;
    for (const MarkingStretch& m : *order) {
        const JobLayer& layer = job.layers[m.layer];
        RunPortion portion{m.place,       m.layer, m.first_pass, burned_setting(*layer.recipe).passes,
                           m.first_shape, m.shapes};
        // Nothing of the first layers may lie where somebody moves the part to.
        moved_by_hand = m.moved_by_hand || (moved_by_hand && at == m.place);
        at = m.place;
        const bool same_everywhere = !places[m.place].only && layer.only_at.empty();
        const std::tuple key{m.layer, m.first_shape, m.shapes};
        if (!same_everywhere || !known.contains(key)) {
            const auto lines = portion_hatch(job, portion);
            if (!lines)
                return tl::unexpected(lines.error().in_field(layer.name));
            known[key] = one_pass_s(scanner, *lines, *layer.recipe);
        }
        const double pass_s = known[key];
        if (pass_s == 0)
            continue; // nothing of it lies here
        portion.pause_s = m.pause_s, portion.cools_s = m.cools_s;
        portion.moved_by_hand = std::exchange(moved_by_hand, false);
        for (; portion.pass < m.first_pass + m.passes; ++portion.pass) {
            portion.likely_s = pass_s + portion.pause_s;
            out.push_back(portion);
            portion.pause_s = portion.cools_s = 0;
            portion.moved_by_hand = false;
        }
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
