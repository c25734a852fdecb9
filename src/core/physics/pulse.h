// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/lens.h"
#include "bench/setting.h"
#include "bench/source.h"
#include "quantity/units.h"

namespace finch {

/// What the source delivers. SI units.
struct PulseOutput {
    double pulse_width_s = 0, frequency_hz = 0, frequency_min_hz = 0;
    double derating = 1; ///< share of the set power left below the lowest full-power frequency
    double average_power_w = 0, pulse_energy_j = 0, peak_power_w = 0;
    bool operator==(const PulseOutput&) const = default;
};

/// Largest pulse energy at a pulse width: the cap of a fixed source; else the table (log-log, constant beyond its ends)
/// or the smaller of the cap and peak power times width.
[[nodiscard]] Energy pulse_energy_limit(const Source& source, Time pulse_width);

/// Power, energy and peak with derating below rated power / largest pulse energy.
[[nodiscard]] PulseOutput pulse_output(const Source& source, const Setting& setting);

/// Where the pulses land. SI units unless the name says otherwise.
struct Pattern {
    double spot_m = 0, spot_radius_m = 0, spot_at_focus_m = 0, rayleigh_m = 0;
    double peak_fluence_j_m2 = 0;
    double pulse_pitch_m = 0, pulse_overlap = 0, line_overlap = 0;
    double pulses_per_m2 = 0, pulses_per_spot = 0;
    double areal_dose_j_m2 = 0;
    double line_ripple = 0; ///< first harmonic of the growth across the lines
    double line_m = 0;      ///< mean length of a line
    double lines = 1;       ///< whole; more than an integer holds when the pitch is absurd
    double pass_s = 0, time_s = 0;
    bool operator==(const Pattern&) const = default;
};

/// Spot, overlaps, pulses per area, dose and time. `turn_s` is the scanner's turn-round per line.
[[nodiscard]] Pattern pattern(const PulseOutput& pulse, const Source& source, const Lens& lens, const Setting& setting,
                              const Fill& fill, double turn_s);

} // namespace finch
