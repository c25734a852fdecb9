// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/carry.h"

#include "quantity/angles.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {

MachineSettings machine_settings(const Bench& bench, const Recipe& recipe) {
    const PulseOutput pulse = pulse_output(bench.source, recipe.setting);
    const BeamWaist beam = waist(bench.lens(), bench.source.wavelength);
    MachineSettings s;
    s.power_w = pulse.average_power_w;
    s.speed_mm_s = in_mm_per_second(recipe.setting.scan_speed);
    s.frequency_khz = in_kilohertz(recipe.setting.frequency);
    s.spot_mm = in_mm(spot_at(beam, recipe.setting.focus_offset));
    s.pitch_mm = in_mm(recipe.setting.hatch_pitch);
    s.pulse_ns = pulse.pulse_width_s * 1e9;
    s.passes = burned_setting(recipe).passes;
    s.wavelength_nm = in_nanometres(bench.source.wavelength);
    return s;
}

MachineLimits machine_limits(const Bench& bench, double wanted_ns) {
    const Source& source = bench.source;
    const BeamWaist beam = waist(bench.lens(), source.wavelength);
    MachineLimits l;
    l.power_w = {0.01 * in_watts(source.rated_power), in_watts(source.rated_power)};
    l.speed_mm_s = {1, in_mm_per_second(bench.scanner.speed_max)};
    l.frequency_khz = {in_kilohertz(source.frequency_min), in_kilohertz(source.frequency_max)};
    l.spot_mm = {in_mm(beam.spot), 6 * in_mm(beam.spot)};
    l.pitch_mm = {0.0005, 1};
    const double low = in_nanoseconds(source.pulse_width_min), high = in_nanoseconds(source.pulse_width_max);
    const double width = source.kind == SourceKind::variable_pulse_width ? std::clamp(wanted_ns, low, high) : low;
    l.pulses_ns = {width};
    if (source.pulsed())
        l.largest_pulse_mj = in_millijoules(pulse_energy_limit(source, nanoseconds(width)));
    l.most_passes = 4;
    l.wavelength_nm = in_nanometres(source.wavelength);
    return l;
}

Recipe recipe_on(const Bench& bench, const MachineSettings& s, Recipe r) {
    const BeamWaist beam = waist(bench.lens(), bench.source.wavelength);
    r.setting.scan_speed = mm_per_second(s.speed_mm_s);
    r.setting.frequency = kilohertz(s.frequency_khz);
    r.setting.hatch_pitch = mm(s.pitch_mm);
    r.setting.pulse_width = nanoseconds(s.pulse_ns);
    // Below its lowest full-power frequency a source gives less than its percentage says.
    const double full_w = in_watts(bench.source.rated_power) * pulse_output(bench.source, r.setting).derating;
    r.setting.power_percent = std::clamp(100 * s.power_w / full_w, 0.01, 100.0);
    r.setting.passes = s.passes;
    r.cross_hatch = false;
    const double sign = r.setting.focus_offset < mm(0) ? -1 : 1;
    r.setting.focus_offset = depth_for_growth(beam, s.spot_mm / in_mm(beam.spot)) * sign;
    return r;
}

Expected<Carried> carry(const Bench& from, const Recipe& recipe, const Bench& to) {
    MachineSettings old = machine_settings(from, recipe);
    const TransferFamily family = traits(recipe.process).family;
    const MachineLimits limits = machine_limits(to, old.pulse_ns);
    const int passes = old.passes;
    const bool many = passes > limits.most_passes;
    if (many)
        old.passes = 1;
    auto result = transfer(old, family, limits);
    if (!result)
        return tl::unexpected(result.error());
    auto typed = to_dialog(old, family, limits, to.dialog);
    if (!typed)
        return tl::unexpected(typed.error());
    Carried out{recipe, std::move(*result), std::move(*typed)};
    MachineSettings settled = out.result.settings;
    if (many) {
        const auto before = invariants(old), after = invariants(settled);
        const double lost = before->front() * settled.passes / after->front();
        settled.passes = std::clamp(static_cast<int>(std::lround(passes * lost)), 1, 10000);
    }
    out.recipe = recipe_on(to, settled, recipe);
    return out;
}

