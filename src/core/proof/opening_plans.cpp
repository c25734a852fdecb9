// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/opening_plans.h"

#include "evidence/film_evidence.h"
#include "proof/layout.h"
#include "search/depth_cells.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

/// A knob over a range: from the recipe's value divided by `reach` to that times `reach`.
struct Span {
    Knob knob;
    double reach;
    int count;
};
struct SchoolOfSheets {
    std::string_view key, name, idea;
    Span across, down; ///< `down` of count 1: a ladder
};
constexpr std::array film_schools{SchoolOfSheets{"speed-pitch",
                                                 "Speed by pitch, 8 × 8",
                                                 "One broad map, then half the range round its best cell.",
                                                 {Knob::scan_speed, 4, 8},
                                                 {Knob::hatch_pitch, 2, 8}},
                                  SchoolOfSheets{"speed-frequency",
                                                 "Speed by frequency, 8 × 8",
                                                 "One broad map, then half the range round its best.",
                                                 {Knob::scan_speed, 4, 8},
                                                 {Knob::frequency, 2.8, 8}},
                                  SchoolOfSheets{"speed-power",
                                                 "Speed by power, 6 × 5",
                                                 "The two that everybody turns first; then pulse length.",
                                                 {Knob::scan_speed, 3, 6},
                                                 {Knob::power, 1.5, 5}},
                                  SchoolOfSheets{"power-width",
                                                 "Power by pulse width, 6 × 5",
                                                 "At fixed speed and frequency; then speed by pitch.",
                                                 {Knob::power, 1.5, 6},
                                                 {Knob::pulse_width, 2.5, 5}},
                                  SchoolOfSheets{"frequency-width",
                                                 "Frequency by pulse width, 6 × 5",
                                                 "How the heat comes in pulses; then the dose.",
                                                 {Knob::frequency, 2.8, 6},
                                                 {Knob::pulse_width, 2.5, 5}},
                                  SchoolOfSheets{"small-map",
                                                 "Speed by pitch, 4 × 4",
                                                 "A small map, cut down twice round its best cell.",
                                                 {Knob::scan_speed, 2.5, 4},
                                                 {Knob::hatch_pitch, 1.6, 4}},
                                  SchoolOfSheets{"speed-ladder",
                                                 "Ladder of ten speeds",
                                                 "One knob at a time: then frequency, power, pitch.",
                                                 {Knob::scan_speed, 4, 10},
                                                 {Knob::power, 1, 1}},
                                  SchoolOfSheets{"power-ladder",
                                                 "Ladder of ten powers",
                                                 "Power only, for who trusts everything else.",
                                                 {Knob::power, 1.8, 10},
                                                 {Knob::scan_speed, 1, 1}},
                                  SchoolOfSheets{"five-levels",
                                                 "Five speeds",
                                                 "Five levels far apart, to see what the metal does at all.",
                                                 {Knob::scan_speed, 4, 5},
                                                 {Knob::power, 1, 1}}};
constexpr std::array depth_schools{SchoolOfSheets{"passes-ladder",
                                                  "Ladder of ten passes",
                                                  "The planned recipe with fewer and more passes.",
                                                  {Knob::passes, 2, 10},
                                                  {Knob::power, 1, 1}},
                                   SchoolOfSheets{"passes-speed",
                                                  "Passes by speed, 5 × 4",
                                                  "Which speed takes most away, and how often.",
                                                  {Knob::passes, 2, 5},
                                                  {Knob::scan_speed, 1.6, 4}},
                                   SchoolOfSheets{"speed-ladder",
                                                  "Ladder of ten speeds",
                                                  "At the planned passes, slower and faster.",
                                                  {Knob::scan_speed, 2.5, 10},
                                                  {Knob::power, 1, 1}}};

std::optional<AxisPlan> axis_of(const Recipe& base, const Bench& bench, const Span& s) {
    const double now = knob_value(base, s.knob);
    const KnobLimits limits = knob_limits(bench, s.knob);
    if (!(now > 0))
        return std::nullopt;
    AxisPlan a{s.knob, std::clamp(now / s.reach, limits.low, limits.high),
               std::clamp(now * s.reach, limits.low, limits.high), s.count, Steps::ratio};
    if (s.count == 1)
        return a;
    if (traits(s.knob).whole) {
        a.from = std::max(1.0, std::round(a.from));
        a.to = std::max(a.from + s.count - 1, std::round(a.to));
        a.steps = Steps::linear;
    }
    return a.to > 1.1 * a.from ? std::optional(a) : std::nullopt;
}

/// Several knobs at once: two levels of four knobs in half of their combinations, and the middle.
std::vector<Setting> fraction(const Recipe& base, const Bench& bench) {
    constexpr std::array<std::pair<Knob, double>, 4> turned{
        {{Knob::scan_speed, 1.7}, {Knob::hatch_pitch, 1.35}, {Knob::power, 1.25}, {Knob::frequency, 1.5}}};
    std::vector<Setting> out{base.setting};
    for (unsigned run = 0; run < 8; ++run) {
        Recipe r = base;
        bool odd = false;
        for (std::size_t k = 0; k < turned.size(); ++k) {
            const bool high = k < 3 ? (run >> k & 1U) != 0 : odd; // the fourth follows from the three
            odd = k < 3 ? odd != high : odd;
            const auto& [knob, factor] = turned[k];
            const KnobLimits limits = knob_limits(bench, knob);
            r = with_knob(
                r, knob,
                friendly(std::clamp(knob_value(r, knob) * (high ? factor : 1 / factor), limits.low, limits.high),
                         0.01 * knob_value(r, knob)));
        }
        out.push_back(r.setting);
    }
    return out;
}

