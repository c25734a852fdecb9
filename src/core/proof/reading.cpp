// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/reading.h"

#include "document/json_fields.h"
#include "physics/colour_difference.h"
#include "proof/tilt_series.h"
#include "quantity/format.h"
#include "quantity/parse.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

double within_of_confidence(double confidence) {
    return 3 / std::max(0.1, confidence);
}

double median_of(std::vector<double> v) {
    std::sort(v.begin(), v.end());
    return 0.5 * (v[(v.size() - 1) / 2] + v[v.size() / 2]);
}

CellReading cell_together(const std::vector<const CellReading*>& read) {
    CellReading out;
    out.state = CellState::read;
    const auto middle = [&](auto&& of) {
        std::vector<double> v;
        for (const CellReading* c : read)
            v.push_back(of(*c));
        return median_of(std::move(v));
    };
    out.lab = {middle([](const CellReading& c) { return c.lab.l; }),
               middle([](const CellReading& c) { return c.lab.a; }),
               middle([](const CellReading& c) { return c.lab.b; })};
    out.spoiled = std::ranges::any_of(read, [](const CellReading* c) { return c->spoiled; });
    out.unevenness = middle([](const CellReading& c) { return c.unevenness; });
    const double apart = middle([&](const CellReading& c) { return delta_e00(c.lab, out.lab); });
    // What all photographs share, card and camera, does not shrink with their number.
    out.within_de = std::hypot(0.9 * middle([](const CellReading& c) { return c.within_de; }), apart);
    return out;
}

Lab read_lab(JsonFields& f, const char* key = "lab") {
    const std::vector<double> v = f.numbers(key, 3, -200, 200);
    return {v[0], v[1], v[2]};
}

void read_tilted(JsonFields& cell, std::vector<TiltLook>& out) {
    for (JsonFields& t : cell.list("tilted")) {
        TiltLook look;
        look.deg = t.number("deg", tilt_least_deg, tilt_most_deg);
        look.lab = read_lab(t);
        look.within_de = t.number("within_de00", 0, 100);
        t.nothing_else();
        if (out.size() == most_tilts || (!out.empty() && look.deg <= out.back().deg))
            return cell.fault("tilted", "Angles go up, and are twelve at most.",
                              "Give each angle once, smallest first.");
        out.push_back(look);
    }
}

} // namespace

std::size_t SheetReading::count(CellState state) const {
    return static_cast<std::size_t>(
        std::count_if(cells.begin(), cells.end(), [state](const CellReading& c) { return c.state == state; }));
}

bool SheetReading::shows_colours() const {
    return photos > 0 || std::ranges::any_of(cells, &CellReading::by_instrument);
}

SheetReading read_together(const std::vector<SheetReading>& readings) {
    SheetReading out = readings.front();
    out.photos = static_cast<int>(readings.size());
    for (std::size_t i = 1; i < readings.size(); ++i)
        out.photo += ", " + readings[i].photo;
    for (std::size_t i = 0; i < out.cells.size(); ++i) {
        std::vector<const CellReading*> read;
        for (const SheetReading& r : readings)
            if (r.cells.at(i).state == CellState::read)
                read.push_back(&r.cells[i]);
        if (!read.empty())
            out.cells[i] = cell_together(read);
    }
    // As one cell that all of them saw.
    std::vector<CellReading> grounds;
    for (const SheetReading& r : readings)
        if (r.ground) {
            grounds.emplace_back();
            grounds.back().lab = *r.ground;
        }
    std::vector<const CellReading*> seen;
    for (const CellReading& g : grounds)
        seen.push_back(&g);
    if (!seen.empty())
        out.ground = cell_together(seen).lab;
    return out;
}

std::size_t left_out_of(const ProofSheet& sheet, const SheetReading& reading) {
    std::size_t out = 0;
    for (std::size_t i = 0; i < reading.cells.size(); ++i)
        out += sheet.holds(i) && reading.cells[i].state == CellState::left_out ? 1 : 0;
    return out;
}

double distance(const Target& target, const Lab& lab) {
    if (!target.darker_is_better)
        return delta_e00(target.lab, lab);
    return delta_e00({std::min(target.lab.l, lab.l), target.lab.a, target.lab.b}, lab);
}

Target depth_target(const WantedDepth& wanted) {
    Target t;
    t.name = format_number(wanted.um, 3) + " µm deep";
    t.depth = wanted;
    return t;
}

std::optional<double> miss(const Target& target, const CellReading& c) {
    if (c.spoiled || c.state == CellState::left_out)
        return std::nullopt;
    if (target.depth)
        return c.depth_um ? std::optional(std::abs(*c.depth_um - target.depth->um)) : std::nullopt;
    return c.state == CellState::read ? std::optional(distance(target, c.lab)) : std::nullopt;
}

const std::vector<Target>& named_targets() {
    // Centres of what thin oxides on stainless and titanium can show, by the film model at a haze of 0.4.
    static const std::vector<Target> table{
        {"dark", {36, 0, 0}, true, 4},           {"straw", {72, 1, 16}, false, 4},
        {"gold", {50, 9, 36}, false, 4},         {"brown", {39, 18, 22}, false, 4},
        {"purple", {29, 24, -15}, false, 4},     {"deep blue", {35, 3, -33}, false, 4},
        {"light blue", {57, -9, -13}, false, 4}, {"green", {65, -7, 14}, false, 4},
        {"rose", {47, 17, -1}, false, 4},
    };
    return table;
}

