// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/offset_series.h"

#include "physics/pulse.h"
#include "recipe/predict.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::size_t fewest_tried = 3, most_tried = 13;
constexpr std::array film_shares{1.0 / 1.17, 1.0, 1.17}; ///< against the recipe's
constexpr double twice_as_wide = 2;

/// The speed that makes a film of so many nm, or nothing: more speed always makes less.
std::optional<Setting> with_film(const Scene& scene, const Recipe& recipe, const Fill& fill, double nm) {
    Recipe tried = recipe;
    const auto film_at = [&](double ln) -> std::optional<double> {
        tried.setting.scan_speed = mm_per_second(std::exp(ln));
        const auto p = predict(scene, tried, fill, unseen);
        if (!p || p->removal_index >= 1 || p->burn_index > 1)
            return std::nullopt;
        return p->oxide_nm();
    };
    const KnobLimits speeds = knob_limits(scene.bench, Knob::scan_speed);
    double slow = std::log(std::max(speeds.low, 1.0)), fast = std::log(speeds.high);
    if (const auto least = film_at(fast); !least || *least > nm)
        return std::nullopt;
    for (int i = 0; i < 40; ++i) {
        const double middle = (slow + fast) / 2;
        const auto film = film_at(middle);
        // What is too slow to be whole makes too much in any case.
        (!film || *film > nm ? slow : fast) = middle;
    }
    const auto film = film_at(fast);
    if (!film || std::abs(std::log(*film / nm)) > 0.02)
        return std::nullopt;
    return tried.setting;
}

std::string offset_words(double mm) {
    return std::abs(mm) < 0.005 ? std::string("in focus") : fmt::format("at {:+.2f} mm", mm);
}

std::string words_of(const OffsetFinding& f, const Target& target) {
    const OffsetResult &best = f.offsets[f.best], &focus = f.offsets[f.in_focus];
    const auto look = [&](const OffsetResult& r) {
        return target.darker_is_better ? fmt::format("L* {:.0f}", r.lab.l)
                                       : fmt::format("{:.1f} CIEDE2000 off", r.miss);
    };
    const auto told = [&](const OffsetResult& r) {
        return fmt::format("{} {} in {:.0f} s/cm\u00b2 with a spot of {:.0f} \u00b5m", offset_words(r.offset_mm),
                           look(r), r.s_per_cm2, r.spot_um);
    };
    std::string out = best.passes ? fmt::format("Fastest of those that pass: {}.", told(best))
                                  : fmt::format("None passes; nearest: {}.", told(best));
    if (f.best != f.in_focus)
        out += fmt::format(" {}: {}.", std::abs(focus.offset_mm) < 0.005 ? "Without an offset" : "Nearest to focus",
                           told(focus));
    out += f.told_apart ? "" : " By their looks the two are not told apart.";
    // Heat and plasma see the two sides differently, which a model of the spot alone does not.
    const auto mean_miss = [&](int side) {
        double sum = 0;
        int n = 0;
        for (const OffsetResult& r : f.offsets)
            if (side * r.offset_mm > 0.005) {
                sum += r.miss;
                ++n;
            }
        return n > 0 ? std::optional(sum / n) : std::nullopt;
    };
    if (const auto low = mean_miss(-1), high = mean_miss(1); low && high && std::abs(*low - *high) > 2)
        out += fmt::format(" The side {} the focus is nearer by {:.1f} on the whole.", *low < *high ? "below" : "above",
                           std::abs(*low - *high));
    return out;
}

} // namespace

Length offset_reach(const Bench& bench) {
    return depth_for_growth(waist(bench.lens(), bench.source.wavelength), twice_as_wide);
}

