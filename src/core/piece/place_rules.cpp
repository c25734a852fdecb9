// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/place_rules.h"

#include "document/json_fields.h"

#include <array>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::array<std::string_view, 4> holdings{"as_drawn", "tray", "tiles", "round"};
constexpr int most_side = 1000;

} // namespace

std::string_view key(Holding holding) {
    return holdings.at(static_cast<std::size_t>(holding));
}

nlohmann::json to_json(const PlaceRules& r) {
    nlohmann::json tray{{"columns", r.tray.columns},
                        {"rows", r.tray.rows},
                        {"pitch_x_mm", r.tray.pitch_x_mm},
                        {"pitch_y_mm", r.tray.pitch_y_mm},
                        {"margin_mm", r.tray.margin_mm}};
    if (!r.tray.outline.empty())
        tray["outline"] = r.tray.outline;
    if (r.tray.in_turn)
        tray["in_turn"] = true;
    if (r.tray.filled > 0)
        tray["filled"] = r.tray.filled;
    for (const auto& [nest, by] : r.tray.offsets)
        tray["offsets"].push_back({{"nest", nest}, {"by_mm", {by.x, by.y}}});
    nlohmann::json out{
        {"holding", key(r.holding)},
        {"turn_deg", r.turn_deg},
        {"mirrored", r.mirrored},
        {"shift_mm", {r.shift.x, r.shift.y}},
        {"tray", tray},
        {"tiles", {{"margin_mm", r.tiles.margin_mm}, {"cross_mm", r.tiles.cross_mm}, {"reload_s", r.tiles.reload_s}}},
        {"round",
         {{"small_mm", r.round.small_mm},
          {"large_mm", r.round.large_mm},
          {"length_mm", r.round.length_mm},
          {"middle_mm", r.round.middle_mm},
          {"full_turn", r.round.full_turn},
          {"strips", r.round.strips},
          {"turn_s", r.round.turn_s}}},
        {"wanted", r.wanted},
        {"spoiled", r.spoiled}};
    if (r.load_s)
        out["load_s"] = *r.load_s;
    if (r.way_up_seen)
        out["way_up_seen"] = true;
    return out;
}

PlaceRules read_place_rules(JsonFields& f) {
    PlaceRules r;
    r.holding = static_cast<Holding>(f.choice("holding", {holdings.begin(), holdings.end()}));
    r.turn_deg = f.number_or("turn_deg", 0, -36000, 36000);
    r.mirrored = f.flag_or("mirrored", false);
    if (f.has("shift_mm"))
        if (const auto by = f.numbers("shift_mm", 2, -1000, 1000); by.size() == 2)
            r.shift = {by[0], by[1]};
    if (f.has("tray")) {
        JsonFields t = f.object("tray");
        r.tray.columns = t.whole_or("columns", r.tray.columns, 1, most_side);
        r.tray.rows = t.whole_or("rows", r.tray.rows, 1, most_side);
        r.tray.pitch_x_mm = t.number_or("pitch_x_mm", r.tray.pitch_x_mm, 0.01, 10'000);
        r.tray.pitch_y_mm = t.number_or("pitch_y_mm", r.tray.pitch_y_mm, 0.01, 10'000);
        r.tray.margin_mm = t.number_or("margin_mm", r.tray.margin_mm, 0, 1000);
        r.tray.filled = t.whole_or("filled", 0, 0, most_side);
        r.tray.outline = t.text_or("outline", "");
        r.tray.in_turn = t.flag_or("in_turn", false);
        if (t.has("offsets"))
            for (JsonFields& o : t.list("offsets")) {
                const int nest = o.whole("nest", 1, most_side);
                if (const auto by = o.numbers("by_mm", 2, -1000, 1000); by.size() == 2)
                    r.tray.offsets.emplace_back(nest, PointMm{by[0], by[1]});
            }
    }
    if (f.has("tiles")) {
        JsonFields t = f.object("tiles");
        r.tiles.margin_mm = t.number_or("margin_mm", r.tiles.margin_mm, 0, 1000);
        r.tiles.cross_mm = t.number_or("cross_mm", r.tiles.cross_mm, 0, 100);
        r.tiles.reload_s = t.number_or("reload_s", r.tiles.reload_s, 0, 86'400);
    }
    if (f.has("round")) {
        JsonFields t = f.object("round");
        r.round.small_mm = t.number_or("small_mm", r.round.small_mm, 0.1, 2000);
        r.round.large_mm = t.number_or("large_mm", r.round.large_mm, 0.1, 2000);
        r.round.length_mm = t.number_or("length_mm", r.round.length_mm, 0.1, 5000);
        r.round.middle_mm = t.number_or("middle_mm", r.round.middle_mm, 0, 5000);
        r.round.full_turn = t.flag_or("full_turn", false);
        r.round.strips = t.whole_or("strips", 0, 0, 100'000);
        r.round.turn_s = t.number_or("turn_s", r.round.turn_s, 0, 3600);
    }
    r.wanted = f.whole_or("wanted", 0, 0, 1'000'000);
    r.spoiled = f.number_or("spoiled", r.spoiled, 0, 0.95);
    r.load_s = f.optional_number("load_s", 0, 86'400);
    r.way_up_seen = f.flag_or("way_up_seen", false);
    return r;
}

} // namespace finch
