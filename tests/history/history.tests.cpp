// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/history.h"

#include "record/facts.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <iterator>
#include <map>
#include <QTemporaryDir>

using namespace finch;

namespace {

std::string kept_days() {
    std::ifstream in(FINCH_SOURCE "/tests/data/demo/nine-days.txt");
    return {std::istreambuf_iterator<char>(in), {}};
}

} // namespace

TEST_CASE("the demo's nine days are made anew as they were", "[history]") {
    QTemporaryDir folder;
    const auto logbook = Logbook::open(folder.filePath(QStringLiteral("logbook.sqlite"))).value();
    const auto written = history::write_nine_days(*logbook, FINCH_SOURCE "/data");
    if (!written)
        FAIL(sentence(written.error()));
    const std::string days = history::told(*logbook).value();
    if (std::getenv("FINCH_APPROVE") != nullptr)
        std::ofstream(FINCH_SOURCE "/tests/data/demo/nine-days.txt") << days;
    CHECK(days == kept_days());

    EntryFilter readings;
    readings.kind = EntryKind::reading;
    std::map<int, ReadSheet> read;
    const auto heads = logbook->list(readings).value();
    for (const Entry& head : heads) {
        read[head.sheet] = read_sheet(logbook->entry(head.id).value()).value();
        CHECK(logbook->pictures(head.id).value().size() == 2);
    }
    REQUIRE(read.size() == 8);
    // The lens hazes over: the same six cells hold less and less film, and go back from light to deep blue.
    const auto mean_b = [&](int sheet) {
        double sum = 0, count = 0;
        for (const CellReading& c : read.at(sheet).reading.cells)
            if (c.state == CellState::read) {
                sum += c.lab.b;
                ++count;
            }
        REQUIRE(count >= 4);
        return sum / count;
    };
    CHECK(mean_b(8) < mean_b(7) - 1);
    CHECK(mean_b(7) < mean_b(2) - 1);
    // A great colour that nobody could repeat.
    const auto best = [&](int sheet) {
        double de = 1e9;
        for (const CellReading& c : read.at(sheet).reading.cells)
            if (c.state == CellState::read)
                de = std::min(de, distance(read.at(sheet).target, c.lab));
        return de;
    };
    CHECK(best(4) < 4);
    CHECK(best(5) > best(4) + 4);
    // The failures that a workshop learns from are there to be found.
    for (const char* word : {"focus", "blasted", "typed", "120", "drying", "wood", "lens", "bowed"}) {
        INFO(word);
        EntryFilter lesson;
        lesson.kind = EntryKind::recipe;
        lesson.words = word;
        CHECK(logbook->count(lesson).value() >= 1);
    }
}
