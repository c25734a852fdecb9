// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/sheet_photo.h"

#include "demo_plate.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "proof/observed.h"
#include "proof/tilt_series.h"
#include "standin/print.h"
#include "vision/fiducials.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>

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

namespace {

/// How photographs of a grade are read: against what an instrument would say.
struct Score {
    std::vector<double> de;
    std::size_t photos = 0, read = 0, hidden = 0, covered = 0, treacherous = 0;
    void add(const SheetReading& r, const ProofSheet& sheet, const standin::Plate& plate) {
        for (std::size_t i = 0; i < sheet.cells(); ++i) {
            const CellReading& cell = r.cells[i];
            hidden += cell.state == CellState::hidden ? 1 : 0;
            if (cell.state != CellState::read || !sheet.holds(i))
                continue;
            const double off = delta_e00(cell.lab, true_colour(plate.find(cell_name(sheet, i))->surface));
            de.push_back(off);
            covered += off <= cell.within_de ? 1 : 0;
            treacherous += off > 20 && cell.within_de < 5 ? 1 : 0;
        }
    }
    [[nodiscard]] double at(double share) {
        std::sort(de.begin(), de.end());
        return de.empty() ? 0 : de[static_cast<std::size_t>(share * static_cast<double>(de.size() - 1))];
    }
    [[nodiscard]] double coverage() const {
        return 100.0 * static_cast<double>(covered) / static_cast<double>(std::max<std::size_t>(1, de.size()));
    }
    std::string row() {
        std::ostringstream out;
        out << read << " of " << photos << " read | " << hidden << " hidden | median " << at(0.5) << " | 95 % "
            << at(0.95) << " | worst " << at(1) << " | within what is stated " << coverage() << " % | treacherous "
            << treacherous;
        return out.str();
    }
};

/// Twelve cells from straw to dark, as a search lays them, with places for later rounds.
ProofSheet close_frame() {
    std::vector<Setting> own;
    for (int i = 0; i < 12; ++i) {
        own.push_back(DemoBench::blue().setting);
        own.back().scan_speed = mm_per_second(400 + 190 * i);
    }
    const Setup& setup = demo().setup;
    return with_frame(
               plan_free_sheet(demo().request(7), own, setup.bench, label_recipe(demo().scene()).value()).value(),
               setup.bench)
        .value();
}

/// Without and with the camera set right by eight measured cells of an earlier photograph.
struct Scores {
    Score plain, set_right;
};
Scores scored(standin::Grade grade, std::uint64_t from, std::uint64_t photos, std::uint64_t plates,
              const ProofSheet& sheet = demo().sheet()) {
    std::vector<standin::Plate> burned_plates;
    for (std::uint64_t i = 0; i < plates; ++i)
        burned_plates.push_back(burned(demo(), sheet, standin::draw_world(grade, from + i)));
    Scores out;
    for (std::uint64_t seed = from; seed < from + photos; ++seed) {
        const standin::Plate& plate = burned_plates[seed % plates];
        const standin::CameraBody body = standin::draw_camera(grade, seed);
        const auto read = read_sheet_photo(taken(plate, body, shot_of(sheet, seed)), sheet);
        ++out.plain.photos;
        if (!read)
            continue;
        ++out.plain.read;
        out.plain.add(read->reading, sheet, plate);
        MeasuredColours known;
        for (std::size_t i = seed % 5; i < sheet.cells() && known.size() < 8; i += 6)
            if (read->reading.cells[i].state == CellState::read && sheet.holds(i))
                known[cell_name(sheet, i)] = true_colour(plate.find(cell_name(sheet, i))->surface);
        PhotoSetting setting;
        if (const auto camera = fit_camera_colour(measured_pairs(*read, sheet, known)))
            setting.camera = *camera;
        else
            continue;
        ++out.set_right.photos;
        const auto again = read_sheet_photo(taken(plate, body, shot_of(sheet, seed + 5000)), sheet, setting);
        if (!again)
            continue;
        ++out.set_right.read;
        out.set_right.add(again->reading, sheet, plate);
    }
    return out;
}

} // namespace

