// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/draft.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "evidence/evidence_json.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>

namespace finch::app {
namespace {

using json = nlohmann::json;

constexpr int most_sheets = 1000000;
const std::vector<std::string_view> schools{"single", "in-focus", "out-of-focus", "speed-by-pitch", "width-by-power"};

json axis_json(const AxisPlan& a) {
    return {{"knob", traits(a.knob).key},
            {"from", a.from},
            {"to", a.to},
            {"count", a.count},
            {"steps", a.steps == Steps::ratio ? "ratio" : "linear"}};
}

AxisPlan read_axis(JsonFields f) {
    AxisPlan a;
    if (const auto knob = knob_from_key(f.text("knob")))
        a.knob = *knob;
    else
        f.fault("knob", knob.error().message, knob.error().fix);
    a.from = f.number("from", -1e6, 1e6);
    a.to = f.number("to", -1e6, 1e6);
    a.count = f.whole("count", 1, most_steps);
    a.steps = f.choice("steps", {"linear", "ratio"}) == 1 ? Steps::ratio : Steps::linear;
    return a;
}

template <typename T>
T take(Expected<T> value, std::vector<Error>& faults, const std::string& field) {
    if (value)
        return std::move(*value);
    Error e = value.error();
    e.place.field = e.place.field.empty() ? field : field + "." + e.place.field;
    faults.push_back(std::move(e));
    return {};
}

json planned_json(const PlannedSheet& p) {
    json out{{"sheet", to_json(p.sheet)},
             {"setup", to_json(p.setup)},
             {"reason", p.reason},
             {"hoped_spread", p.hoped_spread},
             {"before", evidence_document(p.before)}};
    if (p.hoped_de)
        out["hoped_de00"] = *p.hoped_de;
    if (p.scrap)
        out["scrap"] = {{"piece", p.scrap->piece},
                        {"face", scrap_faces.at(p.scrap->face)},
                        {"x_mm", p.scrap->x_mm},
                        {"y_mm", p.scrap->y_mm},
                        {"turned", p.scrap->turned}};
    return out;
}

PlannedSheet read_planned(JsonFields f, std::vector<Error>& faults) {
    PlannedSheet p;
    p.sheet = take(sheet_from_json(f.raw("sheet"), ""), faults, "sheet");
    p.setup = take(setup_from_json(f.raw("setup"), ""), faults, "setup");
    p.reason = f.text_or("reason", "");
    p.hoped_de = f.optional_number("hoped_de00", 0, 1000);
    p.hoped_spread = f.number_or("hoped_spread", 0, 0, 1000);
    p.before = take(evidence_from_json(f.raw("before"), ""), faults, "before");
    if (f.has("scrap")) {
        JsonFields s = f.object("scrap");
        ScrapPlace at;
        at.piece = s.text("piece");
        at.face = static_cast<std::size_t>(s.choice("face", {scrap_faces.begin(), scrap_faces.end()}));
        at.x_mm = s.number("x_mm", 0, scrap_most_mm);
        at.y_mm = s.number("y_mm", 0, scrap_most_mm);
        at.turned = s.flag_or("turned", false);
        s.nothing_else();
        p.scrap = at;
    }
    return p;
}

/// Version 1 kept burned and read sheets among the choices. What was burned is in the logbook; what was only planned
/// is kept for the set-up that lay on the bench.
void read_rounds(JsonFields& f, Draft& d, std::vector<Error>& faults) {
    std::vector<int> numbers;
    for (JsonFields& r : f.list("rounds")) {
        PlannedSheet p;
        p.sheet = take(sheet_from_json(r.raw("sheet"), ""), faults, "sheet");
        p.setup = d.setup;
        p.reason = r.text_or("reason", "");
        if (const double de = r.number_or("hoped_de00", 0, 0, 1e9); de > 0 && de < 1000)
            p.hoped_de = de;
        p.hoped_spread = std::min(1000.0, r.number_or("hoped_spread", 0, 0, 1e9));
        if (r.has("before"))
            p.before = take(evidence_from_json(r.raw("before"), ""), faults, "before");
        numbers.push_back(p.sheet.number);
        if (!r.flag_or("burned", false))
            d.planned.push_back(std::move(p));
    }
    d.last_sheet = std::max(0, f.whole_or("next_sheet", 1, 0, most_sheets) - 1);
    // Sheets are numbered from 1; one that was brought in from elsewhere may have no number.
    d.first_sheet = numbers.empty() ? d.last_sheet + 1 : std::max(1, *std::min_element(numbers.begin(), numbers.end()));
    const int shown = f.whole_or("shown_round", -1, -1, 100000);
    d.shown_sheet =
        shown >= 0 && shown < static_cast<int>(numbers.size()) ? numbers[static_cast<std::size_t>(shown)] : 0;
    d.school = static_cast<School>(f.whole_or("school", 0, 0, 4));
}

json piece_json(const PieceChoice& p) {
    json layers = json::array();
    for (const LayerChoice& l : p.layers) {
        layers.push_back({{"name", l.name}, {"colour", l.colour}, {"guide", l.guide}});
        if (l.fill.by_shape)
            layers.back()["by_shape"] = true;
        if (l.fill.one_way)
            layers.back()["one_way"] = true;
        if (l.fill.inset_mm > 0)
            layers.back()["inset_mm"] = l.fill.inset_mm;
        if (l.fill.contours > 0)
            layers.back()["contours"] = l.fill.contours;
        if (l.recipe) {
            layers.back()["recipe"] = to_json(*l.recipe);
            layers.back()["taken_on"] = l.taken_on;
        }
    }
    json out{{"file", p.file}, {"layers", layers}};
    if (!p.steps.empty())
        out["steps"] = to_json(p.steps);
    if (!(p.place == PlaceRules{}))
        out["place"] = to_json(p.place);
    if (p.relief) {
        out["relief"] = {{"rules", to_json(p.relief->rules)}};
        if (p.relief->recipe) {
            out["relief"]["recipe"] = to_json(*p.relief->recipe);
            out["relief"]["taken_on"] = p.relief->taken_on;
        }
    }
    if (p.blank)
        out["blank_mm"] = {p.blank->x, p.blank->y};
    if (!(p.typed == TypedTexts{}))
        out["typed"] = to_json(p.typed);
    if (!p.rounds.empty())
        out["rounds"] = to_json(p.rounds);
    if (!(p.size == ArtSize{}))
        out["size"] = to_json(p.size);
    for (const PointMm& at : p.as_drawn)
        out["as_drawn_mm"].push_back({at.x, at.y});
    if (!(p.price == PriceRules{}))
        out["price"] = to_json(p.price);
    if (p.against)
        out["against"] = {
            {"name", p.against->name}, {"cost", to_json(p.against->rules)}, {"spoiled", p.against->spoiled}};
    if (p.film_together != PieceChoice{}.film_together)
        out["film_together"] = p.film_together;
    return out;
}

PieceChoice read_piece(JsonFields f, std::vector<Error>& faults) {
    PieceChoice p;
    p.file = f.text("file");
    for (JsonFields& l : f.list("layers")) {
        if (p.layers.size() == most_layers) {
            f.fault("layers", "There are more than 200 layers.", "Keep those that are marked.");
            break;
        }
        LayerChoice c{l.text("name"),
                      l.text("colour"),
                      l.flag_or("guide", false),
                      {},
                      l.text_or("taken_on", ""),
                      {l.flag_or("by_shape", false), l.flag_or("one_way", false),
                       l.number_or("inset_mm", 0, 0, most_inset_mm), l.whole_or("contours", 0, 0, most_contours)}};
        if (l.has("recipe"))
            c.recipe = take(recipe_from_json(l.raw("recipe"), ""), faults, "recipe");
        p.layers.push_back(std::move(c));
    }
    if (f.has("steps"))
        p.steps = read_steps(f, "steps");
    if (f.has("place")) {
        JsonFields place = f.object("place");
        p.place = read_place_rules(place);
    }
    if (f.has("relief")) {
        JsonFields r = f.object("relief");
        JsonFields rules = r.object("rules");
        p.relief = ReliefChoice{read_relief_rules(rules), {}, r.text_or("taken_on", "")};
        if (r.has("recipe"))
            p.relief->recipe = take(recipe_from_json(r.raw("recipe"), ""), faults, "recipe");
    }
    if (f.has("blank_mm"))
        if (const auto size = f.numbers("blank_mm", 2, 1, 1000); size.size() == 2)
            p.blank = PointMm{size[0], size[1]};
    if (f.has("typed"))
        p.typed = take(texts_from_json(f.raw("typed"), ""), faults, "typed");
    if (f.has("rounds"))
        p.rounds = read_rounds(f, "rounds");
    if (f.has("size")) {
        JsonFields size = f.object("size");
        p.size = read_art_size(size);
    }
    if (f.has("as_drawn_mm"))
        for (const json& at : f.raw("as_drawn_mm")) {
            if (p.as_drawn.size() == most_as_drawn || !at.is_array() || at.size() != 2 || !at[0].is_number() ||
                !at[1].is_number()) {
                f.fault("as_drawn_mm", "This is no list of up to 1000 places.", "Give each as x and y.");
                break;
            }
            p.as_drawn.push_back({at[0].get<double>(), at[1].get<double>()});
        }
    if (f.has("price")) {
        JsonFields price = f.object("price");
        p.price = read_price_rules(price);
    }
    if (f.has("against")) {
        JsonFields a = f.object("against");
        JsonFields cost = a.object("cost");
        p.against = KeptRoute{a.text("name"), read_cost_rules(cost), a.number("spoiled", 0, 0.9)};
    }
    p.film_together = f.whole_or("film_together", p.film_together, 1, 1000);
    return p;
}

} // namespace

json to_json(const Draft& d) {
    json planned = json::array();
    for (const PlannedSheet& p : d.planned)
        planned.push_back(planned_json(p));
    json out{{"format", "finch-draft"},
             {"version", draft_format_version},
             {"setup", to_json(d.setup)},
             {"recipe", to_json(d.recipe)},
             {"fill", {{"line_length_mm", tidy(in_mm(d.fill.line_length))}, {"area_mm2", d.fill.area_mm2}}},
             {"aim", to_json(d.aim)},
             {"school", schools.at(static_cast<std::size_t>(d.school))},
             {"target", to_json(d.target)},
             {"request",
              {{"aim", d.request.aim},
               {"across", axis_json(d.request.across)},
               {"down", axis_json(d.request.down)},
               {"cell_width_mm", tidy(in_mm(d.request.cell_width))},
               {"cell_height_mm", tidy(in_mm(d.request.cell_height))},
               {"gap_mm", tidy(in_mm(d.request.gap))}}},
             {"planned", planned},
             {"first_sheet", d.first_sheet},
             {"last_sheet", d.last_sheet},
             {"shown_sheet", d.shown_sheet},
             {"operator", d.operator_initials}};
    if (d.saved)
        out["saved"] = to_json(*d.saved);
    if (d.camera)
        out["camera"] = to_json(*d.camera);
    if (d.cell)
        out["cell"] = *d.cell;
    for (const WantedColour& w : d.wanted)
        out["wanted"].push_back({{"name", w.name}, {"lab", {w.lab.l, w.lab.a, w.lab.b}}});
    for (const auto& [frame, places] : d.begun)
        out["begun"].push_back({{"frame", frame}, {"places", places}});
    if (!(d.piece == PieceChoice{}))
        out["piece"] = piece_json(d.piece);
    return out;
}

Expected<Draft> draft_from_json(const json& document, const std::string& file) {
    const auto version = check_format(document, "finch-draft", draft_format_version, file);
    if (!version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    Draft d;
    d.setup = take(setup_from_json(f.raw("setup"), ""), faults, "setup");
    d.recipe = take(recipe_from_json(f.raw("recipe"), ""), faults, "recipe");
    d.target = take(target_from_json(f.raw("target")), faults, "target");
    if (f.has("aim")) // the earliest drafts have none
        d.aim = take(aim_from_json(f.raw("aim"), ""), faults, "aim");
    if (f.has("fill")) {
        JsonFields fill = f.object("fill");
        d.fill = {mm(fill.number("line_length_mm", 0.1, 1000)), fill.number("area_mm2", 0.01, 1e6)};
    }
    if (f.has("saved"))
        d.saved = take(recipe_from_json(f.raw("saved"), ""), faults, "saved");
    JsonFields q = f.object("request");
    d.request.aim = q.text_or("aim", "");
    d.request.across = read_axis(q.object("across"));
    d.request.down = read_axis(q.object("down"));
    d.request.cell_width = mm(q.number("cell_width_mm", 1, 50));
    d.request.cell_height = mm(q.number("cell_height_mm", 1, 50));
    d.request.gap = mm(q.number("gap_mm", 0.4, 20));
    if (f.has("cell"))
        d.cell = static_cast<std::size_t>(f.whole("cell", 0, most_steps * most_steps));
    d.operator_initials = f.text_or("operator", "OD");
    if (f.has("camera"))
        d.camera = take(camera_colour_from_json(f.raw("camera"), ""), faults, "camera");
    if (*version == 1)
        read_rounds(f, d, faults);
    else {
        for (const JsonFields& p : f.list("planned"))
            d.planned.push_back(read_planned(p, faults));
        d.school = static_cast<School>(f.choice("school", schools));
        d.first_sheet = f.whole("first_sheet", 1, most_sheets);
        d.last_sheet = f.whole("last_sheet", 0, most_sheets);
        d.shown_sheet = f.whole_or("shown_sheet", 0, 0, most_sheets);
        if (f.has("wanted"))
            for (JsonFields& w : f.list("wanted"))
                if (const auto lab = w.numbers("lab", 3, -200, 200); lab.size() == 3 && d.wanted.size() < most_wanted)
                    d.wanted.push_back({w.text("name"), {lab[0], lab[1], lab[2]}});
        if (f.has("begun"))
            for (JsonFields& b : f.list("begun"))
                d.begun[b.whole("frame", 0, most_sheets)] =
                    static_cast<std::size_t>(b.whole("places", 0, most_frame_places));
        if (f.has("piece"))
            d.piece = read_piece(f.object("piece"), faults);
    }
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return d;
}

} // namespace finch::app
