// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/focus_ladder.h"

#include "proof/over_field.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>
#include <numeric>

namespace finch {
namespace {

constexpr std::size_t fewest_rungs = 7, most_rungs = 25, fewest_marks = 9, fewest_offsets = 5;
constexpr Length mark = mm(4);
constexpr double head_step_mm = 0.02; ///< that a column can be moved by
constexpr double reach_in_rayleigh = 1.5;
constexpr double sure_enough = 0.25; ///< of the Rayleigh length, half width of the interval

std::string millimetres(double v) {
    return fmt::format("{}{:.2f} mm", v < -0.005 ? "\u2212" : v > 0.005 ? "+" : "", std::abs(v));
}

std::string words_of(const LadderFinding& f) {
    const FocusFit& fit = f.fit;
    switch (f.verdict) {
    case LadderVerdict::flat:
        return fmt::format("The marks look alike at all offsets, within {:.1f} CIEDE2000. Take a recipe that focus "
                           "matters to, or a longer ladder.",
                           fit.change_de);
    case LadderVerdict::beyond:
        return "The marks do not mirror each other within this ladder: the best focus lies near an end of it or "
               "beyond. "
               "Burn another ladder that reaches farther.";
    case LadderVerdict::uncertain:
        return fmt::format("The best focus is near {}, but no surer than {:.2f} mm. Read the sheet again in better "
                           "light, or burn a ladder of more steps.",
                           millimetres(fit.best_mm.value), fit.best_mm.spread);
    case LadderVerdict::found:
        break;
    }
    std::string out =
        std::abs(fit.best_mm.value) < 0.005
            ? fmt::format("Best focus where the head stood, within {:.2f} mm.", fit.best_mm.spread)
            : fmt::format("Best focus {:.2f} mm {} the head stood, within {:.2f} mm.", std::abs(fit.best_mm.value),
                          fit.best_mm.value < 0 ? "lower than" : "higher than", fit.best_mm.spread);
    out += fit.holds_to_the_end
               ? fmt::format(" The mark holds over the whole ladder, {:.2f} mm to each side.", fit.holds_mm.value)
               : fmt::format(" The mark stays within {:.1f} CIEDE2000 for {:.2f} mm to each side.", f.accept_de,
                             fit.holds_mm.value);
    if (f.over_field)
        out += fmt::format(" Tilt and bow take {:.2f} mm of it over the sheet.", f.tilt_takes_mm);
    return out;
}

/// Half of how much the best focus changes over the marks.
double taken_by_tilt(const LadderFinding& f, double field_mm) {
    double low = 0, high = 0;
    for (const LadderMark& m : f.marks) {
        const double half = field_mm / 2;
        const double here = (f.fit.tilt_x_mm.value * m.x_mm + f.fit.tilt_y_mm.value * m.y_mm) / field_mm +
                            f.fit.bow_mm.value * (m.x_mm * m.x_mm + m.y_mm * m.y_mm) / (half * half);
        low = std::min(low, here);
        high = std::max(high, here);
    }
    return (high - low) / 2;
}

nlohmann::json pair_json(const WithSpread& v) {
    return {{"value", v.value}, {"within", v.spread}};
}

} // namespace

Length ladder_reach(const Bench& bench) {
    const double rayleigh = in_mm(waist(bench.lens(), bench.source.wavelength).rayleigh);
    return mm(std::max(0.3, std::round(10 * reach_in_rayleigh * rayleigh) / 10));
}

Expected<ProofSheet> plan_focus_ladder(const SheetRequest& request, const LadderRequest& ladder, const Bench& bench,
                                       const Recipe& labels, std::uint64_t seed) {
    if (ladder.steps < fewest_rungs || ladder.steps > most_rungs)
        return failure("ladder.steps", fmt::format("A ladder of {} offsets finds nothing.", ladder.steps),
                       fmt::format("Take {} to {}.", fewest_rungs, most_rungs));
    const Length reach = ladder.reach > mm(0) ? ladder.reach : ladder_reach(bench);
    const double from = in_mm(ladder.about - reach), to = in_mm(ladder.about + reach);
    const double step_mm = (to - from) / static_cast<double>(ladder.steps - 1);
    if (!(step_mm >= head_step_mm) || from < -50 || to > 50)
        return failure("ladder.reach",
                       fmt::format("{} offsets from {:.2f} to {:.2f} mm cannot be set.", ladder.steps, from, to),
                       "Keep within 50 mm on both sides, and at least 0.02 mm from one to the next.");
    const std::size_t columns = ladder.over_field ? 8 : 7;
    const std::size_t places = ladder.over_field ? 6 * columns : 2 * ladder.steps;
    const std::vector<std::size_t> step = scattered(places, columns, ladder.steps, seed);
    std::vector<Setting> cells;
    for (const std::size_t s : step) {
        Setting setting = request.base.setting;
        setting.focus_offset =
            mm(std::round(100 * (from + step_mm * static_cast<double>(s))) / 100); // as a dial is read
        cells.push_back(setting);
    }
    SheetRequest small = request;
    small.cell_width = small.cell_height = mark;
    auto sheet = plan_free_sheet(small, cells, bench, labels);
    if (!sheet)
        return sheet;
    sheet->own_columns = columns;
    sheet->left_out.assign(sheet->cells(), false);
    for (std::size_t i = places; i < sheet->cells(); ++i)
        sheet->left_out[i] = true; // the last row is not full
    sheet->ladder = true;
    if (ladder.over_field)
        *sheet = over_field(std::move(*sheet), bench);
    return inside_field(std::move(*sheet), bench);
}

Expected<LadderFinding> judge_ladder(const ProofSheet& sheet, const SheetReading& reading, const Bench& bench,
                                     double accept_de) {
    if (!sheet.ladder || reading.cells.size() != sheet.cells())
        return failure("ladder.no_ladder", fmt::format("Sheet {} is no focus ladder.", sheet.number),
                       "Plan a focus ladder.");
    LadderFinding f;
    f.accept_de = accept_de;
    const std::vector<PointMm> at = from_middle(sheet);
    std::map<double, int> offsets;
    double left = 0, right = 0;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const CellReading& c = reading.cells[i];
        if (!sheet.holds(i) || c.state != CellState::read)
            continue;
        const double offset = in_mm(cell_recipe(sheet, i).setting.focus_offset);
        f.marks.push_back({offset, at[i].x, at[i].y, 0.5, c.lab});
        f.cells.push_back(i);
        left = std::min(left, f.marks.back().x_mm);
        right = std::max(right, f.marks.back().x_mm);
        ++offsets[offset];
    }
    if (f.marks.size() < fewest_marks || offsets.size() < fewest_offsets)
        return failure(
            "ladder.too_few", fmt::format("Only {} marks at {} offsets could be read.", f.marks.size(), offsets.size()),
            fmt::format("Read the sheet again: {} marks at {} offsets are the least.", fewest_marks, fewest_offsets));
    // Burned by offset, and by place where the offsets are the same.
    std::vector<std::size_t> order(f.marks.size());
    std::iota(order.begin(), order.end(), 0);
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return f.marks[i].offset_mm; });
    for (std::size_t k = 0; k < order.size(); ++k)
        f.marks[order[k]].burned = static_cast<double>(k) / static_cast<double>(order.size() - 1);
    const double rayleigh = in_mm(waist(bench.lens(), bench.source.wavelength).rayleigh);
    const double field = in_mm(bench.lens().field);
    f.fit = fit_focus(f.marks, rayleigh, field, accept_de);
    f.span_mm = right - left;
    f.over_field = f.span_mm > 0.4 * field;
    f.tilt_takes_mm = taken_by_tilt(f, field);
    const double low = offsets.begin()->first, high = offsets.rbegin()->first;
    const double aside = std::abs(f.fit.best_mm.value - (low + high) / 2) / ((high - low) / 2);
    f.verdict = f.fit.change_de < std::max(1.0, 2 * f.fit.scatter_de) ? LadderVerdict::flat
                : aside > mirror_within                               ? LadderVerdict::beyond
                : f.fit.best_mm.spread > sure_enough * rayleigh       ? LadderVerdict::uncertain
                                                                      : LadderVerdict::found;
    f.words = words_of(f);
    return f;
}

