// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/sheet.h"

#include "document/json_fields.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

/// What a cell of its own sets.
constexpr std::array own_knobs{Knob::power,       Knob::frequency,   Knob::pulse_width, Knob::scan_speed,
                               Knob::hatch_pitch, Knob::hatch_angle, Knob::passes,      Knob::focus_offset};

json axis_json(const SheetAxis& axis) {
    return {{"knob", traits(axis.knob).key},
            {"values", axis.values},
            {"steps", axis.steps == Steps::ratio ? "ratio" : "linear"}};
}

SheetAxis read_axis(JsonFields f) {
    SheetAxis axis;
    const auto knob = knob_from_key(f.text("knob"));
    if (knob)
        axis.knob = *knob;
    else
        f.fault("knob", knob.error().message, knob.error().fix);
    axis.values = f.numbers("values", 0, -1e6, 1e6);
    if (axis.values.empty() || axis.values.size() > most_steps) {
        f.fault("values", "An axis needs 1 to 26 values.", "Give each column or row one value.");
        axis.values = {1};
    }
    axis.steps = f.choice("steps", {"linear", "ratio"}) == 1 ? Steps::ratio : Steps::linear;
    return axis;
}

/// A cell's setting by the keys of its knobs.
json setting_json(const Recipe& recipe) {
    json out;
    for (const Knob knob : own_knobs)
        out[std::string(traits(knob).key)] = tidy(knob_value(recipe, knob));
    return out;
}

void read_free(JsonFields f, ProofSheet& s) {
    s.own_columns = static_cast<std::size_t>(f.whole("columns", 1, 26));
    for (JsonFields& c : f.list("cells")) {
        Recipe r = s.base;
        for (const Knob knob : own_knobs) {
            const KnobTraits& t = traits(knob);
            r = with_knob(r, knob, c.number(std::string(t.key).c_str(), t.low, t.high));
        }
        c.nothing_else();
        s.own.push_back(r.setting);
    }
    f.nothing_else();
    if (s.own.empty() || s.own.size() > most_free_cells) {
        f.fault("cells", "A sheet has 1 to 150 free cells.", "Give each cell its setting.");
        s.own.clear();
    }
}

void read_frame(JsonFields f, ProofSheet& s) {
    SheetFrame frame;
    frame.number = f.whole("number", 0, highest_sheet_number);
    frame.first = static_cast<std::size_t>(f.whole("first", 0, most_free_cells));
    frame.rows = static_cast<std::size_t>(f.whole("rows", 1, most_free_cells));
    f.nothing_else();
    s.frame = frame;
    if (s.first_own() + s.own.size() > s.cells() || s.cells() > most_frame_places) {
        f.fault("first", "The cells do not lie within the frame.", "Give the frame more rows, up to 300 places.");
        s.frame.reset();
    }
}

void read_paired(JsonFields f, ProofSheet& s) {
    PairedCells paired;
    paired.measure = static_cast<Measure>(f.choice("measure", {measure_keys.begin(), measure_keys.end()}));
    paired.matters = f.number("matters", 0, 200);
    const std::size_t count = s.own.size();
    std::vector<bool> seen(count, false);
    for (const double at : f.numbers("order", count, 0, static_cast<double>(count) - 1)) {
        const auto i = static_cast<std::size_t>(at);
        if (static_cast<double>(i) != at || seen[i])
            break;
        seen[i] = true;
        paired.order.push_back(i);
    }
    f.nothing_else();
    if (paired.order.size() != count || count % 2 != 0 || s.own_columns != count / 2 || s.frame) {
        f.fault("order", "Pairs lie in two rows on a sheet of their own, and each cell is burned once.",
                "Give twice as many cells as columns, and the number of each from 0 once.");
        return;
    }
    s.paired = std::move(paired);
}

void read_lot_check(JsonFields f, ProofSheet& s) {
    const std::vector<double> lab = f.numbers("expected", 3, -200, 200);
    const double accept = f.number("accept_de", 0.1, 50);
    f.nothing_else();
    if (lab.size() == 3)
        s.lot = LotCheck{{lab[0], lab[1], lab[2]}, accept};
}

