// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/field.h"

#include "bench/positive.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <tuple>
#include <utility>

namespace finch {
namespace {

constexpr double root2 = std::numbers::sqrt2;

Expected<double> usable_side(double field, double margin) {
    const double s = field - 2 * margin;
    if (s <= 0)
        return failure("setup.margin", "The margin leaves nothing of the field.", "Choose a smaller margin.");
    return s;
}

} // namespace

Expected<FieldFit> rectangle_in_field(double length, double width, double field, double margin, double circle) {
    if (auto fault = not_positive({{"length", length}, {"width", width}, {"field", field}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"margin", margin}, {"aperture", circle}}))
        return tl::unexpected(*fault);
    const auto side = usable_side(field, margin);
    if (!side)
        return tl::unexpected(side.error());
    const double s = *side, l = std::max(length, width), w = std::min(length, width);
    const double diagonal = std::hypot(l, w);
    FieldFit out;
    out.within_circle = circle <= 0 || diagonal <= circle;
    if (l <= s) {
        out.turn_from_deg = 0;
        out.turn_to_deg = 90;
        out.fits = true;
        out.slack_mm = (s - l) / 2;
    } else if (l + w <= root2 * s * (1 + 1e-12)) {
        out.turn_from_deg = std::min(45.0, degrees * (std::atan2(w, l) + std::acos(std::min(1.0, s / diagonal))));
        out.turn_to_deg = 90 - out.turn_from_deg;
        out.fits = true;
        out.slack_mm = (s - (l + w) / root2) / 2;
    } else {
        out.turn_from_deg = out.turn_to_deg = 45;
        out.slack_mm = (s - std::min(l, (l + w) / root2)) / 2;
    }
    out.fits = out.fits && out.within_circle;
    out.turn_deg = l <= s ? 0 : 45;
    out.longest_at_this_width_mm = std::max(w <= s ? s : 0, root2 * s - w);
    return out;
}

Expected<LargestRectangle> largest_rectangle(double aspect, double field, double margin) {
    if (!(aspect > 0 && aspect <= 1))
        return failure("setup.shape", "The shape is short side over long side, above 0 up to 1.",
                       "Swap the sides or enter a smaller number.");
    const auto side = usable_side(field, margin);
    if (!side)
        return tl::unexpected(side.error());
    const double turned = root2 * *side / (1 + aspect);
    if (turned > *side)
        return LargestRectangle{turned, turned * aspect, 45};
    return LargestRectangle{*side, *side * aspect, 0};
}

Expected<FieldEdgeSpot> field_edge_spot(const FieldEdge& at) {
    if (auto fault = not_positive({{"spot", at.spot_mm},
                                   {"depth", at.rayleigh_mm},
                                   {"focal length", at.focal_mm},
                                   {"field radius", at.largest_radius_mm}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"radius", at.radius_mm}, {"landing angle", at.telecentric_error}}))
        return tl::unexpected(*fault);
    const double theta = at.radius_mm / at.focal_mm;
    if (theta > 0.6)
        return failure("setup.scan_angle", "The scan angle is above 34 degrees.",
                       "Check the field radius and the focal length.");
    const auto spot = [&](double z) { return at.spot_mm * std::sqrt(1 + (z / at.rayleigh_mm) * (z / at.rayleigh_mm)); };
    const double share = at.radius_mm / at.largest_radius_mm;
    const double z = at.offset_mm + at.curvature_mm * share * share;
    FieldEdgeSpot out;
    out.scan_deg = degrees * theta;
    out.tangential_mm = spot(z);
    out.radial_mm = out.tangential_mm / (std::cos(theta) * std::cos(at.telecentric_error * theta));
    out.focus_error_mm = z - at.offset_mm;
    const double middle = spot(at.offset_mm);
    out.area_ratio = out.radial_mm * out.tangential_mm / (middle * middle);
    out.fluence_ratio = middle * middle / (out.radial_mm * out.tangential_mm);
    return out;
}

Expected<TrayLayout> tray_layout(const TrayPlan& p) {
    if (auto fault = not_positive({{"tray", p.tray_length_mm},
                                   {"tray", p.tray_width_mm},
                                   {"part", p.part_length_mm},
                                   {"part", p.part_width_mm},
                                   {"marking time", p.mark_s},
                                   {"shift", p.shift_h}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"gap", p.gap_mm}, {"margin", p.margin_mm}}))
        return tl::unexpected(*fault);
    if (!(p.availability > 0 && p.availability <= 1))
        return failure("setup.availability", "The availability is a share above 0 up to 1.", "Enter 0.85 for 85 %.");
    const auto count = [&](double side, double part) {
        return std::max(0,
                        static_cast<int>(std::floor((side - 2 * p.margin_mm + p.gap_mm) / (part + p.gap_mm) + 1e-9)));
    };
    TrayLayout out;
    const std::pair straight{count(p.tray_length_mm, p.part_length_mm), count(p.tray_width_mm, p.part_width_mm)};
    const std::pair turned{count(p.tray_length_mm, p.part_width_mm), count(p.tray_width_mm, p.part_length_mm)};
    out.turned = turned.first * turned.second > straight.first * straight.second;
    std::tie(out.across, out.down) = out.turned ? turned : straight;
    if (out.parts() == 0)
        return failure("setup.does_not_fit", "Not even one part fits the tray.", "Use a larger tray or a smaller gap.");
    const double part_across = out.turned ? p.part_width_mm : p.part_length_mm;
    const double part_down = out.turned ? p.part_length_mm : p.part_width_mm;
    out.pitch_across_mm = part_across + p.gap_mm;
    out.pitch_down_mm = part_down + p.gap_mm;
    out.first_across_mm = (p.tray_length_mm - (out.across - 1) * out.pitch_across_mm) / 2;
    out.first_down_mm = (p.tray_width_mm - (out.down - 1) * out.pitch_down_mm) / 2;
    out.mark_s = out.parts() * (p.mark_s + p.jump_s);
    out.load_s = p.fixed_load_s + out.parts() * p.load_s;
    out.cycle_s = (p.trays == 1 ? out.mark_s + out.load_s : std::max(out.mark_s, out.load_s)) + p.swap_s;
    out.trays_per_shift = static_cast<long>(std::floor(p.shift_h * 3600 * p.availability / out.cycle_s));
    out.laser_use = out.mark_s / out.cycle_s;
    return out;
}

} // namespace finch
