// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "proof/layout.h"
#include "proof/scrap_bin.h"
#include "search/draws.h"

#include <catch2/catch.hpp>
#include <cmath>

using namespace finch;
using namespace finch::tests;

namespace {

ScrapPiece piece(double w, double h, std::vector<ScrapMark> marks = {}) {
    return {"S1", DemoBench().setup.stock, w, h, "", std::move(marks)};
}

ProofSheet framed(std::size_t cells, int number = 4) {
    const DemoBench demo;
    const Recipe labels = DemoBench::blue();
    return with_frame(plan_free_sheet(demo.request(number), std::vector<Setting>(cells, DemoBench::blue().setting),
                                      demo.setup.bench, labels)
                          .value(),
                      demo.setup.bench)
        .value();
}

} // namespace

TEST_CASE("a place on scrap is found wherever there is one, and what is called bare is bare", "[scrap]") {
    // Whole millimetres, so that a raster of half millimetres tells the same by looking at every point.
    Draws draws(5);
    const auto whole = [&](double low, double high) { return std::floor(draws.even(low, high)); };
    int found = 0, none = 0;
    for (int trial = 0; trial < 300; ++trial) {
        ScrapPiece p = piece(whole(12, 40), whole(12, 40));
        for (int i = 0; i < static_cast<int>(whole(0, 7)); ++i)
            p.marks.push_back({static_cast<std::size_t>(whole(0, 2)),
                               {whole(-3, 36), whole(-3, 36), whole(1, 14), whole(1, 14)},
                               "used"});
        const double w = whole(3, 20), h = whole(3, 20);
        const auto bare_at = [&](std::size_t face, double x, double y) { // by the words of the rule alone
            if (x < 1 || y < 1 || x > p.width_mm - 1 || y > p.height_mm - 1)
                return false;
            for (const ScrapMark& m : p.marks)
                if (m.face == face && x > m.where.x - 1 && x < m.where.x + m.where.w + 1 && y > m.where.y - 1 &&
                    y < m.where.y + m.where.h + 1)
                    return false;
            return true;
        };
        double bare_mm2 = 0, largest = 0;
        bool any = false;
        for (std::size_t face = 0; face < 2; ++face) {
            double here = 0;
            for (double y = 0.5; y < p.height_mm; ++y)
                for (double x = 0.5; x < p.width_mm; ++x)
                    here += bare_at(face, x, y) ? 1 : 0;
            CHECK(scrap_free_mm2(p, face) == Approx(here).margin(1e-9));
            bare_mm2 += here;
            const RectMm most = scrap_largest_free(p, face);
            CHECK((most.w == 0 || scrap_bare(p, face, most)));
            // Every rectangle that lies bare is no larger than the largest; one of this size may be among them.
            const auto lies = [&](double x, double y, double rw, double rh) {
                for (double v = y + 0.5; v < y + rh; ++v)
                    for (double u = x + 0.5; u < x + rw; ++u)
                        if (!bare_at(face, u, v))
                            return false;
                return true;
            };
            for (double y = 1; y + 1 < p.height_mm; ++y)
                for (double x = 1; x + 1 < p.width_mm; ++x) {
                    any = any || lies(x, y, w, h) || lies(x, y, h, w);
                    largest = std::max(largest, lies(x, y, most.w + 1, most.h) || lies(x, y, most.w, most.h + 1)
                                                    ? most.w * most.h + 1
                                                    : 0.0);
                }
            CHECK((here == 0 || largest <= most.w * most.h));
        }
        const auto place = scrap_place(p, w, h);
        CHECK(place.has_value() == any);
        (place ? found : none) += 1;
        if (place) {
            const RectMm at = scrap_covers(*place, w, h);
            CHECK(scrap_bare(p, place->face, at));
            // Once it is marked nothing else is laid there, and just so much more is used.
            p.marks.push_back({place->face, at, "sheet"});
            CHECK_FALSE(scrap_bare(p, place->face, at));
            CHECK(scrap_free_mm2(p, 0) + scrap_free_mm2(p, 1) <= bare_mm2 - at.w * at.h + 1e-9);
        }
    }
    CHECK(found > 60);
    CHECK(none > 30);
}

TEST_CASE("brushed scrap is not turned, other scrap is where that helps", "[scrap]") {
    ScrapPiece p = piece(20, 60);
    const auto place = scrap_place(p, 50, 15);
    REQUIRE(place);
    CHECK(place->turned);
    CHECK(scrap_words(*place) == "S1, face A: 1 mm from the left, 1 mm from the top, turned by a quarter");
    p.stock.finish = Finish::brushed;
    CHECK_FALSE(scrap_place(p, 50, 15));
}

TEST_CASE("a sheet goes to scrap of its own stock, small pieces first, and a frame takes the shape of the offcut",
          "[scrap]") {
    const Stock stock = DemoBench().setup.stock;
    const ProofSheet sheet = framed(12);
    const SheetLayout at = layout(sheet);
    // A third of the broad sheet of 8 by 8, with its markers.
    ProofSheet broad;
    broad.across.values.resize(8), broad.down.values.resize(8);
    CHECK(at.width_mm * at.height_mm < layout(broad).width_mm * layout(broad).height_mm / 3);

    ScrapPiece large = piece(150, 100), small = piece(at.width_mm + 3, at.height_mm + 3), other = small;
    large.name = "S1", small.name = "S2", other.name = "S3";
    other.stock.lot = "another";
    std::vector<ScrapPiece> bin{other, large, small};
    auto fit = fit_in_bin(sheet, bin, stock);
    REQUIRE(fit);
    CHECK(fit->place.piece == "S2");
    CHECK(fit->sheet == sheet);
    // Both faces of the small one, then the large one.
    for (const char* name : {"S2", "S2", "S1"}) {
        fit = fit_in_bin(sheet, bin, stock);
        REQUIRE(fit);
        CHECK(fit->place.piece == name);
        for (ScrapPiece& p : bin)
            if (p.name == fit->place.piece)
                p.marks.push_back({fit->place.face, scrap_covers(fit->place, at.width_mm, at.height_mm), "sheet"});
    }
    // A strip: fewer rows, the same places, all of it on the piece.
    std::vector<ScrapPiece> strip{piece(140, 35)};
    Stock brushed = stock; // which cannot be turned
    strip[0].stock.finish = brushed.finish = Finish::brushed;
    fit = fit_in_bin(sheet, strip, brushed);
    REQUIRE(fit);
    CHECK(fit->sheet.columns() > sheet.columns());
    CHECK(fit->sheet.cells() >= sheet.cells());
    CHECK(fit->sheet.own == sheet.own);
    CHECK(burned_cells(fit->sheet).size() == 12);
    CHECK(sheet_from_json(to_json(fit->sheet), "f").value() == fit->sheet);
    // A later round lies where its frame lies, and a map keeps its axes.
    const ProofSheet later = on_frame_of(framed(6, 5), sheet, 12).value();
    CHECK_FALSE(fit_in_bin(later, bin, stock));
    std::vector<ScrapPiece> low{piece(200, 40)};
    CHECK_FALSE(fit_in_bin(broad, low, stock));
    CHECK_FALSE(fit_in_bin(sheet, std::vector<ScrapPiece>{other}, stock));
}