void read_threshold(JsonFields f, ProofSheet& s) {
    const std::vector<double> lab = f.numbers("unmarked", 3, -200, 200);
    const double visible = f.number("visible_de", 0.1, 50);
    const std::vector<double> done = f.has("done") ? f.numbers("done", 3, -200, 200) : std::vector<double>();
    f.nothing_else();
    if (lab.size() == 3)
        s.threshold = ThresholdSearch{{lab[0], lab[1], lab[2]}, visible};
    if (s.threshold && done.size() == 3)
        s.threshold->done = Lab{done[0], done[1], done[2]};
}

void read_turns(JsonFields& f, ProofSheet& s) {
    std::vector<bool> due(s.cells(), true);
    for (std::size_t i = 0; i < due.size(); ++i)
        due[i] = !s.left_out[i];
    bool each_once = true;
    for (JsonFields& t : f.list("turns")) {
        const auto cell = cell_from_name(s, t.text("cell"));
        const double rest_s = t.number("rest_s", 0, 3600);
        t.nothing_else();
        each_once = each_once && cell && due[*cell];
        if (!each_once)
            break;
        due[*cell] = false;
        s.turns.push_back({*cell, rest_s});
    }
    if (!each_once || std::ranges::count(due, true) > 0) {
        f.fault("turns", "Each cell that is not left out is burned once.", "Name each of them once, in its turn.");
        s.turns.clear();
    }
}

json lab_json(const Lab& lab) {
    return {tidy(lab.l), tidy(lab.a), tidy(lab.b)};
}

Recipe read_nested_recipe(JsonFields& f, const char* key, std::vector<Error>& faults) {
    const auto recipe = recipe_from_json(f.raw(key), "");
    if (recipe)
        return *recipe;
    Error e = recipe.error();
    e.place.field = std::string(key) + (e.place.field.empty() ? "" : "." + e.place.field);
    faults.push_back(e);
    return {};
}

} // namespace

json to_json(const ProofSheet& s) {
    json left_out = json::array();
    for (std::size_t i = 0; i < s.left_out.size(); ++i)
        if (s.left_out[i])
            left_out.push_back(cell_name(s, i));
    json out = {{"format", "finch-sheet"},
                {"version", s.rest_below_k > 0 || !s.turns.empty() ? 9
                            : s.close || s.field                   ? 8
                            : s.threshold && s.threshold->done     ? 7
                            : s.threshold || s.offsets || s.wedge  ? 6
                            : s.ladder || s.lot                    ? 5
                            : s.paired                             ? 4
                            : s.frame                              ? 3
                            : s.free()                             ? 2
                                                                   : 1},
                {"number", s.number},
                {"aim", s.aim},
                {"base", to_json(s.base)},
                {"across", axis_json(s.across)},
                {"down", axis_json(s.down)},
                {"cell_width_mm", tidy(in_mm(s.cell_width))},
                {"cell_height_mm", tidy(in_mm(s.cell_height))},
                {"gap_mm", tidy(in_mm(s.gap))},
                {"label_recipe", to_json(s.label_recipe)},
                {"left_out", left_out}};
    if (s.free()) {
        json cells = json::array();
        for (std::size_t i = 0; i < s.own.size(); ++i)
            cells.push_back(setting_json(cell_recipe(s, s.first_own() + i)));
        out["free"] = {{"columns", s.own_columns}, {"cells", cells}};
        if (s.paired)
            out["paired"] = {{"measure", measure_keys.at(static_cast<std::size_t>(s.paired->measure))},
                             {"matters", tidy(s.paired->matters)},
                             {"order", s.paired->order}};
        if (s.ladder)
            out["ladder"] = true;
        if (s.lot)
            out["lot_check"] = {{"expected", lab_json(s.lot->expected)}, {"accept_de", tidy(s.lot->accept_de)}};
        if (s.threshold)
            out["threshold"] = {{"unmarked", lab_json(s.threshold->unmarked)},
                                {"visible_de", tidy(s.threshold->visible_de)}};
        if (s.threshold && s.threshold->done)
            out["threshold"]["done"] = lab_json(*s.threshold->done);
        if (s.offsets)
            out["offsets"] = true;
        if (s.wedge)
            out["wedge"] = true;
        if (s.field)
            out["field"] = true;
        if (s.close)
            out["close"] = true;
        if (s.frame)
            out["frame"] = {{"number", s.frame->number}, {"first", s.frame->first}, {"rows", s.frame->rows}};
    }
    if (s.rest_below_k > 0)
        out["rest_below_k"] = tidy(s.rest_below_k);
    for (const CellTurn& t : s.turns)
        out["turns"].push_back({{"cell", cell_name(s, t.cell)}, {"rest_s", tidy(t.rest_s)}});
    return out;
}

