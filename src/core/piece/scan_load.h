// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/timed_run.h"
#include "piece/hatch.h"
#include "piece/scan_time.h"

namespace finch {

/// The load of a hatch. Lines that are joined without a sharp corner, as round a contour, are one. Ways whose lengths
/// differ by less than a fiftieth are counted as one kind, with their mean.
[[nodiscard]] ScanLoad load_of(const Hatch& hatch, double speed_mm_s, int passes);
[[nodiscard]] double marked_mm(const ScanLoad& load); ///< in one pass

/// Where the time of a scan goes, in seconds. Only the first part marks.
struct TimeParts {
    double marking = 0, turning = 0, jumping = 0, settling = 0, passes = 0;
    [[nodiscard]] double total() const { return marking + turning + jumping + settling + passes; }
};
/// `turning`: speeding up and laser delays of every line; `settling`: the waits after jumps; `passes`: the overhead of
/// each. A line too short for its speed is crossed speeding up and slowing down alone. Nothing to mark takes no time.
[[nodiscard]] TimeParts time_parts(const ScannerTiming& timing, const ScanLoad& load);

} // namespace finch
