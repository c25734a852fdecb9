// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/control_record.h"
#include "sample_entry.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <QTemporaryDir>

using namespace finch;
using namespace finch::tests;

namespace {

ReadSheet read_on(int number, const std::string& uid, const std::string& when, double dose, const Lab& expected,
                  const Setup& setup) {
    static const Recipe letters = label_recipe(DemoBench().scene()).value();
    ReadSheet r;
    r.uid = uid;
    r.when_utc = when;
    r.by = "OD";
    r.burned_uid = "burned " + std::to_string(number);
    r.sheet = plan_lot_check(DemoBench().request(number), {expected, 3}, setup.bench, letters).value();
    r.setup = setup;
    r.reading.sheet_number = number;
    r.reading.cells.resize(r.sheet.cells());
    for (std::size_t i = 0; i < r.sheet.own.size(); ++i) {
        const double x = std::log(r.sheet.own[i].power_percent / r.sheet.base.setting.power_percent * dose);
        r.reading.cells[i] = {CellState::read, {expected.l - 60 * x, expected.a + 30 * x, expected.b + 90 * x}, 1, 1};
    }
    return r;
}

} // namespace

TEST_CASE("controls are found in a record among everything else, each sheet by its newest reading", "[record]") {
    QTemporaryDir folder;
    const auto book = Logbook::open(folder.filePath(QStringLiteral("logbook.sqlite"))).value();
    const DemoBench demo;
    Setup elsewhere = demo.setup;
    elsewhere.stock.lot = "S316-99";
    const Lab blue{36, 2, -28}, gold{62, 8, 40};
    const auto add = [&](const ReadSheet& r) {
        return book->add(entry_of(r, "five cells", Outcome::good, "Stainless 316", "0")).value();
    };
    REQUIRE(book->at_once([&]() -> Expected<void> {
        add(read_on(1, "a1", "2026-11-01T08:00:00Z", 0.95, blue, demo.setup)); // read again below
        add(read_on(2, "a2", "2026-11-02T08:00:00Z", 1.01, blue, demo.setup));
        add(read_on(3, "b3", "2026-11-03T08:00:00Z", 1.00, blue, elsewhere));
        add(read_on(4, "c4", "2026-11-04T08:00:00Z", 1.00, gold, demo.setup));
        // More than a page of what is none, or cannot be read.
        for (int i = 0; i < 510; ++i)
            if (const auto other = book->add(sample("a reading " + std::to_string(i), EntryKind::reading)); !other)
                return tl::unexpected(other.error());
        add(read_on(1, "a1 again", "2026-11-01T09:00:00Z", 1.00, blue, demo.setup));
        add(read_on(5, "a5", "2026-11-05T08:00:00Z", 0.98, blue, demo.setup));
        ReadSheet coarse = read_on(6, "a6", "2026-11-06T08:00:00Z", 0.98, blue, demo.setup);
        for (CellReading& c : coarse.reading.cells)
            c.state = CellState::hidden;
        add(coarse);
        return {};
    }));
    const auto read = lot_checks(*book, {}).value();
    REQUIRE(read.size() == 7);
    const auto controls = controls_among(read);
    REQUIRE(controls.size() == 3);
    const RecordedControl& a = controls.front(); // burned last
    CHECK(a.sheet.number == 6);
    CHECK(a.coarse == 1);
    REQUIRE(a.course.points.size() == 3);
    CHECK(a.course.points[0].reading.dose_ln == Approx(0).margin(0.004));
    CHECK(a.course.points[1].reading.dose_ln == Approx(std::log(1.01)).margin(0.004));
    CHECK(a.course.points[2].reading.dose_ln == Approx(std::log(0.98)).margin(0.004));
    CHECK(std::ranges::count(controls, 1U, [](const RecordedControl& c) { return c.course.points.size(); }) == 2);
    // Where they come from does not matter.
    auto shuffled = read;
    std::ranges::reverse(shuffled);
    CHECK(to_json(controls_among(shuffled).front().course) == to_json(a.course));
    EntryFilter here;
    here.lot = "S316-99";
    CHECK(lot_checks(*book, here).value().size() == 1);
    CHECK(controls_among({}).empty());
}
