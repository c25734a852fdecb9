// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/round_part.h"

#include "bench/positive.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace finch {
namespace {

/// Half angle in rad that depth of focus and flatness of view allow.
double half_angle(const CylinderJob& job, double budget, bool& by_angle) {
    const double r = job.diameter_mm / 2;
    const double s = std::min(budget, r);
    const double chord = 2 * std::sqrt(std::max(0.0, 2 * r * s - s * s));
    const double half = std::asin(std::min(1.0, chord / (2 * r)));
    const double widest = job.widest_angle_deg / degrees;
    by_angle = half > widest;
    return by_angle ? widest : half;
}

void keep_pitch(const CylinderJob& job, CylinderSplit& out) {
    out.lines = std::max(1, static_cast<int>(std::floor(job.arc_mm / job.pitch_mm + 0.5)));
    const int most = static_cast<int>(std::floor(out.widest_strip_mm / job.pitch_mm + 1e-9));
    out.strips = (out.lines + most - 1) / most;
    out.lines_per_strip = (out.lines + out.strips - 1) / out.strips;
    out.pitch_mm = job.pitch_mm;
    out.last_strip_lines = out.lines - (out.strips - 1) * out.lines_per_strip;
    while (out.last_strip_lines <= 0) {
        --out.strips;
        out.last_strip_lines = out.lines - (out.strips - 1) * out.lines_per_strip;
    }
}

void adjust_pitch(const CylinderJob& job, CylinderSplit& out) {
    out.strips = static_cast<int>(std::ceil(job.arc_mm / out.widest_strip_mm - 1e-9));
    out.lines_per_strip = std::max(1, static_cast<int>(std::floor(job.arc_mm / (out.strips * job.pitch_mm) + 0.5)));
    out.lines = out.strips * out.lines_per_strip;
    out.last_strip_lines = out.lines_per_strip;
    out.pitch_mm = job.arc_mm / out.lines;
}

} // namespace

Expected<double> sagitta_mm(double radius, double chord) {
    if (auto fault = not_positive({{"radius", radius}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"chord", chord}}))
        return tl::unexpected(*fault);
    if (chord > 2 * radius * (1 + 1e-12))
        return failure("setup.chord", "The chord is longer than the diameter.", "Check both lengths.");
    const double h = std::min(chord / 2, radius);
    return h * h / (radius + std::sqrt(std::max(0.0, radius * radius - h * h)));
}

Expected<CylinderSplit> cylinder_split(const CylinderJob& job) {
    if (auto fault = not_positive({{"diameter", job.diameter_mm},
                                   {"arc", job.arc_mm},
                                   {"hatch pitch", job.pitch_mm},
                                   {"depth of focus", job.half_depth_mm}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"taper", job.taper_range_mm}}))
        return tl::unexpected(*fault);
    if (job.arc_mm / job.pitch_mm > 1e8)
        return failure("setup.too_many_lines", "The hatch pitch makes more lines than anyone could burn.",
                       "Check the unit of the hatch pitch.");
    const double r = job.diameter_mm / 2;
    CylinderSplit out;
    out.wrap_mm = pi * job.diameter_mm;
    if (job.arc_mm > out.wrap_mm * (1 + 1e-9))
        return failure("setup.arc", "The arc is longer than the circumference.", "Check diameter and arc.");
    const double budget = (job.focus_on_top ? 1 : 2) * job.half_depth_mm - job.taper_range_mm;
    if (budget <= 0)
        return failure("setup.no_depth_left", "The taper uses up the whole depth of focus.",
                       "Shorten the band or tilt the rotary.");
    out.widest_strip_mm = 2 * r * half_angle(job, budget, out.limited_by_angle);
    if (out.widest_strip_mm < job.pitch_mm)
        return failure("setup.pitch_too_coarse", "One line is wider than a strip.", "Choose a finer hatch pitch.");
    if (job.keep_pitch)
        keep_pitch(job, out);
    else
        adjust_pitch(job, out);
    out.pitch_change = out.pitch_mm / job.pitch_mm - 1;
    out.strip_arc_mm = out.lines_per_strip * out.pitch_mm;
    out.strip_deg = degrees * out.strip_arc_mm / r;
    out.sag_mm = sagitta_mm(r, std::min(2 * r, 2 * r * std::sin(std::min(pi, out.strip_arc_mm / r) / 2))).value_or(r);
    out.edge_deg = out.strip_deg / 2;
    out.edge_pitch_growth = 1 / std::cos(out.edge_deg / degrees);
    out.seam_mm = out.lines * out.pitch_mm - job.arc_mm;
    if (job.steps_per_turn > 0) {
        CylinderSplit::Steps s;
        s.per_degree = job.steps_per_turn / 360;
        s.per_strip = job.steps_per_turn * out.strip_arc_mm / out.wrap_mm;
        s.step_mm = out.wrap_mm / job.steps_per_turn;
        s.drift_mm = (std::floor(s.per_strip + 0.5) - s.per_strip) * out.strips * out.wrap_mm / job.steps_per_turn;
        s.absolute_error_mm = 0.5 * out.wrap_mm / job.steps_per_turn;
        out.steps = s;
    }
    return out;
}

