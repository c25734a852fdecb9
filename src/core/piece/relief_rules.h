// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/height_map.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

class JsonFields;

/// How a relief is cut, beside its recipe, of which one pass is taken.
struct ReliefRules {
    double width_mm = 20;
    double depth_um = 200; ///< of what is black; 0 = what one pass a layer gives
    LevelRules levels;
    bool crop_to_rim = false; ///< nothing outside the ellipse of what is drawn
    bool follow = true;       ///< the focus follows the floor in steps of a quarter of the Rayleigh length
    double follow_most_mm = 5;
    int clean_every = 0; ///< a cleaning pass after so many layers; 0 = never
    double buff_min = 0; ///< by hand afterwards
    bool operator==(const ReliefRules&) const = default;
};

[[nodiscard]] nlohmann::json to_json(const ReliefRules& rules);
/// Faults go to the fields' list.
[[nodiscard]] ReliefRules read_relief_rules(JsonFields& fields);

} // namespace finch
