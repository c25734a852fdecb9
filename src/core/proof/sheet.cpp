// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/sheet.h"

#include "document/json_fields.h"
#include "proof/layout.h"
#include "proof/sheet_heat.h"
#include "quantity/format.h"
#include "search/burn_order.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

/// Whether a cell shows what its process is for, nothing, or something that only spoils the coupon.
CellFate fate_of(const Prediction& p, const Metal& metal, Process process) {
    if (p.burn_index > 1 || p.effect == Effect::through)
        return CellFate::burns;
    switch (p.effect) {
    case Effect::no_bond:
    case Effect::under_fused:
    case Effect::coat_kept:
        return CellFate::shows_nothing;
    case Effect::over_burns:
    case Effect::blown_off:
    case Effect::strips_and_marks:
        return CellFate::burns;
    case Effect::bleaches:
    case Effect::darkens:
    case Effect::partly_strips:
    case Effect::strips:
    case Effect::bonds:
    case Effect::not_modelled:
        return CellFate::marks;
    case Effect::none:
    case Effect::tint:
    case Effect::colour:
    case Effect::dark:
    case Effect::melts:
    case Effect::polishes:
    case Effect::cleans:
    case Effect::frosts:
    case Effect::removes:
    case Effect::through:
        break;
    }
    // A sheet is there to find out: a cell is left out only where hardly any bench would show what it is for.
    if (process == Process::compound)
        return p.effect == Effect::frosts ? CellFate::burns : CellFate::marks;
    if (traits(process).lasting_colour) {
        const double spoiled = p.shares[Effect::melts] + p.share_away;
        if (spoiled > 0.5 && !is_film(p.effect))
            return CellFate::burns;
        return metal.oxide && p.effect == Effect::none ? CellFate::shows_nothing : CellFate::marks;
    }
    return p.effect == Effect::none || p.effect == Effect::tint ? CellFate::shows_nothing : CellFate::marks;
}

bool inside(const Recipe& recipe, const Bench& bench, Knob knob) {
    const KnobLimits limits = knob_limits(bench, knob);
    const double v = knob_value(recipe, knob);
    return v >= limits.low - 1e-9 && v <= limits.high + 1e-9;
}

/// Value of a knob at a fractional position along an axis, extended by its last step.
double axis_at(const SheetAxis& axis, double at) {
    const auto n = static_cast<int>(axis.values.size());
    if (n == 1)
        return axis.values[0];
    const int i = std::clamp(static_cast<int>(std::floor(at)), 0, n - 2);
    const double a = axis.values[static_cast<std::size_t>(i)];
    const double b = axis.values[static_cast<std::size_t>(i) + 1];
    const double t = at - i;
    return axis.steps == Steps::ratio && a > 0 && b > 0 ? a * std::pow(b / a, t) : a + t * (b - a);
}

double level_value(const ProofSheet& sheet, const Bench& bench, LevelKind kind, double column, double row) {
    const Recipe recipe = with_knob(with_knob(sheet.base, sheet.across.knob, axis_at(sheet.across, column)),
                                    sheet.down.knob, axis_at(sheet.down, row));
    const Setting s = burned_setting(recipe);
    const double pulses = in_hertz(s.frequency) / (in_mm_per_second(s.scan_speed) * in_mm(s.hatch_pitch)) * s.passes;
    return kind == LevelKind::pulses_per_mm2 ? pulses : pulses * pulse_output(bench.source, s).pulse_energy_j;
}

/// The value at the cell centre that is nearest to a wish: a line at that level runs through cells, not between them.
template <typename F>
double nearest_centre(const ProofSheet& sheet, double wish, F&& value) {
    double best = wish, distance = 1e300;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const std::size_t row = i / sheet.columns();
        const double v = value(static_cast<double>(i % sheet.columns()), static_cast<double>(row));
        if (std::abs(std::log(v / wish)) < distance) {
            distance = std::abs(std::log(v / wish));
            best = v;
        }
    }
    return best;
}

/// Points where a level crosses the edges of one square of the lattice, by linear interpolation.
std::vector<LevelLine::Point> crossings(const std::array<LevelLine::Point, 4>& corner,
                                        const std::array<double, 4>& value, double level) {
    std::vector<LevelLine::Point> out;
    for (std::size_t i = 0; i < 4; ++i) {
        const std::size_t j = (i + 1) % 4;
        if ((value[i] < level) == (value[j] < level))
            continue;
        const double t = (level - value[i]) / (value[j] - value[i]);
        out.push_back({corner[i].column + t * (corner[j].column - corner[i].column),
                       corner[i].row + t * (corner[j].row - corner[i].row)});
    }
    return out;
}