TEST_CASE("cells are read to within what an eye could tell, and say how far off they may be", "[vision]") {
    Scores honest = scored(standin::Grade::honest, 1, 14, 3);
    INFO("as it comes: " << honest.plain.row() << "\nset right: " << honest.set_right.row());
    CHECK(honest.plain.read >= 13);
    CHECK(honest.plain.at(0.5) < 1.4);
    CHECK(honest.plain.at(0.95) < 3);
    CHECK(honest.plain.coverage() > 80);
    CHECK(honest.set_right.at(0.5) < 1.0);
    CHECK(honest.set_right.at(0.95) < 2.3);
    // Glare may hide cells, but not many: a lamp covers a few percent of the sheet.
    CHECK(honest.plain.hidden < honest.plain.de.size() / 8);
}

TEST_CASE("cells of a close frame, with small markers and little bare metal, are read as well", "[vision]") {
    Scores honest = scored(standin::Grade::honest, 1, 14, 2, close_frame());
    Scores hard = scored(standin::Grade::hard, 1, 8, 1, close_frame());
    INFO("honest: " << honest.plain.row() << "\nhard: " << hard.plain.row());
    CHECK(honest.plain.read >= 13);
    CHECK(honest.plain.at(0.5) < 1.4);
    CHECK(honest.plain.at(0.95) < 3);
    CHECK(honest.plain.coverage() > 80);
    CHECK(hard.plain.treacherous == 0);
    CHECK(hard.plain.read >= 6);
}

TEST_CASE("a sheet is read at a tilt, and how far its colours hold is told within what is stated", "[vision][tilt]") {
    const ProofSheet sheet = close_frame();
    int cells = 0, read = 0, held = 0, wide = 0;
    std::vector<double> off;
    for (std::uint64_t seed = 1; seed <= 4; ++seed) {
        const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::honest, 40 + seed));
        const standin::CameraBody body = standin::draw_camera(standin::Grade::honest, seed);
        auto shot = shot_of(sheet, seed);
        SheetReading from_above = read_sheet_photo(taken(plate, body, shot), sheet).value().reading;
        for (const double deg : {15., 30., 45., 60.}) {
            shot.tilt_deg = deg;
            shot.seed = 100 * seed + static_cast<std::uint64_t>(deg);
            const auto so = read_sheet_photo(taken(plate, body, shot), sheet);
            INFO("tilt " << deg << (so ? "" : sentence(so.error())));
            REQUIRE(so);
            REQUIRE(add_tilt(from_above, so->reading, deg));
        }
        for (std::size_t i = 0; i < sheet.cells(); ++i) {
            if (!sheet.holds(i))
                continue;
            ++cells;
            const standin::Surface& surface = plate.find(cell_name(sheet, i))->surface;
            const CellReading& c = from_above.cells[i];
            const auto score = tilt_score(c);
            if (!score || score->widest_deg < 60)
                continue;
            ++read;
            // What an instrument would say of it, degree by degree.
            double truly = 0;
            for (const auto seen = [&](double deg) { return true_colour(standin::seen_at(surface, deg)); };
                 truly < 90 && delta_e00(seen(0), seen(truly)) <= tilt_holds_de;)
                ++truly;
            held += truly >= score->low_deg - 1 && truly <= score->high_deg + 1 ? 1 : 0;
            wide += score->high_deg - score->low_deg > 40 ? 1 : 0;
            if (truly < 60 && !score->at_least)
                off.push_back(std::abs(truly - score->holds_deg));
        }
    }
    std::ranges::sort(off);
    INFO(read << " of " << cells << " cells read at four tilts, " << held << " held, " << wide << " wide; off by "
              << off.at(off.size() / 2) << " degrees in the middle, " << off.back() << " at most, of " << off.size());
    CHECK(read > cells * 3 / 4);
    CHECK(held * 100 >= read * 85);
    CHECK(off.at(off.size() / 2) < 6);
    CHECK(wide * 4 < read);
}

