// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/check.h"
#include "recipe/plan.h"
#include "recipe/plan_goals.h"

#include <algorithm>
#include <cmath>

// Knobs that follow from what is wanted.
namespace finch {
namespace {

constexpr int most_planned_passes = 2500; // hours of beam on a palm; nobody plans more

} // namespace

void follow_coat(const Scene& s, const Aim&, Recipe& r) {
    const CoatConstants* coat = s.materials.coat(s.stock.coating);
    if (coat == nullptr || !s.metal.removal)
        return;
    const Cutting cut = cutting(s.materials, s.metal, s.bench, r);
    const CoatConditions conditions = coat_conditions(s, *coat, 1);
    const int passes =
        s.bench.source.pulsed() ? pulsed_coat(*coat, cut, met_surface(s), r.setting.focus_offset, conditions).passes
        : coat->gas ? gas_coat(*coat, cut.metal, gas_beam(s.bench, r), conditions, s.materials.model.join).passes
                    : 1;
    r.setting.passes = std::clamp(passes, 1, 50);
}

void follow_depth(const Scene& s, const Aim& aim, Recipe& r) {
    if (!s.metal.removal)
        return;
    const bool deep = r.process == Process::deep_engrave;
    if (const Wish* detail = aim.find(WishKind::fine_detail))
        r.deep.narrowest = mm(detail->value);
    r.deep.clean_every = deep ? 15 : 0;
    const Cutting cut = cutting(s.materials, s.metal, s.bench, r);
    DeepWork work = deep_work(r, s.evidence);
    work.passes = most_planned_passes;
    const double target = wanted_depth_um(aim, r.process);
    // As it is told: on the workpieces where metal goes, and not beyond the stock.
    const auto walked = [&] { return NetWalk(cut, s.materials.model.join, met_surface(s), work).walk(1, target); };
    NetWalk::Outcome done = walked();
    const double rayleigh_um = in_micrometres(waist(s.bench.lens(), s.bench.source.wavelength).rayleigh);
    if (deep && target > 0.25 * rayleigh_um && done.depth_um > 0) {
        // Follow the floor by the depth predicted, in steps of a quarter of the Rayleigh length.
        if (const auto rule = focus_rule(cut.beam, done.depth_um / std::max(1, done.passes))) {
            r.deep.focus_every = rule->every;
            r.deep.focus_step = mm(with_digits(rule->step_mm, 3));
            work.focus_every = rule->every;
            work.focus_step_mm = in_mm(r.deep.focus_step);
            done = walked();
        }
    }
    r.setting.passes = std::clamp(done.passes, 1, most_planned_passes);
    if (r.setting.passes > 1) {
        r.turn_per_pass_deg = 67;
        r.line_shift_percent = 38.2;
    }
}

} // namespace finch
