// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Words as outlines: how large, where, round which circle; and a tray on which every part says its own.
#include "formats/typed_art.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/job_export.h"
#include "formats/shipped_fonts.h"
#include "formats/svg_text.h"
#include "piece/tray.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <nlohmann/json.hpp>
#include <QFontMetricsF>

using namespace finch;

namespace {

struct Extent {
    double left = 1e9, low = 1e9, right = -1e9, high = -1e9, nearest = 1e9, farthest = 0;
};
Extent extent_of(const ArtShape& s) {
    Extent e;
    for (const Outline& o : s.outlines)
        for (const PointMm& p : o.points) {
            e.left = std::min(e.left, p.x), e.right = std::max(e.right, p.x);
            e.low = std::min(e.low, p.y), e.high = std::max(e.high, p.y);
            e.nearest = std::min(e.nearest, std::hypot(p.x, p.y));
            e.farthest = std::max(e.farthest, std::hypot(p.x, p.y));
        }
    return e;
}

ArtShape shape(const TypedText& t, const std::string& words) {
    std::vector<ArtFinding> said;
    return text_shape(t, words, said).value();
}

double area(const ArtShape& s) {
    return area_mm2(region_of(s).value());
}

TypedText high(double mm) {
    TypedText t;
    t.height_mm = mm;
    return t;
}

} // namespace

TEST_CASE("words are as high as their capitals, lie where they were put, and lose nothing on an arc", "[typed]") {
    TypedText t = high(5);
    const Extent e = extent_of(shape(t, "HEL"));
    CHECK(e.low == Approx(0).margin(1e-3));
    CHECK(e.high == Approx(5).epsilon(2e-3));
    CHECK(0.5 * (e.left + e.right) == Approx(0).margin(0.4)); // but for the room beside letters
    t.at = {7, -3}, t.end = TextEnd::first;
    const Extent moved = extent_of(shape(t, "HEL"));
    CHECK(moved.low == Approx(-3).margin(1e-3));
    CHECK(moved.left == Approx(7).margin(0.8));
    t.end = TextEnd::last;
    CHECK(extent_of(shape(t, "HEL")).right == Approx(7).margin(0.8));

    // The same area as the library's own way to draw a text, which goes by another door.
    const std::string words = "No 0123456789 B";
    t = high(3);
    const double capital_px = QFontMetricsF(outline_font(installed_family(t.font))).capHeight();
    const TextOutlines other = text_outlines(words, {t.font, 3 * outline_px / capital_px, false, false, 0});
    ArtShape drawn;
    for (const QPolygonF& polygon : other.path.toSubpathPolygons(QTransform::fromScale(64, 64))) {
        Outline& o = drawn.outlines.emplace_back();
        o.closed = true;
        for (const QPointF& p : polygon)
            o.points.push_back({p.x() / 64, -p.y() / 64});
        o.points.pop_back();
    }
    const double straight = area(shape(t, words));
    CHECK(straight == Approx(area(drawn)).epsilon(2e-3));

    for (const double radius : {20.0, -20.0, 8.0}) {
        INFO(radius);
        t = high(3);
        t.radius_mm = radius;
        const ArtShape round = shape(t, words);
        CHECK(area(round) == Approx(straight).epsilon(2e-3)); // letters keep their form
        const Extent r = extent_of(round);
        if (radius > 0) {
            CHECK(r.nearest > radius - 0.1);
            CHECK(r.nearest < radius + 0.1);
            CHECK(r.high == Approx(radius + 3).margin(0.25)); // upright on top
        } else {
            CHECK(r.farthest < -radius + 0.2);
            CHECK(r.nearest == Approx(-radius - 3).margin(0.25)); // they hang in it
            CHECK(r.low == Approx(radius).margin(0.2));           // upright at the bottom
        }
        // A quarter turned they are on the left.
        t.turn_deg = 90;
        const Extent turned = extent_of(shape(t, words));
        CHECK((radius > 0 ? turned.left : turned.right) == Approx(radius > 0 ? -r.high : -r.low).margin(1e-6));
    }
    // Mirrored every place is where its mirror image was.
    t = high(3);
    t.turn_deg = 25, t.at = {4, 2};
    const ArtShape plain = shape(t, "F7");
    t.mirrored = true;
    const ArtShape mirrored = shape(t, "F7");
    t.mirrored = false;
    REQUIRE(mirrored.outlines.size() == plain.outlines.size());
    CHECK(area(mirrored) == Approx(area(plain)).epsilon(1e-6));
    for (std::size_t i = 0; i < plain.outlines[0].points.size(); ++i) {
        const PointMm a = plain.outlines[0].points[i], b = mirrored.outlines[0].points[i];
        CHECK(b.x == Approx(8 - a.x).margin(1e-6));
        CHECK(b.y == Approx(a.y).margin(1e-6));
    }
}

