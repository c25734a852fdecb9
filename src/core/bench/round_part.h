// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <optional>

namespace finch {

/// Sagitta of a chord on a circle, without cancellation, mm. Errors: setup.not_positive, setup.negative, setup.chord.
[[nodiscard]] Expected<double> sagitta_mm(double radius_mm, double chord_mm);

/// Marking of an arc in strips, hatch lines along the axis.
struct CylinderJob {
    double diameter_mm = 30, arc_mm = 30, pitch_mm = 0.05;
    double half_depth_mm = 0.3;   ///< of focus
    bool focus_on_top = false;    ///< else half-way down the sag, which allows twice as much
    double widest_angle_deg = 25; ///< half angle of a strip (engineering estimate)
    double steps_per_turn = 0;    ///< of the rotary; 0 = not driven in steps
    bool keep_pitch = false;      ///< else the pitch gives way so that the wrap closes exactly
    double taper_range_mm = 0;    ///< height that a taper uses up
};
struct CylinderSplit {
    int strips = 1, lines_per_strip = 1, last_strip_lines = 1, lines = 1;
    double pitch_mm = 0, pitch_change = 0; ///< change as a share
    double strip_arc_mm = 0, widest_strip_mm = 0, strip_deg = 0, sag_mm = 0, wrap_mm = 0;
    bool limited_by_angle = false; ///< else by the depth of focus
    double edge_deg = 0, edge_pitch_growth = 1;
    double seam_mm = 0; ///< + overlap, - gap
    struct Steps {
        double per_degree = 0, per_strip = 0, step_mm = 0;
        double drift_mm = 0;          ///< if strips are moved by rounded steps one after another
        double absolute_error_mm = 0; ///< if each is moved to its own angle
    };
    std::optional<Steps> steps;
};
/// Errors: setup.not_positive, setup.negative, setup.arc, setup.no_depth_left, setup.pitch_too_coarse.
[[nodiscard]] Expected<CylinderSplit> cylinder_split(const CylinderJob& job);

/// Steps per turn of the part: of a chuck, or of rollers that drive it by friction (roller diameter above 0).
/// Errors: setup.not_positive.
[[nodiscard]] Expected<double> rotary_steps(double motor_steps, double microsteps, double gear = 1,
                                            double roller_mm = 0, double part_mm = 0);

/// Overlap (+) or gap (-) of a full wrap drawn for another diameter, mm. Errors: setup.not_positive.
[[nodiscard]] Expected<double> seam_from_diameter_mm(double true_mm, double used_mm);

/// A band on a cone, measured along the axis from the small end.
struct ConeJob {
    double small_mm = 20, large_mm = 30, length_mm = 50;
    double band_from_mm = 0, band_mm = 10;
    double half_depth_mm = 0.5;
    bool tilted = false; ///< the rotary is tilted by the cone's half angle
};
struct ConeBand {
    double half_angle_deg = 0, centre_diameter_mm = 0;
    double end_error_mm = 0, taper_range_mm = 0;
    bool within_depth = true;
    double slant_mm = 0, curvature_diameter_mm = 0;
    double longest_level_band_mm = 0;            ///< infinite on a cylinder
    double pitch_spread = 0;                     ///< either way, as a share
    double sector_deg = 0, sector_radius_mm = 0; ///< of the unrolled artwork
};
/// Errors: setup.not_positive, setup.negative, setup.cone, setup.band.
[[nodiscard]] Expected<ConeBand> cone_band(const ConeJob& job);

} // namespace finch
