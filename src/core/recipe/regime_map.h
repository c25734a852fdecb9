// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/appearance.h"

#include <functional>
#include <vector>

namespace finch {

/// Two knobs and their ranges, in the knobs' units.
struct MapAxis {
    Knob knob = Knob::scan_speed;
    double low = 100, high = 5000;
    bool by_ratio = true;
    [[nodiscard]] double value(double share) const;
    [[nodiscard]] double share(double value) const;
    bool operator==(const MapAxis&) const = default;
};
/// A range round a recipe's own value, within the bench's limits.
[[nodiscard]] MapAxis map_axis(const Bench& bench, const Recipe& recipe, Knob knob, double reach = 5);

struct MapCell {
    Effect effect = Effect::not_modelled, next = Effect::not_modelled;
    float share = 0, next_share = 0; ///< of the largest and the second largest effect
    Lab lab;
    bool has_film = false; ///< `lab` is that of a film, shown or not
    float dose_j_mm2 = 0, pulses_per_mm2 = 0, depth_um = 0;
};

/// What happens over two knobs; rows from the low end of `down`.
struct RegimeMap {
    MapAxis across, down;
    int side = 100;
    std::vector<MapCell> cells;
    int block = 1; ///< size of the squares computed so far
    [[nodiscard]] const MapCell& at(int x, int y) const {
        return cells[static_cast<std::size_t>(y) * static_cast<std::size_t>(side) + static_cast<std::size_t>(x)];
    }
    [[nodiscard]] Recipe recipe(const Recipe& base, double x_share, double y_share) const;
};

/// Coarse first, then finer, until every cell is its own: `seen` gets each finished fineness and stops the work by
/// answering false. On `threads` threads; the result does not depend on their number.
void compute_map(const Scene& scene, const Recipe& recipe, const Fill& fill, RegimeMap& map, int threads,
                 const std::function<bool(const RegimeMap&)>& seen);

enum class MapField { dose, pulses, depth };
struct MapPoint {
    double x = 0, y = 0; ///< shares of the axes
};
struct MapLine {
    double level = 0;
    std::vector<std::pair<MapPoint, MapPoint>> pieces;
};
/// Lines of equal dose or pulses at 1, 2, 5 steps, at most `count`.
[[nodiscard]] std::vector<MapLine> equal_lines(const RegimeMap& map, MapField field, int count = 3);

} // namespace finch
