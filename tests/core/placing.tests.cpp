// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/placing.h"

#include "demo_bench.h"
#include "document/json_fields.h"
#include "formats/job_export.h"
#include "piece/offset_text.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numbers>
#include <rapidcheck/catch.h>

using namespace finch;
using namespace finch::tests;

namespace {

std::vector<PointMm> box(double x, double y, double w, double h) {
    return {{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
}

/// A scale of so many even marks on a page, the last and first half a step from its ends, and a rim as a guide.
Job scale(double w, double h, int marks, double thick, const char* bench = "heron",
          const char* stock = "tripod-sleeve-powder") {
    Job job{"scale", w, h, {}, {}, {}, {}};
    job.setup.bench = load_bench(FINCH_SOURCE "/data", bench).value();
    job.setup.stock = load_stock(FINCH_SOURCE "/data", stock).value();
    Recipe r;
    r.setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.05), 0, 2, mm(0)};
    Region all;
    for (int i = 0; i < marks; ++i)
        all.rings.push_back(box(w * (i + 0.5) / marks - thick / 2, 2, thick, h / 2));
    job.layers = {{"rim", "#0000ff", true, {}, {{box(0, 0, w, h)}}, false}, {"marks", "#000000", false, r, all, false}};
    return job;
}

double hatched_mm(const Job& job,
                  const std::function<void(const JobPlace&, const JobLayer&, const Hatch&)>& look = {}) {
    double out = 0;
    for (const JobPlace& place : places_of(job))
        for (const JobLayer& l : job.layers) {
            if (l.guide)
                continue;
            const Hatch lines = pass_hatch(layer_at(l, place).value(), 0).value();
            if (look)
                look(place, l, lines);
            if (l.only_at.empty())
                out += lines.length_mm();
        }
    return out;
}

} // namespace

TEST_CASE("a drawing is turned and mirrored about its middle, and its hatch with it", "[placing]") {
    Job job = scale(40, 20, 3, 1);
    job.layers[1].region.rings = {box(1, 2, 3, 4)};
    job.layers[1].recipe->setting.hatch_angle_deg = 20;
    for (const double turn : {0.0, 90.0, 180.0, 270.0, 30.0})
        for (const bool mirrored : {false, true}) {
            INFO(turn << (mirrored ? ", mirrored" : ""));
            PlaceRules rules;
            rules.turn_deg = turn;
            rules.mirrored = mirrored;
            const Job out = placed(job, rules).value().job;
            CHECK(area_mm2(out.layers[1].region) == Approx(12));
            const double a = turn * std::numbers::pi / 180;
            CHECK(out.width_mm == Approx(std::abs(40 * std::cos(a)) + std::abs(20 * std::sin(a))));
            // The corner nearest to the page's lower left, by complex numbers' turn.
            const double x = mirrored ? 19 : -19, y = -8;
            const auto& ring = out.layers[1].region.rings[0];
            const PointMm want{out.width_mm / 2 + x * std::cos(a) - y * std::sin(a),
                               out.height_mm / 2 + x * std::sin(a) + y * std::cos(a)};
            CHECK(std::ranges::any_of(ring,
                                      [&](const PointMm& p) { return std::hypot(p.x - want.x, p.y - want.y) < 1e-9; }));
            CHECK(std::remainder(out.layers[1].recipe->setting.hatch_angle_deg - (mirrored ? -20 : 20) - turn, 360) ==
                  Approx(0).margin(1e-9));
            // As many lines of the same length as before: they went with it.
            CHECK(hatched_mm(out) == Approx(hatched_mm(job)).epsilon(1e-6));
        }
    CHECK(turn_to_fit(40, 20, 50) == 0);
    CHECK(turn_to_fit(140, 5, 110) == 45);
    CHECK_FALSE(turn_to_fit(140, 100, 110));
}

