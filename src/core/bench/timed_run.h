// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <vector>

namespace finch {

/// So many ways of about one length.
struct WayCount {
    double mm = 0;
    double count = 0;
    bool operator==(const WayCount&) const = default;
};

/// What a scanner has to do in one layer, whatever it draws: all that the model of its time asks about.
struct ScanLoad {
    double speed_mm_s = 1000;
    std::vector<WayCount> lines, jumps; ///< of one pass, rising lengths; the laser goes on and off for each line
    int passes = 1;
    bool operator==(const ScanLoad&) const = default;
};

/// A scan whose time was taken at the bench.
struct TimedRun {
    std::string name;     ///< of what was scanned
    std::string when_utc; ///< empty where it is not known
    ScanLoad load;
    double took_s = 0;
    bool operator==(const TimedRun&) const = default;
};

inline constexpr std::size_t most_timed_runs = 100; ///< of a bench; of more the newest count

/// Newer runs beside older ones. One of the same scan takes the other's place; a layer that is marked in another way is
/// another scan, whatever its name.
[[nodiscard]] std::vector<TimedRun> with_runs(std::vector<TimedRun> older, const std::vector<TimedRun>& newer);

} // namespace finch
