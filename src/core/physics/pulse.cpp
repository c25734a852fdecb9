// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/pulse.h"

#include "quantity/angles.h"
#include <algorithm>
#include <cmath>

namespace finch {
namespace {

double table_energy(const std::vector<EnergyLimit>& table, double width_s) {
    const auto log_width = [](const EnergyLimit& e) { return std::log(in_seconds(e.pulse_width)); };
    const double at = std::log(width_s);
    if (at <= log_width(table.front()))
        return in_joules(table.front().energy);
    for (std::size_t i = 1; i < table.size(); ++i) {
        const double right = log_width(table[i]);
        if (at > right)
            continue;
        const double left = log_width(table[i - 1]);
        const double low = std::log(in_joules(table[i - 1].energy));
        const double high = std::log(in_joules(table[i].energy));
        return std::exp(low + (at - left) / (right - left) * (high - low));
    }
    return in_joules(table.back().energy);
}

} // namespace

Energy pulse_energy_limit(const Source& source, Time pulse_width) {
    if (source.kind != SourceKind::variable_pulse_width)
        return source.largest_pulse;
    if (!source.energy_limits.empty())
        return Energy::from_value(table_energy(source.energy_limits, in_seconds(pulse_width)));
    return std::min(source.largest_pulse, Energy(source.peak_power_limit * pulse_width));
}

PulseOutput pulse_output(const Source& source, const Setting& setting) {
    PulseOutput out;
    const Time width = delivered_pulse_width(source, setting.pulse_width);
    out.pulse_width_s = in_seconds(width);
    out.frequency_hz = in_hertz(setting.frequency);
    out.frequency_min_hz = in_watts(source.rated_power) / in_joules(pulse_energy_limit(source, width));
    if (!source.pulsed())
        out.frequency_min_hz = 0;
    out.derating = source.pulsed() ? std::min(1.0, out.frequency_hz / out.frequency_min_hz) : 1.0;
    out.average_power_w = in_watts(source.rated_power) * setting.power_percent / 100 * out.derating;
    out.pulse_energy_j = out.average_power_w / out.frequency_hz;
    // A fixed source gives a Gaussian-like pulse, a variable one a flat top.
    const double shape = source.kind == SourceKind::fixed_pulse_width ? 0.94 : 1.0;
    out.peak_power_w = source.pulsed() ? shape * out.pulse_energy_j / out.pulse_width_s : out.average_power_w;
    return out;
}

Pattern pattern(const PulseOutput& pulse, const Source& source, const Lens& lens, const Setting& setting,
                const Fill& fill, double turn_s) {
    Pattern p;
    const BeamWaist beam = waist(lens, source.wavelength);
    p.spot_at_focus_m = in_metres(beam.spot);
    p.rayleigh_m = in_metres(beam.rayleigh);
    p.spot_m = in_metres(spot_at(beam, setting.focus_offset));
    const double w = p.spot_radius_m = p.spot_m / 2;
    const double v = setting.scan_speed.value();
    const double pitch = in_metres(setting.hatch_pitch);
    p.peak_fluence_j_m2 = 2 * pulse.pulse_energy_j / (pi * w * w);
    p.pulse_pitch_m = v / pulse.frequency_hz;
    p.pulse_overlap = 1 - p.pulse_pitch_m / p.spot_m;
    p.line_overlap = 1 - pitch / p.spot_m;
    p.pulses_per_m2 = pulse.frequency_hz / (v * pitch) * setting.passes;
    p.pulses_per_spot = p.pulses_per_m2 * pi * w * w;
    p.areal_dose_j_m2 = p.pulses_per_m2 * pulse.pulse_energy_j;
    const double s = pi * w / (2 * std::max(pitch, p.pulse_pitch_m));
    p.line_ripple = 2 * std::exp(-s * s);
    const double angle = setting.hatch_angle_deg * pi / 180;
    const double length_mm = in_mm(fill.line_length);
    const double across =
        (length_mm * std::abs(std::sin(angle)) + fill.area_mm2 / length_mm * std::abs(std::cos(angle))) * 1e-3;
    p.line_m = fill.area_mm2 * 1e-6 / across;
    p.lines = std::max(1.0, std::floor(across / pitch + 0.5));
    p.pass_s = p.lines * (p.line_m / v + turn_s);
    p.time_s = p.pass_s * setting.passes;
    return p;
}

} // namespace finch
