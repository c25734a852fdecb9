// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "physics/removal.h"
#include "physics/shares.h"

#include <optional>
#include <span>
#include <vector>

namespace finch {

/// Numbers from which the shares of bare metal follow: what the heat model and the crater model say of one spot.
struct BareFacts {
    double film_nm = 0;
    double film_of_pass_nm = 0; ///< of one pass, not capped
    double film_spread = 0.3;   ///< of ln(thickness)
    double melt_index = 0;      ///< 1 = fully molten between pulses
    double heat_index = 0;      ///< removal index of the heat model
    double boil_ratio = 0;      ///< the larger of its boiling ratio and the fluence over the single-pulse threshold
    double log_ratio = 0;       ///< of the crater; 0 = none
    double crater_nm = 0;       ///< of one pulse, net
    double lift_nm = 0;         ///< what each pulse must lift first
    double overlap = 0;         ///< of craters, the smaller of the two ways
    double areal_j_mm2 = 0, dark_from_j_mm2 = 1;
    double depth_um = 0; ///< after all passes, not capped
    double depth_spread = 0.4;
    double stock_um = 2000;
    double tint_nm = 8, colour_nm = 20, dark_nm = 180;
    bool oxide = true;
    double tarnish = 0; ///< rise between pulses over the rise that tarnishes a metal without film model
};

/// Weights of what the floor looks like, and the share in which the old surface with its film is carried away.
struct FloorWeights {
    double boils = 0, torn = 0, merged = 0, dark = 0, frost = 0, heat = 0, away = 0;
    bool operator==(const FloorWeights&) const = default;
};
[[nodiscard]] FloorWeights floor_weights(const BareFacts& facts, const JoinModel& join);
/// `deep_um`: removal that means engraving; `frost_um`: what a finger hardly feels.
[[nodiscard]] Shares bare_shares(const BareFacts& facts, const FloorWeights& weights, const JoinModel& join,
                                 double deep_um, double frost_um);
/// Look of the floor after the last pass: the heaviest of its weights.
[[nodiscard]] FloorLook floor_look(const BareFacts& facts, const FloorWeights& weights);

/// Lightness with its standard deviation.
struct Lightness {
    double l = 0, spread = 0;
    bool operator==(const Lightness&) const = default;
};
/// The mean over the shares; a hole has none.
[[nodiscard]] std::optional<Lightness> expected_lightness(const Shares& shares, double film_l, double bare_l,
                                                          double dark_floor, const LookEstimate& dark_look,
                                                          const JoinModel& join);

/// Heat and removal of one hatched field in a plate.
struct PlateLoad {
    double power_w = 0, area_rate_mm2_s = 0, thickness_mm = 2, side_mm = 10;
    double loss_w_m2k = 60;
    double deepest_um = 0;    ///< upper end of the depth, weighted by its share
    double bulk_rise_k = 0;   ///< by all lines and passes
    double moving_rise_k = 0; ///< of the spot in what is left
    double start_k = 293.15;
    double spot_radius_m = 0, speed_m_s = 0;
};
struct PlateOutcome {
    double burn_index = 0; ///< above 1: likely to burn through
    double rise_k = 0;
    bool operator==(const PlateOutcome&) const = default;
};
/// Thickness that is left at the upper end of the depth, mm; at least a fiftieth.
[[nodiscard]] double left_mm(double thickness_mm, double deepest_um);
[[nodiscard]] PlateOutcome plate_outcome(const PlateLoad& load, const Metal& metal, const JoinModel& join);

/// A setting as it was measured somewhere.
struct MeasuredPoint {
    double power_w = 0, width_ns = 0, frequency_khz = 0, speed_mm_s = 0, spot_um = 0;
    bool operator==(const MeasuredPoint&) const = default;
};
/// ln spread by the nearest measured point; points must not be empty.
[[nodiscard]] double distance_spread(std::span<const MeasuredPoint> points, const MeasuredPoint& at,
                                     const std::array<double, 5>& slopes);
/// `floor`: what the fit itself leaves; `unproven`: with no point at all, and at most.
[[nodiscard]] double spread_at(std::span<const MeasuredPoint> points, const MeasuredPoint& at,
                               const std::array<double, 5>& slopes, double floor, double unproven);
/// Spread of ln(thickness) before anything was read. Below boiling the film goes with a higher power of the absorbed
/// heat, and so do the errors of absorptance, power and spot (docs/decisions/0047-bands-before-and-after.md).
[[nodiscard]] double unread_spread(const Metal& metal, const SpreadModel& spread, double peak_k, double start_k);
/// Standard error of the median of the places' own ln gains, never below the floor: the reference's, for its vectors.
[[nodiscard]] double gain_error(std::vector<double> ln_gains, const JoinModel& join);

} // namespace finch
