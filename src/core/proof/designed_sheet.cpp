// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/designed_sheet.h"

#include "evidence/film_evidence.h"
#include "evidence/learn.h"
#include "quantity/format.h"
#include "recipe/plan.h"
#include "search/depth_cells.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

std::string percent(double share) {
    return format_number(std::round(100 * share), 3) + " %";
}

std::string cells_text(std::size_t n) {
    return fmt::format("{} cell{}", n, n == 1 ? "" : "s");
}

std::string reason_of(const DesignedSheet& d, const Target& target, std::size_t seen) {
    if (d.out_of_reach)
        return fmt::format("After {} nothing that this bench can set promises {}: {}. Another pulse width, a cleaner "
                           "surface or a nearer target may.",
                           cells_text(seen), target.name,
                           d.expected_damage > 0.5 * static_cast<double>(d.sheet.own.size())
                               ? "the metal is spoiled first"
                               : "its films show other colours");
    std::string out =
        fmt::format("{} where {} is likely{}.", cells_text(d.for_target), target.name,
                    d.to_learn > 0 ? fmt::format(", {} that teach most about this bench", d.to_learn) : std::string());
    // No promise of a model is a certainty.
    out += fmt::format(" At least {} that one of them meets it", percent(std::min(d.promise, 0.99)));
    if (d.expected_damage >= 0.5)
        out += fmt::format("; about {} may be spoiled", format_number(d.expected_damage, 2));
    else if (d.expected_damage >= 0.02)
        out += fmt::format("; a cell is spoiled on {} of such sheets", percent(d.expected_damage));
    out += ".";
    if (d.best && d.best->belief >= believed)
        out += fmt::format(" A cell burned before meets it with {}: repeat it before it becomes a recipe.",
                           percent(d.best->belief));
    else if (d.best && d.best->most < believed && d.best->belief > 0.5 * d.best->most)
        out +=
            fmt::format(" The nearest cell meets it with {}, and this camera lets none be believed above {}: measure "
                        "it by instrument, or set the camera right.",
                        percent(d.best->belief), percent(d.best->most));
    return out;
}

} // namespace

namespace {

double in_mm2(const SheetRequest& r) {
    return in_mm(r.cell_width) * in_mm(r.cell_height);
}

/// The recipe that the planner would begin with for a film: the safest where there is a choice.
std::optional<Recipe> planned_recipe(const Scene& scene, const Target& target, const Fill& fill) {
    Aim aim;
    Wish wish = usual_wish(target.darker_is_better ? WishKind::dark : WishKind::colour);
    wish.lab = target.lab;
    wish.value = target.darker_is_better ? target.lab.l : target.accept_de;
    aim.wishes = {wish};
    aim.fill = fill;
    const PlanTask task{target.darker_is_better ? Process::anneal : Process::colour, School::single, {}, {}};
    const auto found = plan(scene, aim, task);
    if (!found || found->candidates.empty())
        return std::nullopt;
    const auto safest = std::ranges::find_if(found->candidates, [](const Candidate& c) {
        return std::ranges::find(c.kinds, CandidateKind::safest) != c.kinds.end();
    });
    return safest != found->candidates.end() ? safest->recipe : found->candidates.front().recipe;
}

} // namespace

Goal goal_of(const Target& target) {
    return {target.lab, target.darker_is_better, target.accept_de};
}

Expected<DesignedSheet> design_sheet(const Scene& scene, const Target& target, const SheetRequest& request,
                                     const FilmPosterior& known, const DesignLimits& limits, const Recipe& labels,
                                     int threads) {
    const Goal goal = goal_of(target);
    const Fill fill{request.cell_width, in_mm2(request)};
    const std::size_t seen = known.cells().size();
    DesignedSheet out;
    Recipe base = request.base;
    const auto believes = beliefs(known, goal, seen);
    if (const auto best = std::ranges::max_element(believes); best != believes.end() && *best > 0) {
        const SeenCell& nearest = known.cells()[static_cast<std::size_t>(best - believes.begin())];
        out.best = BelievedCell{nearest.trial.recipe, *best, most_believable(nearest, goal)};
        // What came nearest is a better middle than what was planned.
        if (*best > 0.2)
            base.setting = out.best->recipe.setting;
    }
    const auto all = trials(scene, candidates(base, scene.bench, target.darker_is_better), fill, threads);
    if (all.empty())
        return failure("search.no_cells", "Nothing near this recipe can be set on this bench.",
                       "Plan a recipe for the target first, and search from there.");
    const std::size_t most = seen == 0 ? limits.cells : std::min(limits.cells, later_films);
    const CellBudget budget{most, 60 * limits.minutes, limits.risk};
    const NextCells next = next_cells(goal, all, known, seen == 0 ? 0 : 1, budget, 1000 + seen);
    if (next.cells.empty())
        return failure("search.no_cells", "No cell fits into the time that is left.", "Allow more minutes.");
    std::vector<Setting> settings;
    for (const std::size_t k : next.cells)
        settings.push_back(all[k].recipe.setting);
    SheetRequest free = request;
    free.base = base;
    auto sheet = plan_free_sheet(free, settings, scene.bench, labels);
    if (!sheet)
        return tl::unexpected(sheet.error());
    out.sheet = std::move(*sheet);
    out.for_target = next.for_goal;
    out.to_learn = next.cells.size() - next.for_goal;
    out.promise = next.promise;
    out.expected_damage = next.expected_damage;
    out.seconds = next.seconds;
    out.out_of_reach = seen >= 12 && next.promise < no_promise;
    out.reason = reason_of(out, target, seen);
    return out;
}

