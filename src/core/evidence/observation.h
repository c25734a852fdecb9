// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/tilt_look.h"
#include "physics/colour.h"
#include "recipe/recipe.h"
#include "search/burn_order.h"

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace finch {

/// What was burned one after another on one plate.
struct BurnedTogether {
    std::vector<CellPlace> places; ///< in the order of burning, as the others
    std::vector<Recipe> recipes;
    std::vector<double> rests_s; ///< before each
};

/// One marked place that was measured: what was set, the set-up as it was when it was burned, and what came out. A
/// photograph of a sheet, a depth gauge, a coupon and a finished piece are only different sources of these.
struct Observation {
    std::string piece; ///< what was marked, by a stable id ("sheet 7"): places of one piece count as one sheet
    std::string place; ///< the place on it, by name ("B4")
    std::string when_utc;
    std::string source; ///< what measured it: a stable id of the reading

    Recipe recipe;
    Fill fill;
    std::shared_ptr<const Setup> setup; ///< never null

    std::optional<Lab> colour;
    double colour_within = 2; ///< CIEDE2000 within which it lies in nine of ten cases
    std::optional<double> depth_um;
    double depth_spread_um = 1;
    bool spoiled = false; ///< molten, torn or flaked: its colour is no film's
    /// Whether a coat is gone or bleached, or a compound has bonded; said of sheets that ask it.
    std::optional<bool> done;
    std::vector<TiltLook> tilted = {};                   ///< its colour with the piece tilted, by angle
    std::shared_ptr<const BurnedTogether> together = {}; ///< what warmed it; none: nobody knows
    std::size_t turn = 0;                                ///< of it among those
    bool counts = true; ///< false: left out by the operator; kept, but nothing is learned from it
};

/// The newest of each place, in an order that does not depend on how they came; without those that do not count.
[[nodiscard]] std::vector<const Observation*> newest_of_each(std::span<const Observation> observations);

} // namespace finch
