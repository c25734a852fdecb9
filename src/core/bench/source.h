// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/timed_run.h"
#include "quantity/units.h"

#include <string>
#include <vector>

namespace finch {

/// The last two shine on without pulses: a gas laser at 10.6 um, and a blue diode.
enum class SourceKind { fixed_pulse_width, variable_pulse_width, gas, blue_diode };

/// Largest pulse energy that a source delivers at one pulse width.
struct EnergyLimit {
    Time pulse_width;
    Energy energy;
    bool operator==(const EnergyLimit&) const = default;
};

/// A laser source.
struct Source {
    SourceKind kind = SourceKind::variable_pulse_width;
    Power rated_power = watts(20);
    Energy largest_pulse = millijoules(1);
    Power peak_power_limit = kilowatts(12); ///< variable pulse width only: caps the energy of short pulses
    Frequency frequency_min = kilohertz(1);
    Frequency frequency_max = kilohertz(1000);
    Time pulse_width_min = nanoseconds(120);
    Time pulse_width_max = nanoseconds(120); ///< equal to the minimum for a fixed pulse width
    Length wavelength = nanometres(1064);
    std::vector<EnergyLimit> energy_limits; ///< rising pulse width; replaces the peak power rule if present
    double hours_run = 0;

    [[nodiscard]] bool pulsed() const {
        return kind == SourceKind::fixed_pulse_width || kind == SourceKind::variable_pulse_width;
    }
    bool operator==(const Source&) const = default;
};

/// The same source when it emits `factor` times as much at every setting, 100 % included: drift, and what if.
[[nodiscard]] inline Source emitting(Source s, double factor) {
    s.rated_power *= factor;
    s.largest_pulse *= factor;
    s.peak_power_limit *= factor;
    for (EnergyLimit& limit : s.energy_limits)
        limit.energy *= factor;
    return s;
}

/// What moves the beam.
struct Scanner {
    Speed speed_max = mm_per_second(8000);
    std::vector<TimedRun> timed; ///< from which its delays are worked out
    bool operator==(const Scanner&) const = default;
};

/// Pulse width that the source delivers when `wanted` is asked for: its own if it is fixed.
[[nodiscard]] inline Time delivered_pulse_width(const Source& source, Time wanted) {
    return source.kind == SourceKind::variable_pulse_width ? wanted : source.pulse_width_min;
}

} // namespace finch
