// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/lens.h"
#include "quantity/error.h"

#include <vector>

namespace finch {

/// Offsets that give a wanted spot. + = lens raised, focus above the part.
struct OffsetForSpot {
    double raised_mm = 0, lowered_mm = 0;
    double spot_per_mm = 0;          ///< how fast the spot grows there
    bool prefer_raised = true;       ///< a proud spot of the part then gets hotter, not colder
    double air_irradiance_w_cm2 = 0; ///< at the focus in the air
};
/// `air_limit` is the irradiance at which dust in the focus sparks (engineering estimate).
/// Errors: setup.not_positive, setup.spot_below_focus.
[[nodiscard]] Expected<OffsetForSpot> offset_for_spot(Length spot_at_focus, Length rayleigh, Length wanted,
                                                      Power peak_power = watts(0), double air_limit_w_cm2 = 1e10);

/// Shims that come nearest to a height.
struct ShimStack {
    std::vector<double> shims_mm; ///< thickest first
    double sum_mm = 0, error_mm = 0;
};
/// Whole micrometres, each shim once. Among the stacks within the best error or the tolerance: the fewest shims, then
/// the smallest error, then the lower one. Errors: setup.negative, setup.not_positive.
[[nodiscard]] Expected<ShimStack> shim_stack(double target_mm, const std::vector<double>& shims_mm,
                                             double tolerance_mm = 0, int most = 99);
/// A taller stack springs.
inline constexpr int advised_shims = 4;

/// Level: focus set at the middle of a span, its ends out by half of the rise.
struct LevelError {
    double end_error_mm = 0, tilt_deg = 0, rise_mm = 0;
    bool within_depth = true;
    double allowed_tilt_deg = 0, allowed_rise_mm = 0;
};
/// From a rise over the span or from a tilt. Errors: setup.not_positive.
[[nodiscard]] Expected<LevelError> level_from_rise(double span_mm, double half_depth_mm, double rise_mm);
[[nodiscard]] Expected<LevelError> level_from_tilt(double span_mm, double half_depth_mm, double tilt_deg);

} // namespace finch
