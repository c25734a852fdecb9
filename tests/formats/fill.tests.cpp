// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// How layers are filled: inset, one way, contours; by closed forms, and what leaves as G-code.
#include "formats/data_folder.h"
#include "formats/job_export.h"
#include "piece/drawn_round.h"
#include "piece/fill_check.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <set>

using namespace finch;

namespace {

JobLayer disc(double r) {
    ArtShape s;
    Outline& o = s.outlines.emplace_back();
    o.closed = true;
    o.points.push_back({20 + r, 20});
    add_arc(o.points, {20, 20}, {r, 0}, {0, r}, 0, 2 * std::numbers::pi);
    o.points.pop_back();
    Recipe dark;
    dark.setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.05), 30, 3, mm(0)};
    dark.turn_per_pass_deg = 67;
    return {"disc", "#000000", false, dark, region_of(s).value()};
}

JobLayer square(double side) {
    JobLayer l = disc(1);
    l.region = {{{{0, 0}, {side, 0}, {side, side}, {0, side}}}};
    return l;
}

double hatched_mm(const JobLayer& l) {
    JobLayer plain = l;
    plain.contours = 0;
    return pass_hatch(plain, 0)->length_mm();
}

} // namespace

TEST_CASE("contours go round the outlines, each a pitch further in, and never outside", "[fill]") {
    JobLayer l = filled(square(10), {false, false, 0, 3}).value();
    const Hatch h = pass_hatch(l, 0).value();
    CHECK(h.length_mm() - hatched_mm(l) == Approx(40 + (40 - 8 * 0.05) + (40 - 16 * 0.05)).epsilon(1e-6));
    for (const HatchRun& r : h.runs)
        for (const PointMm& p : {r.from, r.to})
            CHECK((p.x > -2e-6 && p.y > -2e-6 && p.x < 10 + 2e-6 && p.y < 10 + 2e-6));
    // A round one is one line for the mirrors, a square one four.
    const auto lines = [](const JobLayer& layer) {
        const LayerWork work = layer_work(layer).value();
        double n = 0;
        for (const WayCount& w : work.load.lines)
            n += w.count;
        return n;
    };
    const auto lines_of = [&](const JobLayer& layer) {
        JobLayer plain = layer;
        plain.contours = 0;
        return lines(layer) - lines(plain);
    };
    CHECK(lines_of(l) == Approx(3 * 4));
    CHECK(lines_of(filled(disc(5), {false, false, 0, 2}).value()) == Approx(2));
    const JobLayer round = filled(disc(5), {false, false, 0, 2}).value();
    CHECK(pass_hatch(round, 1)->length_mm() - hatched_mm(round) ==
          Approx(2 * std::numbers::pi * (5 + 4.95)).epsilon(1e-3)); // the turned hatch is as long within that
    // Of some of its shapes only theirs.
    JobLayer two = square(4);
    two.region.rings.push_back({{10, 0}, {13, 0}, {13, 3}, {10, 3}});
    two.contours = 1;
    const std::vector<std::vector<std::size_t>> second{{1}};
    two.recipe->setting.passes = 1;
    const double contour = pass_hatch(two, 0, second)->length_mm();
    two.contours = 0;
    CHECK(contour - pass_hatch(two, 0, second)->length_mm() == Approx(12));
}

TEST_CASE("cut into tiles, contours are whole, and no seam becomes one", "[fill]") {
    JobLayer l = filled(disc(8), {false, false, 0.03, 2}).value();
    const double whole = pass_hatch(l, 0)->length_mm() - hatched_mm(l);
    double sum = 0;
    for (int i = 0; i < 3; ++i)
        for (int k = 0; k < 2; ++k) {
            const JobPlace tile{1 + i + 3 * k, {}, RectMm{10 + 7.0 * i, 10 + 10.0 * k, 7, 10}};
            const LayerAt part = layer_at(l, tile).value();
            for (const HatchRun& r : part.contours)
                sum += std::hypot(r.to.x - r.from.x, r.to.y - r.from.y);
        }
    CHECK(sum == Approx(whole).epsilon(1e-9));
}