TEST_CASE("on hard photographs nothing is far off that claims to be near", "[vision]") {
    Scores hard = scored(standin::Grade::hard, 1, 8, 2);
    INFO("as it comes: " << hard.plain.row());
    CHECK(hard.plain.treacherous == 0);
    CHECK(hard.plain.read >= 6);
    CHECK(hard.plain.coverage() > 75);
}

TEST_CASE("the table of photographs", "[.][photo-table]") {
    for (const auto grade : {standin::Grade::friendly, standin::Grade::honest, standin::Grade::hard}) {
        Scores s = scored(grade, 1, 200, 20);
        WARN(standin::word(grade) << " as it comes: " << s.plain.row() << "\n"
                                  << standin::word(grade) << " set right: " << s.set_right.row());
        Scores close = scored(grade, 1, 200, 20, close_frame());
        WARN(standin::word(grade) << " close, as it comes: " << close.plain.row());
    }
}

TEST_CASE("of a frame that was filled in rounds each sheet reads its own cells", "[vision]") {
    std::vector<Setting> settings;
    for (int i = 0; i < 12; ++i) {
        settings.push_back(DemoBench::blue().setting);
        settings.back().scan_speed = mm_per_second(500 + 110 * i);
    }
    const Recipe labels = label_recipe(demo().scene()).value();
    const auto cells = [&](int number, std::size_t from, std::size_t to) {
        const std::vector<Setting> own(settings.begin() + static_cast<long>(from),
                                       settings.begin() + static_cast<long>(to));
        return plan_free_sheet(demo().request(number), own, demo().setup.bench, labels).value();
    };
    const ProofSheet first = with_frame(cells(31, 0, 7), demo().setup.bench).value();
    const ProofSheet second = on_frame_of(cells(32, 7, 12), first, 7).value();
    const auto world = standin::draw_world(standin::Grade::honest, 6);
    const SheetLayout at = layout(first);
    standin::Work work(world, nature(), demo().setup, at.width_mm, at.height_mm);
    for (const ProofSheet* sheet : {&first, &second})
        for (const ToolStep& step : tool_steps(*sheet, layout(*sheet), fiducial_modules(layout(*sheet))))
            REQUIRE(work.burn(step));
    const Picture photo = taken(work.plate(), standin::draw_camera(world.grade, 6), shot_of(first, 5));
    for (const ProofSheet* sheet : {&first, &second}) {
        INFO("sheet " << sheet->number);
        const auto read = read_sheet_photo(photo, *sheet);
        REQUIRE(read);
        CHECK(read->reading.sheet_number == sheet->number);
        std::size_t seen = 0;
        for (std::size_t i = 0; i < sheet->cells(); ++i) {
            CHECK((sheet->holds(i) || read->reading.cells[i].state == CellState::left_out));
            if (read->reading.cells[i].state != CellState::read)
                continue;
            ++seen;
            CHECK(delta_e00(read->reading.cells[i].lab, true_colour(work.plate().find(cell_name(*sheet, i))->surface)) <
                  4.5);
        }
        CHECK(seen + 2 >= sheet->own.size());
    }
}

TEST_CASE("several photographs of the turned sheet see more than one", "[vision]") {
    const ProofSheet sheet = demo().sheet();
    const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::honest, 2));
    const standin::CameraBody body = standin::draw_camera(standin::Grade::honest, 2);
    std::vector<SheetReading> readings;
    for (const std::uint64_t seed : {21u, 22u, 23u}) {
        standin::Shot shot = shot_of(sheet, seed);
        shot.glares = 3;
        const auto read = read_sheet_photo(taken(plate, body, shot), sheet);
        REQUIRE(read);
        readings.push_back(read->reading);
    }
    const SheetReading all = read_together(readings);
    CHECK(all.photos == 3);
    for (const SheetReading& one : readings) {
        CHECK(one.count(CellState::hidden) > 0);
        CHECK(all.count(CellState::hidden) < one.count(CellState::hidden));
    }
    for (std::size_t i = 0; i < all.cells.size(); ++i)
        if (all.cells[i].state == CellState::read)
            CHECK(delta_e00(all.cells[i].lab, true_colour(plate.find(cell_name(sheet, i))->surface)) < 4.5);
}