Expected<ProofSheet> plan_offsets(const SheetRequest& request, const OffsetRequest& wanted, const Scene& scene,
                                  const Recipe& labels) {
    if (!traits(request.base.process).lasting_colour)
        return failure("offsets.no_film", "Only films are tried out of focus for their look.",
                       "Take a recipe for a dark or coloured mark.");
    if (wanted.offsets < fewest_tried || wanted.offsets > most_tried || wanted.offsets % 2 == 0)
        return failure("offsets.count", fmt::format("{} offsets do not lie evenly about zero.", wanted.offsets),
                       "Take 3 to 13, an odd number.");
    const double reach = wanted.reach > mm(0) ? in_mm(wanted.reach) : in_mm(offset_reach(scene.bench));
    const Fill fill{request.cell_width, in_mm(request.cell_width) * in_mm(request.cell_height)};
    const auto base = predict(scene, request.base, fill, unseen);
    if (!base)
        return tl::unexpected(base.error());
    if (base->oxide_nm() <= 0)
        return failure("offsets.no_film", "By the model this recipe makes no film.", "Take one that does.");
    const BeamWaist beam = waist(scene.bench.lens(), scene.bench.source.wavelength);
    const double spot = in_mm(spot_at(beam, request.base.setting.focus_offset));
    std::vector<std::vector<Setting>> columns;
    for (std::size_t i = 0; i < wanted.offsets; ++i) {
        const double share = 2 * static_cast<double>(i) / static_cast<double>(wanted.offsets - 1) - 1;
        Recipe r = request.base;
        r.setting.focus_offset = mm(std::round(100 * reach * share) / 100); // as a column is read
        r.setting.hatch_pitch = r.setting.hatch_pitch * (in_mm(spot_at(beam, r.setting.focus_offset)) / spot);
        std::vector<Setting> column;
        for (const double film : film_shares)
            if (const auto s = with_film(scene, r, fill, film * base->oxide_nm()))
                column.push_back(*s);
        if (column.size() == film_shares.size())
            columns.push_back(std::move(column));
    }
    if (columns.size() < fewest_tried)
        return failure(
            "offsets.none",
            fmt::format("By the model this film can be made at {} of {} offsets.", columns.size(), wanted.offsets),
            "Take a smaller reach, or a recipe with more power and speed.");
    std::vector<Setting> cells;
    for (std::size_t row = 0; row < film_shares.size(); ++row)
        for (const auto& column : columns)
            cells.push_back(column[row]);
    auto sheet = plan_free_sheet(request, cells, scene.bench, labels);
    if (!sheet)
        return sheet;
    sheet->own_columns = columns.size();
    sheet->left_out.assign(sheet->cells(), false);
    sheet->offsets = true;
    return inside_field(std::move(*sheet), scene.bench);
}

Expected<OffsetFinding> judge_offsets(const ProofSheet& sheet, const SheetReading& reading, const Scene& scene,
                                      const Target& target) {
    if (!sheet.offsets || reading.cells.size() != sheet.cells())
        return failure("offsets.none_asked", fmt::format("Sheet {} tries no offsets.", sheet.number),
                       "Plan an offset series.");
    OffsetFinding f;
    const Fill square; // a square centimetre, as a piece has it: a cell has short lines, which take longer
    for (std::size_t column = 0; column < sheet.columns(); ++column) {
        std::optional<OffsetResult> best;
        for (std::size_t i = column; i < sheet.own.size(); i += sheet.columns()) {
            const CellReading& c = reading.cells[i];
            if (c.state != CellState::read || c.spoiled)
                continue;
            const double miss = distance(target, c.lab);
            if (best && best->miss <= miss)
                continue;
            const Setting& s = sheet.own[i];
            const Bench& bench = scene.bench;
            const Pattern at = pattern(pulse_output(bench.source, s), bench.source, bench.lens(), s, square,
                                       scene.materials.model.turn_s);
            best = OffsetResult{
                in_mm(s.focus_offset),   at.spot_m * 1e6, i, c.lab, miss, c.within_de, c.unevenness, at.time_s,
                miss <= target.accept_de};
        }
        if (best)
            f.offsets.push_back(*best);
    }
    if (f.offsets.size() < fewest_tried)
        return failure("offsets.too_few", fmt::format("Only {} offsets could be read.", f.offsets.size()),
                       "Read the sheet again, or burn it again: three are the least.");
    const auto better = [](const OffsetResult& a, const OffsetResult& b) {
        if (a.passes != b.passes)
            return a.passes;
        return a.passes ? a.s_per_cm2 < b.s_per_cm2 : a.miss < b.miss;
    };
    f.best = static_cast<std::size_t>(std::ranges::min_element(f.offsets, better) - f.offsets.begin());
    f.in_focus = static_cast<std::size_t>(
        std::ranges::min_element(f.offsets, {}, [](const OffsetResult& r) { return std::abs(r.offset_mm); }) -
        f.offsets.begin());
    const OffsetResult &best = f.offsets[f.best], &focus = f.offsets[f.in_focus];
    f.told_apart = std::abs(best.miss - focus.miss) > std::hypot(best.within_de, focus.within_de);
    f.words = words_of(f, target);
    return f;
}

nlohmann::json to_json(const OffsetFinding& f, const ProofSheet& sheet) {
    nlohmann::json offsets = nlohmann::json::array();
    for (const OffsetResult& r : f.offsets)
        offsets.push_back({{"offset_mm", r.offset_mm},
                           {"spot_um", r.spot_um},
                           {"cell", cell_name(sheet, r.cell)},
                           {"lab", {r.lab.l, r.lab.a, r.lab.b}},
                           {"miss_de", r.miss},
                           {"within_de", r.within_de},
                           {"unevenness_de", r.unevenness},
                           {"s_per_cm2", r.s_per_cm2},
                           {"passes", r.passes}});
    return {{"format", "finch-offset-finding"},
            {"version", 1},
            {"offsets", offsets},
            {"best_mm", f.offsets[f.best].offset_mm},
            {"told_apart", f.told_apart},
            {"best", to_json(cell_recipe(sheet, f.offsets[f.best].cell))},
            {"words", f.words}};
}

} // namespace finch