std::vector<RankedCell> rank(const SheetReading& reading, const Target& target, const SheetForecast& forecast) {
    std::vector<RankedCell> out;
    for (std::size_t i = 0; i < reading.cells.size(); ++i) {
        const auto off = miss(target, reading.cells[i]);
        if (!off)
            continue;
        out.push_back({i, *off, reading.cells[i].unevenness, i < forecast.cells.size() ? forecast.cells[i].time_s : 0,
                       *off <= target.accepted()});
    }
    // In steps, so that the order is transitive: within a step the evener, then the faster cell comes first.
    const double step = target.depth ? std::max(0.05 * target.depth->within_um, 1e-3) : 0.3;
    const auto order = [step](const RankedCell& r) {
        return std::tuple(std::floor(r.miss / step), r.unevenness, r.time_s, r.cell);
    };
    std::sort(out.begin(), out.end(), [&](const RankedCell& a, const RankedCell& b) { return order(a) < order(b); });
    return out;
}

std::size_t middle_cell(const SheetReading& reading, std::optional<std::size_t> chosen,
                        const std::vector<RankedCell>& ranked) {
    return chosen && *chosen < reading.cells.size() && !reading.cells[*chosen].spoiled ? *chosen : ranked.front().cell;
}

namespace {

struct TypedDepth {
    double um = 0;
    std::optional<double> spread_um;
};
Expected<TypedDepth> typed_depth(std::string_view text) {
    std::string_view value = text, spread;
    for (const std::string_view sign : {std::string_view("\u00b1"), std::string_view("+-"), std::string_view("+/-")})
        if (const auto at = text.find(sign); at != std::string_view::npos) {
            value = text.substr(0, at);
            spread = text.substr(at + sign.size());
            break;
        }
    ParseContext length;
    length.default_unit = "um";
    const auto depth = parse_quantity(value, QuantityKind::length, length);
    const auto within = depth && !spread.empty() ? parse_quantity(spread, QuantityKind::length, length) : depth;
    if (!within)
        return tl::unexpected(within.error());
    const double um = 1000 * depth->value;
    if (!(um >= 0 && um <= 1e5))
        return failure("depth.out_of_range", "A depth is from 0 to 100 mm.", "Type it in um: 120 or 120 +- 5.");
    return TypedDepth{um, spread.empty() ? std::nullopt : std::optional(std::abs(1000 * within->value))};
}

} // namespace

Expected<GaugeDepth> depth_from_text(std::string_view text) {
    const auto typed = typed_depth(text);
    if (!typed)
        return tl::unexpected(typed.error());
    return GaugeDepth{typed->um, typed->spread_um.value_or(std::max(2.0, 0.05 * typed->um))};
}

Expected<WantedDepth> wanted_depth_from_text(std::string_view text) {
    const auto typed = typed_depth(text);
    if (!typed)
        return tl::unexpected(typed.error());
    if (!(typed->um >= 0.1))
        return failure("depth.none_wanted", "A depth to search for is 0.1 um or more.", "Type it in um: 120 +- 10.");
    return WantedDepth{typed->um, std::max(typed->spread_um.value_or(0.1 * typed->um), 0.01)};
}

Photographed as_photographed(const CellReading& c) {
    return c.photographed.value_or(Photographed{c.lab, c.within_de});
}

json to_json(const SheetReading& r, const ProofSheet& sheet) {
    static const char* const states[]{"read", "hidden", "left out"};
    json cells = json::array();
    for (std::size_t i = 0; i < r.cells.size(); ++i) {
        const CellReading& c = r.cells[i];
        json cell{{"cell", cell_name(sheet, i)}, {"state", states[static_cast<int>(c.state)]}};
        if (c.state == CellState::read)
            cell.update({{"lab", {c.lab.l, c.lab.a, c.lab.b}},
                         {"unevenness_de00", c.unevenness},
                         {"within_de00", c.within_de}});
        if (c.by_instrument)
            cell["by_instrument"] = true;
        if (c.photographed)
            cell["photographed"] = {{"lab", {c.photographed->lab.l, c.photographed->lab.a, c.photographed->lab.b}},
                                    {"within_de00", c.photographed->within_de}};
        if (c.scratch_steps)
            cell["scratch_steps"] = *c.scratch_steps;
        if (c.gloss)
            cell["gloss_units"] = *c.gloss;
        for (const TiltLook& l : c.tilted)
            cell["tilted"].push_back(
                {{"deg", l.deg}, {"lab", {l.lab.l, l.lab.a, l.lab.b}}, {"within_de00", l.within_de}});
        if (c.spoiled)
            cell["spoiled"] = true;
        if (c.depth_um) {
            cell["depth_um"] = *c.depth_um;
            cell["depth_within_um"] = c.depth_within_um;
        }
        cells.push_back(cell);
    }
    json out{
        {"format", "finch-reading"},
        {"version",
         r.ground_photographed ||
                 std::ranges::any_of(r.cells, [](const CellReading& c) { return c.photographed.has_value(); })
             ? 9
         : std::ranges::any_of(r.cells, [](const CellReading& c) { return !c.tilted.empty() || c.gloss; }) ? 8
         : r.ground || std::ranges::any_of(r.cells, [](const CellReading& c) { return c.scratch_steps.has_value(); })
             ? 7
         : std::ranges::any_of(r.cells, &CellReading::by_instrument)                                 ? 6
         : r.photos == 0                                                                             ? 5
         : std::ranges::any_of(r.cells, [](const CellReading& c) { return c.depth_um.has_value(); }) ? 4
         : std::ranges::any_of(r.cells, &CellReading::spoiled)                                       ? 3
                                                                                                     : 2},
        {"sheet", r.sheet_number},
        {"photo", r.photo},
        {"photos", r.photos},
        {"edge_mm", r.edge_mm},
        {"markers", r.markers},
        {"light_range", r.light_range},
        {"cells", cells}};
    if (r.ground)
        out["ground_lab"] = {r.ground->l, r.ground->a, r.ground->b};
    if (r.ground_photographed)
        out["ground_photographed_lab"] = {r.ground_photographed->l, r.ground_photographed->a, r.ground_photographed->b};
    if (r.camera)
        out["camera"] = to_json(*r.camera);
    return out;
}

