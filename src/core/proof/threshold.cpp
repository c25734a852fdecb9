// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/threshold.h"

#include "physics/colour_difference.h"
#include "physics/pulse.h"
#include "recipe/appearance.h"
#include "search/draws.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::size_t fewest_powers = 5, most_powers = 16, fewest_times = 2, most_times = 6, fewest_read = 8;
constexpr double least_ratio = 1.2; ///< of the strongest to the weakest
constexpr double clear_ln = 0.41;   ///< widest interval that is an answer: half as much again
Threshold threshold_of(const std::vector<SeenAlong>& seen) {
    const auto [weakest, strongest] = std::ranges::minmax(seen, {}, &SeenAlong::at);
    const Onset o = onset_of(seen, clear_ln);
    Threshold t;
    t.found = o.found;
    t.percent = std::exp(o.at);
    t.low = std::exp(o.low);
    t.high = std::exp(o.high);
    // Beyond what was burned nothing is promised.
    t.spared_up_to = o.spared < weakest.at ? 0 : std::exp(std::min(o.spared, strongest.at));
    return t;
}

std::string power_words(double v) {
    return fmt::format("{:.{}f}", v, v < 10 ? 1 : 0);
}

std::string threshold_words(const Threshold& t, std::string_view begins, std::string_view stays, double weakest,
                            double strongest) {
    using Found = Onset::Found;
    switch (t.found) {
    case Found::within:
        return fmt::format("{} at {} % power ({} to {}): {:.2g} J/cm\u00b2 a pulse, {:.2g} J/mm\u00b2.{}", begins,
                           power_words(t.percent), power_words(t.low), power_words(t.high), t.peak_j_cm2, t.dose_j_mm2,
                           t.spared_up_to > 0
                               ? fmt::format(" Up to {} % nine in ten {}.", power_words(t.spared_up_to), stays)
                               : std::string());
    case Found::below:
        return fmt::format("{} below {} %, the weakest that was burned.", begins, power_words(weakest));
    case Found::above:
        return fmt::format("{} above {} %, the strongest that was burned{}.", begins, power_words(strongest),
                           t.spared_up_to > 0
                               ? fmt::format("; up to {} % nine in ten {}", power_words(t.spared_up_to), stays)
                               : std::string());
    case Found::unclear:
        break;
    }
    return fmt::format("{} somewhere from {} to {} %: cells of one power differ.", begins, power_words(t.low),
                       power_words(t.high));
}

std::string done_words(const Threshold& t, Process process, double weakest, double strongest) {
    const std::string_view what = process == Process::strip    ? "The coat is gone"
                                  : process == Process::bleach ? "The film is bleached"
                                                               : "It has bonded";
    using Found = Onset::Found;
    switch (t.found) {
    case Found::within:
        return fmt::format("{} from {} % ({} to {}).", what, power_words(t.percent), power_words(t.low),
                           power_words(t.high));
    case Found::below:
        return fmt::format("{} below {} %.", what, power_words(weakest));
    case Found::above:
        return fmt::format("{} above {} %.", what, power_words(strongest));
    case Found::unclear:
        break;
    }
    return fmt::format("{} somewhere from {} to {} %.", what, power_words(t.low), power_words(t.high));
}

std::optional<ThresholdFinding::Holding> holding_of(const std::vector<ThresholdFinding::Power>& powers) {
    std::vector<const ThresholdFinding::Power*> scratched;
    for (const auto& p : powers)
        if (p.scratched > 0)
            scratched.push_back(&p);
    constexpr std::size_t fewest_scratched = 3;
    if (scratched.size() < fewest_scratched)
        return std::nullopt;
    std::vector<double> steps;
    for (std::size_t i = 0; i < scratched.size(); ++i) {
        double sum = 0, weight = 0;
        for (std::size_t n = i > 0 ? i - 1 : 0; n < std::min(i + 2, scratched.size()); ++n) {
            const double w = scratched[n]->scratched * (n == i ? 2 : 1);
            sum += w * scratched[n]->steps;
            weight += w;
        }
        steps.push_back(sum / weight);
    }
    const auto best = static_cast<std::size_t>(std::ranges::max_element(steps) - steps.begin());
    const auto near = [&](std::size_t i) { return steps[i] >= steps[best] - 0.5; };
    std::size_t low = best, high = best;
    while (low > 0 && near(low - 1))
        --low;
    while (high + 1 < steps.size() && near(high + 1))
        ++high;
    return ThresholdFinding::Holding{scratched[best]->percent, steps[best], scratched[low]->percent,
                                     scratched[high]->percent};
}

