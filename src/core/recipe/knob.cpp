// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/recipe.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

KnobTraits power_knob() {
    KnobTraits t{Knob::power, "power_percent", "Power", "power", "P", "%", QuantityKind::percent};
    t.step = 1;
    t.low = 0.001;
    t.high = 100;
    t.more = "{0} % more power";
    t.less = "{0} % less power";
    t.get = [](const Recipe& r) { return r.setting.power_percent; };
    t.set = [](Recipe& r, double v) { r.setting.power_percent = v; };
    t.limits = [](const Bench&) { return KnobLimits{1, 100}; };
    return t;
}

KnobTraits frequency_knob() {
    KnobTraits t{Knob::frequency, "frequency_khz", "Pulse frequency", "frequency", "F", "kHz", QuantityKind::frequency};
    t.by_ratio = true;
    t.low = 0.01;
    t.high = 10000;
    t.more = "{0} % higher pulse frequency";
    t.less = "{0} % lower pulse frequency";
    t.get = [](const Recipe& r) { return in_kilohertz(r.setting.frequency); };
    t.set = [](Recipe& r, double v) { r.setting.frequency = kilohertz(v); };
    t.limits = [](const Bench& b) {
        return KnobLimits{in_kilohertz(b.source.frequency_min), in_kilohertz(b.source.frequency_max)};
    };
    return t;
}

KnobTraits pulse_width_knob() {
    KnobTraits t{Knob::pulse_width, "pulse_width_ns", "Pulse width", "width", "W", "ns", QuantityKind::duration};
    t.by_ratio = true;
    t.low = 0.001;
    t.high = 10000;
    t.more = "pulses {0} % longer";
    t.less = "pulses {0} % shorter";
    t.get = [](const Recipe& r) { return in_nanoseconds(r.setting.pulse_width); };
    t.set = [](Recipe& r, double v) { r.setting.pulse_width = nanoseconds(v); };
    t.limits = [](const Bench& b) {
        return KnobLimits{in_nanoseconds(b.source.pulse_width_min), in_nanoseconds(b.source.pulse_width_max)};
    };
    return t;
}

KnobTraits scan_speed_knob() {
    KnobTraits t{Knob::scan_speed, "scan_speed_mm_s", "Scan speed", "speed", "V", "mm/s", QuantityKind::speed};
    t.by_ratio = true;
    t.low = 0.1;
    t.high = 100000;
    t.more = "{0} % faster";
    t.less = "{0} % slower";
    t.get = [](const Recipe& r) { return in_mm_per_second(r.setting.scan_speed); };
    t.set = [](Recipe& r, double v) { r.setting.scan_speed = mm_per_second(v); };
    t.limits = [](const Bench& b) { return KnobLimits{1, in_mm_per_second(b.scanner.speed_max)}; };
    return t;
}

KnobTraits hatch_pitch_knob() {
    KnobTraits t{Knob::hatch_pitch, "hatch_pitch_mm", "Hatch pitch", "pitch", "H", "mm", QuantityKind::pitch};
    t.by_ratio = true;
    t.screen_unit = "µm";
    t.screen_factor = 1000;
    t.low = 1e-5;
    t.high = 10;
    t.more = "a hatch pitch {0} % coarser";
    t.less = "a hatch pitch {0} % finer";
    t.get = [](const Recipe& r) { return in_mm(r.setting.hatch_pitch); };
    t.set = [](Recipe& r, double v) { r.setting.hatch_pitch = mm(v); };
    t.limits = [](const Bench&) { return KnobLimits{0.0001, 1}; };
    return t;
}

KnobTraits angle_knob(Knob knob, const char* key, const char* label, const char* brief, const char* stroke) {
    KnobTraits t{knob, key, label, brief, stroke, "deg", QuantityKind::angle};
    t.positive = false;
    t.periodic = true;
    t.on_axes = false;
    t.screen_unit = "°";
    t.step = 1;
    t.probe = 5;
    t.low = -360;
    t.high = 360;
    t.usual = 0;
    t.limits = [](const Bench&) { return KnobLimits{0, 180}; };
    return t;
}

KnobTraits hatch_angle_knob() {
    KnobTraits t = angle_knob(Knob::hatch_angle, "hatch_angle_deg", "Hatch angle", "angle", "ANG");
    t.get = [](const Recipe& r) { return r.setting.hatch_angle_deg; };
    t.set = [](Recipe& r, double v) { r.setting.hatch_angle_deg = v; };
    return t;
}

KnobTraits turn_per_pass_knob() {
    KnobTraits t = angle_knob(Knob::turn_per_pass, "turn_per_pass_deg", "Turn per pass", "turn", "TURN");
    t.get = [](const Recipe& r) { return r.turn_per_pass_deg; };
    t.set = [](Recipe& r, double v) { r.turn_per_pass_deg = v; };
    return t;
}

