// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

namespace finch {

/// A rectangular part in a square field. Lengths in mm, angles in degrees.
struct FieldFit {
    bool fits = false;
    double turn_deg = 0;                       ///< recommended: 0 or 45
    double turn_from_deg = 0, turn_to_deg = 0; ///< all turns that fit
    double slack_mm = 0;                       ///< per side, at the recommended turn
    double longest_at_this_width_mm = 0;
    bool within_circle = true; ///< of a round aperture, if there is one
};
/// Fits if the longer side is at most s, or both sides together at most sqrt(2) s, with s = field - 2 margins: the
/// bounding side is concave in the turn, so its minimum lies at 0 or 45 degrees. Circle 0 = none.
/// Errors: setup.not_positive, setup.negative, setup.margin.
[[nodiscard]] Expected<FieldFit> rectangle_in_field(double length_mm, double width_mm, double field_mm,
                                                    double margin_mm = 0, double circle_mm = 0);

/// Largest rectangle of a shape (short over long side, 0 to 1] in a square field.
struct LargestRectangle {
    double length_mm = 0, width_mm = 0, turn_deg = 0;
};
/// Errors: setup.shape, setup.margin.
[[nodiscard]] Expected<LargestRectangle> largest_rectangle(double aspect, double field_mm, double margin_mm = 0);

/// Spot away from the middle of the field of an f-theta lens.
struct FieldEdgeSpot {
    double scan_deg = 0;
    double tangential_mm = 0, radial_mm = 0; ///< 1/e2 across and along the radius
    double focus_error_mm = 0;
    double area_ratio = 1, fluence_ratio = 1; ///< against the middle
};
struct FieldEdge {
    double spot_mm = 0.05, rayleigh_mm = 1, focal_mm = 160;
    double radius_mm = 0, largest_radius_mm = 50;
    double telecentric_error = 1; ///< landing angle over scan angle: 0 telecentric, 0.6 to 1 common (estimate)
    double curvature_mm = 0;      ///< focus error at the largest radius
    double offset_mm = 0;
};
/// Errors: setup.not_positive, setup.negative, setup.scan_angle (beyond 34 degrees).
[[nodiscard]] Expected<FieldEdgeSpot> field_edge_spot(const FieldEdge& at);

/// A tray of equal parts in the field, and what a shift brings.
struct TrayPlan {
    double tray_length_mm = 100, tray_width_mm = 100, part_length_mm = 10, part_width_mm = 10;
    double gap_mm = 2, margin_mm = 2;
    double mark_s = 10, jump_s = 0.3, fixed_load_s = 20, load_s = 3, swap_s = 8;
    int trays = 1; ///< with two or more, one is loaded while the other is marked
    double shift_h = 8, availability = 0.85;
};
struct TrayLayout {
    int across = 0, down = 0;
    bool turned = false;
    double pitch_across_mm = 0, pitch_down_mm = 0, first_across_mm = 0, first_down_mm = 0;
    double mark_s = 0, load_s = 0, cycle_s = 0, laser_use = 0;
    long trays_per_shift = 0;
    [[nodiscard]] int parts() const { return across * down; }
    [[nodiscard]] long parts_per_shift() const { return trays_per_shift * parts(); }
};
/// Errors: setup.not_positive, setup.negative, setup.availability, setup.does_not_fit.
[[nodiscard]] Expected<TrayLayout> tray_layout(const TrayPlan& plan);

} // namespace finch
