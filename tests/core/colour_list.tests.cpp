// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "any_sheet.h"
#include "physics/colour_difference.h"
#include "proof/depth_list.h"
#include "proof/measured_cells.h"
#include "proof/observed.h"

#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <random>
#include <rapidcheck.h>
#include <set>

using namespace finch;
using namespace finch::tests;

TEST_CASE("colours are read as instruments write them", "[colours]") {
    const ProofSheet sheet = DemoBench().sheet();
    for (const char* text :
         {"B1; 36.2; 1.9; -28.4", "B1 36.2 1.9 -28.4", "b1\t36,2\t1,9\t-28,4", "B1,36.2,1.9,-28.4",
          "B1: 36.2, 1.9, -28.4", "cell;L*;a*;b*\nB1;36,2;1,9;-28,4;0,5", "# today\n\nB1 36.2 1.9 \u221228.4",
          "\xEF\xBB\xBF"
          "B1;36.2;1.9;-28.4\r\n"}) {
        CAPTURE(text);
        const auto colours = colours_from_text(text, sheet);
        REQUIRE(colours);
        REQUIRE(colours->size() == 1);
        CHECK(cell_name(sheet, colours->front().cell) == "B1");
        CHECK(colours->front().lab.l == Approx(36.2));
        CHECK(colours->front().lab.a == Approx(1.9));
        CHECK(colours->front().lab.b == Approx(-28.4));
        CHECK(colours->front().within_de == Approx(0.5));
    }
    // Lines without a name go on from the last.
    const auto two = colours_from_text("C1 30 1 2 1.5\n31 1 2", sheet).value();
    CHECK(cell_name(sheet, two[1].cell) == "D1");
    CHECK(two[0].within_de == 1.5);
    for (const auto& [text, code, line] : {std::tuple{"", "colour.none", 0},
                                           {"A1 36 2", "colour.numbers", 1},
                                           {"A1 36 2 3 4 5", "colour.numbers", 1},
                                           {"A1 36 2 -28\nB1 136 2 -28", "colour.numbers", 2},
                                           {"A1 36 2 -228", "colour.numbers", 1},
                                           {"A1 36 2 nan", "colour.numbers", 1},
                                           {"A1 36 2 3 0", "colour.numbers", 1},
                                           {"A1 36 2 3\nA1 36 2 3", "colour.line", 2},
                                           {"Z99 36 2 3", "proof.no_cell", 1}}) {
        CAPTURE(text);
        const auto colours = colours_from_text(text, sheet, "list.csv");
        REQUIRE_FALSE(colours);
        CHECK(colours.error().code == code);
        CHECK(colours.error().place.line == line);
        CHECK(colours.error().place.file == "list.csv");
    }
    // Whatever comes, it is read or refused in words.
    std::mt19937 dice(4);
    constexpr std::string_view letters = "A1bZ90.,;:\t +-\n#e%\xC2\xB1\xFF";
    for (int k = 0; k < 2000; ++k) {
        std::string noise;
        for (auto n = dice() % 40; n > 0; --n)
            noise += letters[dice() % letters.size()];
        if (const auto read = colours_from_text(noise, sheet); !read)
            CHECK_FALSE(read.error().message.empty());
        else
            for (const CellColour& c : *read)
                CHECK((c.lab.l >= 0 && c.lab.l <= 100 && sheet.holds(c.cell)));
    }
}

TEST_CASE("what an instrument said counts before photographs, before and after it, and is written with the reading",
          "[colours]") {
    CHECK(rc::check("an instrument's colours stay", [] {
        const ProofSheet sheet = DemoBench().sheet();
        const auto cells =
            *rc::gen::container<std::vector<std::size_t>>(rc::gen::inRange<std::size_t>(0, sheet.cells()));
        std::vector<CellColour> colours;
        std::set<std::size_t> named;
        for (const std::size_t cell : cells)
            if (named.insert(cell).second)
                colours.push_back({cell, {40.0 + static_cast<double>(cell % 30), 5, -20}, 0.4});
        SheetReading photo = unphotographed(sheet);
        photo.photos = 1;
        for (CellReading& c : photo.cells)
            c = {CellState::read, {50, 1, 2}, 0.3, 2};
        SheetReading first = unphotographed(sheet);
        put_colours(first, colours);
        RC_ASSERT(first.shows_colours() == !colours.empty());
        // Photographed afterwards, or before: the same colours.
        SheetReading later = photo;
        keep_what_was_said(later, first);
        SheetReading before = photo;
        put_colours(before, colours);
        for (std::size_t i = 0; i < sheet.cells(); ++i) {
            RC_ASSERT(later.cells[i].lab == before.cells[i].lab);
            RC_ASSERT(later.cells[i].within_de == before.cells[i].within_de);
            RC_ASSERT(later.cells[i].by_instrument == (named.count(i) > 0));
        }
        for (const SheetReading& r : {first, later, before})
            RC_ASSERT(reading_from_json(to_json(r, sheet), sheet, "f").value() == r);
        const auto off = photograph_off(before);
        RC_ASSERT(off.has_value() == !colours.empty());
        RC_ASSERT(!photograph_off(first).has_value());
        if (off) {
            std::vector<double> all;
            for (const CellColour& c : colours)
                all.push_back(delta_e00({50, 1, 2}, c.lab));
            std::ranges::sort(all);
            RC_ASSERT(off->de == all[all.size() / 2]);
            RC_ASSERT(off->cells == colours.size());
        }
        // Set right twice is set right once, and what the photograph said is kept.
        SheetReading twice = before;
        set_right_by_measured(twice);
        RC_ASSERT(twice == before);
        for (const CellReading& c : before.cells)
            RC_ASSERT(as_photographed(c) == as_photographed(photo.cells[0]));
        // It teaches as surely as it was measured.
        const auto setup = std::make_shared<const Setup>(DemoBench().setup);
        for (const Observation& o : observed(sheet, first, setup, "2026-11-24", "r"))
            RC_ASSERT(o.colour_within == 0.4);
    }));
}