Expected<void> cells_fit(const SheetRequest& r) {
    for (const Length& side : {r.cell_width, r.cell_height})
        if (!(in_mm(side) >= 1 && in_mm(side) <= 50))
            return failure("proof.cell_size",
                           fmt::format("A cell side of {} mm is outside 1 to 50 mm.", format_number(in_mm(side))),
                           "Cells of 3 to 8 mm are easy to photograph.");
    if (!(in_mm(r.gap) >= 0.4 && in_mm(r.gap) <= 20))
        return failure("proof.gap", "The gap between cells must be 0.4 to 20 mm.",
                       "Bare metal between the cells corrects the light of the photograph.");
    return {};
}

/// Places that are not this sheet's are left out; its own stay as they are or become cells.
void leave_empty(ProofSheet& sheet) {
    sheet.left_out.assign(sheet.cells(), false);
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        sheet.left_out[i] = !sheet.holds(i);
}

} // namespace

Expected<ProofSheet> inside_field(ProofSheet sheet, const Bench& bench) {
    const SheetLayout at = layout(sheet);
    const double field = in_mm(bench.lens().field);
    if (at.width_mm > field || at.height_mm > field)
        return failure("proof.too_large",
                       fmt::format("The sheet needs {} x {} mm, the field of the {} lens is {} mm.",
                                   format_number(at.width_mm), format_number(at.height_mm), bench.lens().name,
                                   format_number(field)),
                       "Use fewer or smaller cells.");
    return sheet;
}

std::string_view kind_word(const ProofSheet& sheet) {
    return sheet.paired      ? "pairs"
           : sheet.ladder    ? "focus ladder"
           : sheet.lot       ? "lot check"
           : sheet.threshold ? "threshold"
           : sheet.offsets   ? "offset series"
           : sheet.wedge     ? "step wedge"
           : sheet.field     ? "field sheet"
           : sheet.free()    ? "free cells"
                             : "map";
}

std::string cell_name(const ProofSheet& sheet, std::size_t cell) {
    return std::string(1, static_cast<char>('A' + cell % sheet.columns())) + std::to_string(1 + cell / sheet.columns());
}

std::vector<std::size_t> burned_cells(const ProofSheet& sheet) {
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (sheet.holds(i) && !(i < sheet.left_out.size() && sheet.left_out[i]))
            out.push_back(i);
    return out;
}

Expected<std::size_t> cell_from_name(const ProofSheet& sheet, const std::string& name) {
    for (std::size_t cell = 0; cell < sheet.cells(); ++cell)
        if (cell_name(sheet, cell) == name)
            return cell;
    return failure("proof.no_cell", fmt::format("Sheet {} has no cell \"{}\".", sheet.number, name),
                   fmt::format("Cells run from A1 to {}.", cell_name(sheet, sheet.cells() - 1)));
}

std::vector<Knob> varied_knobs(const ProofSheet& sheet) {
    if (!sheet.free())
        return {sheet.across.knob, sheet.down.knob};
    std::vector<Knob> out;
    for (const Knob knob : all_knobs) {
        const std::size_t from = sheet.first_own();
        const double first = knob_value(cell_recipe(sheet, from), knob);
        for (std::size_t i = 1; i < sheet.own.size(); ++i)
            if (knob_value(cell_recipe(sheet, from + i), knob) != first) {
                out.push_back(knob);
                break;
            }
    }
    return out;
}

Recipe cell_recipe(const ProofSheet& sheet, std::size_t cell) {
    if (sheet.free()) {
        Recipe r = sheet.base;
        if (sheet.holds(cell))
            r.setting = sheet.own[cell - sheet.first_own()];
        return r;
    }
    const Recipe across = with_knob(sheet.base, sheet.across.knob, sheet.across.values.at(cell % sheet.columns()));
    return with_knob(across, sheet.down.knob, sheet.down.values.at(cell / sheet.columns()));
}

Fill cell_fill(const ProofSheet& sheet) {
    return {sheet.cell_width, in_mm(sheet.cell_width) * in_mm(sheet.cell_height)};
}

Expected<ProofSheet> plan_sheet(const SheetRequest& r, const Bench& bench, const Recipe& labels) {
    if (r.across.knob == r.down.knob)
        return failure("proof.same_knob", fmt::format("Both axes vary {}.", traits(r.across.knob).label),
                       "Choose two different knobs.");
    if (const auto fits = cells_fit(r); !fits)
        return tl::unexpected(fits.error());
    auto across = axis_values(r.across, knob_limits(bench, r.across.knob));
    if (!across)
        return tl::unexpected(across.error());
    auto down = axis_values(r.down, knob_limits(bench, r.down.knob));
    if (!down)
        return tl::unexpected(down.error());
    ProofSheet sheet{r.number,
                     r.aim,
                     r.base,
                     {r.across.knob, std::move(*across), r.across.steps},
                     {r.down.knob, std::move(*down), r.down.steps},
                     r.cell_width,
                     r.cell_height,
                     r.gap,
                     labels,
                     {},
                     {},
                     0,
                     {},
                     {}};
    sheet.left_out.assign(sheet.cells(), false);
    return inside_field(std::move(sheet), bench);
}

