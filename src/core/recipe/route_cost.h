// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/surface_constants.h"
#include "quantity/error.h"

#include <optional>
#include <string>

namespace finch {

/// What is sprayed for one mark. Lengths in mm.
struct SprayJob {
    double coats = 2, mark_width_mm = 40, mark_height_mm = 15;
    double border_mm = 8; ///< sprayed beyond the mark
    double fill = 0.3;    ///< share of the mark that is fused
    int gang = 1;         ///< pieces sprayed edge to edge in a row
};
struct SprayUse {
    double can_area_mm2 = 0, sprayed_mm2 = 0, marks_per_can = 0;
    double cost_per_mark = 0;
    double useful_share = 0; ///< of the solids, that ends in the mark
    double waste_g_per_mark = 0;
};
/// Errors: setup.not_positive, setup.negative, cost.share.
[[nodiscard]] Expected<SprayUse> spray_use(const CompoundConstants& compound, const SprayJob& job);

/// Where two methods of fixed cost and cost per piece cross; pieces absent when one is always cheaper.
struct BreakEven {
    std::optional<double> pieces;
    bool first_below = true, first_above = true; ///< which is cheaper below and above
};
[[nodiscard]] BreakEven break_even(double fixed_a, double per_piece_a, double fixed_b, double per_piece_b);

/// One way to mark a piece.
struct Route {
    std::string name;
    double fixed = 0, rate_per_hour = 0, mark_s = 0, handling_s = 0, consumable = 0;
    double lightness = 0, ladder_level = 0;
    [[nodiscard]] double per_piece() const { return rate_per_hour * (mark_s + handling_s) / 3600 + consumable; }
};
struct RouteComparison {
    double unit_a = 0, unit_b = 0, per_piece_a = 0, per_piece_b = 0;
    BreakEven crossing;
    std::string cheaper, darker, tougher, faster; ///< names; "equal" where neither is tougher
};
/// Pieces >= 1.
[[nodiscard]] RouteComparison compare(const Route& a, const Route& b, int pieces);

} // namespace finch
