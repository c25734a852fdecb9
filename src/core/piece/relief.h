// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/engraving.h"
#include "piece/scan_time.h"

#include <vector>

namespace finch {

/// A grey height map; white is high and stays uncut.
struct HeightMap {
    int width = 0, height = 0;
    int bits = 8; ///< 8 or 16
    std::vector<unsigned short> grey;
};

/// How greys become layers.
struct LevelRules {
    int layers = 64; ///< 1 to 4096
    double black = 0, white = 1, gamma = 1;
    bool invert = false;
    double sharpen = 0, sharpen_px = 1.5; ///< unsharp amount and radius
};
/// Layers to cut per pixel, 0 to `layers`; layer k from 0 cuts pixels with more than k. Errors: relief.bits,
/// relief.levels.
[[nodiscard]] Expected<std::vector<int>> layer_counts(const HeightMap& map, const LevelRules& rules);

/// Area and expected runs of every layer, in one walk over the pixels: the same as area_stats() of each layer's mask.
/// Errors: relief.counts.
[[nodiscard]] Expected<std::vector<AreaStats>> layer_stats(const std::vector<int>& counts, int width, double pixel_mm,
                                                           int layers, double pitch_mm);

/// Plan of a layered relief.
struct ReliefPlan {
    double total_s = 0;
    std::vector<double> layer_s, depth_um; ///< depth after 0, 1, .. layers
    double terrace_um = 0, smallest_feature_um = 0, taper_deg = 0;
    double emerges_s = 0;         ///< when the shape is first seen; infinite if never
    double coverage = 0;          ///< share of the layers' area that is cut
    std::vector<AreaStats> layer; ///< of each
};
/// Counts as from layer_counts on pixels of `pixel_mm`, within an outline of `outline_mm2`. With `exact_every` n > 0
/// the time of each n-th layer is exact and corrects those between. Errors: relief.counts.
[[nodiscard]] Expected<ReliefPlan> plan_relief(const Cutting& cut, DeepWork work, const ScannerTiming& timing,
                                               const std::vector<int>& counts, int width, double pixel_mm, int layers,
                                               double outline_mm2, double turn_deg = 0, int exact_every = 0);

} // namespace finch