Expected<DesignedSheet> design_depth_sheet(const Scene& scene, const Setup& setup, const Target& target,
                                           const SheetRequest& request, std::span<const Observation> seen,
                                           const DesignLimits& limits) {
    const WantedDepth& wanted = *target.depth;
    const Fill fill{request.cell_width, in_mm2(request)};
    DesignedSheet out;
    Recipe base = request.base;
    std::size_t measured = 0;
    for (const Observation* o : newest_of_each(seen)) {
        if (!o->depth_um || o->spoiled || evidence_key(*o->setup) != evidence_key(setup))
            continue;
        ++measured;
        const double belief = depth_belief(wanted, *o->depth_um, 1.645 * o->depth_spread_um);
        if (belief > (out.best ? out.best->belief : 0))
            out.best = BelievedCell{o->recipe, belief};
    }
    if (out.best && out.best->belief > 0.2)
        base = out.best->recipe;
    const auto all = depth_trials(scene, base, fill, wanted);
    if (all.empty())
        return failure("search.no_depth", "This recipe is not expected to take metal away from this stock.",
                       "Plan an engraving recipe first, and search from there.");
    const double farthest = all.back().um * std::exp(2 * all.back().spread_ln);
    if (farthest < wanted.um - wanted.within_um)
        return failure("search.too_deep",
                       fmt::format("This recipe reaches {} µm on this stock of {} mm, not {} µm.",
                                   format_number(all.back().um, 3), format_number(in_mm(scene.stock.thickness), 3),
                                   format_number(wanted.um, 3)),
                       "Take thicker stock, a stronger recipe or a shallower mark.");
    // Any depth tells the one thing that is not known, so that a few cells at a time are enough (docs/search.md).
    constexpr std::size_t at_first = 3;
    const CellBudget budget{std::min(limits.cells, measured == 0 ? at_first : later_depths), 60 * limits.minutes,
                            limits.risk};
    const NextCells next = next_depth_cells(wanted, all, budget, 1000 + measured);
    if (next.cells.empty())
        return failure("search.no_cells", "No cell fits into the time that is left.", "Allow more minutes.");
    std::vector<std::size_t> cells = next.cells;
    std::ranges::sort(cells); // by depth, as one reads them off
    std::vector<Setting> settings;
    std::vector<std::string> expected;
    for (const std::size_t k : cells) {
        settings.push_back(all[k].recipe.setting);
        expected.push_back(fmt::format("{} µm", format_number(all[k].um, 3)));
    }
    SheetRequest free = request;
    free.base = base;
    const auto letters = label_recipe(scene);
    auto sheet = plan_free_sheet(free, settings, scene.bench, letters ? *letters : base);
    if (!sheet)
        return tl::unexpected(sheet.error());
    out.sheet = std::move(*sheet);
    out.for_target = cells.size();
    out.promise = next.promise;
    out.seconds = next.seconds;
    const double factor = std::exp(1.645 * all[cells.front()].spread_ln);
    out.reason = fmt::format(
        "Cells of {}: depths are known to a factor of {}{}. At least {} that one is within {} µm of {} "
        "µm.",
        fmt::join(expected, ", "), format_number(factor, 3),
        measured == 0 ? std::string() : fmt::format(" from {}", cells_text(measured)),
        percent(std::min(out.promise, 0.99)), format_number(wanted.within_um, 3), format_number(wanted.um, 3));
    if (out.best && out.best->belief >= believed)
        out.reason += fmt::format(" A cell burned before meets it with {}: repeat it before it becomes a recipe.",
                                  percent(std::min(out.best->belief, 0.99)));
    return out;
}

Expected<DesignedSheet> design_next(const Scene& scene, const Setup& setup, const Target& target,
                                    const SheetRequest& request, std::span<const Observation> seen,
                                    const DesignLimits& limits, int threads) {
    if (target.depth)
        return design_depth_sheet(scene, setup, target, request, seen, limits);
    const auto known = film_posterior(scene.materials, setup, seen, threads);
    const auto labels = known ? label_recipe(scene) : tl::unexpected(known.error());
    if (!labels)
        return tl::unexpected(labels.error());
    auto out = design_sheet(scene, target, request, *known, limits, *labels, threads);
    constexpr double poor = 0.35, better_by = 0.05;
    if (!known->cells().empty() || (out && out->promise >= poor))
        return out;
    SheetRequest anew = request;
    const auto base = planned_recipe(scene, target, {request.cell_width, in_mm2(request)});
    if (!base)
        return out;
    anew.base = *base;
    auto planned = design_sheet(scene, target, anew, *known, limits, *labels, threads);
    if (!planned || (out && planned->promise < out->promise + better_by))
        return out;
    planned->reason += fmt::format(" They begin from a planned recipe: the one in hand promised {}.",
                                   out ? percent(out->promise) : std::string("nothing"));
    return planned;
}

} // namespace finch
