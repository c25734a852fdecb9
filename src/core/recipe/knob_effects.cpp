// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/knob_effects.h"

#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

std::string percent(double share) {
    const double p = 100 * share;
    if (std::abs(p) < 0.05)
        return "the same";
    return fmt::format("{}{} %", p < 0 ? "\u2212" : "+", format_number(std::abs(p), 2));
}

/// "10 % slower", "2 passes more", "0.5 mm out of focus".
std::string turned(Knob knob, double from, double to) {
    const double share = from > 0 ? to / from - 1 : 0;
    const KnobTraits& t = traits(knob);
    if (t.more.empty())
        return fmt::format("{} {}", t.label, format_number(to, 3));
    return fmt::format(fmt::runtime(share > 0 ? t.more : t.less), format_number(100 * std::abs(share), 2),
                       format_number(from, 4), format_number(to, t.whole ? 4 : 3));
}

std::string words_of(const KnobEffect& e) {
    std::string out = turned(e.knob, e.from, e.to);
    out[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(out[0])));
    out += fmt::format(": dose {}, energy per pulse {}", percent(e.dose), percent(e.pulse_energy));
    if (e.darkness_known && std::abs(e.lightness) >= 0.3)
        out += fmt::format(", {} by {} L*", e.lightness < 0 ? "darker" : "lighter",
                           format_number(std::abs(e.lightness), 2));
    if (std::abs(e.depth) > 0.005)
        out += fmt::format(", depth {}", percent(e.depth));
    if (std::abs(e.seconds) >= 0.5)
        out += fmt::format(", {} {}", format_duration(std::abs(e.seconds)), e.seconds > 0 ? "longer" : "quicker");
    return out + ".";
}

/// What more heat is for: deeper where metal goes, a thicker film where it stays, else dose, else energy of a pulse.
double heat(const KnobEffect& e) {
    for (const double change : {e.depth, e.film, e.dose})
        if (std::abs(change) > 0.002)
            return change;
    return e.pulse_energy;
}

} // namespace

Expected<KnobEffect> knob_effect(const Scene& s, const Recipe& recipe, const Fill& fill, Knob knob, double to) {
    const auto predicted = [&](const Recipe& r) { return predict(s, r, fill, straight); };
    const auto before = predicted(recipe);
    if (!before)
        return tl::unexpected(before.error());
    const auto after = predicted(with_knob(recipe, knob, to));
    if (!after)
        return tl::unexpected(after.error());
    const auto share = [](double a, double b) { return a > 0 ? b / a - 1 : 0; };
    const AnnealResult &a = before->mark, &b = after->mark;
    KnobEffect e;
    e.knob = knob;
    e.from = knob_value(recipe, knob);
    e.to = to;
    e.dose = share(a.pattern.areal_dose_j_m2, b.pattern.areal_dose_j_m2);
    e.pulse_energy = share(a.pulse.pulse_energy_j, b.pulse.pulse_energy_j);
    e.peak_power = share(a.pulse.peak_power_w, b.pulse.peak_power_w);
    e.pulses_per_area = share(a.pattern.pulses_per_m2, b.pattern.pulses_per_m2);
    e.average_power = share(a.pulse.average_power_w, b.pulse.average_power_w);
    e.time = share(a.pattern.time_s, b.pattern.time_s);
    e.seconds = b.pattern.time_s - a.pattern.time_s;
    e.film = share(a.oxide.thickness_m, b.oxide.thickness_m);
    e.depth = before->depth_um() > 0.1 ? share(before->depth_um(), after->depth_um()) : 0;
    e.darkness_known = before->film_seen() && after->film_seen();
    if (e.darkness_known)
        e.lightness = after->lab().l - before->lab().l;
    e.effect = after->effect;
    e.changes = after->effect != before->effect;
    e.words = words_of(e);
    if (e.changes)
        e.words += fmt::format(" It then {}.", word(after->effect));
    return e;
}

std::vector<KnobEffect> heat_advice(const Scene& s, const Recipe& recipe, const Fill& fill, bool more) {
    std::vector<KnobEffect> out;
    const double up = more ? 1.1 : 1 / 1.1;
    for (const auto& [knob, factor] : {std::pair{Knob::power, up},
                                       {Knob::scan_speed, 1 / up},
                                       {Knob::hatch_pitch, 1 / up},
                                       {Knob::frequency, 1 / up},
                                       {Knob::pulse_width, up}}) {
        if (knob == Knob::pulse_width && s.bench.source.kind != SourceKind::variable_pulse_width)
            continue;
        // Which way frequency and pulse width work depends on what the mark lives from: try both.
        for (const double way : {factor, 1 / factor}) {
            const double to = knob_value(recipe, knob) * way;
            const KnobLimits limits = knob_limits(s.bench, knob);
            if (to < limits.low || to > limits.high)
                continue;
            const auto e = knob_effect(s, recipe, fill, knob, to);
            if (e && (more ? heat(*e) > 0 : heat(*e) < 0)) {
                out.push_back(*e);
                break;
            }
        }
    }
    if (recipe.setting.passes > 1 || more)
        if (const auto e = knob_effect(s, recipe, fill, Knob::passes, recipe.setting.passes + (more ? 1 : -1));
            e && (more ? heat(*e) > 0 : heat(*e) < 0))
            out.push_back(*e);
    std::stable_sort(out.begin(), out.end(),
                     [](const KnobEffect& a, const KnobEffect& b) { return a.seconds < b.seconds; });
    return out;
}

FrequencyEffects frequency_effects(const Scene& s, const Recipe& recipe, double factor) {
    const Recipe then = with_knob(recipe, Knob::frequency, knob_value(recipe, Knob::frequency) * factor);
    const PulseOutput a = pulse_output(s.bench.source, recipe.setting), b = pulse_output(s.bench.source, then.setting);
    FrequencyEffects e;
    e.average_power = b.average_power_w / a.average_power_w;
    e.pulse_energy = b.pulse_energy_j / a.pulse_energy_j;
    e.peak_power = b.peak_power_w / a.peak_power_w;
    e.pulses_per_area = factor;
    e.words = fmt::format("At {} kHz instead of {}: average power {}, energy per pulse {}, peak power {}, pulses per "
                          "mm² {}.",
                          format_number(knob_value(then, Knob::frequency), 3),
                          format_number(knob_value(recipe, Knob::frequency), 3), percent(e.average_power - 1),
                          percent(e.pulse_energy - 1), percent(e.peak_power - 1), percent(e.pulses_per_area - 1));
    return e;
}

} // namespace finch
