// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/appearance.h"

namespace finch {

/// Seconds and money of one piece.
struct Effort {
    double mark_s = 0;     ///< laser and travel
    double cleaning_s = 0; ///< cleaning passes
    double focus_s = 0;    ///< focus moves
    double handling_s = 0; ///< load and unload; for a compound also coat, dry, wash
    double consumable = 0; ///< in the shop's currency
    double rate_per_hour = 0;
    [[nodiscard]] double seconds() const { return mark_s + cleaning_s + focus_s + handling_s; }
    [[nodiscard]] double cost() const { return rate_per_hour * seconds() / 3600 + consumable; }
    bool operator==(const Effort&) const = default;
};
[[nodiscard]] Effort effort(const Scene& scene, const Recipe& recipe, const Prediction& prediction, const Fill& fill);

/// How far the outcome moves under the bench's own errors: focus +-0.3 mm, power +-3 %, thickness +-10 %, and the
/// spread between lots. In CIEDE2000 for films, else as a share of what decides (depth, margin, bond).
struct OutcomeSpread {
    double focus = 0, power = 0, thickness = 0, lot = 0;
    bool in_colour = true;       ///< else shares
    bool changes_effect = false; ///< some of the errors turn it into something else
    [[nodiscard]] double total() const;
    /// The largest part: "focus", "power", "thickness" or "lot".
    [[nodiscard]] const char* largest() const;
    bool operator==(const OutcomeSpread&) const = default;
};
[[nodiscard]] OutcomeSpread outcome_spread(const Scene& scene, const Recipe& recipe, const Prediction& prediction,
                                           const Fill& fill);
/// Offset in mm either way within which a film stays within `accept` CIEDE2000, or another outcome within that share.
[[nodiscard]] double focus_tolerance_mm(const Scene& scene, const Recipe& recipe, const Prediction& prediction,
                                        const Fill& fill, double accept);

} // namespace finch
