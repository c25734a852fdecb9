// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/lens.h"
#include "quantity/error.h"

#include <optional>
#include <string_view>

namespace finch {

/// What a metal gives way to. Values of a table in data/materials, each with its uncertainty.
struct RemovalConstants {
    double threshold_j_cm2 = 0; ///< single-pulse ablation threshold at 100 ns
    double incubation = 1;      ///< exponent S of threshold ~ pulses^(S-1)
    double penetration_um = 0;  ///< net depth per pulse and unit of ln(fluence / threshold) at 100 ns
    double melt_gain = 0;       ///< most that melt expulsion adds to it
    double conductivity_w_mk = 0, diffusivity_mm2_s = 0, heat_capacity_j_mm3k = 0;
    double melting_rise_k = 0; ///< above room temperature
    double expansion_1e6_k = 0;
    double heat_share = 0;      ///< of the average power, that stays in the part
    double dark_from_j_mm2 = 0; ///< areal energy from which a removed floor looks dark
    double tint_rise_k = 0;     ///< rise of the moving spot that tints the metal
    double depth_spread = 1.5;  ///< factor either way without calibration
    bool operator==(const RemovalConstants&) const = default;
};

/// Constants of removal that belong to the process rather than to one metal.
struct RemovalModel {
    double incubation_cap = 500;
    double melt_width_ns = 60, melt_fluence = 12, melt_spot_um = 40;
    double shielding_j_cm2 = 60;
    double debris_floor = 0.62, debris_depth_um = 80, cleaning_residue = 0.2;
    double aspect = 0.35, taper_floor_deg = 5;
    double emerge_um = 45;
    double mark_ratio = 0.70; ///< visible-mark threshold over ablation threshold
    bool operator==(const RemovalModel&) const = default;
};

/// Pulses as the source delivers them.
struct PulseTrain {
    Energy energy = millijoules(0.5);
    Frequency frequency = kilohertz(50);
    Time width = nanoseconds(100);
    [[nodiscard]] Power average_power() const { return energy * frequency; }
};

/// How the lines are laid.
struct Raster {
    Speed speed = mm_per_second(500);
    Length pitch = mm(0.03);
};

/// Crater of one pulse.
struct Crater {
    double fluence_j_cm2 = 0;          ///< peak, Gaussian
    double shielded_fluence_j_cm2 = 0; ///< what the plasma lets through
    double threshold_j_cm2 = 0;        ///< incubated
    double log_ratio = 0;              ///< ln(shielded / threshold), 0 = no crater
    double gain = 1;                   ///< by melt expulsion
    double depth_um = 0, diameter_um = 0, volume_um3 = 0;
    bool operator==(const Crater&) const = default;
};

/// Look of a fresh pass, by class.
enum class FloorLook { untouched, tinted_or_molten, dark, polished, frosted, lightly_cleaned };
[[nodiscard]] std::string_view word(FloorLook look);

/// One pass of a hatch over a fresh, clean surface.
struct PassOutcome {
    double pulses_per_mm2 = 0, pulses_per_crater = 1;
    Crater crater;
    double depth_um = 0;
    double rate_mm3_min = 0, rate_per_watt = 0; ///< laser on; per emitted watt
    double energy_per_volume_j_mm3 = 0;         ///< infinite when nothing is removed
    double areal_energy_j_mm2 = 0;
    double pulse_overlap = 0, line_overlap = 0; ///< of craters; of spots where there are none
    FloorLook look = FloorLook::untouched;
    bool operator==(const PassOutcome&) const = default;
};

/// Peak fluence of a Gaussian pulse, J/cm2 (Liu 1982). Spot is 1/e2.
[[nodiscard]] double peak_fluence_j_cm2(Energy energy, Length spot);

/// Threshold after `pulses` on one spot, J/cm2 (Jee, Becker, Walser 1988).
[[nodiscard]] double incubated_threshold(double single_pulse_j_cm2, double exponent, double pulses,
                                         const RemovalModel& model);

/// What one pulse brings to a spot, before any threshold is asked.
struct PulseOnSpot {
    double spot_um = 0;
    double fluence_j_cm2 = 0, shielded_fluence_j_cm2 = 0;
    double single_threshold_j_cm2 = 0; ///< of a cold, standard surface
    double depth_per_log_um = 0;       ///< without melt expulsion
    double melt_gain = 0;              ///< most that melt expulsion adds here
};
[[nodiscard]] PulseOnSpot pulse_on_spot(const RemovalConstants& metal, const RemovalModel& model,
                                        const PulseTrain& train, Length spot);
/// Its crater over a single-pulse threshold (J/cm2) on a spot that has seen `pulses`.
[[nodiscard]] Crater crater_over(const PulseOnSpot& pulse, const RemovalConstants& metal, const RemovalModel& model,
                                 double single_threshold_j_cm2, double pulses);

/// Crater of one pulse on a spot that has seen `pulses` (>= 1). Energy and spot are positive.
[[nodiscard]] Crater crater(const RemovalConstants& metal, const RemovalModel& model, const PulseTrain& train,
                            Length spot, double pulses = 1);

/// One pass with self-consistent incubation. `calibration` is measured over predicted depth, 0.05 to 20.
[[nodiscard]] PassOutcome one_pass(const RemovalConstants& metal, const RemovalModel& model, const PulseTrain& train,
                                   const BeamWaist& beam, const Raster& raster, Length focus_offset = mm(0),
                                   double calibration = 1);

/// Which value lies outside the range of the removal model: 0.1 to 500 W, 1 to 4000 kHz, 4 to 500 ns, positive energy
/// limit, speed and pitch. Errors: removal.power, removal.frequency, removal.pulse_width, removal.energy_limit,
/// removal.raster, removal.calibration.
[[nodiscard]] std::optional<Error> removal_fault(double power_w, const PulseTrain& train, double energy_limit_mj,
                                                 const Raster& raster, double calibration = 1);

/// Frequency of the highest removal rate at fixed average power and pulse width. The maximum is flat: 20 % either way
/// costs under 2 %.
struct BestFrequency {
    double frequency_khz = 0, rate_mm3_min = 0;
};
[[nodiscard]] BestFrequency best_frequency(const RemovalConstants& metal, const RemovalModel& model, Power power,
                                           Time width, Energy energy_limit, const BeamWaist& beam, const Raster& raster,
                                           double low_khz = 5, double high_khz = 1000);

} // namespace finch
