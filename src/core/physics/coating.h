// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "physics/removal.h"

#include <optional>
#include <string_view>

namespace finch {

/// What happens to a coat and to the metal below it.
enum class CoatFate { untouched, bleached, partly_stripped, stripped, stripped_marked, marked };
[[nodiscard]] std::string_view word(CoatFate fate);

/// One pass over a coated metal.
struct CoatingOutcome {
    double spot_um = 0;
    double fluence_j_cm2 = 0;
    double pulses_per_spot = 1;
    double coat_threshold_j_cm2 = 0, metal_threshold_j_cm2 = 0;
    double bleach_threshold_j_cm2 = 0; ///< 0: this coat does not bleach
    double coat_margin = 0;            ///< fluence over the coat's threshold; want 1.3
    double metal_margin = 0;           ///< metal's threshold over the fluence; want 1.2
    double depth_um = 0;               ///< of coat, per pass
    int passes = -1;                   ///< to go through it; -1 = never
    double tint = 0;                   ///< heat rise over the rise that tints; want < 1
    CoatFate fate = CoatFate::untouched;
    bool operator==(const CoatingOutcome&) const = default;
};

/// Source: threshold behaviour as for metals, average heat of a moving Gaussian source (Carslaw and Jaeger 1959).
/// Thickness in um, > 0. The full pulse count is used for the metal too, which is on the safe side.
/// Factors of the thresholds of a coat and of the metal under it: warm parts, finishes, what was learned.
struct ThresholdFactors {
    double coat = 1, metal = 1;
};
[[nodiscard]] CoatingOutcome coating_pass(const CoatConstants& coat, const RemovalConstants& metal,
                                          const RemovalModel& model, const PulseTrain& train, const BeamWaist& beam,
                                          const Raster& raster, Length focus_offset, double thickness_um,
                                          const ThresholdFactors& factors = {});

/// Rise of a moving Gaussian spot (um, mm/s) over the rise that tints the metal; `heat_w` is what it takes up.
[[nodiscard]] double moving_tint(const RemovalConstants& metal, double heat_w, double spot_um, double speed_mm_s);

/// Offsets of the raised lens (mm) at which coat and metal both keep their margins and nothing tints.
struct CoatingWindow {
    double nearest_mm = 0, best_mm = 0, farthest_mm = 0;
    bool operator==(const CoatingWindow&) const = default;
};
inline constexpr double wanted_coat_margin = 1.3;
inline constexpr double wanted_metal_margin = 1.2;
[[nodiscard]] std::optional<CoatingWindow> coating_window(const CoatConstants& coat, const RemovalConstants& metal,
                                                          const RemovalModel& model, const PulseTrain& train,
                                                          const BeamWaist& beam, const Raster& raster,
                                                          double coat_margin = wanted_coat_margin,
                                                          double metal_margin = wanted_metal_margin);

/// The smallest of the three shares of what is wanted: 1 = all margins just kept.
[[nodiscard]] double strip_margin(const CoatingOutcome& outcome, double coat_margin = wanted_coat_margin,
                                  double metal_margin = wanted_metal_margin);

} // namespace finch
