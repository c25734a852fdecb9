// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace finch {

class JsonFields;

/// Nests in rows and columns, numbered from the lower left, row by row.
struct Tray {
    int columns = 4, rows = 6;
    double pitch_x_mm = 20, pitch_y_mm = 20; ///< from nest to nest
    double margin_mm = 10;                   ///< around all parts
    /// How far the part lies off in a nest that was measured, by its number.
    std::vector<std::pair<int, PointMm>> offsets = {};
    int filled = 0;           ///< nests that hold a part, from the first on; 0 = all
    std::string outline = {}; ///< layer that is the part's own; empty: the largest outline that is drawn
    bool in_turn = false;     ///< every part gets a pass, or a step against heat, before any gets the next
    bool operator==(const Tray&) const = default;
};
[[nodiscard]] inline int nests_filled(const Tray& tray) {
    return tray.filled > 0 ? tray.filled : tray.columns * tray.rows;
}
/// A drawing that is larger than the field, in parts between which the work is moved by hand.
struct TileRules {
    double margin_mm = 3; ///< kept free along the edge of the field
    double cross_mm = 4;  ///< crosses beside the work that are burned with one tile and shown with the next; 0 = none
    double reload_s = 60; ///< to move and to line up
    bool operator==(const TileRules&) const = default;
};
/// A turned part: the drawing runs round it, its height lies along the axis.
struct RoundRules {
    double small_mm = 20, large_mm = 20, length_mm = 50; ///< diameters of the ends, and how far apart they are
    double middle_mm = 25;                               ///< the drawing's middle, from the small end
    bool full_turn = false;                              ///< the drawing is stretched or shrunk along x until it closes
    int strips = 0;                                      ///< 0 = the fewest that stay in focus and cut no mark
    double turn_s = 0.6;                                 ///< of the rotary, from strip to strip
    bool operator==(const RoundRules&) const = default;
};

enum class Holding { as_drawn, tray, tiles, round };
[[nodiscard]] std::string_view key(Holding holding);

/// How a drawing is laid on the work.
struct PlaceRules {
    Holding holding = Holding::as_drawn;
    double turn_deg = 0;   ///< of the drawing, to the left
    bool mirrored = false; ///< for a stamp
    PointMm shift;         ///< of the drawing from the middle of the field; of one part that fits it
    Tray tray;
    TileRules tiles;
    RoundRules round;
    int wanted = 0;               ///< good parts; 0 = one tray
    double spoiled = 0.03;        ///< share of the parts
    std::optional<double> load_s; ///< to load and unload a part; nothing: as materials have it
    bool way_up_seen = false;     ///< somebody compared which way up it lies with the part
    bool operator==(const PlaceRules&) const = default;
};
[[nodiscard]] nlohmann::json to_json(const PlaceRules& rules);
/// Faults go to the fields' list.
[[nodiscard]] PlaceRules read_place_rules(JsonFields& fields);

} // namespace finch