TEST_CASE("a mark that keeps half the spot free is as wide as it is drawn", "[fill]") {
    const double inset_mm = 0.03;
    const JobLayer l = filled(disc(5), {false, true, inset_mm, 0}).value();
    const Hatch h = pass_hatch(l, 0).value();
    CHECK(0.05 * h.length_mm() == Approx(std::numbers::pi * (5 - inset_mm) * (5 - inset_mm)).epsilon(2e-3));
    std::set<bool> ways;
    for (const HatchRun& r : h.runs) {
        ways.insert((r.to.x - r.from.x) * std::cos(std::numbers::pi / 6) + (r.to.y - r.from.y) * 0.5 > 0);
        CHECK(std::hypot(r.from.x - 20, r.from.y - 20) < 5 - inset_mm + 1e-5);
    }
    CHECK(ways.size() == 1); // one way
    CHECK(filled(square(0.05), {false, false, 0.03, 0}).error().code == "fill.nothing_left");

    const auto says = [&](const char* code, Process process, const LayerFill& fill, int passes = 3) {
        Recipe r = *l.recipe;
        r.process = process;
        r.setting.passes = passes;
        r.turn_per_pass_deg = process == Process::deep_engrave ? 0 : 67;
        for (const Finding& f : fill_findings(r, fill, 0.06))
            if (f.code == code)
                return f.severity == Severity::warning ? 2 : 1;
        return 0;
    };
    CHECK(says("fill.edge_twice", Process::anneal, {false, false, 0, 1}) == 2);
    CHECK(says("fill.edge_twice", Process::deep_engrave, {false, false, 0, 1}) == 1);
    CHECK(says("fill.edge_twice", Process::anneal, {}) == 0);
    CHECK(says("fill.wider", Process::anneal, {}) == 1);
    CHECK(says("fill.wider", Process::anneal, {false, false, 0.03, 0}) == 0);
    CHECK(says("fill.narrower", Process::anneal, {false, false, 0.1, 0}) == 1);
    CHECK(says("fill.grooves", Process::deep_engrave, {}, 40) == 2);
    CHECK(says("fill.grooves", Process::deep_engrave, {}, 1) == 0);
}

TEST_CASE("round a contour the laser stays on, and the job keeps how it is filled", "[fill]") {
    Setup setup;
    setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    setup.stock = load_stock(FINCH_SOURCE "/data", "gauge-strip-304").value();
    Job job{"disc", 40, 40, setup, {}, {}, {}};
    job.layers.push_back(filled(disc(5), {false, true, 0.03, 2}).value());
    job.layers[0].recipe->setting.passes = 1;
    const std::string text = job_text(job, "gcode").value();
    const auto count = [&](const std::string& word) {
        std::size_t n = 0;
        for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1))
            ++n;
        return n;
    };
    JobLayer plain = job.layers[0];
    plain.contours = 0;
    const std::size_t hatch_lines = pass_hatch(plain, 0)->runs.size();
    CHECK(count("\nM3 S") == hatch_lines + 2); // once for each contour
    CHECK(count("\nG1 ") == pass_hatch(job.layers[0], 0)->runs.size());
    const std::string json = job_text(job, "json").value();
    CHECK(json.find("\"contours\": 2") != std::string::npos);
    CHECK(json.find("\"one_way\": true") != std::string::npos);
    CHECK(json.find("\"version\": 2") != std::string::npos);
}

TEST_CASE("walls that lean close a groove where they meet, and only there", "[fill]") {
    // Two slots: at 14 degrees and 400 um deep all that is narrower than 0.2 mm closes.
    const Region slots{{{{0, 0}, {30, 0}, {30, 0.1}, {0, 0.1}}, {{0, 5}, {30, 5}, {30, 5.3}, {0, 5.3}}}};
    const double lean = std::atan(0.25) * 180 / std::numbers::pi;
    const auto told = closing_walls(slots, 3, 400, lean).value();
    REQUIRE(told.size() == 1);
    CHECK(told[0].layer == 3u);
    CHECK(told[0].gap_mm.value() == Approx(0.1).epsilon(0.02));
    CHECK(told[0].at->y < 0.11);
    CHECK(told[0].text.find("closes at 199 of 400") != std::string::npos); // 0.1 / 2 / tan, less what corners take
    CHECK(closing_walls(slots, 0, 180, lean)->empty());
    CHECK(closing_walls(slots, 0, 700, lean)->size() == 2);
}

