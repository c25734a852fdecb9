// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/anneal.h"
#include "physics/coating.h"
#include "physics/compound.h"
#include "physics/engraving.h"

#include <optional>
#include <string_view>

namespace finch {

/// What a setting does to a surface, over all processes.
enum class Effect {
    none,
    tint,
    colour,
    dark,
    melts,
    polishes,
    frosts,
    removes,
    coat_kept,
    bleaches,
    partly_strips,
    strips,
    strips_and_marks,
    no_bond,
    under_fused,
    bonds,
    over_burns,
    not_modelled
};
inline constexpr std::size_t effect_count = 18;
[[nodiscard]] std::string_view word(Effect effect);

/// A neighbouring effect and how far it is: ln of the factor by which the quantity that decides would have to change.
struct EffectNeighbour {
    Effect effect = Effect::none;
    double distance = 0;
    bool operator==(const EffectNeighbour&) const = default;
};

/// Metal removed by all passes.
struct RemovalForecast {
    PassOutcome pass;                               ///< the first, on a fresh clean surface
    double depth_um = 0, least_um = 0, most_um = 0; ///< after all passes, with the band of the metal and its evidence
    int passes = 0;                                 ///< done before it stalled
    double taper_deg = 90;
    double burn_index = 0; ///< of a thin plate
    double plate_rise_k = 0, buckling_rise_k = 0;
    bool operator==(const RemovalForecast&) const = default;
};

/// The decision between the two models of bare metal: oxide and colour from the heat model, removal from the crater
/// model. One border each: metal counts as removed where the crater model takes off `limit_um` in all, or the heat
/// model's own index reaches 1.
struct BareEffect {
    Effect effect = Effect::none;
    double removal_index = 0; ///< 1 = counts as removed
    ShortList<EffectNeighbour, 6> neighbours;
};
[[nodiscard]] BareEffect bare_effect(const AnnealResult& mark, const std::optional<RemovalForecast>& removal,
                                     double limit_um, double frost_limit_um);

[[nodiscard]] Effect effect_of(CoatFate fate);
[[nodiscard]] Effect effect_of(CompoundFate fate);
/// Distances to what a coated surface would do next.
[[nodiscard]] ShortList<EffectNeighbour, 6> neighbours(const CoatingOutcome& outcome);

} // namespace finch
