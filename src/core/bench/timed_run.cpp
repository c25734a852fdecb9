// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/timed_run.h"

#include <algorithm>

namespace finch {

std::vector<TimedRun> with_runs(std::vector<TimedRun> older, const std::vector<TimedRun>& newer) {
    for (const TimedRun& run : newer) {
        std::erase_if(older, [&](const TimedRun& old) { return old.name == run.name && old.load == run.load; });
        older.push_back(run);
    }
    if (older.size() > most_timed_runs)
        older.erase(older.begin(), older.end() - most_timed_runs);
    return older;
}

} // namespace finch
