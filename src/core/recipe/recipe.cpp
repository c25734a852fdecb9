// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/recipe.h"

#include "document/json_fields.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::array knob_table{
    KnobTraits{Knob::power, "power_percent", "Power", "power", "%", QuantityKind::percent, false, 1},
    KnobTraits{Knob::frequency, "frequency_khz", "Pulse frequency", "frequency", "kHz", QuantityKind::frequency, true,
               0.02},
    KnobTraits{Knob::pulse_width, "pulse_width_ns", "Pulse width", "width", "ns", QuantityKind::duration, true, 0.02},
    KnobTraits{Knob::scan_speed, "scan_speed_mm_s", "Scan speed", "speed", "mm/s", QuantityKind::speed, true, 0.02},
    KnobTraits{Knob::hatch_pitch, "hatch_pitch_mm", "Hatch pitch", "pitch", "mm", QuantityKind::pitch, true, 0.02},
    KnobTraits{Knob::hatch_angle, "hatch_angle_deg", "Hatch angle", "angle", "deg", QuantityKind::angle, false, 1},
    KnobTraits{Knob::turn_per_pass, "turn_per_pass_deg", "Turn per pass", "turn", "deg", QuantityKind::angle, false, 1},
    KnobTraits{Knob::line_shift, "line_shift_percent", "Line shift per pass", "shift", "%", QuantityKind::percent,
               false, 1},
    KnobTraits{Knob::passes, "passes", "Passes", "passes", "", QuantityKind::count, false, 1},
    KnobTraits{Knob::focus_offset, "focus_offset_mm", "Focus offset", "focus", "mm", QuantityKind::length, false, 0.1},
};

Recipe read_recipe(JsonFields f) {
    Recipe r;
    r.name = f.text_or("name", "");
    r.setting.power_percent = f.number("power_percent", 0.001, 100);
    r.setting.frequency = kilohertz(f.number("frequency_khz", 0.01, 10000));
    r.setting.pulse_width = nanoseconds(f.number("pulse_width_ns", 0.001, 10000));
    r.setting.scan_speed = mm_per_second(f.number("scan_speed_mm_s", 0.1, 100000));
    r.setting.hatch_pitch = mm(f.number("hatch_pitch_mm", 1e-5, 10));
    r.setting.hatch_angle_deg = f.number_or("hatch_angle_deg", 0, -360, 360);
    r.setting.passes = f.whole_or("passes", 1, 1, 10000);
    r.setting.focus_offset = mm(f.number_or("focus_offset_mm", 0, -50, 50));
    r.turn_per_pass_deg = f.number_or("turn_per_pass_deg", 0, -360, 360);
    r.cross_hatch = f.flag_or("cross_hatch", false);
    const std::string process = f.text_or("process", "anneal");
    if (const auto known = process_from_key(process))
        r.process = *known;
    else
        f.fault("process", "\"" + process + "\" is no process.", "Write anneal, colour, engrave, strip or the like.");
    r.line_shift_percent = f.number_or("line_shift_percent", 0, 0, 100);
    r.deep.clean_every = f.whole_or("clean_every", 0, 0, 10000);
    r.deep.focus_every = f.whole_or("focus_every", 0, 0, 10000);
    r.deep.focus_step = mm(f.number_or("focus_step_mm", 0, 0, 10));
    r.deep.narrowest = mm(f.number_or("narrowest_mm", 10, 0.01, 1000));
    r.compound = f.text_or("compound", "");
    r.coats = f.number_or("coats", 2, 0.25, 8);
    f.nothing_else();
    return r;
}

} // namespace

Setting burned_setting(const Recipe& recipe) {
    Setting s = recipe.setting;
    s.passes *= recipe.cross_hatch ? 2 : 1;
    return s;
}

const KnobTraits& traits(Knob knob) {
    return knob_table.at(static_cast<std::size_t>(knob));
}

Expected<Knob> knob_from_key(std::string_view key) {
    for (const KnobTraits& t : knob_table)
        if (t.key == key)
            return t.knob;
    std::vector<std::string_view> keys;
    for (const KnobTraits& t : knob_table)
        keys.push_back(t.key);
    return failure("recipe.unknown_knob", fmt::format("\"{}\" is no knob.", key),
                   fmt::format("Use one of: {}.", fmt::join(keys, ", ")));
}

