// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/draft.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"

#include <nlohmann/json.hpp>

namespace finch::app {
namespace {

using json = nlohmann::json;

json axis_json(const AxisPlan& a) {
    return {{"knob", traits(a.knob).key},
            {"from", a.from},
            {"to", a.to},
            {"count", a.count},
            {"steps", a.steps == Steps::ratio ? "ratio" : "linear"}};
}

AxisPlan read_axis(JsonFields f) {
    AxisPlan a;
    a.knob = knob_from_key(f.text("knob")).value_or(Knob::scan_speed);
    a.from = f.number("from", -1e6, 1e6);
    a.to = f.number("to", -1e6, 1e6);
    a.count = f.whole("count", 1, most_steps);
    a.steps = f.choice("steps", {"linear", "ratio"}) == 1 ? Steps::ratio : Steps::linear;
    return a;
}

json round_json(const Round& r) {
    json out{{"sheet", to_json(r.sheet)},
             {"reason", r.reason},
             {"hoped_de00", r.hoped_de},
             {"hoped_spread", r.hoped_spread},
             {"before", to_json(r.before)},
             {"burned", r.burned},
             {"thickness_ratio", r.thickness_ratio},
             {"before_de00", r.before_de},
             {"after_de00", r.after_de},
             {"learned_cells", r.learned_cells},
             {"sheet_entry", r.sheet_entry},
             {"reading_entry", r.reading_entry}};
    if (r.reading)
        out["reading"] = to_json(*r.reading, r.sheet);
    return out;
}

Expected<Round> read_round(JsonFields f) {
    Round r;
    auto sheet = sheet_from_json(f.json().value("sheet", json()), "");
    if (!sheet)
        return tl::unexpected(sheet.error());
    r.sheet = *sheet;
    r.reason = f.text_or("reason", "");
    r.hoped_de = f.number_or("hoped_de00", 0, 0, 1e9);
    r.hoped_spread = f.number_or("hoped_spread", 0, 0, 1e9);
    r.before = evidence_from_json(f.json().value("before", json()));
    r.burned = f.flag_or("burned", false);
    r.thickness_ratio = f.number_or("thickness_ratio", 1, 0, 100);
    r.before_de = f.number_or("before_de00", 0, 0, 1000);
    r.after_de = f.number_or("after_de00", 0, 0, 1000);
    r.learned_cells = static_cast<std::size_t>(f.whole_or("learned_cells", 0, 0, 1000));
    r.sheet_entry = f.whole_or("sheet_entry", 0, 0, 2000000000);
    r.reading_entry = f.whole_or("reading_entry", 0, 0, 2000000000);
    if (f.has("reading")) {
        auto reading = reading_from_json(f.json().at("reading"), r.sheet, "");
        if (!reading)
            return tl::unexpected(reading.error());
        r.reading = *reading;
    }
    return r;
}

} // namespace

const Round* Draft::round() const {
    return shown_round >= 0 && shown_round < static_cast<int>(rounds.size())
               ? &rounds[static_cast<std::size_t>(shown_round)]
               : nullptr;
}

std::string evidence_key(const Setup& s) {
    return s.bench.name + " / " + s.bench.lens().name + " / " + s.stock.metal + " / " +
           std::string(word(s.stock.finish)) + " / " + s.stock.lot;
}

json to_json(const Draft& d) {
    json rounds = json::array();
    for (const Round& r : d.rounds)
        rounds.push_back(round_json(r));
    json evidence = json::object();
    for (const auto& [key, e] : d.evidence)
        evidence[key] = to_json(e);
    json out{{"format", "finch-draft"},
             {"version", 1},
             {"setup", to_json(d.setup)},
             {"recipe", to_json(d.recipe)},
             {"aim", to_json(d.aim)},
             {"school", static_cast<int>(d.school)},
             {"target", to_json(d.target)},
             {"request",
              {{"aim", d.request.aim},
               {"across", axis_json(d.request.across)},
               {"down", axis_json(d.request.down)},
               {"cell_width_mm", tidy(in_mm(d.request.cell_width))},
               {"cell_height_mm", tidy(in_mm(d.request.cell_height))},
               {"gap_mm", tidy(in_mm(d.request.gap))}}},
             {"rounds", rounds},
             {"shown_round", d.shown_round},
             {"evidence", evidence},
             {"next_sheet", d.next_sheet},
             {"operator", d.operator_initials}};
    if (d.saved)
        out["saved"] = to_json(*d.saved);
    if (d.cell)
        out["cell"] = *d.cell;
    return out;
}

Expected<Draft> draft_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-draft", 1, file); !version)
        return tl::unexpected(version.error());
    const auto in_file = [&file](const Error& e) { return tl::unexpected(e.in_file(file)); };
    Draft d;
    auto setup = setup_from_json(document.value("setup", json()), file);
    if (!setup)
        return in_file(setup.error());
    d.setup = *setup;
    auto recipe = recipe_from_json(document.value("recipe", json()), file);
    if (!recipe)
        return in_file(recipe.error());
    d.recipe = *recipe;
    auto target = target_from_json(document.value("target", json()));
    if (!target)
        return in_file(target.error());
    d.target = *target;
    // Drafts of earlier versions have no aim.
    if (document.contains("aim")) {
        auto aim = aim_from_json(document.at("aim"), file);
        if (!aim)
            return in_file(aim.error());
        d.aim = *aim;
    }
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    JsonFields q = f.object("request");
    d.request.aim = q.text_or("aim", "");
    d.request.across = read_axis(q.object("across"));
    d.request.down = read_axis(q.object("down"));
    d.request.cell_width = mm(q.number("cell_width_mm", 1, 50));
    d.request.cell_height = mm(q.number("cell_height_mm", 1, 50));
    d.request.gap = mm(q.number("gap_mm", 0.4, 20));
    for (const JsonFields& r : f.list("rounds")) {
        auto round = read_round(r);
        if (!round)
            return in_file(round.error());
        d.rounds.push_back(std::move(*round));
    }
    d.shown_round = f.whole_or("shown_round", -1, -1, 100000);
    if (f.has("cell"))
        d.cell = static_cast<std::size_t>(f.whole("cell", 0, 700));
    d.school = static_cast<School>(f.whole_or("school", 0, 0, 4));
    d.next_sheet = f.whole_or("next_sheet", 1, 0, 1000000);
    d.operator_initials = f.text_or("operator", "OD");
    if (f.has("saved"))
        if (const auto saved = recipe_from_json(document.at("saved"), file))
            d.saved = *saved;
    if (const auto evidence = document.find("evidence"); evidence != document.end() && evidence->is_object())
        for (const auto& [key, e] : evidence->items())
            d.evidence[key] = evidence_from_json(e);
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    if (d.cell && (d.round() == nullptr || *d.cell >= d.round()->sheet.cells()))
        d.cell.reset();
    return d;
}

} // namespace finch::app
