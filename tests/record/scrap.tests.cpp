// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/scrap_record.h"
#include "sample_entry.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <QTemporaryDir>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

ScrapFact said(const char* uid, const char* when, const char* piece, ScrapFact::Kind kind) {
    ScrapFact f;
    f.uid = uid;
    f.when_utc = when;
    f.by = "OD";
    f.piece = piece;
    f.kind = kind;
    f.setup = DemoBench().setup;
    return f;
}

std::vector<ScrapFact> week() {
    using Kind = ScrapFact::Kind;
    std::vector<ScrapFact> out{
        said("a", "2026-11-01T08:00:00Z", "S2", Kind::found), said("b", "2026-11-01T08:01:00Z", "S10", Kind::found),
        said("c", "2026-11-01T09:00:00Z", "S2", Kind::used),  said("d", "2026-11-02T09:00:00Z", "S2", Kind::used),
        said("e", "2026-11-03T09:00:00Z", "S3", Kind::found), said("f", "2026-11-04T09:00:00Z", "S3", Kind::gone),
        said("g", "2026-11-05T09:00:00Z", "S3", Kind::found), // its name is not given twice
        said("h", "2026-11-05T09:00:00Z", "S2", Kind::found), said("i", "2026-11-06T09:00:00Z", "S99", Kind::used)};
    for (ScrapFact& f : out) {
        if (f.kind == ScrapFact::Kind::found)
            f.width_mm = f.uid == "h" ? 500 : 80, f.height_mm = 45.5, f.note = "offcut";
        if (f.kind == ScrapFact::Kind::used)
            f.mark = {f.uid == "d" ? 1U : 0U,
                      {1, 1, 20, 30.5},
                      f.uid == "c" ? "sheet 7" : "stamp",
                      f.uid == "c" ? 7 : 0,
                      f.uid == "c"};
    }
    return out;
}

} // namespace

TEST_CASE("a scrap bin is the same in whatever order its facts come, and through the logbook", "[record][scrap]") {
    std::vector<ScrapFact> facts = week();
    const std::vector<ScrapPiece> bin = scrap_bin(facts);
    REQUIRE(bin.size() == 2);
    CHECK(bin[0].name == "S2"); // before S10
    CHECK(bin[0].width_mm == 80);
    REQUIRE(bin[0].marks.size() == 2);
    CHECK(bin[0].marks[0] == ScrapMark{0, {1, 1, 20, 30.5}, "sheet 7", 7, true});
    CHECK(bin[1].marks.empty());
    std::mt19937 chance(3);
    for (int i = 0; i < 40; ++i) {
        std::ranges::shuffle(facts, chance);
        std::vector<ScrapFact> twice = facts; // as an import brings them once more
        twice.insert(twice.end(), facts.begin(), facts.end());
        CHECK(scrap_bin(twice) == bin);
    }
    QTemporaryDir folder;
    const auto book = Logbook::open(folder.filePath(QStringLiteral("logbook.sqlite"))).value();
    REQUIRE(book->at_once([&]() -> Expected<void> {
        for (const ScrapFact& f : facts)
            if (const auto added = book->add(entry_of(f, "Stainless 316", "0")); !added)
                return tl::unexpected(added.error());
        for (int i = 0; i < 505; ++i) // more than a page of what has the words and is none
            if (const auto other = book->add(sample("Scrap bin, talk " + std::to_string(i), EntryKind::bench)); !other)
                return tl::unexpected(other.error());
        return {};
    }));
    CHECK(scrap_bin(scrap_facts(*book).value()) == bin);
}

TEST_CASE("a scrap fact that says nonsense is refused with its field", "[record][scrap]") {
    const auto broken = [](const char* key, const nlohmann::json& value) {
        Entry e = entry_of(week()[2], "Stainless 316", "0");
        e.body[key] = value;
        const auto read = scrap_fact(e);
        return read ? std::string("read") : read.error().place.field;
    };
    CHECK(broken("note", "as it is") == "read");
    CHECK(broken("face", "C") == "face");
    CHECK(broken("where_mm", {1, 2, 0, 4}) == "where_mm");
    CHECK(broken("where_mm", {1, 2, 3}) == "where_mm");
    CHECK(broken("piece", "") == "piece");
    CHECK(broken("kind", "lost") == "kind");
    CHECK(broken("sheet", -1) == "sheet");
    Entry small = entry_of(week()[0], "Stainless 316", "0");
    small.body["size_mm"] = {80, 0.5};
    CHECK(scrap_fact(small).error().place.field == "size_mm");
}