nlohmann::json to_json(const LadderFinding& f, const ProofSheet& sheet) {
    static constexpr std::array verdicts{"found", "beyond", "flat", "uncertain"};
    nlohmann::json marks = nlohmann::json::array(), looks = nlohmann::json::array(), doubtful = nlohmann::json::array();
    for (std::size_t i = 0; i < f.marks.size(); ++i)
        marks.push_back({{"cell", cell_name(sheet, f.cells[i])},
                         {"offset_mm", f.marks[i].offset_mm},
                         {"x_mm", f.marks[i].x_mm},
                         {"y_mm", f.marks[i].y_mm},
                         {"lab", {f.marks[i].lab.l, f.marks[i].lab.a, f.marks[i].lab.b}}});
    for (const LadderPoint& p : f.fit.looks)
        looks.push_back({{"off_mm", p.off_mm}, {"lab", {p.lab.l, p.lab.a, p.lab.b}}, {"within", p.spread}});
    for (const std::size_t i : f.fit.doubtful)
        doubtful.push_back(cell_name(sheet, f.cells[i]));
    return {{"format", "finch-focus-finding"},
            {"version", 1},
            {"finding", verdicts.at(static_cast<std::size_t>(f.verdict))},
            {"best_mm", pair_json(f.fit.best_mm)},
            {"tilt_across_mm", pair_json(f.fit.tilt_x_mm)},
            {"tilt_down_mm", pair_json(f.fit.tilt_y_mm)},
            {"bow_mm", pair_json(f.fit.bow_mm)},
            {"holds_mm", pair_json(f.fit.holds_mm)},
            {"holds_over_the_whole_ladder", f.fit.holds_to_the_end},
            {"tilt_takes_mm", f.tilt_takes_mm},
            {"accept_de", f.accept_de},
            {"scatter_de", f.fit.scatter_de},
            {"marks", marks},
            {"looks", looks},
            {"left_out", doubtful},
            {"words", f.words}};
}

} // namespace finch