TEST_CASE("tiles lie in the field, meet without a gap, and are lined up by the same crosses", "[placing]") {
    for (const auto& [w, h, tiles] :
         {std::tuple{500.0, 24.0, 4}, {1000.0, 24.0, 7}, {300.0, 280.0, 9}, {100.0, 90.0, 1}}) {
        INFO(w << " by " << h);
        const Job part = scale(w, h, 60, 0.5, "wren", "gauge-strip-304");
        PlaceRules rules;
        rules.holding = Holding::tiles;
        const Placed out = placed(part, rules).value();
        const Job& job = out.job;
        REQUIRE(static_cast<int>(job.places.size()) == tiles);
        const double field = in_mm(job.setup.bench.lens().field);
        CHECK(job.width_mm <= field);
        CHECK(job.height_mm <= field);
        double whole = 0;
        for (const JobPlace& p : job.places)
            whole += p.only->w * p.only->h;
        CHECK(whole == Approx(w * h));
        int outside = 0, off_grid = 0;
        const double marked = hatched_mm(job, [&](const JobPlace& place, const JobLayer& l, const Hatch& lines) {
            for (const HatchRun& r : l.only_at.empty() ? lines.runs : std::vector<HatchRun>())
                for (const PointMm& p : {r.from, r.to}) {
                    const double x = p.x + place.by.x, y = p.y + place.by.y;
                    outside += x < -1e-6 || x > job.width_mm + 1e-6 || y < -1e-6 || y > job.height_mm + 1e-6 ? 1 : 0;
                    // One grid of lines through all tiles.
                    off_grid += std::abs(std::remainder(p.y - 0.025, 0.05)) > 1e-6 ? 1 : 0;
                }
        });
        CHECK(outside == 0);
        CHECK(off_grid == 0);
        CHECK(marked * 0.05 == Approx(area_mm2(part.layers[1].region)).epsilon(0.005));
        // Every cross is burned once, and shown at the same spot of the work in a later tile.
        int burned = 0;
        for (const JobLayer& l : job.layers) {
            if (l.only_at.empty())
                continue;
            REQUIRE(l.only_at.size() == 1);
            if (l.guide)
                continue;
            ++burned;
            JobLayer coarse = l; // lines farther apart than its arms are thick
            coarse.recipe->setting.hatch_pitch = mm(0.5);
            CHECK_FALSE(
                pass_hatch(layer_at(coarse, *std::ranges::find(job.places, l.only_at[0], &JobPlace::number)).value(), 0)
                    ->runs.empty());
            const auto twin = std::ranges::find_if(
                job.layers, [&](const JobLayer& o) { return o.guide && o.region.rings == l.region.rings; });
            REQUIRE(twin != job.layers.end());
            CHECK(twin->only_at.at(0) > l.only_at.at(0));
            for (const int number : {l.only_at.at(0), twin->only_at.at(0)}) {
                const JobPlace& place = *std::ranges::find(job.places, number, &JobPlace::number);
                for (const PointMm& p : l.region.rings[0]) {
                    CHECK(std::abs(p.x + place.by.x - job.width_mm / 2) <= field / 2);
                    CHECK(std::abs(p.y + place.by.y - job.height_mm / 2) <= field / 2);
                }
            }
        }
        CHECK((burned > 0) == (tiles > 1));
        const std::string gcode = job_gcode(job).value();
        std::size_t waits = 0;
        for (std::size_t at = gcode.find("\nM0\n"); at != std::string::npos; at = gcode.find("\nM0\n", at + 1))
            ++waits;
        CHECK(waits == static_cast<std::size_t>(tiles - 1));
        const std::string text = json_text(to_json(job), 1);
        CHECK(json_text(to_json(job_from_json(nlohmann::json::parse(text), "tiles").value()), 1) == text);
        CHECK(nlohmann::json::parse(text)["version"] == 2);
    }
    PlaceRules none;
    none.holding = Holding::tiles;
    none.tiles.margin_mm = 90;
    CHECK(placed(scale(500, 24, 5, 1), none).error().code == "place.field");
}