TEST_CASE("the sheet is found by three marks, beside another print, as light marks on dark, and by hand", "[vision]") {
    const ProofSheet sheet = demo().sheet();
    const SheetLayout at = layout(sheet);
    const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::honest, 3));
    const standin::CameraBody body = standin::draw_camera(standin::Grade::honest, 3);
    standin::Shot shot = shot_of(sheet, 3);
    shot.glares = 0;
    const auto whole = read_sheet_photo(taken(plate, body, shot), sheet);
    REQUIRE(whole);
    CHECK(whole->reading.markers == 4);
    const auto like_before = [&](const ReadPhoto& read) {
        std::size_t near = 0;
        for (std::size_t i = 0; i < sheet.cells(); ++i)
            near += read.reading.cells[i].state == CellState::read &&
                            delta_e00(read.reading.cells[i].lab, whole->reading.cells[i].lab) < 2
                        ? 1
                        : 0;
        return near;
    };
    SECTION("a thumb on one mark") {
        shot.covered = at.fiducials[1].box;
        const auto read = read_sheet_photo(taken(plate, body, shot), sheet);
        REQUIRE(read);
        CHECK(read->reading.markers == 3);
        CHECK(like_before(*read) > 40);
    }
    SECTION("light marks in a dark coat") {
        Picture photo = taken(plate, body, shot);
        for (std::uint8_t& v : photo.rgb)
            v = static_cast<std::uint8_t>(255 - v);
        // The marks are found; what should be a white card is now the darkest thing on the sheet.
        const auto read = read_sheet_photo(photo, sheet);
        REQUIRE_FALSE(read);
        CHECK(read.error().code == "photo.no_white");
    }
    SECTION("corners by hand") {
        // Where the reader itself found them: the marks are painted over, the corners given.
        const Picture photo = taken(plate, body, shot);
        PhotoSetting setting;
        setting.corners_px = whole->corners_px;
        const auto read = read_sheet_photo(photo, sheet, setting);
        REQUIRE(read);
        CHECK(read->reading.markers == 0);
        CHECK(like_before(*read) > 44);
        setting.corners_px = std::array<PointMm, 4>{PointMm{10, 10}, {500, 500}, {500, 10}, {10, 500}};
        const auto crossed = read_sheet_photo(photo, sheet, setting);
        REQUIRE_FALSE(crossed);
        CHECK(crossed.error().code == "photo.corners");
    }
}

TEST_CASE("sharpness is told in millimetres, whatever the size of the picture", "[vision]") {
    const ProofSheet sheet = demo().sheet();
    const standin::Plate plate = burned(demo(), sheet, standin::draw_world(standin::Grade::friendly, 3));
    const standin::CameraBody body = standin::draw_camera(standin::Grade::friendly, 3);
    standin::Shot small = shot_of(sheet, 3), large = small;
    small.blur_px = 2;
    large.width_px = 2 * small.width_px;
    large.height_px = 2 * small.height_px;
    large.blur_px = 4;
    const auto a = read_sheet_photo(taken(plate, body, small), sheet),
               b = read_sheet_photo(taken(plate, body, large), sheet);
    REQUIRE(a);
    REQUIRE(b);
    CHECK(b->reading.edge_mm == Approx(a->reading.edge_mm).epsilon(0.25));
}

