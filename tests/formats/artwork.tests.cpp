// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings, good, odd and broken, against areas in closed form.
#include "formats/artwork_file.h"
#include "formats/detail_picture.h"
#include "formats/folders.h"
#include "piece/art_size.h"
#include "piece/region.h"
#include "piece/repair.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <numbers>
#include <QImage>
#include <QTemporaryDir>
#include <random>

using namespace finch;
namespace fs = std::filesystem;

namespace {

constexpr double pi = std::numbers::pi;
const fs::path folder_of_drawings = FINCH_SOURCE "/tests/data/artwork";

/// A five-pointed star in a circle of 20 mm: all of it, or without the pentagon in its middle.
double star(bool with_middle) {
    const double r = 20, inner = r * std::sin(pi / 10) / std::sin(3 * pi / 10);
    return 5 * r * inner * std::sin(pi / 5) - (with_middle ? 0 : 2.5 * inner * inner * std::sin(0.4 * pi));
}
/// A frame of 20 x 10 mm drawn 2 mm wide, and what its four corners lack.
double frame(double lacks) {
    return 22 * 12 - 18 * 8 - 4 * lacks;
}

struct Drawing {
    const char* name;
    std::vector<double> areas; ///< of the layers in order; NaN: letters
    const char* code = "";     ///< of the one kind of finding; empty: none at all
};
const double letters = std::nan("");
const double inch2 = 25.4 * 25.4;

const std::vector<Drawing> drawings{
    {"rect.svg", {200}},
    {"rounded-rect.svg", {200 - (4 - pi) * 4}},
    {"rect-corners-too-large.svg", {pi * 50}},
    {"circle-and-ellipse.svg", {pi * (100 + 21)}},
    {"tiny-circle.svg", {pi * 0.04}},
    {"polygon.svg", {300}},
    {"polyline-filled-though-open.svg", {600}, "open_outline"},
    {"path-relative.svg", {200}},
    {"path-numbers-run-together.svg", {134}},
    {"path-quadratic.svg", {100 / 3.0}},
    {"path-smooth-quadratic.svg", {200 / 3.0}},
    {"path-cubic.svg", {60}},
    {"path-smooth-cubic.svg", {120}},
    {"arc-half-disc.svg", {pi * 12.5}},
    {"arc-flags-without-blanks.svg", {pi * 12.5}},
    {"arc-radii-too-small.svg", {pi * 12.5}},
    {"arc-radius-of-nothing.svg", {50}},
    {"arc-turned-ellipse.svg", {pi * 100}},
    {"hole-by-crossings.svg", {300}},
    {"no-hole-by-winding.svg", {400}},
    {"hole-by-winding-backwards.svg", {300}},
    {"star-by-winding.svg", {star(true)}, "self_crossing"},
    {"star-by-crossings.svg", {star(false)}, "self_crossing"},
    {"two-that-overlap.svg", {700}},
    {"turned-and-mirrored.svg", {200}},
    {"scaled-and-skewed.svg", {600}},
    {"drawing-in-a-drawing.svg", {200}},
    {"symbol.svg", {pi * 100}},
    {"used-twice.svg", {150}},
    {"used-within-a-use.svg", {800}},
    {"refers-to-itself.svg", {100}, "refers_to_itself"},
    {"refers-to-nothing.svg", {100}, "no_such_part"},
    {"colours-of-many-spellings.svg", {500}},
    {"rules-by-weight.svg", {1, 2, 3, 4, 5}},
    {"rules-not-understood.svg", {5}, "not_read"},
    {"stroke-flat-ends.svg", {40}},
    {"stroke-square-ends.svg", {44}},
    {"stroke-round-ends.svg", {40 + pi}},
    {"stroke-frame.svg", {frame(0)}},
    {"stroke-frame-round.svg", {frame(1 - pi / 4)}},
    {"stroke-frame-bevel.svg", {frame(0.5)}},
    {"stroke-frame-mitre-too-long.svg", {frame(0.5)}},
    {"stroke-acute-mitre.svg", {4 * std::hypot(20, 10)}},
    {"stroke-circle.svg", {pi * (121 - 81)}},
    {"stroke-uneven-scale.svg", {120}},
    {"dashes.svg", {14}},
    {"dashes-odd-list-moved.svg", {2 + 3 + 3 + 3}},
    {"filled-and-drawn-in-one-colour.svg", {22 * 12}},
    {"filled-and-drawn-in-two.svg", {200, frame(0)}},
    {"shares-of-the-page.svg", {500}},
    {"lengths-in-units.svg", {254}},
    {"hidden.svg", {109}, "hidden"},
    {"clear.svg", {100}, "unpainted"},
    {"broken-path.svg", {150}, "path_broken"},
    {"picture-in-a-drawing.svg", {100}, "not_read"},
    {"clipped.svg", {25}},
    {"clip-by-crossings.svg", {40 * 20 - 20 * 10}},
    // A disc of twice 10 in the middle line of which the rectangles meet.
    {"clip-of-a-moved-group.svg", {pi * 400}},
    {"clip-in-a-clip.svg", {5 * 6}},
    {"clip-in-shares.svg", {pi * 200 / 4}},
    {"clip-of-a-stroke.svg", {20 * 2}},
    {"clip-not-there.svg", {100}, "no_such_part"},
    {"clip-of-letters.svg", {100}, "not_cut"},
    {"clipped-away.svg", {100}, "cut_away"},
    {"masked.svg", {100}, "not_cut"},
    {"shaded.svg", {100}, "shaded"},
    {"drawn-twice.svg", {100}, "doubled_line"},
    {"speck.svg", {100 + pi * 1e-4}, "speck"},
    {"narrow.svg", {100.6}, "narrow"},
    {"open-by-a-hair.svg", {100}, "open_outline"},
    {"pieces-of-an-outline.svg", {100}},
    {"far-away.svg", {100}, "too_far"},
    {"another-vocabulary.svg", {100}},
    {"text.svg", {letters}, "text"},
    {"font-missing.svg", {letters}, "font_missing"},
    {"page-in-inches.svg", {inch2}},
    {"page-in-pixels.svg", {inch2}, "size_in_pixels"},
    {"page-that-keeps-its-shape.svg", {4 * inch2}, "size_in_pixels"},
    {"page-that-is-stretched.svg", {8 * inch2}, "size_in_pixels"},
    {"page-not-given.svg", {inch2}, "no_page"},
    {"entities.svg", {100}},
    {"breaks-off.svg", {100}, "broken_off"},
    {"with-a-prefix.svg", {25}},
    {"circle-in-inches.dxf", {pi * 25 * inch2}},
    {"no-unit.dxf", {pi * 25}, "units_assumed"},
    {"ring.dxf", {pi * (25 - 4)}},
    {"island-in-a-ring.dxf", {pi * (25 - 9 + 1)}},
    {"two-that-cross.dxf", {7}},
    {"same-circle-twice.dxf", {pi * 25}, "doubled_line"},
    {"bulges.dxf", {pi * 4}},
    {"bulge-the-other-way.dxf", {40 - pi * 2}},
    {"old-polyline.dxf", {6 + pi / 2}},
    {"half-an-ellipse.dxf", {pi * 4}},
    {"slot-in-any-order.dxf", {10 + pi}},
    {"curve-by-knots.dxf", {60}},
    {"curve-without-knots.dxf", {8}, "rough_curve"},
    {"block-scaled-and-turned.dxf", {6}},
    {"block-in-rows.dxf", {6}},
    {"block-of-itself.dxf", {pi * 25}, "refers_to_itself"},
    {"block-not-there.dxf", {pi * 25}, "no_such_part"},
    {"layer-off.dxf", {pi * 25}, "hidden"},
    {"layer-of-two-colours.dxf", {pi, pi * 4}},
    {"seen-from-behind.dxf", {3}},
    {"open-by-a-hair.dxf", {50 - 0.1}, "open_outline"},
    {"open-by-much.dxf", {pi * 25}, "open_outline"},
    {"line-twice-in-an-outline.dxf", {50}, "doubled_line"},
    {"things-not-read.dxf", {pi * 25}, "not_read"},
    {"breaks-off.dxf", {pi * 25}, "broken_off"},
};

/// Whatever happens to a file, it is read or refused, and what is read can be worked
/// with.
void survive(const std::string& text, const std::filesystem::path& at) {
    std::ofstream(at, std::ios::binary) << text;
    const auto drawing = read_mended(at, {}, {});
    if (!drawing) {
        CHECK_FALSE(drawing.error().message.empty());
        CHECK_FALSE(drawing.error().fix.empty());
        CHECK_FALSE(drawing.error().place.file.empty());
        return;
    }
    REQUIRE(drawing->regions.size() == drawing->art.layers.size());
    for (const Region& region : drawing->regions)
        CHECK(area_mm2(region) > -1e-6);
}

} // namespace

