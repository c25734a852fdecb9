// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/designed_sheet.h"

#include "quantity/format.h"

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
    return out;
}

} // namespace

Goal goal_of(const Target& target) {
    return {target.lab, target.darker_is_better, target.accept_de};
}

Expected<DesignedSheet> design_sheet(const Scene& scene, const Target& target, const SheetRequest& request,
                                     const FilmPosterior& known, const DesignLimits& limits, const Recipe& labels,
                                     int threads) {
    const Goal goal = goal_of(target);
    const Fill fill{request.cell_width, in_mm(request.cell_width) * in_mm(request.cell_height)};
    const std::size_t seen = known.cells().size();
    DesignedSheet out;
    Recipe base = request.base;
    const auto believes = beliefs(known, goal, seen);
    if (const auto best = std::ranges::max_element(believes); best != believes.end() && *best > 0) {
        out.best = BelievedCell{known.cells()[static_cast<std::size_t>(best - believes.begin())].trial.recipe, *best};
        // What came nearest is a better middle than what was planned.
        if (*best > 0.2)
            base.setting = out.best->recipe.setting;
    }
    const auto all = trials(scene, candidates(base, scene.bench, target.darker_is_better), fill, threads);
    if (all.empty())
        return failure("search.no_cells", "Nothing near this recipe can be set on this bench.",
                       "Plan a recipe for the target first, and search from there.");
    // Later rounds are small: what the first cells showed is worth more than many cells at once.
    const std::size_t most = seen == 0 ? limits.cells : std::min<std::size_t>(limits.cells, 6);
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

} // namespace finch
