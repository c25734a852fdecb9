// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "physics/metal.h"

#include <memory>

namespace finch {

/// What readings have taught about this lot on this bench.
struct Evidence {
    double growth_gain = 1;          ///< correction of the oxide growth constant
    double gain_spread_ln = 0;       ///< standard deviation of ln(gain) between cells
    double depth_gain = 1;           ///< measured over predicted depth of removal
    int depth_coupons = 0;           ///< behind it
    double compound_coupling = 0.25; ///< share of the heat that reaches the metal under a compound
    int power_ladders = 0;           ///< behind it
    int sheets = 0;
    int cells = 0;
    bool operator==(const Evidence&) const = default;
};

/// What everything is predicted and judged in: the materials, what lies on the bench, and what was learned about it.
/// Refers to its parts, which must outlive it.
struct Scene {
    const Materials& materials;
    const Metal& metal;
    const Bench& bench;
    const Stock& stock;
    Evidence evidence = {};

    /// The same bench and stock with other knowledge.
    [[nodiscard]] Scene knowing(const Evidence& other) const { return {materials, metal, bench, stock, other}; }
};

/// A scene that owns its parts, so that it can be kept, compared and handed to a worker.
struct OwnScene {
    std::shared_ptr<const Materials> materials;
    std::shared_ptr<const Metal> metal;
    Setup setup;
    Evidence evidence = {};

    /// Refers to this value, which must outlive what is returned.
    [[nodiscard]] Scene scene() const { return {*materials, *metal, setup.bench, setup.stock, evidence}; }
};
/// Errors: material.unknown when the stock's metal is not among the materials.
[[nodiscard]] inline Expected<OwnScene> own_scene(std::shared_ptr<const Materials> materials, const Setup& setup,
                                                  const Evidence& evidence) {
    auto metal = materials->find(setup.stock.metal);
    if (!metal)
        return tl::unexpected(metal.error());
    return OwnScene{std::move(materials), std::move(*metal), setup, evidence};
}

} // namespace finch
