// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/creep_up.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr int most_steps = 12;

Recipe start_recipe(const Scene& s, double frequency, double speed, double pitch, double dose) {
    Recipe r;
    r.process = Process::creep_up;
    const auto held = [&](Knob knob, double v) {
        const KnobLimits l = knob_limits(s.bench, knob);
        return std::clamp(v, l.low, l.high);
    };
    r = with_knob(r, Knob::frequency, held(Knob::frequency, frequency));
    r = with_knob(r, Knob::pulse_width, held(Knob::pulse_width, 100));
    r = with_knob(r, Knob::scan_speed, held(Knob::scan_speed, speed));
    r = with_knob(r, Knob::hatch_pitch, held(Knob::hatch_pitch, pitch));
    const double watt = dose * in_mm_per_second(r.setting.scan_speed) * in_mm(r.setting.hatch_pitch);
    const double percent = 100 * watt / in_watts(s.bench.source.rated_power);
    r = with_knob(r, Knob::power, held(Knob::power, percent));
    if (percent < 1 || percent > 100) {
        // The bench cannot go that low or high: the speed carries the rest.
        const double kept = in_watts(s.bench.source.rated_power) * r.setting.power_percent / 100;
        r = with_knob(r, Knob::scan_speed, held(Knob::scan_speed, kept / (dose * in_mm(r.setting.hatch_pitch))));
    }
    return r;
}

} // namespace

Expected<Climb> creep_up(const Scene& s, double pigment_l) {
    const NonMetal* m = s.materials.non_metal(s.stock.metal);
    if (m == nullptr)
        return failure("plan.not_listed", fmt::format("There is no starting point for {}.", s.metal.name),
                       "Start on scrap at the lowest power and climb by a tenth.");
    const double pale = std::clamp(pigment_l / 100, 0.0, 1.0);
    // Dark pigment takes the light: it starts lower, by ratio.
    const double dose = m->start_dose_dark_j_mm2 * std::pow(m->start_dose_pale_j_mm2 / m->start_dose_dark_j_mm2, pale);
    Climb out;
    out.start = start_recipe(s, m->frequency_khz, m->speed_mm_s, m->pitch_mm, dose);
    out.look = m->look;
    out.stop_when = m->stop_when;
    out.caution = m->caution;
    out.rests_on = m->source;
    const double area_rate = in_mm_per_second(out.start.setting.scan_speed) * in_mm(out.start.setting.hatch_pitch);
    double sum = 0, percent = out.start.setting.power_percent;
    for (int pass = 1; pass <= most_steps; ++pass) {
        const double one = in_watts(s.bench.source.rated_power) * percent / 100 / area_rate;
        if (percent > 100 || sum + one > m->most_dose_j_mm2)
            break;
        sum += one;
        out.steps.push_back({pass, percent, one, sum});
        percent *= 1 + m->climb;
    }
    return out;
}

Expected<Plan> plan_by_hand(const Scene& s, const Aim& aim, const PlanTask& task) {
    Candidate c;
    c.kinds = {CandidateKind::safest};
    if (task.process == Process::colour) {
        c.recipe = start_recipe(s, in_kilohertz(s.bench.source.frequency_max), 20, 0.05, 8);
        c.recipe.process = Process::colour;
        c.why_not =
            "Decorative only: a diode's colours repeat badly. Run a broad sheet, and repeat the chosen cell ten "
            "times before promising it.";
    } else {
        const auto climb = creep_up(s, aim.pigment_l);
        if (climb)
            c.recipe = climb->start;
        else
            c.recipe = start_recipe(s, 40, 1000, 0.05, 0.05);
        c.why_not = "No prediction is claimed: climb pass by pass on scrap.";
    }
    const auto p = predict(s, c.recipe, aim.fill);
    if (!p)
        return tl::unexpected(p.error());
    c.prediction = *p;
    c.look = appearance(s, c.recipe, c.prediction);
    c.effort = effort(s, c.recipe, c.prediction, aim.fill);
    c.verdicts = judge(s, aim, {c.recipe, c.prediction, c.look, c.effort});
    c.sensitivity = "not known: nothing is predicted";
    return Plan{task, {std::move(c)}};
}

} // namespace finch
