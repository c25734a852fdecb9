// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/scan_load.h"
#include "recipe/recipe.h"

namespace finch {

/// What marking one layer of a drawing takes with a recipe.
struct LayerWork {
    Hatch hatch;   ///< of the first pass
    ScanLoad load; ///< of all passes, which are taken to be like the first
};
/// Errors: those of hatch().
[[nodiscard]] Expected<LayerWork> layer_work(const Region& region, const Recipe& recipe, bool by_shape = false);

} // namespace finch
