// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/height_map.h"
#include "piece/scan_load.h"

#include <vector>

namespace finch {

/// A height map as layers on the part.
struct ReliefMap {
    std::vector<int> counts; ///< as from layer_counts()
    int width = 0;           ///< pixels
    double pixel_mm = 0.1;
    int layers = 1;
    [[nodiscard]] int height() const { return static_cast<int>(counts.size() / static_cast<std::size_t>(width)); }
    /// What is scanned at most.
    [[nodiscard]] double outline_mm2() const { return static_cast<double>(counts.size()) * pixel_mm * pixel_mm; }
    /// What layer k from 0 cuts; the last row of the picture lies at y = 0.
    [[nodiscard]] AreaMask mask(int layer) const;
};

/// Area and expected runs of every layer, in one walk over the pixels: the same as area_stats() of each layer's mask.
/// Errors: relief.counts.
[[nodiscard]] Expected<std::vector<AreaStats>> layer_stats(const std::vector<int>& counts, int width, double pixel_mm,
                                                           int layers, double pitch_mm);

/// One pass of a layer as a load, from its area and runs alone; `outline_mm2` is scanned at most. As pass_time_s().
[[nodiscard]] ScanLoad load_of(const AreaStats& layer, double outline_mm2, double speed_mm_s, double pitch_mm);

/// Share by which hatching layers in full, `samples` of them and each in its own direction, takes longer or shorter
/// than their areas and runs say. 1 where nothing is cut.
[[nodiscard]] double hatched_over_counted(const ReliefMap& map, const std::vector<AreaStats>& layers,
                                          const ScannerTiming& timing, double speed_mm_s, double pitch_mm,
                                          double angle_deg, double turn_per_layer_deg, int samples);

} // namespace finch
