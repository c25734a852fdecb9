// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/strike.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch::standin {
namespace {

/// The most energy that the source gives to one pulse of a width.
double most_energy(const Source& source, double pulse_s) {
    if (source.kind == SourceKind::fixed_pulse_width)
        return in_joules(source.largest_pulse);
    double by_table = in_joules(source.largest_pulse);
    if (source.energy_limits.empty())
        return std::min(by_table, source.peak_power_limit.value() * pulse_s);
    // The table is read from the next longer pulse down, in proportion: a source that saves on short pulses.
    for (const EnergyLimit& row : source.energy_limits)
        if (pulse_s <= in_seconds(row.pulse_width))
            return in_joules(row.energy) * std::pow(pulse_s / in_seconds(row.pulse_width), 0.5);
        else
            by_table = in_joules(row.energy);
    return by_table;
}

} // namespace

double Strike::landing(double along, double across) const {
    const double u = 2 * (along * along / (along_m * along_m) + across * across / (across_m * across_m));
    const double whole =
        0.5 * std::numbers::pi * along_m * across_m * (std::tgamma(1 + 1 / edge) + ring * std::tgamma(2 / edge) / edge);
    return std::exp(-std::pow(u, edge)) * (1 + ring * u) / whole;
}

double Strike::heat_radius_m() const {
    const double zeroth = std::tgamma(1 / edge) + ring * std::tgamma(2 / edge);
    const double second = std::tgamma(2 / edge) + ring * std::tgamma(3 / edge);
    return std::sqrt(0.5 * along_m * across_m * second / zeroth);
}

Strike strike(const World& w, const Setup& setup, const Recipe& recipe, const RectMm& area, const Moment& moment) {
    const Source& source = setup.bench.source;
    const Lens& lens = setup.bench.lens();
    const Setting s = burned_setting(recipe);
    Strike out;
    out.pulsed = source.pulsed();
    out.frequency_hz = in_hertz(s.frequency);
    out.pulse_s = in_seconds(source.kind == SourceKind::variable_pulse_width ? s.pulse_width : source.pulse_width_min);
    const double field = 0.5 * in_mm(lens.field);
    const double out_there = (moment.x_mm * moment.x_mm + moment.y_mm * moment.y_mm) / (field * field);
    const double rated = in_watts(source.rated_power);
    double power = rated * s.power_percent / 100;
    if (out.pulsed)
        power = std::min(power, most_energy(source, out.pulse_s) * out.frequency_hz * s.power_percent / 100);
    const double load = power / rated;
    power *= w.power * (1 - w.ageing) * (1 - w.field_power * out_there) *
             (1 - w.warm_up * std::exp(-moment.clock_s / w.warm_up_s));
    out.power_w = power;
    out.energy_j = power / out.frequency_hz;

    const double lambda = in_metres(source.wavelength),
                 reach = in_metres(lens.focal_length) / in_metres(lens.beam_at_lens);
    double waist = lens.measured_spot ? 0.5 * in_metres(*lens.measured_spot)
                                      : 2 * lens.beam_quality_m2 * lambda * reach / std::numbers::pi;
    const double rayleigh = 2 * waist * reach; // of this waist through this lens
    waist *= w.spot * (1 + w.quality_rise * load);
    // The gauge is off by as much each time; who found the focus by a ladder knows by how much.
    const double found = setup.focus.confirmed ? in_mm(setup.focus.confirmed->from_gauge) : 0;
    const double z = in_mm(s.focus_offset) + found + w.focus_mm + w.field_focus_mm * out_there +
                     (w.tilt_x_mm * moment.x_mm + w.tilt_y_mm * moment.y_mm) / (2 * field);
    const auto wide = [&](double offset_mm) { return waist * std::hypot(1.0, offset_mm * 1e-3 / rayleigh); };
    const double turn = s.hatch_angle_deg * std::numbers::pi / 180;
    const double one = wide(z + 0.5 * w.astigmatism_mm) * w.ellipse, two = wide(z - 0.5 * w.astigmatism_mm) / w.ellipse;
    out.along_m = std::hypot(one * std::cos(turn), two * std::sin(turn));
    out.across_m = std::hypot(one * std::sin(turn), two * std::cos(turn));
    out.edge = w.edge;
    out.ring = w.ring;

    out.speed_m_s = s.scan_speed.value();
    out.pitch_m = in_metres(s.hatch_pitch);
    const double c = std::abs(std::cos(turn)), si = std::abs(std::sin(turn));
    const double across = (area.w * si + area.h * c) * 1e-3;
    out.line_m = area.w * area.h * 1e-6 / across;
    out.lines = std::max(1.0, std::floor(across / out.pitch_m + 0.5));
    out.passes = s.passes;
    out.start_k = setup.stock.start_temperature_c + 273.15 + moment.warm_k;
    return out;
}

} // namespace finch::standin