Expected<ProofSheet> plan_free_sheet(const SheetRequest& r, const std::vector<Setting>& cells, const Bench& bench,
                                     const Recipe& labels) {
    if (cells.empty() || cells.size() > most_free_cells)
        return failure("proof.no_cells", fmt::format("A sheet of {} cells cannot be burned.", cells.size()),
                       fmt::format("Give 1 to {} cells.", most_free_cells));
    if (const auto fits = cells_fit(r); !fits)
        return tl::unexpected(fits.error());
    ProofSheet sheet;
    sheet.number = r.number;
    sheet.aim = r.aim;
    sheet.base = r.base;
    sheet.across = {r.across.knob, {knob_value(r.base, r.across.knob)}, r.across.steps};
    sheet.down = {r.down.knob, {knob_value(r.base, r.down.knob)}, r.down.steps};
    sheet.cell_width = r.cell_width;
    sheet.cell_height = r.cell_height;
    sheet.gap = r.gap;
    sheet.label_recipe = labels;
    sheet.own = cells;
    sheet.own_columns = grid_columns(cells.size());
    leave_empty(sheet);
    return inside_field(std::move(sheet), bench);
}

Expected<ProofSheet> with_frame(ProofSheet sheet, const Bench& bench) {
    const std::size_t places = sheet.own.size() + std::clamp<std::size_t>(sheet.own.size() / 2, 6, 18);
    sheet.own_columns = grid_columns(places);
    sheet.frame = SheetFrame{sheet.number, 0, (places + sheet.own_columns - 1) / sheet.own_columns};
    sheet.close = true;
    leave_empty(sheet);
    return inside_field(std::move(sheet), bench);
}

Expected<ProofSheet> on_frame_of(ProofSheet sheet, const ProofSheet& begun, std::size_t first) {
    if (!begun.frame || first + sheet.own.size() > begun.cells())
        return failure(
            "proof.frame_full",
            fmt::format("The frame of sheet {} has no room for {} more cells.", begun.plate_number(), sheet.own.size()),
            "Begin a new frame.");
    // What was predicted for cells of another size is not true of these.
    if (sheet.cell_width != begun.cell_width || sheet.cell_height != begun.cell_height || sheet.gap != begun.gap)
        return failure("proof.frame_cells",
                       fmt::format("The cells are of another size than those of sheet {}.", begun.plate_number()),
                       "Give them its size, or begin a new frame.");
    sheet.own_columns = begun.own_columns;
    sheet.frame = SheetFrame{begun.plate_number(), first, begun.frame->rows};
    sheet.label_recipe = begun.label_recipe;
    sheet.close = begun.close;
    leave_empty(sheet);
    return sheet;
}

Expected<Recipe> label_recipe(const Scene& scene) {
    Recipe best;
    double best_l = 1e9;
    Recipe r;
    r.name = "labels";
    const Source& source = scene.bench.source;
    r.setting.pulse_width = std::clamp(nanoseconds(120), source.pulse_width_min, source.pulse_width_max);
    const double full = in_watts(source.rated_power) /
                        in_joules(pulse_energy_limit(source, delivered_pulse_width(source, r.setting.pulse_width)));
    r.setting.frequency = std::clamp(Frequency::from_value(1.2 * full), source.frequency_min, source.frequency_max);
    for (const double frequency : {1.0, 2.0, 4.0})
        for (const double pitch : {0.01, 0.02})
            for (const double power : {10, 15, 20, 30, 40, 55, 70})
                for (const double speed : {60., 100., 200., 400., 800., 1500.}) {
                    Recipe t = r;
                    t.setting.frequency = std::min(r.setting.frequency * frequency, source.frequency_max);
                    t.setting.hatch_pitch = mm(pitch);
                    t.setting.power_percent = power;
                    t.setting.scan_speed = std::min(mm_per_second(speed), scene.bench.scanner.speed_max);
                    const auto p = predict(scene, t, {mm(5), 25}, straight);
                    if (!p || p->shares.film() < 0.9 || p->burn_index > 0.5)
                        continue;
                    // Darker is better; a second per square millimetre is worth about four steps of lightness.
                    // A thick film stays dark when the bench is a little off; a thin one may turn bright.
                    const double risk = p->effect == Effect::dark ? 0 : 25;
                    const double score = std::max(p->lab().l, 30.0) + risk + 4 * p->mark.pattern.time_s / 25;
                    if (score < best_l) {
                        best_l = score;
                        best = t;
                    }
                }
    if (best_l > 95)
        return failure("proof.no_label_recipe",
                       fmt::format("No safe dark mark for labels was found on {}.", scene.metal.name),
                       "Choose the label recipe by hand.");
    return best;
}

