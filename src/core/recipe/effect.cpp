// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/effect.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace finch {
namespace {

Effect effect_of(Regime regime) {
    switch (regime) {
    case Regime::too_cold:
        return Effect::none;
    case Regime::tint:
        return Effect::tint;
    case Regime::interference_colour:
        return Effect::colour;
    case Regime::dark_anneal:
        return Effect::dark;
    case Regime::surface_melting:
        return Effect::melts;
    case Regime::ablation:
        return Effect::removes;
    }
    return Effect::none;
}

double from(double index) {
    return -std::log(std::max(index, 1e-6));
}

/// A shallow clean mark that no oxide covers: which one, by the crater model.
Effect shallow(const PassOutcome& pass, Effect otherwise) {
    // So little above the threshold that its own uncertainty covers it: nothing to be seen yet.
    if (pass.crater.log_ratio < 0.3)
        return otherwise;
    switch (pass.look) {
    case FloorLook::polished:
    case FloorLook::lightly_cleaned:
        return Effect::polishes;
    case FloorLook::frosted:
        return Effect::frosts;
    case FloorLook::untouched:
    case FloorLook::tinted_or_molten:
    case FloorLook::dark:
        break;
    }
    return otherwise;
}

} // namespace

std::string_view word(Effect e) {
    static constexpr std::array<std::string_view, effect_count> words{"no mark",
                                                                      "tint",
                                                                      "colour",
                                                                      "dark",
                                                                      "melts",
                                                                      "polishes",
                                                                      "frosts",
                                                                      "removes",
                                                                      "coat kept",
                                                                      "bleaches",
                                                                      "partly strips",
                                                                      "strips clean",
                                                                      "strips, marks the metal",
                                                                      "no bond",
                                                                      "under-fused",
                                                                      "bonds",
                                                                      "over-burns",
                                                                      "not modelled"};
    return words.at(static_cast<std::size_t>(e));
}

BareEffect bare_effect(const AnnealResult& mark, const std::optional<RemovalForecast>& removal, double limit_um,
                       double frost_limit_um) {
    BareEffect out;
    const double depth = removal ? removal->depth_um : 0;
    out.removal_index = std::max(mark.removal.index, depth / limit_um);
    const Effect heat = mark.regime == Regime::ablation ? Effect::none : effect_of(mark.regime);
    // A crater deeper than the film carries the film away with it.
    const bool torn = removal && removal->pass.crater.depth_um * 1e-6 > mark.oxide.thickness_m;
    const bool film = heat == Effect::tint || heat == Effect::colour || heat == Effect::dark;
    if (out.removal_index >= 1)
        out.effect = removal && removal->pass.look == FloorLook::frosted && depth < frost_limit_um ? Effect::frosts
                                                                                                   : Effect::removes;
    else if (film && heat != Effect::tint && !torn)
        out.effect = heat;
    else if (removal && removal->pass.crater.log_ratio > 0)
        out.effect = shallow(removal->pass, heat);
    else
        out.effect = heat;
    if (out.removal_index >= 1) {
        out.neighbours.add({heat == Effect::none ? Effect::polishes : heat, std::log(out.removal_index)});
        return out;
    }
    for (const Neighbour& n : mark.neighbours)
        if (n.regime != Regime::ablation && effect_of(n.regime) != out.effect)
            out.neighbours.add({effect_of(n.regime), n.distance});
    out.neighbours.add({Effect::removes, from(out.removal_index)});
    return out;
}

Effect effect_of(CoatFate fate) {
    switch (fate) {
    case CoatFate::untouched:
        return Effect::coat_kept;
    case CoatFate::bleached:
        return Effect::bleaches;
    case CoatFate::partly_stripped:
        return Effect::partly_strips;
    case CoatFate::stripped:
        return Effect::strips;
    case CoatFate::stripped_marked:
    case CoatFate::marked:
        return Effect::strips_and_marks;
    }
    return Effect::coat_kept;
}

Effect effect_of(CompoundFate fate) {
    switch (fate) {
    case CompoundFate::no_bond:
        return Effect::no_bond;
    case CompoundFate::under_fused:
        return Effect::under_fused;
    case CompoundFate::bonded:
        return Effect::bonds;
    case CompoundFate::over_burnt:
        return Effect::over_burns;
    }
    return Effect::no_bond;
}

ShortList<EffectNeighbour, 6> neighbours(const CoatingOutcome& o) {
    ShortList<EffectNeighbour, 6> out;
    const double over_coat = std::log(o.coat_margin);
    if (o.bleach_threshold_j_cm2 > 0) {
        const double over_bleach = std::log(o.fluence_j_cm2 / o.bleach_threshold_j_cm2);
        if (over_coat >= 0)
            out.add({Effect::bleaches, over_coat});
        else {
            out.add({over_bleach >= 0 ? Effect::coat_kept : Effect::bleaches, std::abs(over_bleach)});
            if (over_bleach >= 0)
                out.add({Effect::strips, -over_coat});
        }
    } else {
        out.add({over_coat >= 0 ? Effect::coat_kept : Effect::strips, std::abs(over_coat)});
    }
    if (over_coat >= 0) {
        const double below_metal = std::min(std::log(o.metal_margin), o.tint > 0 ? -std::log(o.tint) : 10.0);
        out.add({below_metal >= 0 ? Effect::strips_and_marks : Effect::strips, std::abs(below_metal)});
    }
    return out;
}

} // namespace finch
