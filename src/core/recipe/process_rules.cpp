// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/process_rules.h"

#include "recipe/plan_goals.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

constexpr bool any_width = false, own_width = true;

/// Colour is searched at the usual speed and a pitch that leaves no lines.
void start_colour(const Scene& s, Recipe& r) {
    r.setting.scan_speed = mm_per_second(std::min(1000.0, in_mm_per_second(s.bench.scanner.speed_max)));
    r.setting.hatch_pitch = 0.08 * waist(s.bench.lens(), s.bench.source.wavelength).spot;
}

/// Average heat fuses the film: the softest pulses, so that none blows it off.
void start_compound(const Scene& s, Recipe& r) {
    r.coats = 2;
    if (!s.bench.source.pulsed())
        return;
    r.setting.pulse_width = s.bench.source.pulse_width_max;
    // At the highest frequency whose pulses are off for most of the time.
    const KnobLimits f = knob_limits(s.bench, Knob::frequency);
    r.setting.frequency = kilohertz(std::clamp(0.4e6 / in_nanoseconds(r.setting.pulse_width), f.low, f.high));
}

ProcessRules anneal_rules() {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = Process::anneal;
    p.hue_repeats = true;
    p.schools = {{School::in_focus,
                  "In focus",
                  any_width,
                  {{power, 5, 100, {0.5, 0.9}},
                   {frequency, 80, 900, {0.3, 0.7}},
                   {pulse_width, 60, 350, {0.7}},
                   {hatch_pitch, 0.03, 0.3, {0.5}, spot},
                   {scan_speed, 10, 4000, {0.25, 0.4, 0.55, 0.7, 0.85}}},
                  {}},
                 {School::out_of_focus,
                  "Out of focus",
                  any_width,
                  {{power, 40, 100, {0.5, 0.9}},
                   {frequency, 30, 300, {0.3, 0.7}},
                   {pulse_width, 60, 350, {0.7}},
                   {hatch_pitch, 0.15, 0.5, {0.5}, spot},
                   {focus_offset, 1.1, 3.5, {0.4}, rayleigh_length, false},
                   {scan_speed, 10, 4000, {0.25, 0.4, 0.55, 0.7, 0.85}}},
                  {scan_speed, focus_offset}}};
    p.miss = anneal_miss;
    return p;
}

ProcessRules colour_rules() {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = Process::colour;
    p.hue_repeats = true;
    p.start = start_colour;
    p.schools = {{School::speed_by_pitch,
                  "Speed by pitch",
                  any_width,
                  {{power, 5, 100, {0.35, 0.6}},
                   {frequency, 80, 900, {0.35, 0.75}},
                   {pulse_width, 20, 250, {0.4}},
                   {hatch_pitch, 0.03, 0.3, {0.5}, spot},
                   {scan_speed, 60, 6000, {0.2, 0.35, 0.5, 0.65, 0.8}}},
                  {}},
                 {School::width_by_power,
                  "Width by power",
                  own_width,
                  {{power, 5, 100, {0.2, 0.4, 0.6, 0.8}},
                   {frequency, 80, 900, {0.35, 0.75}},
                   {pulse_width, 4, 350, {0.2, 0.5, 0.8}}},
                  {pulse_width, power}}};
    p.miss = colour_miss;
    return p;
}

ProcessRules bright_rules() {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = Process::bright;
    p.schools = {{School::single,
                  {},
                  any_width,
                  {{power, 3, 100, {0.3, 0.6, 0.9}},
                   {frequency, 100, 1000, {0.3, 0.7}},
                   {pulse_width, 8, 60, {0.3, 0.7}},
                   {hatch_pitch, 0.03, 0.3, {0.4, 0.8}, spot},
                   {scan_speed, 300, 7000, {0.3, 0.55, 0.8}}},
                  {scan_speed, power}}};
    p.miss = bright_miss;
    return p;
}

ProcessRules frost_rules() {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = Process::frost;
    p.schools = {{School::single,
                  {},
                  any_width,
                  {{power, 3, 100, {0.3, 0.6, 0.9}},
                   {frequency, 20, 200, {0.3, 0.7}},
                   {pulse_width, 20, 200, {0.3, 0.7}},
                   {hatch_pitch, 0.2, 0.75, {0.4, 0.8}, spot},
                   {scan_speed, 300, 7000, {0.3, 0.55, 0.8}}},
                  {scan_speed, power}}};
    p.miss = frost_miss;
    return p;
}

