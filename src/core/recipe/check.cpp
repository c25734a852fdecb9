// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/check.h"

#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

std::string amount(double value, Knob knob) {
    const auto unit = traits(knob).unit;
    return format_number(value, 4) + (unit.empty() ? "" : " " + std::string(unit));
}

void check_limits(const Recipe& recipe, const Bench& bench, std::vector<Finding>& out) {
    for (const Knob knob : all_knobs) {
        if (knob == Knob::pulse_width && bench.source.kind == SourceKind::fixed_pulse_width)
            continue;
        if (traits(knob).periodic)
            continue;
        const double v = knob_value(recipe, knob);
        const KnobLimits limits = knob_limits(bench, knob);
        const double slack = 1e-9 * std::max(std::abs(limits.low), std::abs(limits.high));
        if (std::isfinite(v) && v >= limits.low - slack && v <= limits.high + slack)
            continue;
        out.push_back(
            {"recipe.limit", Severity::blocking, knob,
             fmt::format("{} {} is outside {} to {} on {}.", traits(knob).label, amount(v, knob),
                         format_number(limits.low, 4), amount(limits.high, knob), bench.name),
             fmt::format("Set it to {}.",
                         amount(std::clamp(std::isfinite(v) ? v : limits.low, limits.low, limits.high), knob))});
    }
}

void check_source(const Recipe& recipe, const Bench& bench, std::vector<Finding>& out) {
    const PulseOutput pulse = pulse_output(bench.source, recipe.setting);
    if (pulse.pulse_width_s * pulse.frequency_hz > 0.5)
        out.push_back({"recipe.duty", Severity::blocking, Knob::frequency,
                       "The pulses would be on for more than half of the time.",
                       "Lower the pulse frequency or the pulse width."});
    // A share that rounds to all of it is none.
    if (pulse.derating < 0.995)
        out.push_back(
            {"recipe.derated", Severity::warning, Knob::frequency,
             fmt::format("Below {} kHz this pulse width cannot carry full power: {} % of the set power comes out.",
                         format_number(pulse.frequency_min_hz / 1e3), format_number(100 * pulse.derating, 2)),
             fmt::format("Raise the frequency to {} kHz or count on less power.",
                         format_number(std::ceil(pulse.frequency_min_hz / 1e3)))});
}

void check_pattern(const Recipe& recipe, const Bench& bench, std::vector<Finding>& out) {
    if (!bench.source.pulsed())
        return;
    const Length spot = spot_at(waist(bench.lens(), bench.source.wavelength), recipe.setting.focus_offset);
    const double spot_um = in_micrometres(spot);
    const Gaps g = gaps(recipe, bench);
    const double pitch_um = in_micrometres(recipe.setting.hatch_pitch);
    const double along_um = in_micrometres(recipe.setting.scan_speed / recipe.setting.frequency);
    if (pitch_um > spot_um)
        out.push_back({"recipe.pitch_beyond_spot", Severity::warning, Knob::hatch_pitch,
                       fmt::format("The lines do not touch: pitch {} um, spot {} um.", format_number(pitch_um),
                                   format_number(spot_um)),
                       fmt::format("If a decimal slipped, {} mm was meant.", format_number(pitch_um / 1e4, 4))});
    else if (g.across > g.most * (1 + 1e-9))
        out.push_back({"recipe.gaps", Severity::warning, Knob::hatch_pitch,
                       fmt::format("The pitch is over {} of a spot: stripes, and the averages of the prediction do not "
                                   "hold.",
                                   g.most > 0.5 ? "three quarters" : "half"),
                       fmt::format("Stay below {} mm.", format_number(g.most * spot_um / 1e3, 2))});
    if (g.along > g.most * (1 + 1e-9))
        out.push_back({"recipe.gaps", Severity::warning, Knob::scan_speed,
                       fmt::format("Pulses land {} um apart on a spot of {} um.", format_number(along_um),
                                   format_number(spot_um)),
                       "Scan slower or raise the pulse frequency."});
    const int directions = distinct_directions(recipe.turn_per_pass_deg);
    if (recipe.setting.passes > 1 && recipe.line_shift_percent == 0 && recipe.turn_per_pass_deg != 0 &&
        directions > 0 && directions < 24 && directions < recipe.setting.passes)
        out.push_back({"recipe.turn_repeats", Severity::warning, Knob::turn_per_pass,
                       fmt::format("A turn of {} deg repeats after {} passes.", format_number(recipe.turn_per_pass_deg),
                                   directions),
                       "Choose a turn that does not divide 180, such as 67 deg, and shift the lines by 38 %."});
}

