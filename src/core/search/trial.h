// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/recipe.h"
#include "recipe/scene.h"

#include <array>
#include <optional>
#include <span>
#include <vector>

namespace finch {

/// What a bench may differ in from the model, as far as a film can tell: ln growth, ln absorbed power, ln spot, slope
/// of ln thickness, share of the neighbours' heat that arrives.
using BenchOffsets = std::array<double, 5>;

/// One setting with all that the physics knows of it before anything is burned: how G = ln(h^2 - native^2), h in nm,
/// answers to the bench's offsets. Six evaluations of the heat model, so that a search may ask for thousands of worlds.
/// Source: docs/search.md.
struct Trial {
    Recipe recipe;
    double g = 0;               ///< as predicted
    double ga = 0, gaa = 0;     ///< first and second derivative by ln absorbed power
    double gs = 0, gss = 0;     ///< by ln spot
    double gt = 0;              ///< per K of a warmer start
    double native2_nm2 = 9;     ///< square of the film that is there from the start
    std::array<double, 4> at{}; ///< ln of dose, pulses per area, fluence and peak power, about ordinary values
    double haze = 0.35;
    double heat_ln = -7; ///< ln of the larger of the melt and removal index; 0 = spoiled by heat on the nominal bench
    double worn_ln = -7; ///< ln of how far many pulses near the vapour limit wear the surface; 0 = spoiled
    double tear_ln = -7; ///< ln of how far pulses tear the surface away; 0 = in half of all benches
    double seconds = 0;
    double absorbed_w = 0;
    double warmth_k = 0; ///< from cells burned before it, on the nominal bench

    /// ln thickness (nm) on a bench, and its derivatives by the offsets.
    struct Told {
        double ln_nm = 0;
        std::array<double, 5> slope{};
    };
    [[nodiscard]] Told told(const BenchOffsets& bench) const;
};

/// Emulates the settings that the bench and the model can do; others are left out. The metal must grow an oxide.
/// The result does not depend on the number of threads.
[[nodiscard]] std::vector<Trial> trials(const Scene& scene, std::span<const Recipe> recipes, const Fill& fill,
                                        int threads = 1);

/// One setting of which all but the slopes is known already: `physics` of the heat model without any knowledge, and
/// what the joined model says then of the share that is carried away. Nothing where a slope leaves the model's range.
[[nodiscard]] std::optional<Trial> trial_of(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                            const AnnealResult& physics, double share_away);

/// Matern 5/2 of two settings, in ln of dose, pulses, fluence and peak power. `length`: in ln units.
[[nodiscard]] double likeness(const Trial& a, const Trial& b, double length = 1);

} // namespace finch