SheetForecast forecast(const ProofSheet& sheet, const Scene& scene) {
    SheetForecast out;
    const Fill fill = cell_fill(sheet);
    const std::vector<Knob> varied = varied_knobs(sheet);
    for (std::size_t cell = 0; cell < sheet.cells(); ++cell) {
        const Recipe recipe = cell_recipe(sheet, cell);
        CellForecast f{CellFate::impossible, predict(scene, recipe, fill), 0};
        if (f.prediction && std::ranges::all_of(varied, [&](Knob k) { return inside(recipe, scene.bench, k); })) {
            f.fate = fate_of(*f.prediction, scene.metal, sheet.base.process);
            f.time_s = f.prediction->mark.pattern.time_s;
        }
        if (cell >= sheet.left_out.size() || !sheet.left_out[cell])
            out.total_s += f.time_s + scene.materials.model.effort.next_cell_s;
        out.cells.push_back(std::move(f));
    }
    out.labels_s = lettering_s(sheet, scene);
    if (sheet.rest_below_k > 0 || !sheet.turns.empty())
        out.rests_s = sheet_heat(sheet, scene.metal, scene.stock.thickness, cell_heats(out)).rests_s();
    out.total_s += out.labels_s + out.rests_s;
    return out;
}

double lettering_s(const ProofSheet& sheet, const Scene& scene) {
    if (sheet.on_old_plate())
        return 0; // nothing is lettered twice
    // About half of the modules of four markers, and the strokes of the labels at the label speed.
    double out = 0;
    const SheetLayout at = layout(sheet);
    const double modules_mm2 = at.fiducials[0].box.w * at.fiducials[0].box.h;
    if (const auto p = predict(scene, sheet.label_recipe, {mm(at.fiducials[0].box.w), 4 * modules_mm2 * 0.55}))
        out = p->mark.pattern.time_s;
    double strokes_mm = 0;
    for (const LabelText& label : at.labels)
        for (const auto& stroke : stroke_text(label))
            for (std::size_t i = 1; i < stroke.size(); ++i)
                strokes_mm += std::hypot(stroke[i].x - stroke[i - 1].x, stroke[i].y - stroke[i - 1].y);
    return out + strokes_mm / in_mm_per_second(sheet.label_recipe.setting.scan_speed);
}

ProofSheet without_hopeless(ProofSheet sheet, const SheetForecast& forecast) {
    sheet.left_out.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        sheet.left_out[i] = forecast.cells.at(i).fate != CellFate::marks || !sheet.holds(i);
    return sheet;
}

std::vector<LevelLine> level_lines(const ProofSheet& sheet, const Bench& bench, LevelKind kind, int count) {
    const double last_column = static_cast<double>(sheet.columns()) - 0.5;
    const double last_row = static_cast<double>(sheet.rows()) - 0.5;
    const auto f = [&](double c, double r) {
        return std::log(std::max(level_value(sheet, bench, kind, c, r), 1e-300));
    };
    double low = 1e300, high = -1e300;
    for (const double c : {-0.5, last_column})
        for (const double r : {-0.5, last_row}) {
            low = std::min(low, f(c, r));
            high = std::max(high, f(c, r));
        }
    std::vector<LevelLine> out;
    if (sheet.free() || !(high - low > 0.05))
        return out;
    for (int i = 0; i < count; ++i) {
        LevelLine line;
        line.level = nearest_centre(sheet, std::exp(low + (high - low) * (i + 1) / (count + 1)),
                                    [&](double c, double r) { return std::exp(f(c, r)); });
        if (!out.empty() && std::abs(line.level / out.back().level - 1) < 0.02)
            continue;
        for (double c = -0.5; c < last_column - 1e-9; c += 0.5)
            for (double r = -0.5; r < last_row - 1e-9; r += 0.5) {
                const std::array<LevelLine::Point, 4> corner{{{c, r}, {c + 0.5, r}, {c + 0.5, r + 0.5}, {c, r + 0.5}}};
                std::array<double, 4> value{};
                for (std::size_t k = 0; k < 4; ++k)
                    value[k] = f(corner[k].column, corner[k].row);
                const auto points = crossings(corner, value, std::log(line.level));
                if (points.size() == 2) {
                    line.from.push_back(points[0]);
                    line.to.push_back(points[1]);
                }
            }
        if (!line.from.empty())
            out.push_back(std::move(line));
    }
    return out;
}

} // namespace finch