void add_cost(OpeningPlan& p, const Scene& scene) {
    p.cells = burned_cells(p.sheet).size();
    p.seconds = forecast(p.sheet, scene).total_s;
    const SheetLayout at = layout(p.sheet);
    p.plate_mm2 = at.width_mm * at.height_mm;
}

} // namespace

Expected<std::vector<OpeningPlan>> opening_plans(const Scene& scene, const Setup& setup, const Target& target,
                                                 const SheetRequest& request, std::span<const Observation> seen,
                                                 const DesignLimits& limits, int threads) {
    auto designed = design_next(scene, setup, target, request, seen, limits, threads);
    if (!designed)
        return tl::unexpected(designed.error());
    std::vector<OpeningPlan> out;
    OpeningPlan own{"designed", "Designed cells",  designed->reason,          designed->sheet,
                    0,          designed->promise, designed->expected_damage, 0,
                    0};
    add_cost(own, scene);
    out.push_back(std::move(own));

    const Fill fill = cell_fill(designed->sheet);
    const auto known = target.depth ? Expected<FilmPosterior>(tl::unexpected(Error{}))
                                    : film_posterior(scene.materials, setup, seen, threads);
    const auto judge = [&](OpeningPlan plan) {
        std::vector<Recipe> recipes;
        for (const std::size_t i : burned_cells(plan.sheet))
            recipes.push_back(cell_recipe(plan.sheet, i));
        if (target.depth) {
            std::vector<DepthTrial> cells;
            for (const Recipe& r : recipes)
                if (auto t = depth_trial(scene, r, fill))
                    cells.push_back(std::move(*t));
            plan.promise = chance_of(*target.depth, cells, 2000 + seen.size());
        } else if (known) {
            const CellsChance chance =
                chance_of(goal_of(target), trials(scene, recipes, fill, threads), *known, 2000 + seen.size());
            plan.promise = chance.promise;
            plan.expected_damage = chance.expected_damage;
        }
        add_cost(plan, scene);
        out.push_back(std::move(plan));
    };
    // Round the same recipe as the designed cells: of a depth, the nearest that is predicted.
    SheetRequest asked = request;
    asked.base = designed->sheet.base;
    if (target.depth)
        asked.base.setting = designed->sheet.own[designed->sheet.own.size() / 2];
    const std::span<const SchoolOfSheets> schools =
        target.depth ? std::span<const SchoolOfSheets>(depth_schools) : std::span<const SchoolOfSheets>(film_schools);
    const bool turns_width = scene.bench.source.kind == SourceKind::variable_pulse_width;
    for (const SchoolOfSheets& s : schools) {
        if (!turns_width && (s.across.knob == Knob::pulse_width || s.down.knob == Knob::pulse_width))
            continue;
        const auto across = axis_of(asked.base, scene.bench, s.across), down = axis_of(asked.base, scene.bench, s.down);
        if (!across || !down)
            continue;
        asked.across = *across;
        asked.down = *down;
        auto sheet = plan_sheet(asked, scene.bench, designed->sheet.label_recipe);
        if (sheet)
            judge({std::string(s.key), std::string(s.name), std::string(s.idea), std::move(*sheet), 0, 0, 0, 0, 0});
    }
    if (!target.depth)
        if (auto sheet =
                plan_free_sheet(asked, fraction(asked.base, scene.bench), scene.bench, designed->sheet.label_recipe))
            judge({"fraction", "Four knobs at once, 9 cells",
                   "Half of all combinations of two levels: says which knob matters most.", std::move(*sheet), 0, 0, 0,
                   0, 0});
    std::stable_sort(out.begin() + 1, out.end(),
                     [](const OpeningPlan& a, const OpeningPlan& b) { return a.promise > b.promise; });
    return out;
}

nlohmann::json to_json(const std::vector<OpeningPlan>& plans, const Target& target) {
    nlohmann::json list = nlohmann::json::array();
    for (const OpeningPlan& p : plans)
        list.push_back({{"plan", p.key},
                        {"name", p.name},
                        {"idea", p.idea},
                        {"cells", p.cells},
                        {"promise", std::round(1e3 * p.promise) / 1e3},
                        {"expected_damage_cells", std::round(1e3 * p.expected_damage) / 1e3},
                        {"burning_s", std::round(10 * p.seconds) / 10},
                        {"plate_mm2", std::round(p.plate_mm2)},
                        {"sheet", to_json(p.sheet)}});
    return {{"format", "finch-openings"}, {"version", 1}, {"target", to_json(target)}, {"plans", std::move(list)}};
}

} // namespace finch
