// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/recipe.h"
#include "recipe/scene.h"
#include "search/next_cells.h"

#include <optional>
#include <span>
#include <vector>

namespace finch {

/// A setting that may come out at a depth, as the card tells it.
struct DepthTrial {
    Recipe recipe;
    double um = 0;
    double spread_ln = 0; ///< one standard deviation of ln(depth)
    double seconds = 0;
};

/// A recipe at as many passes as are predicted to reach from far too little to far too much, wherever this bench's
/// depth may truly lie; where a pass is more than a few per cent, with the speed turned as well. None that is expected
/// to come through the stock. In order of depth. The recipe should remove metal: else there are none.
[[nodiscard]] std::vector<DepthTrial> depth_trials(const Scene& scene, const Recipe& base, const Fill& fill,
                                                   const WantedDepth& wanted);

/// The next cells for a depth, by the same greedy cover as next_cells(). One unknown decides (how much more or less
/// this bench takes away than the model says), and any measured depth tells it: few cells at a time, and none to learn
/// from alone. No trial: no cell.
[[nodiscard]] NextCells next_depth_cells(const WantedDepth& wanted, std::span<const DepthTrial> trials,
                                         const CellBudget& budget, std::uint64_t seed);

/// How deep a recipe is expected to come, as a trial; nothing where it takes nothing away, or may come through.
[[nodiscard]] std::optional<DepthTrial> depth_trial(const Scene& scene, const Recipe& recipe, const Fill& fill);

/// Share of possible benches on which one of these comes out at the wanted depth, on the safe side.
[[nodiscard]] double chance_of(const WantedDepth& wanted, std::span<const DepthTrial> cells, std::uint64_t seed);

/// The chance that a depth which was measured as `um`, nine in ten within `within_um`, truly is the wanted one.
[[nodiscard]] double depth_belief(const WantedDepth& wanted, double um, double within_um);

} // namespace finch