/// Where one sheet more would say most: round what is not settled, what shows before what spoils.
ThresholdRequest next_of(const ThresholdFinding& f, const ThresholdRequest& was) {
    ThresholdRequest next = was;
    using Found = Onset::Found;
    const Threshold& t = f.done                                                              ? *f.done
                         : f.spoils.found == Found::within && f.shows.found != Found::within ? f.spoils
                                                                                             : f.shows;
    const double ratio = was.high_percent / was.low_percent;
    if (t.found == Found::below) {
        next.high_percent = was.low_percent * 1.3;
        next.low_percent = next.high_percent / ratio;
    } else if (t.found == Found::above) {
        next.low_percent = std::min(was.high_percent / 1.3, 100 / least_ratio);
        next.high_percent = std::min(100.0, next.low_percent * ratio);
    } else {
        const double wide = std::max(1.12, std::sqrt(t.high / t.low));
        next.low_percent = std::min(t.percent / (wide * wide), 100 / least_ratio);
        next.high_percent = std::min(100.0, t.percent * wide * wide);
    }
    return next;
}

} // namespace

Expected<ProofSheet> plan_threshold(const SheetRequest& request, const ThresholdRequest& wanted, const Scene& scene,
                                    const Recipe& labels, std::uint64_t seed) {
    if (!(wanted.low_percent > 0 && wanted.high_percent <= 100 &&
          wanted.high_percent >= least_ratio * wanted.low_percent))
        return failure("threshold.range",
                       fmt::format("From {} to {} % power is no range to search.", power_words(wanted.low_percent),
                                   power_words(wanted.high_percent)),
                       "Take powers above 0 up to 100 %, the strongest at least a fifth above the weakest.");
    if (wanted.powers < fewest_powers || wanted.powers > most_powers || wanted.times < fewest_times ||
        wanted.times > most_times)
        return failure(
            "threshold.powers",
            fmt::format("{} powers, {} times each, say too little or take too much.", wanted.powers, wanted.times),
            "Take 5 to 16 powers, each 2 to 6 times.");
    const Appearance bare = unmarked(scene);
    if (!bare.known)
        return failure("threshold.no_look", "How this stock looks unmarked is not known.",
                       "Choose the metal and coat that lie on the bench.");
    std::vector<Setting> cells;
    for (std::size_t i = 0; i < wanted.powers * wanted.times; ++i) {
        Setting s = request.base.setting;
        const double share = static_cast<double>(i % wanted.powers) / static_cast<double>(wanted.powers - 1);
        s.power_percent = wanted.low_percent * std::pow(wanted.high_percent / wanted.low_percent, share);
        cells.push_back(s);
    }
    Draws chance(seed);
    for (std::size_t i = cells.size(); i > 1; --i)
        std::swap(cells[i - 1], cells[chance.below(i)]);
    auto sheet = plan_free_sheet(request, cells, scene.bench, labels);
    if (sheet) {
        sheet->threshold = ThresholdSearch{bare.lab};
        if (const Appearance done = finished(scene, request.base); done.known)
            sheet->threshold->done = done.lab;
    }
    return sheet;
}

Lab unmarked_of(const ProofSheet& sheet, const SheetReading* reading) {
    return reading != nullptr ? reading->ground.value_or(sheet.threshold->unmarked) : sheet.threshold->unmarked;
}

std::optional<bool> changed(const ProofSheet& sheet, const SheetReading& reading, std::size_t cell) {
    const CellReading& c = reading.cells.at(cell);
    // What is spoiled is seen by the operator, whatever the camera made of it.
    if (!sheet.threshold || (c.state != CellState::read && !c.spoiled))
        return std::nullopt;
    // What an instrument measured has nothing beside it; a cell under a mirrored lamp has changed only by more than it
    // may be off.
    const Lab beside = unmarked_of(sheet, c.by_instrument ? nullptr : &reading);
    return c.spoiled || delta_e00(c.lab, beside) > std::max(sheet.threshold->visible_de, 1.2 * c.within_de);
}

std::optional<bool> is_done(const ProofSheet& sheet, const SheetReading& reading, std::size_t cell) {
    const CellReading& c = reading.cells.at(cell);
    // A coat may have any colour: without a photograph of the ground, or on one that is as pale as the end, nothing is
    // told.
    constexpr double told_apart_de = 12;
    if (!sheet.threshold || !sheet.threshold->done || c.state != CellState::read || !reading.ground ||
        delta_e00(*reading.ground, *sheet.threshold->done) < told_apart_de)
        return std::nullopt;
    return delta_e00(c.lab, *sheet.threshold->done) < delta_e00(c.lab, *reading.ground);
}