TEST_CASE("drawings have the areas that a closed form says, and their faults are named", "[artwork]") {
    for (const Drawing& d : drawings) {
        INFO(d.name);
        const auto drawing = read_mended(folder_of_drawings / d.name, {}, {});
        REQUIRE(drawing);
        const Artwork* art = &drawing->art;
        std::string found;
        for (const ArtFinding& f : art->findings)
            found += f.code + ": " + f.text + "\n";
        INFO(found);
        REQUIRE(art->layers.size() == d.areas.size());
        for (std::size_t l = 0; l < d.areas.size(); ++l) {
            const double area = area_mm2(drawing->regions[l]);
            if (std::isnan(d.areas[l]))
                CHECK(area > 1);
            else
                CHECK(area == Approx(d.areas[l]).epsilon(1e-3));
        }
        CHECK(art->findings.empty() == (*d.code == '\0'));
        if (*d.code != '\0')
            CHECK(std::ranges::any_of(art->findings, [&](const ArtFinding& f) { return f.code == d.code; }));
    }
    // No drawing lies there that nobody looks at.
    CHECK(std::distance(fs::directory_iterator(folder_of_drawings), {}) == static_cast<long>(drawings.size()));
}

TEST_CASE("a drawing at another size is the same drawing, and lies in the middle of its stock", "[artwork]") {
    for (const Drawing& d : drawings) {
        INFO(d.name);
        const auto art = read_artwork(folder_of_drawings / d.name);
        REQUIRE(art);
        const auto extent = extent_of(*art);
        REQUIRE(extent);
        const auto at_once = mended(*art, {});
        REQUIRE(at_once);
        for (const double factor : {0.4, 1.0, 3.0}) {
            ArtSize size;
            size.by = SizeBy::width, size.value = factor * extent->drawn.w;
            const auto sizing = sizing_of(*extent, size);
            REQUIRE(sizing);
            CHECK(sizing->factor == Approx(factor));
            // What is mended, and told, grows with it.
            const auto drawing = mended(sized(*art, *sizing), {0.05 * factor, 0.05 * factor, {}});
            REQUIRE(drawing);
            for (std::size_t l = 0; l < d.areas.size(); ++l)
                CHECK(area_mm2(drawing->regions[l]) ==
                      Approx(factor * factor * area_mm2(at_once->regions[l])).epsilon(1e-3).margin(1e-4));
            CHECK(drawing->art.findings.size() == at_once->art.findings.size());
        }
        const ArtSize stock{SizeBy::stock, 1, 80, 30, 4};
        const auto sizing = sizing_of(*extent, stock);
        REQUIRE(sizing);
        const auto there = extent_of(sized(*art, *sizing));
        REQUIRE(there);
        const RectMm& box = there->drawn;
        CHECK(box.x + box.w / 2 == Approx(40));
        CHECK(box.y + box.h / 2 == Approx(15));
        CHECK(std::max(box.w / 72, box.h / 22) == Approx(1));
        CHECK(there->page_w_mm == 80);
        // There and back, by whatever way.
        const ArtSizing drawn{1, {}, extent->page_w_mm, extent->page_h_mm};
        const PointMm back = resized(resized({3, -2}, drawn, *sizing), *sizing, drawn);
        CHECK(std::hypot(back.x - 3, back.y + 2) < 1e-9);
    }
    const ArtExtent line{20, 10, {2, 3, 12, 0}};
    for (const auto& [size, code] : {std::pair{ArtSize{SizeBy::height, 5, 1, 1, 0}, "size.nothing"},
                                     {ArtSize{SizeBy::factor, 200, 1, 1, 0}, "size.factor"},
                                     {ArtSize{SizeBy::width, 0.01, 1, 1, 0}, "size.factor"},
                                     {ArtSize{SizeBy::stock, 1, 10, 10, 5}, "size.margin"},
                                     {ArtSize{SizeBy::stock, 1, 10, std::nan(""), 1}, "size.margin"},
                                     {ArtSize{SizeBy::factor, std::nan(""), 1, 1, 0}, "size.factor"}}) {
        const auto refused = sizing_of(line, size);
        REQUIRE_FALSE(refused);
        CHECK(refused.error().code == code);
    }
    CHECK(sizing_of({5000, 10, {0, 0, 10, 10}}, {SizeBy::factor, 3, 1, 1, 0}).error().code == "size.too_far");
}

