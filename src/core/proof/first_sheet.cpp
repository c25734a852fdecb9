// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/first_sheet.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

AxisPlan round_value(const Recipe& r, const Bench& bench, Knob knob, double reach, int count) {
    const KnobLimits limits = knob_limits(bench, knob);
    const double now = knob_value(r, knob);
    AxisPlan a;
    a.knob = knob;
    a.count = count;
    if (knob == Knob::focus_offset) {
        a.steps = Steps::linear;
        const double span = std::max(0.5, std::abs(now) * (reach - 1));
        a.from = std::clamp(std::round((now - span) * 10) / 10, limits.low, limits.high);
        a.to = std::clamp(std::round((now + span) * 10) / 10, limits.low, limits.high);
        return a;
    }
    a.steps = Steps::ratio;
    a.from = std::clamp(now / reach, limits.low, limits.high);
    a.to = std::clamp(now * reach, limits.low, limits.high);
    if (a.to / a.from < 1.2)
        a.from = std::max(limits.low, a.to / (reach * reach));
    return a;
}

} // namespace

SheetRequest first_sheet(const Recipe& r, School school, const Bench& bench) {
    const SchoolRules& asked = rules(r.process, school);
    const bool can_turn = bench.source.kind == SourceKind::variable_pulse_width;
    const SheetRule& rule = (asked.turns_pulse_width && !can_turn ? rules(r.process).schools.front() : asked).sheet;
    SheetRequest q;
    q.base = r;
    q.across = round_value(r, bench, rule.across, rule.reach, 6);
    q.down = round_value(r, bench, rule.down, rule.reach, 5);
    return q;
}

Target sheet_target(const Aim& aim, const Candidate& c) {
    if (const Wish* w = aim.find(WishKind::colour); w != nullptr && c.recipe.process == Process::colour)
        return {std::string(colour_name(w->lab)), w->lab, false, w->value};
    if (c.recipe.process == Process::anneal) {
        const Wish* w = aim.find(WishKind::dark);
        return {"dark anneal", {w != nullptr ? w->value : 40, 0, 0}, true, 3};
    }
    if (const Wish* w = aim.find(WishKind::depth);
        w != nullptr && traits(c.recipe.process).works_on == WorksOn::bare_metal && c.prediction.removal) {
        const double high = std::max(w->high, w->value), um = 0.5 * (w->value + high);
        // One number without a range is meant as workshops mean it: within a tenth.
        return depth_target({um, high > w->value ? 0.5 * (high - w->value) : 0.1 * um});
    }
    return {c.look.known ? c.look.words : std::string("as predicted"), c.look.known ? c.look.lab : Lab{50, 0, 0}, false,
            8};
}

} // namespace finch
