// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/sheet_photo.h"

#include "demo_plate.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "proof/observed.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <map>

using namespace finch;
using namespace finch::tests;

namespace {

const DemoBench& demo() {
    static const DemoBench bench;
    return bench;
}

standin::Shot shot_of(const ProofSheet& sheet, std::uint64_t seed) {
    standin::Shot shot;
    shot.seed = seed;
    shot.white_card = layout(sheet).white_card;
    shot.quarter_turns = static_cast<double>(seed % 4);
    return shot;
}

} // namespace

TEST_CASE("cells are read to within what an eye could tell, whatever spoils the photograph", "[vision]") {
    const ProofSheet sheet = demo().sheet();
    std::vector<double> differences;
    std::size_t hidden = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        INFO("photograph " << seed);
        const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::honest, seed));
        const auto read = read_sheet_photo(
            taken(plate, standin::draw_camera(standin::Grade::honest, seed), shot_of(sheet, seed)), sheet);
        if (!read)
            FAIL(sentence(read.error()));
        std::map<std::string, Lab> truth;
        for (const standin::Burn& burn : plate.burns)
            truth[burn.name] = true_colour(burn.surface);
        for (std::size_t i = 0; i < sheet.cells(); ++i) {
            const CellReading& cell = read->reading.cells[i];
            hidden += cell.state == CellState::hidden ? 1 : 0;
            if (cell.state == CellState::read)
                differences.push_back(delta_e00(cell.lab, truth.at(cell_name(sheet, i))));
        }
    }
    std::sort(differences.begin(), differences.end());
    const double median = differences[differences.size() / 2];
    const double most = differences[differences.size() * 95 / 100];
    WARN("median " << median << ", 95 % " << most << ", worst " << differences.back() << ", hidden " << hidden << " of "
                   << 40 * sheet.cells());
    CHECK(median < 1.5);
    CHECK(most < 4);
    // Glare may hide cells, but not many: a lamp covers a few percent of the sheet.
    CHECK(hidden < 40 * sheet.cells() / 8);
}

TEST_CASE("a photograph that cannot be read is refused with the right reason", "[vision]") {
    const ProofSheet sheet = demo().sheet();
    const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::honest, 3));
    const SheetLayout at = layout(sheet);
    const auto refused = [&](const standin::Shot& shot, const ProofSheet& as) {
        const auto read = read_sheet_photo(taken(plate, standin::draw_camera(standin::Grade::honest, 3), shot), as);
        return read ? std::string("read") : read.error().code;
    };
    standin::Shot good = shot_of(sheet, 3);
    REQUIRE(refused(good, sheet) == "read");

    SECTION("the wrong sheet") {
        CHECK(refused(good, demo().sheet(8)) == "photo.wrong_sheet");
    }
    SECTION("blurred a little") {
        good.blur_px = 7;
        CHECK(refused(good, sheet) == "photo.blurred");
    }
    SECTION("blurred so much that no fiducial is found") {
        good.blur_px = 25;
        CHECK(refused(good, sheet) == "photo.blurred");
    }
    SECTION("over-exposed") {
        good.exposure = 5;
        CHECK(refused(good, sheet) == "photo.over_exposed");
    }
    SECTION("nearly black") {
        good.exposure = 0.004;
        CHECK(refused(good, sheet) == "photo.under_exposed");
    }
    SECTION("without the white card") {
        good.white_card.reset();
        CHECK(refused(good, sheet) == "photo.no_white");
    }
    SECTION("a hand over two fiducials") {
        const RectMm a = at.fiducials[1].box, b = at.fiducials[2].box;
        good.covered = RectMm{a.x, a.y, a.w, b.y + b.h - a.y};
        const auto read = read_sheet_photo(taken(plate, standin::draw_camera(standin::Grade::honest, 3), good), sheet);
        REQUIRE_FALSE(read);
        CHECK(read.error().code == "photo.missing_fiducials");
        CHECK(read.error().message.find("upper right and lower right") != std::string::npos);
    }
    SECTION("something else altogether") {
        Picture other{800, 600, std::vector<std::uint8_t>(800 * 600 * 3)};
        for (std::size_t i = 0; i < other.rgb.size(); ++i)
            other.rgb[i] = static_cast<std::uint8_t>(80 + 100 * ((i / 120 + i / 96000) % 2));
        const auto read = read_sheet_photo(other, sheet);
        REQUIRE_FALSE(read);
        CHECK(read.error().code == "photo.no_sheet");
    }
    SECTION("mirrored") {
        Picture mirror = taken(plate, standin::draw_camera(standin::Grade::honest, 3), good);
        for (int y = 0; y < mirror.height; ++y)
            for (int x = 0; x < mirror.width / 2; ++x)
                for (int c = 0; c < 3; ++c)
                    std::swap(mirror.rgb[static_cast<std::size_t>(3 * (y * mirror.width + x) + c)],
                              mirror.rgb[static_cast<std::size_t>(3 * (y * mirror.width + mirror.width - 1 - x) + c)]);
        const auto read = read_sheet_photo(mirror, sheet);
        REQUIRE_FALSE(read);
        CHECK(read.error().code == "photo.no_sheet");
    }
    SECTION("a thumbnail") {
        const auto read = read_sheet_photo(Picture{100, 80, std::vector<std::uint8_t>(100 * 80 * 3)}, sheet);
        REQUIRE_FALSE(read);
        CHECK(read.error().code == "photo.too_small");
    }
}

TEST_CASE("a reading brings the prediction nearer to what the bench really does", "[vision][learn]") {
    const ProofSheet sheet = demo().sheet();
    double before = 0, after = 0;
    for (const std::uint64_t seed : {5u, 11u, 19u, 23u}) {
        const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::honest, seed));
        const auto read = read_sheet_photo(
            taken(plate, standin::draw_camera(standin::Grade::honest, seed), shot_of(sheet, seed)), sheet);
        REQUIRE(read);
        const auto places = observed(sheet, read->reading, std::make_shared<const Setup>(demo().setup), "", "r");
        const Evidence learned = learn(materials(), places);
        const Agreement agreed = agreement(materials(), places, {}, learned);
        REQUIRE(agreed.cells > 0);
        INFO("seed " << seed << " gain " << learned.growth_gain << " before " << agreed.before_de << " after "
                     << agreed.after_de);
        CHECK(agreed.after_de <= agreed.before_de);
        CHECK(agreed.after_de < 6);
        before += agreed.before_de;
        after += agreed.after_de;
    }
    CHECK(after < 0.6 * before);
}