TEST_CASE("strips round a sleeve put every mark at its own angle, in whole steps and lines", "[placing]") {
    PlaceRules rules;
    rules.holding = Holding::round;
    rules.round = {41, 46, 120, 60, true, 0, 0.6};
    const double wrap = std::numbers::pi * 43.5;
    const Job part = scale(136, 14, 180, 0.2);
    const Placed out = placed(part, rules).value();
    const RoundPlan& plan = out.round.value();
    CHECK(plan.diameter_mm == Approx(43.5));
    CHECK(plan.wrap_mm == Approx(wrap));
    CHECK(plan.stretch == Approx(wrap / 136));
    CHECK(plan.taper_mm == Approx(7 * (46 - 41) / 2.0 / 120));
    CHECK(plan.steps_per_turn == 12800);
    for (const StripChoice& c : plan.choices) {
        INFO(c.strips << " strips");
        CHECK(c.strips * c.steps_each == 12800);
        CHECK(c.lines_each * c.pitch_mm == Approx(wrap / c.strips));
        CHECK(c.pitch_mm == Approx(0.05).epsilon(0.02));
        // By the chord, another way.
        CHECK(c.sag_mm == Approx(21.75 * (1 - std::cos(std::numbers::pi / c.strips))));
        CHECK(c.room_mm == Approx(c.sag_mm / 2 + plan.taper_mm));
        // Seams counted one by one.
        int cut = 0;
        for (double seam = c.shift_mm; seam < wrap - 1e-6; seam += c.strip_mm)
            for (int i = 0; i < 180; ++i)
                cut += seam > 1e-6 && std::abs(seam - wrap * (i + 0.5) / 180) < 0.1 * plan.stretch - 1e-6 ? 1 : 0;
        CHECK((cut == 0) == (c.seams_cut == 0));
    }
    const StripChoice& taken = plan.choices[plan.taken];
    CHECK(taken.in_focus);
    const Job& job = out.job;
    CHECK(job.width_mm == Approx(taken.strip_mm));
    // Where each line lands: the angle of the rotary, and what the scanner adds to it.
    std::map<int, double> at_mark;
    int wrong = 0;
    const double marked = hatched_mm(job, [&](const JobPlace& place, const JobLayer&, const Hatch& lines) {
        const double steps = *place.axis_deg * 12800 / 360, first = *job.places[0].axis_deg * 12800 / 360;
        wrong += std::abs(std::remainder(steps - first, taken.steps_each)) > 1e-6 ? 1 : 0; // whole steps apart
        for (const HatchRun& r : lines.runs) {
            const double on_scanner = r.from.x + place.by.x - job.width_mm / 2;
            const double angle = *place.axis_deg + 360 * on_scanner / wrap;
            const int mark = static_cast<int>(std::floor(angle / 2));
            wrong += std::abs(r.from.x - r.to.x) > 1e-9 ? 1 : 0; // along the axis
            wrong += std::abs(on_scanner) > taken.strip_mm / 2 + 1e-6 ? 1 : 0;
            wrong += std::abs(angle - 360 * r.from.x / wrap) > 1e-6 ? 1 : 0;
            wrong += std::abs(angle - (2 * mark + 1)) > 360 * 0.1 * plan.stretch / wrap + 1e-6 ? 1 : 0;
            at_mark[mark] += std::hypot(r.to.x - r.from.x, r.to.y - r.from.y);
        }
    });
    CHECK(wrong == 0);
    CHECK(at_mark.size() == 180);
    CHECK(marked * taken.pitch_mm ==
          Approx(area_mm2(job.layers[1].region)).epsilon(0.25)); // four lines a mark, or five
    CHECK(job.layers[1].recipe->setting.hatch_angle_deg == 90);
    CHECK_FALSE(job.layers[1].recipe->cross_hatch);
    const std::string gcode = job_gcode(job).value();
    CHECK(gcode.find("G0 A") != std::string::npos);

    // Out of focus the spot changes over another way; found here by looking for it.
    Job low = part;
    low.layers[1].recipe->setting.focus_offset = mm(6);
    const BeamWaist beam = waist(low.setup.bench.lens(), low.setup.bench.source.wavelength);
    const auto changed = [&](double by) { return in_mm(spot_at(beam, mm(6 + by))) / in_mm(spot_at(beam, mm(6))); };
    double holds = 0;
    while (changed(holds) < 1.1 && changed(-holds) > 1 / 1.1)
        holds += 1e-4;
    CHECK(placed(low, rules).value().round->half_depth_mm == Approx(holds).margin(2e-4));

    // A straight tube, a part of the way round, and what is refused.
    rules.round = {30, 30, 50, 25, false, 0, 0.6};
    const Placed arc = placed(scale(40, 10, 20, 0.4), rules).value();
    double covered = 0;
    for (const JobPlace& p : arc.job.places)
        covered += p.only->w;
    CHECK(covered == Approx(40));
    const auto code = [&](const Job& of) { return placed(of, rules).error().code; };
    CHECK(code(scale(100, 10, 20, 0.4)) == "setup.arc");
    CHECK(code(scale(40, 60, 20, 0.4)) == "setup.band");
    CHECK(code(scale(40, 10, 20, 0.4, "wren", "sundial-316")) == "place.no_rotary");
    Job no_recipe = scale(40, 10, 20, 0.4);
    no_recipe.layers[1].recipe.reset();
    CHECK(code(no_recipe) == "job.no_recipe");
    rules.round.strips = 7;
    rules.round.full_turn = true;
    const Placed odd = placed(scale(94, 10, 20, 0.4), rules).value();
    CHECK(odd.round->choices[odd.round->taken].strips == 7);
    CHECK(std::ranges::any_of(odd.findings, [](const Finding& f) { return f.code == "round.steps"; }));
}