TEST_CASE("the picture of fine detail has the widths that it says, around the spot", "[artwork]") {
    QTemporaryDir folder;
    for (const double spot : {0.02, 0.061, 0.3}) {
        const auto file = detail_file(folder.filePath(QStringLiteral("drawings")), spot);
        REQUIRE(file);
        const auto widths = detail_widths_mm(spot);
        CHECK(widths.front() < 0.6 * spot);
        CHECK(widths.back() > 3.9 * spot);
        const auto drawing = read_mended(file->toStdString(), {}, {0.0, spot, {}});
        REQUIRE(drawing);
        REQUIRE(drawing->art.layers.size() == 2);
        double area = 0;
        for (const double w : widths)
            area += 5 * w * 4 + (11 * w * 4 - 5 * w * 3) + 25 * w * w;
        CHECK(area_mm2(drawing->regions[0]) == Approx(area).epsilon(1e-4));
        CHECK(area_mm2(drawing->regions[1]) > 1); // the numbers
        // All of it lies on the page, and what is told to be narrow is.
        const auto extent = extent_of(drawing->art).value();
        CHECK(extent.drawn.x > 0);
        CHECK(extent.drawn.y > 0);
        CHECK(extent.drawn.x + extent.drawn.w < extent.page_w_mm);
        CHECK(extent.drawn.y + extent.drawn.h < extent.page_h_mm);
        int narrow = 0;
        for (const ArtFinding& f : drawing->art.findings)
            if (f.code == "narrow" && f.layer == 0) {
                CHECK(*f.gap_mm < spot);
                ++narrow;
            }
        CHECK(narrow > 0);
    }
    for (const double spot : {0.0, 2.0, std::nan("")})
        CHECK(detail_picture(spot).error().code == "detail.spot");
}