Expected<ProofSheet> sheet_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-sheet", 9, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    ProofSheet s;
    s.number = f.whole("number", 0, highest_sheet_number);
    s.aim = f.text_or("aim", "");
    s.base = read_nested_recipe(f, "base", faults);
    s.across = read_axis(f.object("across"));
    s.down = read_axis(f.object("down"));
    s.cell_width = mm(f.number("cell_width_mm", 1, 50));
    s.cell_height = mm(f.number("cell_height_mm", 1, 50));
    s.gap = mm(f.number("gap_mm", 0.4, 20));
    s.label_recipe = read_nested_recipe(f, "label_recipe", faults);
    if (f.has("free"))
        read_free(f.object("free"), s);
    if (s.free() && f.has("frame"))
        read_frame(f.object("frame"), s);
    if (s.free() && f.has("paired"))
        read_paired(f.object("paired"), s);
    s.ladder = s.free() && f.flag_or("ladder", false);
    if (s.free() && f.has("lot_check"))
        read_lot_check(f.object("lot_check"), s);
    s.offsets = s.free() && f.flag_or("offsets", false);
    s.wedge = s.free() && f.flag_or("wedge", false);
    s.field = s.free() && f.flag_or("field", false);
    s.close = s.free() && f.flag_or("close", false);
    if (s.free() && f.has("threshold"))
        read_threshold(f.object("threshold"), s);
    const int questions = (s.ladder ? 1 : 0) + (s.lot ? 1 : 0) + (s.threshold ? 1 : 0) + (s.offsets ? 1 : 0) +
                          (s.wedge ? 1 : 0) + (s.field ? 1 : 0);
    if (questions + (s.frame ? 1 : 0) + (s.paired ? 1 : 0) > 1 && questions > 0) {
        f.fault(s.ladder      ? "ladder"
                : s.lot       ? "lot_check"
                : s.threshold ? "threshold"
                : s.offsets   ? "offsets"
                : s.wedge     ? "wedge"
                              : "field",
                "A sheet answers one question.",
                "Leave all but one of frame, pairs, ladder, lot_check, threshold, offsets, wedge and field out.");
        s.ladder = s.offsets = s.wedge = s.field = false;
        s.lot.reset();
        s.threshold.reset();
    }
    s.left_out.assign(s.cells(), false);
    for (std::size_t i = 0; i < s.cells(); ++i)
        s.left_out[i] = !s.holds(i); // empty, or another round's
    if (f.has("left_out")) {
        const json& names = f.raw("left_out");
        if (!names.is_array())
            f.fault("left_out", "This must be a list of cell names.", "Write for example [\"H6\"].");
        for (const json& name : names.is_array() ? names : json::array()) {
            const auto cell = cell_from_name(s, name.is_string() ? name.get<std::string>() : json_text(name));
            if (cell)
                s.left_out[*cell] = true;
            else
                f.fault("left_out", cell.error().message, cell.error().fix);
        }
    }
    s.rest_below_k = f.number_or("rest_below_k", 0, 0, most_rest_below_k);
    if (f.has("turns"))
        read_turns(f, s);
    // As the command line writes beside a sheet: what follows from the rest, and why it was designed.
    f.raw("forecast");
    f.raw("search");
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return s;
}

Expected<ProofSheet> sheet_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    return document ? sheet_from_json(*document, file) : tl::unexpected(document.error());
}

} // namespace finch