Expected<ThresholdFinding> judge_threshold(const ProofSheet& sheet, const SheetReading& reading, const Bench& bench) {
    if (!sheet.threshold || reading.cells.size() != sheet.cells())
        return failure("threshold.none", fmt::format("Sheet {} searches no threshold.", sheet.number),
                       "Plan a threshold sheet.");
    std::vector<SeenAlong> shows, spoils, done;
    std::map<double, ThresholdFinding::Power> powers;
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        const CellReading& c = reading.cells[i];
        const auto differs = changed(sheet, reading, i);
        if (!differs)
            continue;
        const double p = sheet.own[i].power_percent;
        shows.push_back({std::log(p), *differs});
        spoils.push_back({std::log(p), c.spoiled});
        ThresholdFinding::Power& at = powers[p];
        at.percent = p;
        ++at.cells;
        at.changed += *differs ? 1 : 0;
        at.spoiled += c.spoiled ? 1 : 0;
        if (const auto over = is_done(sheet, reading, i)) {
            done.push_back({std::log(p), *over});
            at.done += *over ? 1 : 0;
        }
        if (c.scratch_steps) {
            at.steps = (at.scratched * at.steps + *c.scratch_steps) / (at.scratched + 1);
            ++at.scratched;
        }
    }
    if (shows.size() < fewest_read || powers.size() < 2)
        return failure("threshold.too_few", fmt::format("Too few cells could be read: {}.", shows.size()),
                       "Read the sheet again, or burn it again: eight cells are the least.");
    ThresholdFinding f;
    f.shows = threshold_of(shows);
    f.spoils = threshold_of(spoils);
    if (done.size() >= fewest_read)
        f.done = threshold_of(done);
    for (Threshold* t : {&f.shows, &f.spoils, f.done ? &*f.done : nullptr}) {
        if (t == nullptr)
            continue;
        Setting s = sheet.base.setting;
        s.power_percent = std::clamp(t->percent, 0.01, 100.0);
        const Pattern at = pattern(pulse_output(bench.source, s), bench.source, bench.lens(), s, cell_fill(sheet), 0);
        t->peak_j_cm2 = at.peak_fluence_j_m2 / 1e4;
        t->dose_j_mm2 = at.areal_dose_j_m2 / 1e6;
    }
    for (const auto& [_, p] : powers)
        f.powers.push_back(p);
    const double weakest = f.powers.front().percent, strongest = f.powers.back().percent;
    f.next = next_of(f, {weakest, strongest, f.powers.size(), sheet.own.size() / f.powers.size()});
    f.holds = holding_of(f.powers);
    const bool washed = sheet.base.process == Process::compound;
    f.words = threshold_words(f.shows, washed ? "Something stays after the wash" : "It begins to show",
                              washed ? "wash off" : "stay as they were", weakest, strongest);
    if (f.done)
        f.words += ' ' + done_words(*f.done, sheet.base.process, weakest, strongest);
    f.words += ' ';
    f.words += std::ranges::any_of(f.powers, [](const auto& p) { return p.spoiled > 0; })
                   ? threshold_words(f.spoils, "Damage begins", "are whole", weakest, strongest)
                   : std::string("No cell is ticked as spoiled.");
    if (f.holds)
        f.words += fmt::format(" It holds best at {} %: {:.1f} steps of the scratch ladder; from {} to {} % within "
                               "half a step.",
                               power_words(f.holds->percent), f.holds->steps, power_words(f.holds->low_percent),
                               power_words(f.holds->high_percent));
    return f;
}

nlohmann::json to_json(const ThresholdFinding& f) {
    const auto one = [](const Threshold& t) {
        static constexpr std::array words{"within", "below", "above", "unclear"};
        nlohmann::json out = {{"found", words.at(static_cast<std::size_t>(t.found))},
                              {"power_percent", t.percent},
                              {"power_percent_within", {t.low, t.high}},
                              {"peak_j_cm2", t.peak_j_cm2},
                              {"dose_j_mm2", t.dose_j_mm2}};
        if (t.spared_up_to > 0)
            out["spared_up_to_percent"] = t.spared_up_to;
        return out;
    };
    nlohmann::json powers = nlohmann::json::array();
    for (const auto& p : f.powers) {
        powers.push_back(
            {{"power_percent", p.percent}, {"cells", p.cells}, {"changed", p.changed}, {"spoiled", p.spoiled}});
        if (f.done)
            powers.back()["done"] = p.done;
        if (p.scratched > 0)
            powers.back()["scratch_steps"] = p.steps;
    }
    nlohmann::json out = {{"format", "finch-threshold-finding"},
                          {"version", 1},
                          {"shows", one(f.shows)},
                          {"spoils", one(f.spoils)},
                          {"powers", powers},
                          {"next", {{"from_percent", f.next.low_percent}, {"to_percent", f.next.high_percent}}},
                          {"words", f.words}};
    if (f.done)
        out["done"] = one(*f.done);
    if (f.holds)
        out["holds_best"] = {{"power_percent", f.holds->percent},
                             {"scratch_steps", f.holds->steps},
                             {"within_half_a_step_percent", {f.holds->low_percent, f.holds->high_percent}}};
    return out;
}

} // namespace finch
