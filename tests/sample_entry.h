// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/bench_json.h"
#include "demo_bench.h"
#include "record/entry.h"

namespace finch::tests {

/// An entry as the program writes them.
inline Entry sample(const std::string& title, EntryKind kind = EntryKind::recipe) {
    Entry e;
    e.kind = kind;
    e.when_utc = "2026-11-24T09:12:00Z";
    e.by = "OD";
    e.title = title;
    e.summary = "cell D2 of sheet 07, 0.7 from deep blue";
    e.outcome = Outcome::good;
    e.bench = "Wren";
    e.metal = "Stainless 316";
    e.lot = "S316-07";
    e.setup = to_json(DemoBench().setup);
    e.body = {{"recipe", to_json(DemoBench::blue())}};
    e.program_version = "0.1.0";
    return e;
}

} // namespace finch::tests