TEST_CASE("a picture is marked where it is dark, along its pixels", "[artwork]") {
    QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("plate.png"));
    // A frame of 40 x 30 dots with a window, a dot at its corner, on clear ground.
    QImage image(60, 50, QImage::Format_ARGB32);
    image.fill(Qt::transparent);
    for (int y = 10; y < 40; ++y)
        for (int x = 10; x < 50; ++x)
            if (x < 20 || x >= 30 || y < 15 || y >= 25)
                image.setPixel(x, y, 0xff000000);
    image.setPixel(50, 40, 0xff202020);
    image.setDotsPerMeterX(10000);
    image.setDotsPerMeterY(10000);
    REQUIRE(image.save(file));
    const auto art = read_artwork(file.toStdString());
    REQUIRE(art);
    CHECK(art->findings.empty());
    CHECK(art->width_mm == Approx(6));
    CHECK(art->height_mm == Approx(5));
    CHECK(art->shapes.front().outlines.size() == 3);
    CHECK(area_mm2(region_of(*art, 0).value()) == Approx(0.01 * (40 * 30 - 10 * 10 + 1)));
    CHECK(area_mm2(region_of(read_artwork(file.toStdString(), {{}, 60, 0.5}).value(), 0).value()) ==
          Approx(40 * 30 - 10 * 10 + 1));
    image.setDotsPerMeterX(3780); // what programs write that do not know
    REQUIRE(image.save(file));
    CHECK(read_artwork(file.toStdString())->findings.front().code == "size_assumed");
}

TEST_CASE("drawings of very many or very tangled lines do not take for ever", "[artwork]") {
    QTemporaryDir folder;
    const std::filesystem::path at = folder.filePath(QStringLiteral("many")).toStdString();
    const auto entities = [&](const std::string& body) {
        std::ofstream(at) << "0\nSECTION\n2\nENTITIES\n" << body << "0\nENDSEC\n0\nEOF\n";
        return read_mended(at, {}, {});
    };
    // Lines of one length, and circles of one size: kept apart by place, not held each against each.
    std::string lines, circles;
    for (int i = 0; i < 20000; ++i) {
        const std::string x = std::to_string(i % 200), y = std::to_string(i / 200);
        lines += "0\nLINE\n8\na\n10\n" + x + "\n20\n" + y + "\n11\n" + x + ".5\n21\n" + y + "\n";
        if (i < 10000)
            circles += "0\nCIRCLE\n8\na\n10\n" + x + "\n20\n" + y + "\n40\n0.3\n";
    }
    CHECK(entities(lines)->art.shapes.size() == 20000);
    const auto dots = entities(circles);
    REQUIRE(dots);
    CHECK(area_mm2(dots->regions[0]) == Approx(10000 * pi * 0.09).epsilon(0.01)); // coarser chords, and it is said
    CHECK(std::ranges::any_of(dots->art.findings, [](const ArtFinding& f) { return f.code == "coarse"; }));
    // A scribble that crosses itself everywhere, smaller than a joint.
    Outline scribble;
    scribble.closed = true;
    for (int i = 0; i < 6001; ++i)
        scribble.points.push_back({0.02 * std::cos(i * 2.4), 0.02 * std::sin(i * 2.4)});
    CHECK_FALSE(self_crossing(scribble, 1e9));
    // Noise has a corner at every dot.
    QImage noise(2000, 2000, QImage::Format_Grayscale8);
    std::mt19937 random(5);
    for (int y = 0; y < 2000; ++y)
        for (int x = 0; x < 2000; ++x)
            noise.scanLine(y)[x] = random() % 2 == 0 ? 0 : 255;
    const QString file = folder.filePath(QStringLiteral("noise.png"));
    REQUIRE(noise.save(file));
    CHECK(read_artwork(file.toStdString()).error().code == "bitmap.too_fine");
}