TEST_CASE("what is drawn round becomes a layer, whole shapes only, and nothing is lost", "[fill]") {
    Artwork art;
    art.width_mm = art.height_mm = 40;
    ArtShape many;
    many.name = "squares";
    many.layer = layer_of(art, "marks", "#000000");
    many.rule = FillRule::even_odd;
    for (int i = 0; i < 4; ++i)
        for (int k = 0; k < 4; ++k)
            for (const double side : {6.0, 2.0}) { // each with a hole
                const double x = 2 + 10 * i + (6 - side) / 2, y = 2 + 10 * k + (6 - side) / 2;
                many.outlines.push_back({{{x, y}, {x + side, y}, {x + side, y + side}, {x, y + side}}, true});
            }
    art.shapes.push_back(many);
    const MendedArt plain = mended(art, {}).value();
    const double whole = area_mm2(plain.regions[0]);
    CHECK(whole == Approx(16 * 32.0));
    const auto after = [&](const std::vector<DrawnRound>& rounds) {
        MendedArt d = plain;
        take_out(d, rounds);
        double sum = 0;
        for (const Region& r : d.regions)
            sum += area_mm2(r);
        CHECK(sum == Approx(whole));
        return d;
    };
    // The left half; its line goes through the second column's upper two, which stay.
    const std::vector<PointMm> left{{-1, -1}, {19, -1}, {19, 19}, {15, 21}, {15, 41}, {-1, 41}};
    const MendedArt two = after({{"left", "marks", "#000000", left}});
    REQUIRE(two.regions.size() == 2);
    CHECK(area_mm2(two.regions[1]) == Approx(6 * 32.0));
    CHECK(two.art.layers[1].name == "left");
    // Of that a part again; one in which nothing lies whole; one of no layer; one whose name is taken.
    const std::vector<PointMm> low{{-1, -1}, {41, -1}, {41, 9}, {-1, 9}}, none{{3, 3}, {5, 3}, {5, 5}};
    const MendedArt more = after({{"left", "marks", "#000000", left},
                                  {"low", "left", "#000000", low},
                                  {"none", "marks", "#000000", none},
                                  {"lost", "ground", "#000000", low},
                                  {"low", "marks", "#000000", low}});
    REQUIRE(more.regions.size() == 3);
    CHECK(area_mm2(more.regions[2]) == Approx(2 * 32.0));
    std::set<std::string> told;
    for (const ArtFinding& f : more.art.findings)
        told.insert(f.code);
    CHECK(told == std::set<std::string>{"round.nothing", "round.no_layer", "round.name"});
}

TEST_CASE("a fault that is left as drawn stays so, the others are mended, and it can be mended again", "[fill]") {
    Artwork art;
    art.width_mm = art.height_mm = 40;
    ArtShape loose;
    loose.layer = layer_of(art, "marks", "#000000");
    loose.rule = FillRule::nested;
    for (const double x : {2.0, 12.0, 22.0})
        loose.outlines.push_back({{{x, 2}, {x + 6, 2}, {x + 6, 8}, {x, 8}, {x, 2.03}}, false});
    loose.outlines.push_back({{{30, 30}, {36, 30}, {36, 36}, {30, 36}}, true});
    loose.outlines.push_back(loose.outlines.back()); // lies twice
    art.shapes.push_back(loose);
    const MendedArt all = mended(art, {}).value();
    CHECK(area_mm2(all.regions[0]) == Approx(4 * 36.0).epsilon(1e-3));
    std::vector<PointMm> mended_at;
    for (const ArtFinding& f : all.art.findings)
        if (can_be_left(f))
            mended_at.push_back(*f.at);
    REQUIRE(mended_at.size() == 4);
    for (std::size_t i = 0; i < 3; ++i) {
        RepairRules rules;
        rules.as_drawn = {mended_at[i + 1]};
        const MendedArt one = mended(art, rules).value();
        CHECK(area_mm2(one.regions[0]) == Approx(3 * 36.0).epsilon(1e-3));
        int left = 0, closed = 0;
        for (const ArtFinding& f : one.art.findings) {
            left += f.code == "left_open" && can_be_left(f) ? 1 : 0;
            closed += f.closed ? 1 : 0;
        }
        CHECK((left == 1 && closed == 3));
    }
    RepairRules all_left;
    all_left.as_drawn = mended_at;
    const MendedArt none = mended(art, all_left).value();
    for (const ArtFinding& f : none.art.findings)
        CHECK_FALSE(f.closed);
}