TEST_CASE("what a font cannot do is told, and what cannot be put on a drawing is refused", "[typed]") {
    std::vector<ArtFinding> said;
    TypedText t = high(3);
    t.font = "No Such Font";
    REQUIRE(text_shape(t, "A", said));
    CHECK(said.at(0).code == "text.font");
    said.clear();
    t.font = "IBM Plex Mono";
    REQUIRE(text_shape(t, "A\xe6\xbc\xa2", said));
    CHECK(said.at(0).code == "text.glyph");
    CHECK(text_shape(t, " \n ", said).error().code == "text.blank");

    Artwork page = blank_page(40, 10);
    TypedTexts typed{{high(3)}, {}};
    typed.texts[0].words = "far too long for such a page, all of it";
    typed.texts[0].name = "line";
    typed.texts[0].at = {20, 4};
    REQUIRE(add_texts(page, typed, 1));
    CHECK(page.layers.size() == 2);
    CHECK(page.findings.at(0).code == "text.off_page");
    CHECK(page.findings.at(0).layer == 1u);
    CHECK(add_texts(page, typed, 1).error().code == "text.layer");
}

TEST_CASE("on a tray every part has its own words, the others' nowhere", "[typed]") {
    Artwork art = blank_page(24, 8);
    TypedTexts typed;
    for (const char* words : {"{n}", "lot {lot}", "strip"}) {
        TypedText t = high(1.5);
        t.name = std::string("of ") + words;
        t.words = words;
        t.at = {12, 1 + 2.4 * static_cast<double>(typed.texts.size())};
        typed.texts.push_back(t);
    }
    typed.series.first = 40, typed.series.step = 3;
    typed.series.table =
        std::make_shared<const PieceTable>(PieceTable{"", {"lot"}, {{"A"}, {"A"}, {"B"}, {""}, {"A"}, {"C"}, {"C"}}});
    REQUIRE(add_texts(art, typed, 2));
    Setup setup;
    setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    setup.stock = load_stock(FINCH_SOURCE "/data", "gauge-strip-304").value();
    Job part = job_of("strip", setup, mended(art, {}).value());
    part.layers[0].guide = true;
    for (JobLayer& l : part.layers)
        if (!l.guide) {
            l.recipe = Recipe{};
            l.recipe->setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.05), 0, 1, mm(0)};
        }
    PlaceRules rules;
    rules.holding = Holding::tray;
    rules.tray = {4, 2, 28, 12, 10};
    typed.series.pieces = {2, 3, 4, 5, 6, 7};
    const NumberedPart n = numbered(part, typed, rules).value();
    CHECK(n.rules.tray.filled == 6);
    CHECK(n.findings.empty()); // "lot " is something
    const Job job = in_tray(n.job, n.rules.tray).value();
    CHECK(job.places.size() == 6);
    std::map<int, std::vector<std::string>> told;
    for (const JobPlace& place : job.places)
        for (const JobLayer& l : job.layers)
            if (!l.words.empty() && is_at(l, place))
                told[place.number].push_back(l.words);
    CHECK(told == std::map<int, std::vector<std::string>>{{1, {"0043", "lot A"}},
                                                          {2, {"0046", "lot B"}},
                                                          {3, {"0049", "lot "}},
                                                          {4, {"0052", "lot A"}},
                                                          {5, {"0055", "lot C"}},
                                                          {6, {"0058", "lot C"}}});
    // One region for each wording; a wording twice is hatched once.
    CHECK(job.layers.size() == 1 + 6 + 4 + 1);
    const std::string text = json_text(to_json(job), 1);
    CHECK(json_text(to_json(job_from_json(nlohmann::json::parse(text), "").value()), 1) == text);
    // The lines of each nest are as long as those of its own words.
    const std::string gcode = job_text(job, "gcode").value();
    std::map<int, double> marked, hatched;
    int nest = 0;
    double x = 0, y = 0;
    std::size_t at = 0;
    while (at < gcode.size()) {
        const std::size_t end = std::min(gcode.find('\n', at), gcode.size());
        const std::string line = gcode.substr(at, end - at);
        at = end + 1;
        const auto after = [&](const char* word) { // whatever the locale has for a decimal point
            double v = 0;
            const std::size_t from = line.find(word);
            if (from != std::string::npos)
                std::from_chars(line.data() + from + std::strlen(word), line.data() + line.size(), v);
            return v;
        };
        if (line.starts_with("; nest "))
            nest = static_cast<int>(after("; nest "));
        if (line.starts_with("G") && line.find(" X") != std::string::npos) {
            const double tx = after(" X"), ty = after(" Y");
            if (line[1] == '1')
                marked[nest] += std::hypot(tx - x, ty - y);
            x = tx, y = ty;
        }
    }
    for (const JobPlace& place : job.places)
        for (const JobLayer& l : job.layers)
            if (l.recipe && is_at(l, place))
                hatched[place.number] += pass_hatch(l, 0)->length_mm();
    REQUIRE(marked.size() == 6);
    for (const auto& [number, mm] : hatched)
        CHECK(marked[number] == Approx(mm).epsilon(1e-4));
    CHECK(marked[1] != Approx(marked[2]).epsilon(1e-3));
    // In outlines as well each ring is there as often as nests have it, and the sheet says which has what.
    std::size_t rings = 0;
    for (const JobLayer& l : job.layers)
        rings += l.region.rings.size() * (l.only_at.empty() ? 6 : l.only_at.size());
    const auto count = [](const std::string& in, const std::string& what) {
        std::size_t found = 0;
        for (std::size_t from = 0; (from = in.find(what, from)) != std::string::npos; from += what.size())
            ++found;
        return found;
    };
    CHECK(count(job_text(job, "svg").value(), "z\n") == rings);
    CHECK(count(job_text(job, "dxf").value(), "POLYLINE") == rings);
    CHECK(count(job_text(job, "csv").value(), "\"0052\",4") == 1);
    // What is kept free along the edges is kept free on each; with fewer parts fewer are told.
    Job narrow = part;
    narrow.layers[1] = filled(narrow.layers[1], {false, false, 0.02, 0}).value();
    const NumberedPart thin = numbered(narrow, typed, rules).value();
    for (std::size_t i = 1; i <= 6; ++i)
        CHECK(area_mm2(thin.job.layers[i].region) < 0.95 * area_mm2(n.job.layers[i].region));
    CHECK(thin.job.layers[3].inset_mm == Approx(0.02));
    PlaceRules two = rules;
    two.tray.filled = 2;
    CHECK(numbered(part, typed, two).error().code == "text.pieces");
    // A piece whose cell is empty may be the first one: the layer is there, and says so.
    TypedTexts hollow = typed;
    hollow.texts[1].words = "{lot}";
    hollow.series.pieces = {4, 5};
    Artwork none = blank_page(24, 8);
    REQUIRE(add_texts(none, hollow, 4));
    CHECK(none.layers.size() == 4);
    CHECK(none.shapes.size() == 3);
    CHECK(none.findings.at(0).code == "text.blank");
    const NumberedPart some = numbered(part, hollow, rules).value();
    CHECK(some.findings.at(0).code == "text.blank");
    CHECK(some.job.layers.size() == 1 + 2 + 1 + 1);
    // Without a tray the part is the first piece; more pieces than nests are refused.
    rules.holding = Holding::as_drawn;
    CHECK(numbered(part, typed, rules)->job.layers.size() == part.layers.size());
    rules.holding = Holding::tray;
    rules.tray = {2, 1, 28, 12, 10};
    CHECK(numbered(part, typed, rules).error().code == "text.pieces");
}
