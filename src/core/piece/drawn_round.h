// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/repair.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

class JsonFields;

/// A line drawn by hand round some shapes of a layer, which become a layer of their own.
struct DrawnRound {
    std::string name;          ///< of the new layer
    std::string layer, colour; ///< that they are taken from
    std::vector<PointMm> line; ///< closes itself
    bool operator==(const DrawnRound&) const = default;
};
inline constexpr std::size_t most_rounds = 50, most_round_points = 2000;

/// Makes layers of what lies wholly inside of such lines, in their order, so that a later one may take from an earlier.
/// One that finds no layer, no shape in it, or a name that is taken changes nothing and is told: round.no_layer,
/// round.nothing, round.name.
void take_out(MendedArt& drawing, const std::vector<DrawnRound>& rounds);

[[nodiscard]] nlohmann::json to_json(const std::vector<DrawnRound>& rounds);
/// Faults go to the fields' list.
[[nodiscard]] std::vector<DrawnRound> read_rounds(JsonFields& fields, const char* key);

} // namespace finch