TEST_CASE("a printed chart sets a camera right", "[vision][camera]") {
    const ColourPrint chart = chart_print(fiducial_modules(colour_chart().layout));
    const ProofSheet& sheet = demo().sheet();
    MeasuredColours values;
    for (const auto grade : {standin::Grade::honest, standin::Grade::hard}) {
        const standin::Plate plate = burned(demo(), sheet, standin::draw_world(grade, 3));
        Score plain, set_right;
        double before = 0, after = 0;
        for (const std::uint64_t seed : {4u, 7u, 9u, 12u}) {
            const standin::Print print = standin::printed(chart, seed);
            for (const auto& [place, lab] : print.measured)
                values[place] = {lab[0], lab[1], lab[2]};
            const standin::CameraBody body = standin::draw_camera(grade, seed);
            standin::Shot shot;
            shot.seed = seed;
            shot.glares = 0;
            const auto pairs = read_chart_photo(taken(print.paper, body, shot), values);
            if (!pairs)
                FAIL(sentence(pairs.error()));
            REQUIRE(pairs->size() > 12);
            const auto camera = fit_camera_colour(*pairs);
            REQUIRE(camera);
            CHECK(camera->residual_de < 3);
            CHECK(camera_colour_from_json(to_json(*camera), "").value().places == camera->places);
            for (const ColourPair& p : *pairs) {
                CHECK(p.measured == values.at(p.place));
                before += delta_e00(to_lab(from_linear_rgb(p.seen)), p.measured);
                after += delta_e00(corrected(*camera, p.seen), p.measured);
            }
            // What was learned on paper holds on metal.
            const Picture photo = taken(plate, body, shot_of(sheet, seed + 300));
            for (auto* score : {&plain, &set_right}) {
                PhotoSetting setting;
                if (score == &set_right)
                    setting.camera = *camera;
                if (const auto read = read_sheet_photo(photo, sheet, setting))
                    score->add(read->reading, sheet, plate);
            }
        }
        CHECK(after < 0.7 * before);
        INFO(standin::word(grade) << ", as it comes " << plain.row() << "\nset right by a chart " << set_right.row());
        CHECK(set_right.at(0.5) < plain.at(0.5));
        CHECK(set_right.coverage() > 85);
    }
    values.erase("paper");
    CHECK(read_chart_photo(Picture{}, values).error().code == "chart.no_paper");
}

TEST_CASE("measured colours are read from what an instrument writes, and faults are named", "[camera]") {
    const ProofSheet& grid = colour_chart().grid;
    const auto fine =
        measured_colours_from_text("patch;L;a;b\nA1; 92.1; 0.2; -0.4\r\n\npaper;95;0;\u22121\n", grid, "v.csv");
    REQUIRE(fine);
    CHECK(fine->size() == 2);
    CHECK(fine->at("A1").l == Approx(92.1));
    CHECK(fine->at("paper").b == -1);
    // Decimal commas are no separators where something else parts the numbers.
    CHECK(measured_colours_from_text("A1; 36,5; 1,9; -28,4", grid, "v.csv")->at("A1").l == 36.5);
    for (const auto& [text, code, line] : {std::tuple{"", "colour.none", 0},
                                           {"patch,L,a,b\n", "colour.none", 0},
                                           {"A1,92,0,0\nA2,red,0,0", "colour.numbers", 2},
                                           {"A1,92,0,0\nA2,1", "colour.numbers", 2},
                                           {"Z9,50,0,0", "proof.no_cell", 1},
                                           {"paper;95\nA1,92,0,0", "colour.numbers", 1}}) {
        INFO(text);
        const auto refused = measured_colours_from_text(text, grid, "v.csv");
        REQUIRE_FALSE(refused);
        CHECK(refused.error().code == code);
        CHECK(refused.error().place.line == line);
    }
    CHECK(fit_camera_colour(std::vector<ColourPair>(3)).error().code == "camera.too_few");
    CHECK(fit_camera_colour(std::vector<ColourPair>(9, {{0.5, 0.5, 0.5}, {76, 0, 0}})).error().code ==
          "camera.no_range");
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
