// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/bench_json.h"
#include "demo_bench.h"
#include "proof/reading.h"
#include "recipe/plan.h"
#include "record/entry.h"

#include <rapidcheck.h>

/// Documents of every shape that the program can hold, for properties and for fuzzing.
namespace finch::tests::any {

/// A number with at most six decimals, so that it is the same after a file as before.
inline double number(double low, double high) {
    const int steps = *rc::gen::inRange(0, 1000001);
    const double raw = low + (high - low) * steps / 1000000.0;
    return std::clamp(std::round(raw * 1e4) / 1e4, low, high);
}
inline bool coin() {
    return *rc::gen::inRange(0, 2) == 1;
}
inline std::string text() {
    static const std::vector<std::string> parts{"noon",   "Gehäuse", "für",     "große", "Höhenverstellung",
                                                "日時計", "é",       "🪶",    "\"",    "\\",
                                                "<&>",    "\n",      "S316-07", " ",     "\x01",
                                                "'--",    "=1+1",    "100 %",   "a\tb"};
    std::string out;
    for (int i = *rc::gen::inRange(0, 9); i > 0; --i)
        out += parts[*rc::gen::inRange<std::size_t>(0, parts.size())];
    return out;
}

inline Recipe recipe() {
    Recipe r;
    r.name = text();
    r.setting = {number(1, 100),
                 kilohertz(number(1, 1000)),
                 nanoseconds(number(2, 350)),
                 mm_per_second(number(1, 8000)),
                 mm(number(0.001, 1)),
                 number(0, 180),
                 *rc::gen::inRange(1, 500),
                 mm(number(-5, 5))};
    r.turn_per_pass_deg = number(0, 180);
    r.cross_hatch = coin();
    r.process = all_processes[*rc::gen::inRange<std::size_t>(0, all_processes.size())];
    r.line_shift_percent = number(0, 100);
    if (coin())
        r.deep = {*rc::gen::inRange(0, 50), *rc::gen::inRange(0, 50), mm(number(0, 1)), mm(number(0.1, 20))};
    if (coin()) {
        r.compound = "ceramic";
        r.coats = number(1, 4);
    }
    return r;
}

inline Stock stock() {
    Stock s;
    s.metal = coin() ? "titanium-2" : "no-such-metal";
    s.finish = static_cast<Finish>(*rc::gen::inRange(0, 4));
    s.thickness = mm(number(0.1, 20));
    s.coating = static_cast<Coating>(*rc::gen::inRange(0, 8));
    s.coating_thickness = micrometres(number(0, 200));
    s.lot = text();
    s.under_it = text();
    s.held_by = text();
    s.start_temperature_c = number(-10, 60);
    return s;
}

inline Bench bench() {
    Bench b = DemoBench().setup.bench;
    b.name = "bench " + text();
    b.origin = text();
    b.source.rated_power = watts(number(5, 200));
    b.source.hours_run = number(0, 9000);
    b.lenses.front().measured_spot.reset();
    if (coin())
        b.lenses.front().measured_spot = micrometres(number(20, 90));
    b.lens_index = *rc::gen::inRange<std::size_t>(0, b.lenses.size());
    b.rate_per_hour = number(0, 200);
    if (coin())
        b.scanner.timed = {{text(),
                            coin() ? "2026-11-24T09:12:00Z" : "",
                            {number(1, 9000), {{number(0.01, 90), 12}}, {{number(0, 90), 11}, {100, 3}}, 7},
                            number(0.1, 900)}};
    if (coin())
        b.rotary = Rotary{mm(number(10, 200)), mm(number(10, 300)), 200, 16, 3};
    return b;
}

inline Setup setup() {
    Setup s{bench(), stock(), {}};
    s.focus.method = static_cast<FocusMethod>(*rc::gen::inRange(0, 5));
    s.focus.offset = mm(number(-5, 5));
    s.focus.head_raised = mm(number(-50, 50));
    s.focus.changed_utc = coin() ? "2026-11-24T09:12:00Z" : "";
    if (coin())
        s.focus.confirmed = confirmation(s.focus, s.bench.name, s.bench.lens().name, s.stock, text(), "2026-11-24");
    if (s.focus.confirmed && coin())
        s.focus.confirmed->from_gauge = mm(number(-3, 3));
    return s;
}

inline Lab lab() {
    return {number(0, 100), number(-60, 60), number(-60, 60)};
}
inline Target target() {
    Target t{text(), lab(), coin(), number(0.1, 20)};
    if (coin())
        t.depth = WantedDepth{number(0.1, 900), number(0.01, 90)};
    return t;
}

inline Aim aim() {
    Aim a;
    a.title = text();
    a.place = text();
    a.pieces = *rc::gen::inRange(1, 500);
    a.fill = {mm(number(1, 100)), number(1, 5000)};
    a.working_part = coin();
    a.pigment_l = number(10, 60);
    for (const WishKind kind : {WishKind::dark, WishKind::colour, WishKind::depth, WishKind::minutes})
        if (coin()) {
            Wish w = usual_wish(kind, coin());
            if (kind == WishKind::colour)
                w.lab = lab();
            a.wishes.push_back(w);
        }
    return a;
}

inline Entry entry() {
    Entry e;
    e.id = *rc::gen::inRange(0, 99999);
    e.uid = "u-" + std::to_string(*rc::gen::inRange(0, 99999));
    e.kind = static_cast<EntryKind>(*rc::gen::inRange(0, 4));
    e.when_utc = "2026-11-24T09:12:00Z";
    e.by = text();
    e.title = text();
    e.summary = text();
    e.outcome = static_cast<Outcome>(*rc::gen::inRange(0, 4));
    e.bench = text();
    e.metal = text();
    e.lot = text();
    e.sheet = *rc::gen::inRange(0, 999);
    e.parent_uid = coin() ? "u-7" : "";
    e.setup = to_json(setup());
    e.body = {{"recipe", to_json(recipe())}};
    e.program_version = "0.3.0";
    return e;
}

} // namespace finch::tests::any
