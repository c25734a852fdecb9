// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/hatch.h"
#include "piece/scan_time.h"
#include "recipe/recipe.h"

namespace finch {

/// What marking one layer of a drawing takes with a recipe.
struct LayerWork {
    Hatch hatch;          ///< of the first pass
    double length_mm = 0; ///< marked in one pass
    double pass_s = 0;    ///< scanning, jumps and delays
    double total_s = 0;   ///< of all passes
};
/// Errors: those of hatch().
[[nodiscard]] Expected<LayerWork> layer_work(const Region& region, const Recipe& recipe, const ScannerTiming& timing);

/// Seconds of one pass over these runs, in their order.
[[nodiscard]] double pass_time_s(const ScannerTiming& timing, const Hatch& hatch, double speed_mm_s);

} // namespace finch
