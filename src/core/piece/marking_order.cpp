// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/marking_order.h"

#include "piece/shapes.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <utility>

namespace finch {
namespace {

/// What every place gets before any gets the next: a step, a pass of a layer, or a layer whole.
struct Unit {
    MarkingStretch what; ///< at no place yet
    double beam_s = 0;   ///< that the beam is on at least, where pauses ask for it
};

bool is_marked(const JobLayer& l) {
    return !l.guide && l.recipe;
}

Expected<double> least_beam_s(const JobLayer& layer, const MarkingStretch& what,
                              std::span<const std::vector<std::size_t>> shapes) {
    double s = 0;
    for (int pass = what.first_pass; pass < what.first_pass + what.passes; ++pass) {
        const auto lines = pass_hatch(layer, pass, shapes);
        if (!lines)
            return tl::unexpected(lines.error().in_field(layer.name));
        for (const HatchRun& run : lines->runs)
            s += std::hypot(run.to.x - run.from.x, run.to.y - run.from.y);
    }
    return s / in_mm_per_second(layer.recipe->setting.scan_speed);
}

Expected<std::vector<Unit>> units_of(const Job& job, bool in_turn) {
    std::vector<Unit> out;
    for (std::size_t l = 0; l < job.layers.size() && job.steps.empty(); ++l) {
        if (!is_marked(job.layers[l]))
            continue;
        const int passes = burned_setting(*job.layers[l].recipe).passes;
        for (int pass = 0; pass < passes; pass += in_turn ? 1 : passes)
            out.push_back({{0, l, 0, 0, pass, in_turn ? 1 : passes}, 0});
    }
    std::vector<std::vector<std::vector<std::size_t>>> shapes(job.layers.size());
    for (const JobStep& s : job.steps) {
        const JobLayer& layer = job.layers.at(s.layer);
        Unit unit{{0, s.layer, s.first_shape, s.shapes, 0, burned_setting(*layer.recipe).passes, s.pause_s}, 0};
        if (in_turn && paused_s(job.steps) > 0) {
            if (shapes[s.layer].empty())
                shapes[s.layer] = shapes_of(layer.region);
            const auto beam =
                least_beam_s(layer, unit.what, std::span(shapes[s.layer]).subspan(s.first_shape, s.shapes));
            if (!beam)
                return tl::unexpected(beam.error());
            unit.beam_s = *beam;
        }
        out.push_back(unit);
    }
    return out;
}

} // namespace

bool marked_in_turn(const Job& job) {
    return job.in_turn && job.places.size() > 1 &&
           std::ranges::none_of(job.places, [](const JobPlace& p) { return p.only || p.axis_deg || p.by_hand; });
}

Expected<std::vector<MarkingStretch>> marking_order(const Job& job) {
    const bool in_turn = marked_in_turn(job);
    const auto units = units_of(job, in_turn);
    if (!units)
        return tl::unexpected(units.error());
    const auto places = places_of(job);
    std::vector<MarkingStretch> out;
    const auto add = [&](const Unit& unit, std::size_t place) {
        if (!is_at(job.layers[unit.what.layer], places[place]))
            return false;
        out.push_back(unit.what);
        out.back().place = place;
        return true;
    };
    if (!in_turn) {
        for (std::size_t p = 0; p < places.size(); ++p) {
            bool moves = places[p].by_hand && p > 0;
            for (const Unit& unit : *units)
                if (add(unit, p))
                    out.back().moved_by_hand = std::exchange(moves, false);
        }
        return out;
    }
    double now = 0;
    std::vector<double> ended(places.size());
    for (const Unit& unit : *units)
        for (std::size_t p = 0; p < places.size(); ++p) {
            if (!add(unit, p))
                continue;
            double& pause = out.back().pause_s;
            if (&unit != &units->front()) {
                out.back().cools_s = pause;
                pause = std::max(0.0, pause - (now - ended[p]));
            }
            now += pause + unit.beam_s;
            ended[p] = now;
        }
    return out;
}

Expected<double> pauses_s(const Job& job) {
    if (job.steps.empty())
        return 0.0;
    return marking_order(job).map([](const std::vector<MarkingStretch>& order) {
        double s = 0;
        for (const MarkingStretch& m : order)
            s += m.pause_s;
        return s;
    });
}

std::vector<double> turn_jumps_mm(const Job& job) {
    std::vector<double> out;
    if (!marked_in_turn(job))
        return out;
    std::size_t rounds = job.steps.size();
    if (rounds == 0)
        for (const JobLayer& l : job.layers)
            rounds += is_marked(l) ? static_cast<std::size_t>(burned_setting(*l.recipe).passes) : 0;
    for (std::size_t r = 0; r < rounds; ++r)
        for (std::size_t p = 0; p < job.places.size(); ++p) {
            const PointMm a = job.places[p].by, b = job.places[(p + 1) % job.places.size()].by;
            out.push_back(std::hypot(b.x - a.x, b.y - a.y));
        }
    return out;
}

} // namespace finch
