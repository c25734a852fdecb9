// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/piece_cost.h"

#include "piece/marking_order.h"
#include "piece/tray.h"
#include "quantity/scan.h"
#include "recipe/process.h"

#include <algorithm>
#include <fmt/format.h>

namespace finch {
namespace {

/// The box of all marks that are a film, and how much of it is.
struct FilmMarks {
    double width_mm = 0, height_mm = 0, area_mm2 = 0;
};

FilmMarks film_marks(const Job& part) {
    double left = 1e300, right = -1e300, low = 1e300, high = -1e300;
    FilmMarks out;
    for (const JobLayer& l : part.layers) {
        if (l.guide || !l.recipe || l.recipe->process != Process::compound)
            continue;
        out.area_mm2 += area_mm2(l.region);
        for (const auto& ring : l.region.rings)
            for (const PointMm& p : ring) {
                left = std::min(left, p.x);
                right = std::max(right, p.x);
                low = std::min(low, p.y);
                high = std::max(high, p.y);
            }
    }
    if (right > left && high > low) {
        out.width_mm = right - left;
        out.height_mm = high - low;
    }
    return out;
}

} // namespace

Expected<PieceCost> piece_cost(const Materials& materials, const Job& part, double mark_s, const PriceRules& price,
                               double load_s, int together) {
    PieceCost out;
    for (const JobLayer& l : part.layers)
        if (!l.guide && l.recipe && l.recipe->process == Process::compound) {
            if (out.recipe != nullptr && out.recipe->compound != l.recipe->compound)
                return failure("compound.two", "Two products cannot be sprayed on one piece at once.",
                               "Give every layer with a film the same product, or make two jobs of it.");
            out.recipe = &*l.recipe;
        }
    const Bench& bench = part.setup.bench;
    CostRules& r = out.rules;
    r.machine_rate_h = bench.rate_per_hour;
    r.operator_rate_h = price.operator_rate_h > 0 ? price.operator_rate_h : bench.rate_per_hour;
    r.mark_s = mark_s;
    r.handling_s = load_s;
    r.setup_min = price.setup_min;
    r.proof_min = price.proof_min;
    r.proof_blanks = price.proof_blanks;
    r.blank = price.blank;
    r.attend = price.attend;
    r.fixed = price.fixed;
    out.route = bench.name + ", direct";
    if (out.recipe == nullptr) {
        out.after = after_work(materials, part);
        out.after.minutes = price.after_min.value_or(out.after.minutes);
        r.handling_s += 60 * out.after.minutes;
        return out;
    }
    out.compound = materials.compounds.compound(out.recipe->compound);
    if (out.compound == nullptr)
        return failure("compound.unknown",
                       fmt::format("No product is called \"{}\".", shortened(out.recipe->compound, 40)),
                       "Take a product of the table of compounds.");
    const FilmMarks marks = film_marks(part);
    const auto plan = compound_plan(*out.compound, {.pieces = std::max(1, together),
                                                    .coats = out.recipe->coats,
                                                    .mark_s = mark_s,
                                                    .load_s = load_s,
                                                    .width_mm = marks.width_mm,
                                                    .height_mm = marks.height_mm,
                                                    .fill = marks.area_mm2 / (marks.width_mm * marks.height_mm),
                                                    .bench_rate_h = r.machine_rate_h,
                                                    .operator_rate_h = r.operator_rate_h});
    if (!plan)
        return tl::unexpected(plan.error());
    out.plan = *plan;
    r.handling_s = plan->each_s;
    r.batch_s = plan->once_s;
    r.together = std::max(1, together);
    r.consumable = plan->can + plan->wash;
    out.route = fmt::format("{}, {}", bench.name, out.compound->name);
    return out;
}

AfterWork after_work(const Materials& materials, const Job& part) {
    AfterWork out;
    for (const JobLayer& l : part.layers) {
        if (l.guide || !l.recipe)
            continue;
        const auto& usual = materials.model.effort.after;
        const auto known = usual.find(traits(l.recipe->process).key);
        if (known != usual.end() && known->second.minutes > out.minutes)
            out = known->second;
    }
    return out;
}

Expected<double> part_mark_s(const Job& job, const ScannerKnowledge& scanner) {
    std::vector<ScanLoad> loads;
    for (const JobLayer& l : job.layers)
        if (!l.guide && l.recipe) {
            const auto work = layer_work(job, l);
            if (!work)
                return tl::unexpected(work.error().in_field(l.name));
            loads.push_back(work->load);
        }
    // In turn the other parts fill pauses.
    return pauses_s(job).map(
        [&](double all) { return time_of(scanner, loads).likely + all / static_cast<double>(places_of(job).size()); });
}

Expected<JobCost> batch_cost(const CostRules& rules, int wanted, double spoiled) {
    if (wanted < 1 || wanted > 100000)
        return failure("cost.pieces", "A batch has 1 to 100 000 good pieces.", "Enter 1 or more.");
    if (!(spoiled >= 0 && spoiled <= 0.9))
        return failure("cost.share", "The share of spoiled pieces lies outside 0 to 0.9.", "Enter 0.03 for 3 %.");
    return job_cost(rules, wanted, parts_to_load(wanted, spoiled));
}

Expected<RoutesAgainst> routes_against(const CostRules& first, double first_spoiled, const CostRules& second,
                                       double second_spoiled, int wanted) {
    const auto a = batch_cost(first, wanted, first_spoiled), b = batch_cost(second, wanted, second_spoiled);
    if (!a)
        return tl::unexpected(a.error());
    if (!b)
        return tl::unexpected(b.error());
    return RoutesAgainst{*a, *b, break_even(a->one_off, a->per_piece, b->one_off, b->per_piece)};
}

} // namespace finch
