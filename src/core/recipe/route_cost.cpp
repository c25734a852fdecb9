// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/route_cost.h"

#include "bench/positive.h"

namespace finch {

Expected<SprayUse> spray_use(const CompoundConstants& c, const SprayJob& j) {
    if (auto fault = not_positive({{"number of coats", j.coats},
                                   {"mark width", j.mark_width_mm},
                                   {"mark height", j.mark_height_mm},
                                   {"content of the can", c.can_g},
                                   {"share of solids", c.solids},
                                   {"share that lands", c.transfer}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"border", j.border_mm}, {"price", c.can_price}}))
        return tl::unexpected(*fault);
    if (!(j.fill > 0 && j.fill <= 1 && c.solids <= 1 && c.transfer <= 1))
        return failure("cost.share", "A share lies outside 0 to 1.", "Enter 0.3 for 30 %.");
    if (j.gang < 1)
        return failure("setup.not_positive", "At least one piece is sprayed at a time.", "Enter 1 or more.");
    SprayUse out;
    const double mark = j.mark_width_mm * j.mark_height_mm;
    out.can_area_mm2 = c.can_g * c.solids * c.transfer / (c.dry_g_m2 * j.coats) * 1e6;
    out.sprayed_mm2 = (j.mark_width_mm + 2 * j.border_mm / j.gang) * (j.mark_height_mm + 2 * j.border_mm);
    out.marks_per_can = out.can_area_mm2 / out.sprayed_mm2;
    out.cost_per_mark = c.can_price / out.marks_per_can + c.wash_cost;
    out.useful_share = c.transfer * j.fill * mark / out.sprayed_mm2;
    out.waste_g_per_mark = c.can_g * c.solids / out.marks_per_can * (1 - out.useful_share);
    return out;
}

BreakEven break_even(double fixed_a, double per_piece_a, double fixed_b, double per_piece_b) {
    const double fixed = fixed_b - fixed_a, saved = per_piece_a - per_piece_b; // b wins when pieces * saved > fixed
    BreakEven out;
    out.first_below = fixed > 0 || (fixed == 0 && saved <= 0);
    out.first_above = saved == 0 ? out.first_below : saved < 0;
    if (saved != 0 && fixed / saved > 0)
        out.pieces = fixed / saved;
    else
        out.first_below = out.first_above;
    return out;
}

RouteComparison compare(const Route& a, const Route& b, int pieces) {
    RouteComparison out;
    out.per_piece_a = a.per_piece();
    out.per_piece_b = b.per_piece();
    out.crossing = break_even(a.fixed, out.per_piece_a, b.fixed, out.per_piece_b);
    const double total_a = a.fixed + out.per_piece_a * pieces, total_b = b.fixed + out.per_piece_b * pieces;
    out.unit_a = total_a / pieces;
    out.unit_b = total_b / pieces;
    out.cheaper = total_a <= total_b ? a.name : b.name;
    out.darker = a.lightness < b.lightness ? a.name : b.name;
    out.tougher = a.ladder_level > b.ladder_level ? a.name : b.ladder_level > a.ladder_level ? b.name : "equal";
    out.faster = a.mark_s + a.handling_s < b.mark_s + b.handling_s ? a.name : b.name;
    return out;
}

} // namespace finch