double knob_value(const Recipe& r, Knob knob) {
    switch (knob) {
    case Knob::power:
        return r.setting.power_percent;
    case Knob::frequency:
        return in_kilohertz(r.setting.frequency);
    case Knob::pulse_width:
        return in_nanoseconds(r.setting.pulse_width);
    case Knob::scan_speed:
        return in_mm_per_second(r.setting.scan_speed);
    case Knob::hatch_pitch:
        return in_mm(r.setting.hatch_pitch);
    case Knob::hatch_angle:
        return r.setting.hatch_angle_deg;
    case Knob::turn_per_pass:
        return r.turn_per_pass_deg;
    case Knob::line_shift:
        return r.line_shift_percent;
    case Knob::passes:
        return r.setting.passes;
    case Knob::focus_offset:
        return in_mm(r.setting.focus_offset);
    }
    return 0;
}

Recipe with_knob(Recipe r, Knob knob, double value) {
    switch (knob) {
    case Knob::power:
        r.setting.power_percent = value;
        break;
    case Knob::frequency:
        r.setting.frequency = kilohertz(value);
        break;
    case Knob::pulse_width:
        r.setting.pulse_width = nanoseconds(value);
        break;
    case Knob::scan_speed:
        r.setting.scan_speed = mm_per_second(value);
        break;
    case Knob::hatch_pitch:
        r.setting.hatch_pitch = mm(value);
        break;
    case Knob::hatch_angle:
        r.setting.hatch_angle_deg = value;
        break;
    case Knob::turn_per_pass:
        r.turn_per_pass_deg = value;
        break;
    case Knob::line_shift:
        r.line_shift_percent = value;
        break;
    case Knob::passes:
        r.setting.passes = static_cast<int>(std::lround(std::clamp(value, 1.0, 10000.0)));
        break;
    case Knob::focus_offset:
        r.setting.focus_offset = mm(value);
        break;
    }
    return r;
}

KnobLimits knob_limits(const Bench& bench, Knob knob) {
    const Source& s = bench.source;
    switch (knob) {
    case Knob::power:
        return {1, 100};
    case Knob::frequency:
        return {in_kilohertz(s.frequency_min), in_kilohertz(s.frequency_max)};
    case Knob::pulse_width:
        return {in_nanoseconds(s.pulse_width_min), in_nanoseconds(s.pulse_width_max)};
    case Knob::scan_speed:
        return {1, in_mm_per_second(bench.scanner.speed_max)};
    case Knob::hatch_pitch:
        return {0.0001, 1};
    case Knob::hatch_angle:
    case Knob::turn_per_pass:
        return {0, 180};
    case Knob::line_shift:
        return {0, 100};
    case Knob::passes:
        return {1, 10000};
    case Knob::focus_offset: {
        // Beyond six Rayleigh lengths the spot is six times as wide and nothing here marks any more.
        const double reach = std::min(50.0, 6 * in_mm(waist(bench.lens(), s.wavelength).rayleigh));
        return {-reach, reach};
    }
    }
    return {};
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

Expected<Recipe> recipe_from_json(const nlohmann::json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-recipe", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    Recipe recipe = read_recipe(JsonFields(document, "", faults));
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return recipe;
}

Expected<Recipe> recipe_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    return document ? recipe_from_json(*document, file) : tl::unexpected(document.error());
}

nlohmann::json to_json(const Recipe& r) {
    nlohmann::json out{{"format", "finch-recipe"}, {"version", 1}, {"name", r.name}, {"cross_hatch", r.cross_hatch}};
    for (const KnobTraits& t : knob_table)
        out[std::string(t.key)] = tidy(knob_value(r, t.knob));
    out["passes"] = r.setting.passes;
    out["process"] = traits(r.process).key;
    if (r.deep != DeepSteps{}) {
        out["clean_every"] = r.deep.clean_every;
        out["focus_every"] = r.deep.focus_every;
        out["focus_step_mm"] = tidy(in_mm(r.deep.focus_step));
        out["narrowest_mm"] = tidy(in_mm(r.deep.narrowest));
    }
    if (!r.compound.empty()) {
        out["compound"] = r.compound;
        out["coats"] = r.coats;
    }
    return out;
}

Expected<Fill> fill_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    if (!document)
        return tl::unexpected(document.error());
    if (const auto version = check_format(*document, "finch-fill", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(*document, "", faults);
    const Fill fill{mm(f.number("line_length_mm", 0.1, 1000)), f.number("area_mm2", 0.01, 1e6)};
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return fill;
}

} // namespace finch
