// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/compare.h"
#include "record/repeatable.h"
#include "sample_entry.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <functional>

using namespace finch;
using finch::tests::sample;

TEST_CASE("two entries are compared by what differs only", "[record]") {
    Entry a = sample("sheet 04"), b = sample("sheet 06");
    Setup other = tests::DemoBench().setup;
    other.focus.offset = mm(0.7);
    other.stock.start_temperature_c = 17;
    b.setup = to_json(other);
    b.by = "BR";
    const Comparison c = compare(a, b);
    REQUIRE(c.differences.size() == 3);
    CHECK(c.differences[0].group == "Focus");
    CHECK(c.differences[0].field == "offset");
    CHECK(c.differences[0].a == "0 mm");
    CHECK(c.differences[0].b == "0.7 mm");
    CHECK(c.differences[1].group == "Stock");
    CHECK(c.differences[1].field == "start temperature");
    CHECK(c.differences[2].field == "operator");
    CHECK(c.equal > 30);
    CHECK(compare(a, a).differences.empty());
}

TEST_CASE("why an old result may not come again is told: never recorded, never proven, different now", "[record]") {
    const auto has = [](const std::vector<std::string>& lines, const char* begin) {
        return std::ranges::any_of(lines, [&](const std::string& l) { return l.starts_with(begin); });
    };
    Setup then = tests::DemoBench().setup;
    then.stock.under_it = "steel plate";
    then.focus.confirmed =
        confirmation(then.focus, then.bench.name, then.bench.lens().name, then.stock, "OD", "2026-11-24T09:00:00Z");
    then.stock.coating = Coating::none;
    Entry e = sample("noon line");
    e.kind = EntryKind::recipe;
    e.setup = to_json(then);
    e.body["measured"] = {{"lab", {36, 2, -28}}, {"within_de00", 1.5}, {"repeats", 3}, {"repeat_sheets", 2}};
    CHECK(repeatability(e, then).clear());
    // Each thing that is missing is named once; what was confirmed by whom does not change a mark.
    Setup now = then;
    now.focus.confirmed->when_utc = "2026-11-25T09:00:00Z";
    CHECK(repeatability(e, now).clear());
    now.stock.lot = "S316-99";
    const Repeatability other_lot = repeatability(e, now);
    REQUIRE(other_lot.different.size() == 1);
    CHECK(other_lot.different[0].field == "lot");
    CHECK(other_lot.different[0].b == "S316-99");
    struct Row {
        const char* begin;
        std::function<void(Setup&)> forget;
    };
    for (const Row& row : {Row{"The lot", [](Setup& s) { s.stock.lot.clear(); }},
                           Row{"The focus: nobody", [](Setup& s) { s.focus.confirmed.reset(); }},
                           Row{"The focus: something", [](Setup& s) { s.stock.thickness = mm(9); }},
                           Row{"Whether the surface", [](Setup& s) { s.stock.coating = Coating::unknown; }},
                           Row{"What held", [](Setup& s) { s.stock.under_it = s.stock.held_by = ""; }},
                           Row{"How many hours", [](Setup& s) { s.bench.source.hours_run = 0; }}}) {
        INFO(row.begin);
        Setup less = then;
        row.forget(less);
        if (less.stock.lot.empty() && less.focus.confirmed) // else the focus would be of another lot
            less.focus.confirmed->lot.clear();
        e.setup = to_json(less);
        const Repeatability r = repeatability(e, less);
        CHECK(r.different.empty());
        CHECK(has(r.never_recorded, row.begin));
    }
    e.setup = to_json(then);
    e.by.clear();
    e.body["measured"] = {{"lab", {36, 2, -28}}, {"within_de00", 6}, {"repeats", 1}, {"repeat_sheets", 1}};
    CHECK(has(repeatability(e, then).never_recorded, "Who"));
    CHECK(has(repeatability(e, then).never_proven, "The colour was read no nearer"));
    CHECK(has(repeatability(e, then).never_proven, "It was marked once"));
    // Nothing that a record may hold ends the program.
    for (const char* bad : {"null", "5", "[]", R"({"measured":5})", R"({"measured":{"repeats":"x"}})"}) {
        e.body = nlohmann::json::parse(bad);
        e.setup = e.body;
        CHECK(has(repeatability(e, then).never_recorded, "The set-up"));
    }
}
