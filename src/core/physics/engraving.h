// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/removal.h"

#include <string_view>
#include <vector>

namespace finch {

/// How many passes follow one another, and what is done between them.
struct DeepWork {
    int passes = 100;
    double focus_step_mm = 0; ///< focus lowered by this ...
    int focus_every = 0;      ///< ... after every so many passes; 0 = never
    int clean_every = 0;      ///< a cleaning pass after every so many passes; 0 = never
    double width_mm = 10;     ///< narrowest width of the cut area
    double focus_offset_mm = 0;
    double calibration = 1;
    bool operator==(const DeepWork&) const = default;
};

/// A pulse train, its beam and its raster on one metal: what deep engraving repeats.
struct Cutting {
    const RemovalConstants& metal;
    const RemovalModel& model;
    PulseTrain train;
    BeamWaist beam;
    Raster raster;
};

/// Depth in um after 0, 1, 2 .. passes: debris, cleaning, plume in narrow cuts, focus left behind. Stops at `target_um`
/// or when a pass removes under 0.0001 um.
[[nodiscard]] std::vector<double> depth_by_pass(const Cutting& cut, const DeepWork& work, double target_um = 1e300);

/// Depth after all passes, with the fresh depth taken on a grid of 0.01 Rayleigh lengths: within 0.1 % of
/// depth_by_pass and quick enough for thousands of passes. No allocation.
struct DepthAfter {
    double depth_um = 0;
    int passes = 0; ///< done when it stalled or reached the target
};
[[nodiscard]] DepthAfter depth_after(const Cutting& cut, const DeepWork& work, double target_um = 1e300);

/// Focus step that keeps the floor within `share` of the Rayleigh length: mm, and after how many passes.
/// Errors: removal.nothing_removed.
struct FocusRule {
    double step_mm = 0;
    int every = 1;
};
[[nodiscard]] Expected<FocusRule> focus_rule(const BeamWaist& beam, double depth_per_pass_um, double share = 0.25);

/// Passes to a depth: as predicted, and with `spread` times more and less removal; -1 = not within work.passes.
struct PassesToDepth {
    int likely = -1, fewest = -1, most = -1;
    bool operator==(const PassesToDepth&) const = default;
};
[[nodiscard]] PassesToDepth passes_to_depth(const Cutting& cut, const DeepWork& work, double target_um, double spread);

/// Angle of a wall from the vertical in degrees; 90 where nothing is removed.
[[nodiscard]] double taper_deg(const Crater& crater, const RemovalModel& model);
/// Width of the floor of a cut in mm; 0 where the walls meet.
[[nodiscard]] double floor_width_mm(double width_mm, double depth_um, const Crater& crater, const RemovalModel& model);

/// What a many-pass job looks like part-way.
enum class Stage { first_marks, dark_powder, shape_emerges, relief_clear };
[[nodiscard]] std::string_view word(Stage stage);
[[nodiscard]] Stage stage(const RemovalConstants& metal, const RemovalModel& model, double depth_range_um,
                          double areal_energy_so_far_j_mm2);

/// A hatched square on a thin plate.
struct ThinPlate {
    double heat_rise_k = 0, buckling_rise_k = 0;
    bool warps = false;
    double left = 1; ///< share of the thickness
    double burn_index = 0;
    bool burns = false;
};
/// Mean rise (K) of a plate under a hatch: what stays in it, limited by what leaves. As thin_plate().
[[nodiscard]] double plate_rise_k(const RemovalConstants& metal, double power_w, double thickness_mm, double side_mm,
                                  double area_rate_mm2_s, double loss_w_m2k);
/// Rise (K) at which a square plate that is held by its rim buckles.
[[nodiscard]] double buckling_rise_k(const RemovalConstants& metal, double thickness_mm, double side_mm);
/// Power in W as emitted, lengths in mm, area rate (speed x pitch) in mm2/s, loss in W/(m2 K).
[[nodiscard]] ThinPlate thin_plate(const RemovalConstants& metal, double power_w, double thickness_mm, double side_mm,
                                   double area_rate_mm2_s, double depth_um, double loss_w_m2k);

} // namespace finch