TEST_CASE("a laid piece takes the time of all its places", "[placing]") {
    const Job part = scale(20, 10, 5, 0.5, "wren", "gauge-strip-304");
    const ScannerKnowledge scanner = fitted(part.setup.bench.scanner);
    const auto seconds = [&](const PlaceRules& rules) {
        Placed p = placed(part, rules).value();
        return std::pair{time_of(scanner, p, rules, 8).value(), p};
    };
    const double one = seconds({}).first.marking.likely;
    PlaceRules tray;
    tray.holding = Holding::tray;
    tray.tray = {4, 6, 22, 12, 5, {}};
    tray.wanted = 100;
    tray.load_s = 15;
    const auto [time, p] = seconds(tray);
    CHECK(time.moving_s == 24 * 15);
    CHECK(time.marking.likely == Approx(24 * one));
    REQUIRE(p.batch);
    CHECK(p.batch->load >= 103);
    CHECK(p.batch->trays == (p.batch->load + 23) / 24);
    PlaceRules tiles;
    tiles.holding = Holding::tiles;
    CHECK(seconds(tiles).first.moving_s == 0);
    CHECK(seconds(tiles).first.marking.likely == Approx(one).epsilon(0.01));
}

TEST_CASE("offsets of nests are read as they are written, and a slip is named", "[placing]") {
    rc::prop("offsets_from_text", [] {
        NestOffsets offsets;
        for (int nest = *rc::gen::inRange(1, 5); nest <= 1000; nest += *rc::gen::inRange(100, 600))
            offsets.emplace_back(nest,
                                 PointMm{*rc::gen::inRange(-99999, 99999) * 1e-4, *rc::gen::inRange(-999, 999) * 1e-3});
        const auto again = offsets_from_text(offsets_text(offsets));
        RC_ASSERT(again.has_value());
        RC_ASSERT(again->size() == offsets.size());
        for (std::size_t i = 0; i < offsets.size(); ++i) {
            RC_ASSERT((*again)[i].first == offsets[i].first);
            RC_ASSERT(std::abs((*again)[i].second.x - offsets[i].second.x) < 1e-9);
            RC_ASSERT(std::abs((*again)[i].second.y - offsets[i].second.y) < 1e-9);
        }
    });
    CHECK(offsets_from_text("  7=0.1,-0.05;\n12=0,0.2 ").value().size() == 2);
    CHECK(offsets_from_text(" ; ").value().empty());
    for (const char* wrong :
         {"7", "7=1", "=1,2", "0=1,2", "1001=1,2", "1.5=1,2", "7=1,2,3", "7=1;2", "7=nan,1", "x=1,2"})
        CHECK(offsets_from_text(wrong).error().code == "tray.offset_text");
    const auto twice = offsets_from_text("7=1,2 7=1,2");
    CHECK(twice.error().message.find("twice") != std::string::npos);
}
