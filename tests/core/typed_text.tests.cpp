// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What pieces say, by counting and by a table.
#include "piece/typed_text.h"
#include "document/csv.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <rapidcheck.h>
#include <rapidcheck/catch.h>

using namespace finch;

namespace {

TypedText saying(std::string words) {
    TypedText t;
    t.words = std::move(words);
    return t;
}

Series counted(int first, int step, int digits) {
    Series s;
    s.first = first, s.step = step, s.digits = digits;
    return s;
}

} // namespace

TEST_CASE("words have the number of their piece and its cells in a table", "[typed]") {
    Series s = counted(100, 2, 5);
    const auto table =
        piece_table("\xef\xbb\xbflot;who wound it\nA-1;OD\n\n\"B;2\";\"said \"\"go\"\"\"\r\nC-3;\n", "rows.csv");
    REQUIRE(table);
    CHECK(table->rows.size() == 3);
    s.table = std::make_shared<const PieceTable>(*table);
    struct Row {
        std::string words, on_1, on_2;
    };
    for (const Row& r : {Row{"plain", "plain", "plain"}, Row{"No {n}", "No 00100", "No 00102"},
                         Row{"{n}{n}", "0010000100", "0010200102"}, Row{"{lot}/{n}", "A-1/00100", "B;2/00102"},
                         Row{"{who wound it}", "OD", "said \"go\""}, Row{"{{n}", "{n}", "{n}"},
                         Row{"a}b", "a}b", "a}b"}, Row{"", "", ""}}) {
        INFO(r.words);
        CHECK(words_on(saying(r.words), s, 1).value() == r.on_1);
        CHECK(words_on(saying(r.words), s, 2).value() == r.on_2);
        CHECK(varies(saying(r.words)) == (r.on_1 != r.on_2));
    }
    const auto code = [&](const std::string& words, int piece) {
        return words_on(saying(words), s, piece).error().code;
    };
    CHECK(code("{lot", 1) == "text.brace");
    CHECK(code("{Lot}", 1) == "text.field");
    CHECK(words_on(saying("{Lot}"), s, 1).error().fix.find("lot, who wound it") != std::string::npos);
    CHECK(code("{lot}", 4) == "text.row");
    CHECK(words_on(saying("{n}"), s, 4).value() == "00106");
    CHECK(words_on(saying("{n}"), counted(3, -2, 1), 3).error().code == "text.number");
    CHECK(words_on(saying("{n}"), counted(1'000'000'000, 10'000, 1), 1'000'000).value() == "10999990000");
}

TEST_CASE("a table that is none says what is wrong, and where", "[typed]") {
    struct Bad {
        std::string csv, code;
        int line;
    };
    for (const Bad& b :
         {Bad{"", "rows.empty", 0}, Bad{"lot\n", "rows.empty", 0}, Bad{"lot,lot\n1,2\n", "rows.column", 1},
          Bad{"lot,\n1,2\n", "rows.column", 1}, Bad{"lot,who\n1\n", "rows.ragged", 2},
          Bad{"lot\n\"a\nb\"\nc,d\n", "rows.ragged", 4}, Bad{"lot\nM\xfcller\n", "rows.not_utf8", 0},
          Bad{"lot\n" + std::string(most_table_bytes, 'x'), "rows.too_long", 0}}) {
        INFO(b.csv.substr(0, 40));
        const auto table = piece_table(b.csv, "rows.csv");
        REQUIRE_FALSE(table);
        CHECK(table.error().code == b.code);
        CHECK(table.error().place.file == "rows.csv");
        CHECK(table.error().place.line == b.line);
    }
    std::string many = "n\n";
    for (std::size_t i = 0; i <= most_table_rows; ++i)
        many += "1\n";
    CHECK(piece_table(many, "").error().code == "rows.too_long");
}

TEST_CASE("trays follow each other until every piece had its turn, once", "[typed]") {
    rc::prop("by a table and by counting", [] {
        const int rows = *rc::gen::inRange(1, 200), nests = *rc::gen::inRange(1, 40);
        const bool by_table = *rc::gen::arbitrary<bool>();
        TypedTexts typed{{saying(by_table ? "{a}" : "{n}")}, {}};
        typed.series.table = std::make_shared<const PieceTable>(
            PieceTable{"", {"a"}, std::vector<std::vector<std::string>>(static_cast<std::size_t>(rows), {"x"})});
        std::vector<int> all;
        for (int tray = 0; tray < 300; ++tray) {
            const auto now = pieces_on(typed, nests).value();
            RC_ASSERT(static_cast<int>(now.size()) <= nests);
            all.insert(all.end(), now.begin(), now.end());
            typed.series.pieces = pieces_after(typed, nests);
            if (typed.series.pieces.empty() || static_cast<int>(all.size()) > rows + 2 * nests)
                break;
        }
        for (std::size_t i = 0; i < all.size(); ++i)
            RC_ASSERT(all[i] == static_cast<int>(i) + 1);
        const bool whole = by_table ? static_cast<int>(all.size()) == rows : static_cast<int>(all.size()) > rows;
        RC_ASSERT(whole);
    });
    rc::prop("lists are typed as they are told", [] {
        auto pieces = *rc::gen::unique<std::vector<int>>(rc::gen::inRange(1, 60));
        RC_ASSERT(pieces_from_text(pieces_text(pieces)).value() == pieces);
    });
    CHECK(pieces_from_text(" 25-27;51,\n3 ").value() == std::vector<int>{25, 26, 27, 51, 3});
    for (const char* bad : {"0", "5-3", "1.5", "7,7", "1-5,3", "x", "-", "1-", "1-2000", "1e9", "nan"})
        CHECK(pieces_from_text(bad).error().code == "text.pieces");
    TypedTexts more{{saying("{n}")}, {}};
    more.series.pieces = {1, 2, 3};
    CHECK(pieces_on(more, 2).error().code == "text.pieces");
}
