// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/coating.h"
#include "physics/net_removal.h"
#include "physics/shares.h"

#include <optional>

namespace finch {

/// What a coat meets besides the beam.
struct CoatConditions {
    double thickness_um = 80;
    int passes = 1;
    double start_c = 20;
    double threshold_gain = 1; ///< measured over predicted threshold of this coat
    double spread = 0.42;      ///< of ln(threshold)
};

/// Share of the cold threshold that a warm part still needs, by the temperature at which the coat gives way.
[[nodiscard]] double coat_warm_share(const CoatConstants& coat, double start_c);

/// Coat under a pulsed source of 1 um: outcome of one pass, thresholds with finish, start temperature and what was
/// learned.
[[nodiscard]] CoatingOutcome pulsed_coat(const CoatConstants& coat, const Cutting& cut, const MetSurface& surface,
                                         Length focus_offset, const CoatConditions& conditions);
[[nodiscard]] Shares coat_shares(const CoatingOutcome& outcome, const CoatConditions& conditions,
                                 const JoinModel& join);

/// A coat under a gas laser, 10.6 um: the coat takes the beam, the metal under it reflects what is left.
struct GasCoatOutcome {
    double dose_j_mm2 = 0;          ///< per pass
    double first_j_mm2 = 0;         ///< brings the skin of the coat to decomposition
    double finish_j_mm2 = 0;        ///< per pass, takes or bleaches the whole coat
    std::optional<double> depth_um; ///< of coat per pass, not above the coat; absent where it stays and bleaches
    int passes = -1;                ///< to go through it; -1 = never, or it stays
    double tint = 0;
    bool operator==(const GasCoatOutcome&) const = default;
};
struct GasBeam {
    double power_w = 20, spot_mm = 0.16, speed_mm_s = 500, pitch_mm = 0.05;
};
/// The coat must have constants under a gas laser.
[[nodiscard]] GasCoatOutcome gas_coat(const CoatConstants& coat, const RemovalConstants& metal, const GasBeam& beam,
                                      const CoatConditions& conditions, const JoinModel& join);
[[nodiscard]] Shares gas_coat_shares(const CoatConstants& coat, const RemovalConstants& metal, const GasBeam& beam,
                                     const CoatConditions& conditions, const JoinModel& join);

/// Dark mark in a clear anodised film on aluminium: many short pulses at high frequency, between the fluence that
/// alters the ground and the one that breaks the film.
struct BlackFilmOutcome {
    double fluence_j_cm2 = 0, low_j_cm2 = 0, high_j_cm2 = 0;
    double pulses_per_spot = 0; ///< all passes
    Shares shares;
    std::optional<double> l_star; ///< told when over a twentieth darkens
    bool operator==(const BlackFilmOutcome&) const = default;
};
[[nodiscard]] BlackFilmOutcome black_film(const PulseTrain& train, Length spot, const Raster& raster, int passes,
                                          double start_c, const JoinModel& join);

/// What single pulses do to a compound: above the dry film's threshold they blow it off, above the metal's they frost.
struct PowderPulse {
    double fluence_j_cm2 = 0, film_threshold_j_cm2 = 0, metal_threshold_j_cm2 = 0;
    bool operator==(const PowderPulse&) const = default;
};
[[nodiscard]] PowderPulse powder_pulse(const Cutting& cut, const MetSurface& surface, Length spot,
                                       const JoinModel& join);
/// `fused`: shares by average heat alone.
[[nodiscard]] Shares compound_shares(const Shares& fused, const PowderPulse& pulse, const JoinModel& join);

} // namespace finch
