// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/effort.h"

#include "physics/colour_difference.h"
#include "recipe/route_cost.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace finch {
namespace {

/// What decides, as a logarithm or a plain position; nothing when it is a colour.
std::optional<double> decider(const Prediction& p) {
    if (p.compound)
        return p.compound->position;
    if (p.coating)
        return std::log(p.coating->gas ? p.coating->gas->dose_j_mm2 : p.coating->pulsed.fluence_j_cm2);
    if (p.black)
        return std::log(p.black->fluence_j_cm2);
    if (p.film_seen() || !p.removal)
        return std::nullopt;
    return p.removal->depth_um > 0 ? std::log(p.removal->depth_um) : std::log(p.removal->pass.crater.fluence_j_cm2);
}

double change(const Prediction& a, const Prediction& b) {
    const auto x = decider(a), y = decider(b);
    if (x && y)
        return std::abs(*x - *y);
    return a.film_seen() && b.film_seen() ? delta_e00(a.lab(), b.lab()) : 0;
}

/// Drift acts on what the source emits, at 100 % too, so it scales the source rather than the setting.
Bench drifted(Bench b, double share) {
    b.source = emitting(b.source, 1 + share);
    return b;
}

} // namespace

double OutcomeSpread::total() const {
    return std::hypot(std::hypot(focus, power, thickness), lot);
}

const char* OutcomeSpread::largest() const {
    const std::array parts{focus, power, thickness, lot};
    constexpr std::array names{"focus", "power", "thickness", "lot"};
    return names.at(static_cast<std::size_t>(std::max_element(parts.begin(), parts.end()) - parts.begin()));
}

Effort effort(const Scene& s, const Recipe& recipe, const Prediction& p, const Fill& fill) {
    const EffortModel& model = s.materials.model.effort;
    Effort e;
    e.rate_per_hour = s.bench.rate_per_hour;
    e.mark_s = p.mark.pattern.time_s;
    e.handling_s = model.handling_s;
    const int passes = burned_setting(recipe).passes;
    // Every so many passes: whole times only.
    const int cleanings = recipe.deep.clean_every > 0 ? passes / recipe.deep.clean_every : 0;
    const int steps_down = recipe.deep.focus_every > 0 ? (passes - 1) / recipe.deep.focus_every : 0;
    if (recipe.deep.clean_every > 0)
        e.cleaning_s = cleanings * p.mark.pattern.pass_s / model.cleaning_speed;
    if (recipe.deep.focus_every > 0)
        e.focus_s = steps_down * (in_mm(recipe.deep.focus_step) / model.focus_mm_s + model.focus_settle_s);
    if (recipe.process == Process::compound)
        if (const CompoundConstants* c = s.materials.compounds.compound(recipe.compound)) {
            e.handling_s += c->handling_s;
            const double side = std::sqrt(fill.area_mm2);
            SprayJob spray;
            spray.coats = recipe.coats;
            spray.mark_width_mm = spray.mark_height_mm = side;
            spray.fill = 1;
            if (const auto use = spray_use(*c, spray))
                e.consumable = use->cost_per_mark;
        }
    return e;
}

OutcomeSpread outcome_spread(const Scene& s, const Recipe& recipe, const Prediction& p, const Fill& fill) {
    const DriftModel& drift = s.materials.model.drift;
    OutcomeSpread out;
    out.in_colour = !decider(p);
    const ViewingAngles& angles = out.in_colour ? straight : unseen;
    const auto worst = [&](auto&& changed) {
        double most = 0;
        for (const int sign : {-1, 1}) {
            const Expected<Prediction> then = changed(sign);
            if (!then)
                continue;
            out.changes_effect = out.changes_effect || then->effect != p.effect;
            most = std::max(most, change(p, *then));
        }
        return most;
    };
    const auto predicted = [&](const Bench& b, const Stock& stock, const Recipe& r, const Evidence& e) {
        return predict({s.materials, s.metal, b, stock, e}, r, fill, angles);
    };
    out.focus = worst([&](int sign) {
        Recipe r = recipe;
        r.setting.focus_offset += mm(sign * drift.focus_mm);
        return predicted(s.bench, s.stock, r, s.evidence);
    });
    out.power =
        worst([&](int sign) { return predicted(drifted(s.bench, sign * drift.power), s.stock, recipe, s.evidence); });
    // Where metal goes, thickness matters through heat and burning alone: not asked while both are far.
    const bool thick_enough = p.removal && !out.in_colour && p.burn_index < 0.3 && p.shares[Effect::through] < 0.01;
    out.thickness = thick_enough ? 0 : worst([&](int sign) {
        Stock stock = s.stock;
        stock.thickness *= 1 + sign * drift.thickness;
        return predicted(s.bench, stock, recipe, s.evidence);
    });
    // Between lots the film or the depth moves by about half of what nobody has measured yet.
    const ProvenBy proof = traits(recipe.process).proven_by;
    const bool known = proof == ProvenBy::thresholds      ? s.evidence.coat_sheets > 0
                       : proof == ProvenBy::power_ladders ? s.evidence.ladders_under(recipe.compound) > 0
                                                          : s.evidence.sheets > 0 || s.evidence.depth_coupons > 0;
    const double lot = known ? drift.lot_proven : drift.lot_unproven;
    out.lot = worst([&](int sign) {
        Evidence e = s.evidence;
        e.growth_gain *= 1 + 2 * sign * lot;
        e.depth_gain *= 1 + sign * lot;
        e.compound_coupling *= 1 + sign * lot;
        return predicted(s.bench, s.stock, recipe, e);
    });
    return out;
}

double focus_tolerance_mm(const Scene& s, const Recipe& recipe, const Prediction& p, const Fill& fill, double accept) {
    double held = 0;
    for (double z = 0.1; z <= 3.001; z += z < 0.5 ? 0.1 : 0.25) {
        for (const int sign : {-1, 1}) {
            Recipe r = recipe;
            r.setting.focus_offset += mm(sign * z);
            const auto then = predict(s, r, fill, straight);
            if (!then || then->effect != p.effect || change(p, *then) > accept)
                return held;
        }
        held = z;
    }
    return held;
}

} // namespace finch
