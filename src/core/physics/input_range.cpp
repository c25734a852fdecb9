// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/anneal.h"

#include <cmath>
#include <initializer_list>

namespace finch {
namespace {

bool all_finite(std::initializer_list<double> values) {
    for (const double v : values)
        if (!std::isfinite(v))
            return false;
    return true;
}

bool within(double v, double low, double high) {
    // A hair of slack: 1000 kHz written as hertz and read back must still be 1000 kHz.
    const double slack = 1e-12 * std::max(std::abs(low), std::abs(high));
    return v >= low - slack && v <= high + slack;
}

bool good_source(const Source& s) {
    if (!within(in_watts(s.rated_power), 1, 500) || !within(in_millijoules(s.largest_pulse), 0.005, 20))
        return false;
    if (s.kind == SourceKind::variable_pulse_width && !within(in_kilowatts(s.peak_power_limit), 0.1, 1000))
        return false;
    for (std::size_t i = 0; i < s.energy_limits.size(); ++i) {
        if (!(in_seconds(s.energy_limits[i].pulse_width) > 0 && in_joules(s.energy_limits[i].energy) > 0))
            return false;
        if (i > 0 && s.energy_limits[i].pulse_width <= s.energy_limits[i - 1].pulse_width)
            return false;
    }
    return true;
}

std::optional<InputFault> setting_fault(const Source& source, const Setting& s) {
    if (!(s.power_percent > 0 && s.power_percent <= 100))
        return InputFault::power;
    if (!within(in_kilohertz(s.frequency), 1, in_kilohertz(source.frequency_max)))
        return InputFault::frequency;
    const Time width = delivered_pulse_width(source, s.pulse_width);
    if (!within(in_nanoseconds(width), 1, 1000))
        return InputFault::pulse_width;
    if (source.pulsed() && !(in_seconds(width) * in_hertz(s.frequency) <= 0.5))
        return InputFault::duty;
    if (!within(in_mm_per_second(s.scan_speed), 1, 20000))
        return InputFault::speed;
    if (!within(in_mm(s.hatch_pitch), 1e-4, 1.0))
        return InputFault::hatch;
    if (s.passes < 1 || s.passes > 10000)
        return InputFault::passes;
    if (!within(in_mm(s.focus_offset), -50, 50))
        return InputFault::focus;
    return std::nullopt;
}

} // namespace

std::optional<InputFault> input_fault(const Source& source, const Lens& lens, const Setting& s, const Workpiece& part,
                                      const Fill& fill) {
    const double m2 = effective_m2(lens, source.wavelength);
    if (!all_finite({source.rated_power.value(),
                     source.largest_pulse.value(),
                     source.frequency_max.value(),
                     source.peak_power_limit.value(),
                     lens.focal_length.value(),
                     lens.beam_at_lens.value(),
                     m2,
                     source.wavelength.value(),
                     s.power_percent,
                     s.frequency.value(),
                     s.pulse_width.value(),
                     s.scan_speed.value(),
                     s.hatch_pitch.value(),
                     s.hatch_angle_deg,
                     s.focus_offset.value(),
                     part.thickness.value(),
                     fill.line_length.value(),
                     fill.area_mm2,
                     part.start_temperature_c,
                     part.growth_gain}))
        return InputFault::not_finite;
    if (!good_source(source))
        return InputFault::source;
    const bool wavelength_known = source.pulsed() ? within(in_nanometres(source.wavelength), 900, 1200)
                                                  : within(in_nanometres(source.wavelength), 200, 11000);
    if (!within(in_mm(lens.focal_length), 20, 1000) || !within(in_mm(lens.beam_at_lens), 1, 40) || !within(m2, 1, 10) ||
        !wavelength_known)
        return InputFault::optics;
    if (const auto fault = setting_fault(source, s))
        return fault;
    if (!within(in_mm(part.thickness), 0.02, 100))
        return InputFault::thickness;
    if (!within(in_mm(fill.line_length), 0.1, 1000) || !within(fill.area_mm2, 0.01, 1e6))
        return InputFault::area;
    if (!within(part.start_temperature_c, -50, 500))
        return InputFault::start_temperature;
    if (!within(part.growth_gain, 0.05, 20))
        return InputFault::gain;
    return std::nullopt;
}

Error input_error(InputFault fault) {
    const auto say = [](const char* code, const char* what, const char* fix) {
        return Error{std::string("physics.") + code, what, fix, {}};
    };
    switch (fault) {
    case InputFault::not_finite:
        return say("not_finite", "A value is not a finite number.", "Check every field.");
    case InputFault::source:
        return say(
            "source", "The source is outside the model's range.",
            "Rated power 1 to 500 W, largest pulse 0.005 to 20 mJ, peak power 0.1 to 1000 kW, rising energy table.");
    case InputFault::material:
        return say("material", "The metal, finish or coating is not known.", "Choose them from the lists.");
    case InputFault::optics:
        return say("optics", "The lens is outside the model's range.",
                   "Focal length 20 to 1000 mm, beam 1 to 40 mm, beam quality 1 to 10, wavelength 900 to 1200 nm.");
    case InputFault::power:
        return say("power", "The power must be above 0 and up to 100 %.", "Set 1 to 100 %.");
    case InputFault::frequency:
        return say("frequency", "The pulse frequency is outside the source's range.",
                   "Stay between 1 kHz and its maximum.");
    case InputFault::pulse_width:
        return say("pulse_width", "The pulse width is outside 1 to 1000 ns.", "Set 1 to 1000 ns.");
    case InputFault::duty:
        return say("duty", "The pulses would be on for more than half of the time.",
                   "Lower the frequency or the pulse width.");
    case InputFault::speed:
        return say("speed", "The scan speed is outside 1 to 20000 mm/s.", "Set 1 to 20000 mm/s.");
    case InputFault::hatch:
        return say("hatch", "The hatch pitch is outside 0.0001 to 1 mm.", "Set 0.0001 to 1 mm.");
    case InputFault::passes:
        return say("passes", "The passes are outside 1 to 10000.", "Set a whole number of passes.");
    case InputFault::focus:
        return say("focus", "The focus offset is outside -50 to 50 mm.", "Set -50 to 50 mm.");
    case InputFault::thickness:
        return say("thickness", "The stock thickness is outside 0.02 to 100 mm.", "Set 0.02 to 100 mm.");
    case InputFault::area:
        return say("area", "The filled area is outside the model's range.",
                   "Side 0.1 to 1000 mm, area 0.01 to 1000000 mm2.");
    case InputFault::start_temperature:
        return say("start_temperature", "The start temperature is outside -50 to 500 degC.", "Set -50 to 500 degC.");
    case InputFault::gain:
        return say("gain", "The growth factor is outside 0.05 to 20.", "Set 0.05 to 20.");
    case InputFault::angle:
        return say("angle", "A viewing angle is outside 0 to 80 degrees.", "Set 0 to 80 degrees.");
    }
    return {};
}

} // namespace finch