void check_stock(const Recipe& recipe, const Stock& stock, std::vector<Finding>& out) {
    if (stock.coating == Coating::unknown)
        out.push_back({"stock.coating_unknown", Severity::warning, std::nullopt,
                       "Nobody has checked this stock for plating, lacquer or clear film.",
                       "Check it, then set the coating on the Bench station."});
    else if (stock.coating == Coating::polish_residue)
        out.push_back({"stock.polish", Severity::warning, std::nullopt,
                       "Wax or polish is left on the surface: the oxide grows thinner there, and in patches.",
                       "Degrease it, then set the coating on the Bench station."});
    else if (stock.coating != Coating::none && !traits(recipe.process).takes_coat())
        out.push_back({"stock.coated", Severity::warning, std::nullopt,
                       "The surface is coated: hardly any oxide grows through it.", "Strip the coating first."});
    std::string below = stock.under_it;
    std::transform(below.begin(), below.end(), below.begin(), [](unsigned char c) { return std::tolower(c); });
    for (const char* fuel : {"wood", "paper", "card", "ply", "mdf", "foam", "cloth"})
        if (below.find(fuel) != std::string::npos) {
            out.push_back({"stock.fuel_below", Severity::blocking, std::nullopt,
                           fmt::format("\"{}\" below the part can catch fire.", stock.under_it),
                           "Lay it on metal, and follow your local fire rules."});
            break; // plywood is wood
        }
}

} // namespace

Gaps gaps(const Recipe& recipe, const Bench& bench) {
    const Length spot = spot_at(waist(bench.lens(), bench.source.wavelength), recipe.setting.focus_offset);
    Gaps g;
    g.across = in_micrometres(recipe.setting.hatch_pitch) / in_micrometres(spot);
    if (bench.source.pulsed())
        g.along = in_micrometres(recipe.setting.scan_speed / recipe.setting.frequency) / in_micrometres(spot);
    const ProcessTraits& process = traits(recipe.process);
    g.most = process.removes || recipe.process == Process::frost || process.takes_coat() ? 0.75 : 0.5;
    return g;
}

int distinct_directions(double turn) {
    for (int n = 1; n <= 180; ++n) {
        const double back = std::fmod(std::abs(turn) * n, 180.0);
        if (back < 1e-6 || 180 - back < 1e-6)
            return n;
    }
    return 0;
}

Finding finding_of(ModelFinding finding) {
    const std::string code(key(finding));
    switch (finding) {
    case ModelFinding::width_fixed:
        return {code, Severity::warning, Knob::pulse_width,
                "This source does not change its pulse width: the one that was wished for is not what comes out.",
                "Set the source's own width, or take another bench."};
    case ModelFinding::width_clamped:
        return {code, Severity::warning, Knob::pulse_width,
                "The pulse width is outside 4 to 500 ns: craters follow other physics there, so the bands are wider.",
                "Make a proof sheet before you rely on it."};
    case ModelFinding::plume_between_pulses:
        return {code, Severity::note, Knob::frequency,
                "Above 500 kHz the plume of one pulse still stands when the next one comes.",
                "Expect less removal than predicted."};
    }
    return {};
}

std::vector<Finding> check(const Recipe& recipe, const Bench& bench, const Stock& stock) {
    std::vector<Finding> out;
    check_limits(recipe, bench, out);
    const bool computable = knob_value(recipe, Knob::frequency) > 0 && knob_value(recipe, Knob::pulse_width) > 0;
    if (computable) {
        check_source(recipe, bench, out);
        check_pattern(recipe, bench, out);
    }
    check_stock(recipe, stock, out);
    return out;
}

std::optional<Finding> slip(Knob knob, double before, double after) {
    if (!(before > 0 && after > 0) || knob == Knob::hatch_angle || knob == Knob::turn_per_pass || knob == Knob::passes)
        return std::nullopt;
    const double ratio = after / before;
    const bool up = ratio > 8 && ratio<12.5, down = ratio> 0.08 && ratio < 0.125;
    if (!up && !down)
        return std::nullopt;
    return Finding{"recipe.slip", Severity::warning, knob,
                   fmt::format("{} {} is about {} the value before.", traits(knob).label, amount(after, knob),
                               up ? "ten times" : "a tenth of"),
                   fmt::format("If a decimal slipped, {} was meant.", amount(up ? after / 10 : after * 10, knob))};
}

std::optional<Finding> bad_history(const Recipe& recipe, const std::vector<BadTry>& tries) {
    for (const BadTry& t : tries) {
        bool near = t.recipe.setting.passes == recipe.setting.passes;
        for (const Knob k : {Knob::power, Knob::frequency, Knob::pulse_width, Knob::scan_speed, Knob::hatch_pitch})
            near = near && std::abs(std::log(knob_value(t.recipe, k) / knob_value(recipe, k))) < 0.1;
        near =
            near && std::abs(knob_value(t.recipe, Knob::focus_offset) - knob_value(recipe, Knob::focus_offset)) < 0.3;
        if (near)
            return Finding{"recipe.bad_history", Severity::warning, std::nullopt,
                           fmt::format("Almost the same setting went wrong on this stock: {}.", t.title),
                           "Look it up in the logbook first."};
    }
    return std::nullopt;
}

bool blocked(const std::vector<Finding>& findings) {
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding& f) { return f.severity == Severity::blocking; });
}

} // namespace finch