TEST_CASE("files that are no drawing are refused with a fix", "[artwork]") {
    QTemporaryDir folder;
    const std::filesystem::path at = folder.filePath(QStringLiteral("x")).toStdString();
    for (const char* text : {"", " \n", "<html><body/></html>", "<svg", "hello", "\x1f\x8b packed", "0\nnonsense\n",
                             "\x89PNG\r\n\x1a\n broken", "12 apples"}) {
        INFO(text);
        std::ofstream(at, std::ios::binary) << text;
        const auto art = read_artwork(at);
        CHECK((!art || !art->findings.empty()));
        survive(text, at);
    }
    std::string deep, bomb = "<!DOCTYPE svg [<!ENTITY a \"aaaaaaaaaa\">";
    for (int i = 0; i < 300; ++i)
        deep += "<g>";
    for (char c = 'b'; c < 'm'; ++c) {
        std::string ten;
        for (int k = 0; k < 10; ++k)
            ten += std::string("&") + static_cast<char>(c - 1) + ";";
        bomb += std::string("<!ENTITY ") + c + " \"" + ten + "\">";
    }
    const auto page = [](const std::string& body) {
        return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"9cm\" height=\"9cm\">" + body + "</svg>";
    };
    survive(page(deep), at);
    survive(bomb + "]>" + page("<text>&l;</text>"), at);
    survive(page("<path stroke='red' stroke-width='1' stroke-dasharray='1e-6' d='M0 0h90'/>"), at);
    survive(page("<g transform='scale(1e9)'><circle r='1e9' stroke='red'/></g>"), at);
}

TEST_CASE("drawings that were damaged anywhere are read or refused", "[artwork]") {
    QTemporaryDir folder;
    const std::filesystem::path at = folder.filePath(QStringLiteral("damaged")).toStdString();
    std::vector<std::string> seeds;
    for (const Drawing& d : drawings)
        seeds.push_back(read_text_file(folder_of_drawings / d.name).value());
    // FINCH_DAMAGED=20000 for the long run; any number finds the same files again.
    const char* asked = std::getenv("FINCH_DAMAGED");
    const int count = asked != nullptr ? std::atoi(asked) : 1500;
    std::mt19937 random(20261127);
    const auto below = [&](std::size_t n) { return static_cast<std::size_t>(random() % std::max<std::size_t>(n, 1)); };
    for (int i = 0; i < count; ++i) {
        std::string text = seeds[below(seeds.size())];
        for (std::size_t hits = 1 + below(4); hits > 0; --hits) {
            const std::size_t from = below(text.size());
            switch (random() % 6) {
            case 0:
                text[from] = static_cast<char>(random());
                break;
            case 1:
                text.erase(from, 1 + below(30));
                break;
            case 2:
                text.insert(from, text.substr(below(text.size()), 1 + below(40)));
                break;
            case 3: { // another number
                const std::size_t digit = text.find_first_of("0123456789", from);
                if (digit != std::string::npos)
                    text.replace(digit, 1,
                                 std::array{"-", "1e9", "1e308", "nan", "0", "99999999", ".", "1e-9"}[below(8)]);
                break;
            }
            case 4: { // a part of another drawing
                const std::string& other = seeds[below(seeds.size())];
                text.insert(from, other.substr(below(other.size()), 1 + below(80)));
                break;
            }
            default:
                text.resize(from);
                break;
            }
            if (text.empty())
                text = " ";
        }
        INFO(i);
        survive(text, at);
    }
}
