// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// What stands on the table under the lens. All in mm; heights over the table.
struct ColumnStack {
    double part = 0;          ///< height of a flat part, or diameter on a rotary
    double fixture = 0;       ///< below the part
    double rotary_centre = 0; ///< height of the rotary's axis; 0 = flat work
    double offset = 0;        ///< focus offset, + = lens raised
    double obstruction = 0;   ///< highest chuck or clamp
    double clearance = 5;     ///< wanted below the lens
};

/// Whether a lens at its working distance fits between the column's stops.
struct ColumnFit {
    double surface_mm = 0, column_mm = 0; ///< heights of the marked surface and of the lens face
    bool fits = false;
    double riser_mm = 0;    ///< to put under the part, if the head cannot come down so far
    double short_by_mm = 0; ///< the head cannot go up so far
    double air_gap_mm = 0;  ///< between the lens and the highest thing below it
    bool collides = false;
};
/// Errors: setup.not_positive, setup.negative, setup.column_limits.
[[nodiscard]] Expected<ColumnFit> column_fit(double working_distance_mm, double lowest_mm, double highest_mm,
                                             const ColumnStack& stack);

/// A lens as the chooser sees it, mm.
struct LensChoice {
    std::string name;
    double working_distance_mm = 0, field_mm = 0, spot_mm = 0, rayleigh_mm = 0;
};
/// What the job asks of a lens, mm.
struct LensNeed {
    double part_length_mm = 0, part_width_mm = 0, margin_mm = 0;
    double largest_spot_mm = 0;
    double half_depth_mm = 0; ///< of focus, at `growth`
    double growth = 1.1;
};
enum class LensReason { collision, column, field, spot, depth, needs_riser };
[[nodiscard]] std::string_view sentence(LensReason reason);
struct JudgedLens {
    std::string name;
    bool usable = false;
    std::vector<LensReason> reasons; ///< against it; a riser is only a note
    double column_mm = 0, riser_mm = 0;
};
/// Usable first, then fewest remarks, then the smallest field, then the smallest spot.
[[nodiscard]] Expected<std::vector<JudgedLens>> choose_lens(const std::vector<LensChoice>& lenses, const LensNeed& need,
                                                            double lowest_mm, double highest_mm,
                                                            const ColumnStack& stack);

} // namespace finch