ProcessRules cut_rules(Process process) {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = process;
    p.schools = {{School::single,
                  {},
                  any_width,
                  {{power, 60, 100, {0.9}},
                   {frequency, 15, 300, {0.2, 0.4, 0.6}},
                   {pulse_width, 40, 350, {0.4, 0.8}},
                   {hatch_pitch, 0.3, 0.75, {0.5}, spot},
                   {scan_speed, 150, 4000, {0.4, 0.7}}},
                  {frequency, scan_speed, 1.5}}};
    p.look_decides = false;
    p.follow = follow_depth;
    p.miss = cut_miss;
    p.margin = cut_margin;
    return p;
}

/// Raised lens, wide spot, short energy: the coat gives way long before the metal. The window lies along the focus: a
/// row of offsets shows both of its ends.
ProcessRules coat_rules(Process process) {
    using enum Knob;
    using enum Per;
    const bool bleach = process == Process::bleach;
    ProcessRules p;
    p.process = process;
    p.schools = {{School::single,
                  {},
                  any_width,
                  {{power, 5, 100, {0.3, 0.6, 0.9}},
                   {frequency, 40, 1000, {0.3, 0.6, 0.9}, knob_unit, true, true},
                   {pulse_width, bleach ? 8.0 : 60.0, 350, {0.3, 0.8}, knob_unit, true, true},
                   {hatch_pitch, 0.15, 0.75, {0.5}, spot},
                   {scan_speed, 300, 6000, {0.5, 0.8}},
                   {focus_offset, 0, 8, {0.2, 0.5, 0.75}, rayleigh_length, false}},
                  {focus_offset, power, 1.35}}};
    p.look_decides = false;
    if (!bleach)
        p.follow = follow_coat;
    p.miss = bleach ? bleach_miss : strip_miss;
    return p;
}

/// Many short pulses at high frequency, between what alters the ground of a clear film and what breaks it.
ProcessRules film_dark_rules() {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = Process::film_dark;
    p.schools = {{School::single,
                  {},
                  any_width,
                  {{power, 5, 100, {0.3, 0.6, 0.9}},
                   {frequency, 100, 1500, {0.4, 0.7}},
                   {pulse_width, 4, 30, {0.2, 0.6}},
                   {hatch_pitch, 0.03, 0.3, {0.3, 0.7}, spot},
                   {scan_speed, 50, 3000, {0.3, 0.6}}},
                  {scan_speed, power, 1.5}}};
    p.look_decides = false;
    p.miss = film_dark_miss;
    return p;
}

ProcessRules heat_rules(Process process) {
    using enum Knob;
    using enum Per;
    ProcessRules p;
    p.process = process;
    p.start = start_compound;
    p.look_decides = false;
    p.schools = {{School::single,
                  {},
                  any_width,
                  {{power, 3, 100, {0.2, 0.4, 0.6, 0.8}},
                   {scan_speed, 30, 1500, {0.3, 0.5, 0.7}},
                   {hatch_pitch, 0.2, 0.6, {0.5}, spot},
                   {focus_offset, 0, 8, {0.1, 0.4, 0.7}, rayleigh_length, false, true}},
                  {scan_speed, power, 1.5}}};
    p.miss = process == Process::compound ? compound_miss : creep_up_miss;
    return p;
}

const std::vector<ProcessRules>& table() {
    static const std::vector<ProcessRules> all{anneal_rules(),
                                               colour_rules(),
                                               bright_rules(),
                                               frost_rules(),
                                               cut_rules(Process::engrave),
                                               cut_rules(Process::deep_engrave),
                                               coat_rules(Process::strip),
                                               coat_rules(Process::bleach),
                                               heat_rules(Process::compound),
                                               heat_rules(Process::creep_up),
                                               film_dark_rules()};
    return all;
}

} // namespace

const ProcessRules& rules(Process process) {
    return table().at(static_cast<std::size_t>(process));
}

const SchoolRules& rules(Process process, School school) {
    const auto& schools = rules(process).schools;
    const auto it = std::find_if(schools.begin(), schools.end(), [=](const auto& s) { return s.school == school; });
    return it != schools.end() ? *it : schools.front();
}

} // namespace finch