Expected<double> rotary_steps(double motor_steps, double microsteps, double gear, double roller, double part) {
    if (auto fault = not_positive({{"motor steps", motor_steps}, {"microsteps", microsteps}, {"gear", gear}}))
        return tl::unexpected(*fault);
    const double turn = motor_steps * microsteps * gear;
    if (roller <= 0)
        return turn;
    if (auto fault = not_positive({{"part diameter", part}}))
        return tl::unexpected(*fault);
    return turn * (part / roller);
}

Expected<double> seam_from_diameter_mm(double true_mm, double used_mm) {
    if (auto fault = not_positive({{"true diameter", true_mm}, {"diameter used", used_mm}}))
        return tl::unexpected(*fault);
    return pi * (used_mm - true_mm);
}

Expected<ConeBand> cone_band(const ConeJob& job) {
    if (auto fault = not_positive({{"small diameter", job.small_mm},
                                   {"length", job.length_mm},
                                   {"band", job.band_mm},
                                   {"depth of focus", job.half_depth_mm}}))
        return tl::unexpected(*fault);
    if (auto fault = negative({{"start of the band", job.band_from_mm}}))
        return tl::unexpected(*fault);
    if (job.large_mm < job.small_mm)
        return failure("setup.cone", "The large end is smaller than the small end.", "Swap the two diameters.");
    if (job.band_from_mm + job.band_mm > job.length_mm * (1 + 1e-9))
        return failure("setup.band", "The band leaves the cone.", "Move or shorten it.");
    const double infinite = std::numeric_limits<double>::infinity();
    const double growth = (job.large_mm - job.small_mm) / job.length_mm;
    const double half = std::atan(growth / 2);
    ConeBand out;
    out.half_angle_deg = degrees * half;
    out.centre_diameter_mm = job.small_mm + growth * (job.band_from_mm + job.band_mm / 2);
    out.end_error_mm = job.tilted ? 0 : job.band_mm / 2 * std::tan(half);
    out.taper_range_mm = 2 * out.end_error_mm;
    out.within_depth = out.end_error_mm <= job.half_depth_mm;
    out.slant_mm = job.band_mm / std::cos(half);
    out.curvature_diameter_mm = job.tilted ? out.centre_diameter_mm / std::cos(half) : out.centre_diameter_mm;
    out.longest_level_band_mm = half == 0 ? infinite : 2 * job.half_depth_mm / std::tan(half);
    out.pitch_spread = growth * job.band_mm / 2 / out.centre_diameter_mm;
    out.sector_deg = 360 * std::sin(half);
    out.sector_radius_mm = half == 0 ? infinite : out.centre_diameter_mm / 2 / std::sin(half);
    return out;
}

} // namespace finch