KnobTraits line_shift_knob() {
    KnobTraits t{Knob::line_shift,     "line_shift_percent", "Line shift per pass", "shift", "SHIFT", "%",
                 QuantityKind::percent};
    t.positive = false;
    t.on_axes = false;
    t.label_if_zero = false;
    t.step = 1;
    t.probe = 5;
    t.low = 0;
    t.high = 100;
    t.usual = 0;
    t.get = [](const Recipe& r) { return r.line_shift_percent; };
    t.set = [](Recipe& r, double v) { r.line_shift_percent = v; };
    t.limits = [](const Bench&) { return KnobLimits{0, 100}; };
    return t;
}

KnobTraits passes_knob() {
    KnobTraits t{Knob::passes, "passes", "Passes", "passes", "N", "", QuantityKind::count};
    t.whole = true;
    t.step = 1;
    t.probe = 1;
    t.low = 1;
    t.high = most_passes;
    t.usual = 1;
    t.more = t.less = "{2} instead of {1} passes";
    t.get = [](const Recipe& r) { return static_cast<double>(r.setting.passes); };
    t.set = [](Recipe& r, double v) {
        r.setting.passes = static_cast<int>(std::lround(std::clamp(v, 1.0, static_cast<double>(most_passes))));
    };
    t.limits = [](const Bench&) { return KnobLimits{1, most_passes}; };
    return t;
}

KnobTraits focus_offset_knob() {
    KnobTraits t{Knob::focus_offset, "focus_offset_mm", "Focus offset", "focus", "Z", "mm", QuantityKind::length};
    t.positive = false;
    t.step = 0.1;
    t.probe = 0.3;
    t.low = -50;
    t.high = 50;
    t.usual = 0;
    t.more = t.less = "focus offset {2} mm";
    t.get = [](const Recipe& r) { return in_mm(r.setting.focus_offset); };
    t.set = [](Recipe& r, double v) { r.setting.focus_offset = mm(v); };
    t.limits = [](const Bench& b) {
        // Beyond six Rayleigh lengths the spot is six times as wide and nothing here marks any more.
        const double reach = std::min(50.0, 6 * in_mm(waist(b.lens(), b.source.wavelength).rayleigh));
        return KnobLimits{-reach, reach};
    };
    return t;
}

const std::array<KnobTraits, all_knobs.size()>& knob_table() {
    static const std::array<KnobTraits, all_knobs.size()> table = [] {
        std::array all{power_knob(),       frequency_knob(),   pulse_width_knob(),   scan_speed_knob(),
                       hatch_pitch_knob(), hatch_angle_knob(), turn_per_pass_knob(), line_shift_knob(),
                       passes_knob(),      focus_offset_knob()};
        for (KnobTraits& t : all)
            if (t.screen_unit.empty())
                t.screen_unit = t.unit;
        return all;
    }();
    return table;
}

} // namespace

const KnobTraits& traits(Knob knob) {
    return knob_table().at(static_cast<std::size_t>(knob));
}

const std::vector<Knob>& axis_knobs() {
    static const std::vector<Knob> knobs = [] {
        std::vector<Knob> out;
        for (const KnobTraits& t : knob_table())
            if (t.on_axes)
                out.push_back(t.knob);
        return out;
    }();
    return knobs;
}

Expected<Knob> knob_from_key(std::string_view key) {
    std::vector<std::string_view> keys;
    for (const KnobTraits& t : knob_table()) {
        if (t.key == key)
            return t.knob;
        keys.push_back(t.key);
    }
    return failure("recipe.unknown_knob", fmt::format("\"{}\" is no knob.", key),
                   fmt::format("Use one of: {}.", fmt::join(keys, ", ")));
}

double knob_value(const Recipe& recipe, Knob knob) {
    return traits(knob).get(recipe);
}

Recipe with_knob(Recipe recipe, Knob knob, double value) {
    traits(knob).set(recipe, value);
    return recipe;
}

KnobLimits knob_limits(const Bench& bench, Knob knob) {
    return traits(knob).limits(bench);
}

double knob_step(Knob knob, double value) {
    const KnobTraits& t = traits(knob);
    if (!t.by_ratio)
        return t.step;
    // The nearest 1, 2 or 5 times a power of ten at about the given share of the value.
    const double wish = std::max(std::abs(value) * t.step, 1e-6);
    const double decade = std::pow(10, std::floor(std::log10(wish)));
    const double lead = wish / decade;
    return decade * (lead < 1.5 ? 1 : lead < 3.5 ? 2 : lead < 7.5 ? 5 : 10);
}

} // namespace finch
