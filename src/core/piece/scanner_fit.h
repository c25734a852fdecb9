// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/source.h"
#include "piece/scan_load.h"

#include <array>
#include <span>

namespace finch {

/// What is known of a bench's scanner: as scanners usually are, moved by the runs that were timed.
struct ScannerKnowledge {
    ScannerTiming timing;
    static constexpr int unknowns = 7;
    std::array<double, unknowns * unknowns> covariance{}; ///< of the logarithms of what is not known
    std::size_t runs = 0;                                 ///< that were timed
    /// The run that agrees least with the rest, and by which share it took longer than they say.
    std::size_t oddest = 0;
    double oddest_share = 0;
};
/// Most probable constants given the timed runs and how scanners usually are: Gauss-Newton on the logarithms. A
/// stopwatch is taken to be within 0.2 s (one deviation), the form of the model within 1 %. Deterministic,
/// milliseconds.
[[nodiscard]] ScannerKnowledge fitted(const Scanner& scanner);

/// Seconds; nine in ten lie between low and high.
struct TimeBand {
    double likely = 0, low = 0, high = 0;
};
/// Of several loads that are scanned one after the other. What is not known of the scanner is the same in all of them.
[[nodiscard]] TimeBand time_of(const ScannerKnowledge& scanner, std::span<const ScanLoad> loads);

/// Three scans that tell much about a scanner, within a field of this side. They are drawn without firing, or on scrap.
struct TimingPattern {
    std::string name;
    Hatch hatch;
    double speed_mm_s = 1000;
    int passes = 1;
};
[[nodiscard]] std::vector<TimingPattern> timing_patterns(double field_mm, double speed_max_mm_s);

} // namespace finch