Expected<SheetReading> reading_from_json(const json& document, const ProofSheet& sheet, const std::string& file) {
    const auto version = check_format(document, "finch-reading", 9, file);
    if (!version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    SheetReading r;
    r.sheet_number = f.whole("sheet", 0, 1000000);
    r.photo = f.text_or("photo", "");
    r.photos = f.whole_or("photos", 1, *version < 5 ? 1 : 0, 1000);
    if (f.has("camera")) {
        if (auto camera = camera_colour_from_json(f.raw("camera"), file))
            r.camera = std::move(*camera);
        else
            f.fault("camera", camera.error().message, camera.error().fix);
    }
    r.edge_mm = f.number_or("edge_mm", 0, 0, 100);
    r.markers = f.whole_or("markers", 4, 0, 4);
    r.light_range = f.number_or("light_range", 1, 0, 1000);
    if (f.has("ground_lab"))
        r.ground = read_lab(f, "ground_lab");
    if (r.ground && f.has("ground_photographed_lab"))
        r.ground_photographed = read_lab(f, "ground_photographed_lab");
    r.cells.resize(sheet.cells());
    for (JsonFields& c : f.list("cells")) {
        const auto cell = cell_from_name(sheet, c.text("cell"));
        if (!cell) {
            c.fault("cell", cell.error().message, cell.error().fix);
            continue;
        }
        CellReading& out = r.cells[*cell];
        out.state = static_cast<CellState>(c.choice("state", {"read", "hidden", "left out"}));
        if (out.state == CellState::read) {
            out.lab = read_lab(c);
            out.unevenness = c.number("unevenness_de00", 0, 200);
            // Older readings carry a confidence of 0 to 1 that said little; they count as read with ordinary care.
            out.within_de =
                *version < 2 ? within_of_confidence(c.number("confidence", 0, 1)) : c.number("within_de00", 0, 200);
        }
        out.by_instrument = out.state == CellState::read && c.flag_or("by_instrument", false);
        if (out.state == CellState::read && c.has("photographed")) {
            JsonFields p = c.object("photographed");
            out.photographed = {read_lab(p), p.number("within_de00", 0, 200)};
            p.nothing_else();
        }
        out.spoiled = c.flag_or("spoiled", false);
        if (c.has("scratch_steps"))
            out.scratch_steps = c.whole("scratch_steps", 0, most_scratch_steps);
        out.gloss = c.optional_number("gloss_units", 0, 2000);
        if (c.has("tilted"))
            read_tilted(c, out.tilted);
        if (c.has("depth_um")) {
            out.depth_um = c.number("depth_um", 0, 1e5);
            out.depth_within_um = c.number("depth_within_um", 0, 1e5);
        }
        c.nothing_else();
    }
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return r;
}

json to_json(const Target& t) {
    json out{{"name", t.name},
             {"lab", {t.lab.l, t.lab.a, t.lab.b}},
             {"darker_is_better", t.darker_is_better},
             {"accept_de00", t.accept_de}};
    if (t.depth) {
        out["depth_um"] = t.depth->um;
        out["within_um"] = t.depth->within_um;
    }
    return out;
}

Expected<Target> target_from_json(const json& document) {
    std::vector<Error> faults;
    JsonFields f(document, "target", faults);
    Target t{f.text("name"), read_lab(f), f.flag_or("darker_is_better", false), f.number_or("accept_de00", 3, 0.1, 50)};
    if (f.has("depth_um"))
        t.depth = WantedDepth{f.number("depth_um", 0.1, 1e5), f.number("within_um", 0.01, 1e5)};
    if (auto fault = first_fault(faults, ""))
        return tl::unexpected(*fault);
    return t;
}

} // namespace finch
