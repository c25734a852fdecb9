// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/column.h"

#include "bench/field.h"
#include "bench/positive.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace finch {

Expected<ColumnFit> column_fit(double working, double lowest, double highest, const ColumnStack& s) {
    if (auto fault = not_positive({{"working distance", working}, {"highest column", highest}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"part", s.part},
                               {"lowest column", lowest},
                               {"fixture", s.fixture},
                               {"rotary centre", s.rotary_centre},
                               {"obstruction", s.obstruction}}))
        return tl::unexpected(*fault);
    if (highest <= lowest)
        return failure("setup.column_limits", "The column's upper stop is not above its lower stop.",
                       "Correct the column on the Bench station.");
    ColumnFit out;
    out.surface_mm = s.fixture + (s.rotary_centre > 0 ? s.rotary_centre + s.part / 2 : s.part);
    out.column_mm = out.surface_mm + working + s.offset;
    out.riser_mm = std::max(0.0, lowest - out.column_mm);
    out.short_by_mm = std::max(0.0, out.column_mm - highest);
    out.air_gap_mm = out.column_mm - std::max(out.surface_mm, s.obstruction);
    out.collides = out.air_gap_mm < s.clearance;
    out.fits = out.column_mm >= lowest && out.column_mm <= highest && !out.collides;
    return out;
}

std::string_view sentence(LensReason reason) {
    switch (reason) {
    case LensReason::collision:
        return "Something stands too near to the lens.";
    case LensReason::column:
        return "The column is too short.";
    case LensReason::field:
        return "The part does not fit the field.";
    case LensReason::spot:
        return "The spot is too large.";
    case LensReason::depth:
        return "The depth of focus is too small.";
    case LensReason::needs_riser:
        return "The part needs a riser under it.";
    }
    return "";
}

Expected<std::vector<JudgedLens>> choose_lens(const std::vector<LensChoice>& lenses, const LensNeed& need,
                                              double lowest, double highest, const ColumnStack& stack) {
    struct Row {
        JudgedLens lens;
        double field, spot;
    };
    std::vector<Row> rows;
    for (const LensChoice& l : lenses) {
        const auto column = column_fit(l.working_distance_mm, lowest, highest, stack);
        if (!column)
            return tl::unexpected(column.error());
        const auto place = rectangle_in_field(need.part_length_mm, need.part_width_mm, l.field_mm, need.margin_mm);
        if (!place)
            return tl::unexpected(place.error());
        JudgedLens j{l.name, true, {}, column->column_mm, column->riser_mm};
        const auto against = [&j](bool when, LensReason why) {
            if (when)
                j.reasons.push_back(why);
        };
        against(column->collides, LensReason::collision);
        against(column->short_by_mm > 0, LensReason::column);
        against(!place->fits, LensReason::field);
        against(l.spot_mm > need.largest_spot_mm, LensReason::spot);
        against(l.rayleigh_mm * std::sqrt(need.growth * need.growth - 1) < need.half_depth_mm, LensReason::depth);
        j.usable = j.reasons.empty();
        against(column->riser_mm > 0, LensReason::needs_riser);
        rows.push_back({std::move(j), l.field_mm, l.spot_mm});
    }
    std::stable_sort(rows.begin(), rows.end(), [](const Row& a, const Row& b) {
        return std::tuple(!a.lens.usable, a.lens.reasons.size(), a.field, a.spot) <
               std::tuple(!b.lens.usable, b.lens.reasons.size(), b.field, b.spot);
    });
    std::vector<JudgedLens> out;
    for (Row& r : rows)
        out.push_back(std::move(r.lens));
    return out;
}

} // namespace finch