namespace {

double pulses_on_spot(const MachineSettings& s) {
    return std::max(1.0, s.frequency_khz * 1e3 / (s.speed_mm_s * s.pitch_mm) * pi / 4 * s.spot_mm * s.spot_mm);
}

double fluence_of(const MachineSettings& s) {
    return peak_fluence_j_cm2(millijoules(s.power_w / s.frequency_khz), mm(s.spot_mm));
}

/// Slower, until the film is as thick as it was; no further than the bench goes.
bool start_that_marks(const Scene& there, const Prediction& before, Carried& carried, const Fill& fill) {
    const KnobLimits limits = knob_limits(there.bench, Knob::scan_speed);
    const double now = knob_value(carried.recipe, Knob::scan_speed);
    const auto film_at = [&](double speed) {
        const auto p = predict(there, with_knob(carried.recipe, Knob::scan_speed, speed), fill, unseen);
        return p ? p->oxide_nm() : 0;
    };
    double slow = std::max(limits.low, now / 1000), fast = now;
    if (film_at(slow) < before.oxide_nm())
        return false;
    for (int i = 0; i < 40; ++i) {
        const double middle = std::sqrt(slow * fast);
        (film_at(middle) >= before.oxide_nm() ? slow : fast) = middle;
    }
    const Recipe slower = with_knob(carried.recipe, Knob::scan_speed, slow);
    const auto p = predict(there, slower, fill, unseen);
    if (!p || !is_film(p->effect))
        return false;
    carried.recipe = slower;
    // What is typed there, and what is said to be kept, follow the recipe: speed stands in dose, pulses and step.
    const double ratio = slow / now;
    carried.typed.typed.speed *= ratio;
    carried.result.settings.speed_mm_s *= ratio;
    for (Kept& k : carried.result.report) {
        const bool more = k.invariant == Invariant::areal_dose || k.invariant == Invariant::pulses_per_mm2 ||
                          k.invariant == Invariant::line_energy;
        if (!more && k.invariant != Invariant::pulse_step)
            continue;
        k.ratio *= more ? 1 / ratio : ratio;
        k.kept = false;
        k.effect = "slower, so that it shows";
    }
    return true;
}

} // namespace

Expected<CarriedOutcome> carried_outcome(const Scene& here, const Recipe& recipe, const Bench& to, Carried& carried,
                                         const Fill& fill) {
    const Scene bare_here = here.knowing({});
    const Scene there{here.materials, here.metal, to, here.stock, {}};
    CarriedOutcome out;
    auto before = predict(bare_here, recipe, fill);
    if (!before)
        return tl::unexpected(before.error());
    out.before = std::move(*before);
    const TransferFamily family = traits(recipe.process).family;
    const auto worse = [&](TransferVerdict verdict, std::string reason) {
        out.verdict = std::max(out.verdict, verdict);
        out.reasons.push_back(std::move(reason));
    };
    out.verdict = carried.result.verdict;
    auto after = predict(there, carried.recipe, fill);
    if (!after)
        return tl::unexpected(after.error());
    if (is_film(out.before.effect) && after->effect <= Effect::dark &&
        after->oxide_nm() < 0.5 * out.before.oxide_nm()) {
        const double speed = knob_value(carried.recipe, Knob::scan_speed);
        if (start_that_marks(there, out.before, carried, fill)) {
            worse(TransferVerdict::new_proof_needed,
                  fmt::format("As carried it would hardly show: begin at {} mm/s instead of {}.",
                              format_number(knob_value(carried.recipe, Knob::scan_speed), 3), format_number(speed, 3)));
            after = predict(there, carried.recipe, fill);
            if (!after)
                return tl::unexpected(after.error());
        }
    }
    out.after = std::move(*after);
    if (here.metal.removal && to.source.pulsed() && here.bench.source.pulsed()) {
        const MachineSettings old = machine_settings(here.bench, recipe), now = machine_settings(to, carried.recipe);
        out.fluence = fluence_rise(family, *here.metal.removal, here.materials.model.removal, here.materials.model.join,
                                   fluence_of(old), fluence_of(now), now.pulse_ns, pulses_on_spot(now));
        if (out.fluence.verdict != TransferVerdict::equivalent)
            worse(out.fluence.verdict,
                  fmt::format("The peak fluence is {} times what it was: {} % of such pulses {}.",
                              format_number(out.fluence.ratio, 2), format_number(100 * out.fluence.share_above, 2),
                              family == TransferFamily::compound ? "blow the film off" : "tear the surface"));
    }
    if (out.after.effect != out.before.effect)
        worse(TransferVerdict::new_proof_needed,
              fmt::format("There it is {}, here {}.", told_words(out.after.shares), told_words(out.before.shares)));
    else if (out.after.share() < 0.75 && out.after.share() < out.before.share() - 0.1)
        worse(TransferVerdict::close, fmt::format("There it is less sure: {}.", told_words(out.after.shares)));
    return out;
}

std::vector<std::string> cannot_run(const Bench& bench, const Recipe& recipe) {
    std::vector<std::string> out;
    const Source& s = bench.source;
    const double width = in_nanoseconds(recipe.setting.pulse_width);
    if (!s.pulsed())
        out.push_back(fmt::format("{} has no pulses.", bench.name));
    else if (s.kind == SourceKind::fixed_pulse_width &&
             std::abs(std::log(width / in_nanoseconds(s.pulse_width_min))) > std::log(1.2))
        out.push_back(fmt::format("{} has one pulse width, {} ns, and the recipe asks for {} ns.", bench.name,
                                  format_number(in_nanoseconds(s.pulse_width_min)), format_number(width)));
    for (const Knob knob : {Knob::frequency, Knob::scan_speed, Knob::pulse_width}) {
        if (knob == Knob::pulse_width && s.kind != SourceKind::variable_pulse_width)
            continue;
        const KnobLimits l = knob_limits(bench, knob);
        const double v = knob_value(recipe, knob);
        if (v < l.low * (1 - 1e-9) || v > l.high * (1 + 1e-9))
            out.push_back(fmt::format("{} {} {} is outside {} to {}.", traits(knob).label, format_number(v, 4),
                                      traits(knob).unit, format_number(l.low, 4), format_number(l.high, 4)));
    }
    return out;
}

} // namespace finch
