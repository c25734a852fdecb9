// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <utility>
#include <vector>

namespace finch {

/// How a galvo scanner spends its time. Estimates until they are measured on the bench.
struct ScannerTiming {
    double jump_mm_s = 4000, acceleration_mm_s2 = 6e6;
    double line_acceleration_mm_s2 = 6e6; ///< of lines, which are followed more softly than jumps
    double settle_us = 180, settle_us_per_mm = 4, settle_most_us = 500; ///< after a jump
    double on_us = 60, off_us = 90;                                     ///< laser delays
    double pass_s = 0.15;                                               ///< overhead of a pass
    double focus_mm_s = 2, focus_settle_s = 0.25;
    bool operator==(const ScannerTiming&) const = default;
};

/// A jump from its beginning until the laser may fire, and the last part of it: the wait after it.
[[nodiscard]] double jump_time_s(const ScannerTiming& timing, double distance_mm);
[[nodiscard]] double settle_time_s(const ScannerTiming& timing, double distance_mm);
[[nodiscard]] double run_time_s(const ScannerTiming& timing, double length_mm, double speed_mm_s);
[[nodiscard]] double focus_time_s(const ScannerTiming& timing, double distance_mm);

/// Runs of one line through an area, as start and end along the line in mm.
using LineRuns = std::vector<std::pair<double, double>>;

/// A black and white map of what is cut; rows from -y, square pixels.
struct AreaMask {
    int width = 0, height = 0;
    double pixel_mm = 0.1;
    std::vector<unsigned char> set;
    [[nodiscard]] bool at(int x, int y) const {
        return x >= 0 && y >= 0 && x < width && y < height &&
               set[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] != 0;
    }
};

/// Area in mm2 and number of runs to expect, averaged over the hatch angle (Cauchy-Crofton).
struct AreaStats {
    double area_mm2 = 0, runs = 0;
};
[[nodiscard]] AreaStats area_stats(const AreaMask& mask, double pitch_mm);

/// Seconds of one pass from area, area of the scanned outline and runs; plain shapes within 2 %.
[[nodiscard]] double pass_time_s(const ScannerTiming& timing, double area_mm2, double outline_mm2, double runs,
                                 double speed_mm_s, double pitch_mm);

/// Exact runs of every hatch line, and the seconds of a pass that scans them to and fro.
[[nodiscard]] std::vector<LineRuns> hatch_runs(const AreaMask& mask, double pitch_mm, double angle_deg);
[[nodiscard]] double pass_time_s(const ScannerTiming& timing, const std::vector<LineRuns>& lines, double speed_mm_s,
                                 double pitch_mm);

} // namespace finch
