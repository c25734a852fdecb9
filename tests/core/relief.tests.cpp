// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief_cut.h"

#include "demo_bench.h"
#include "document/json_fields.h"
#include "formats/job_export.h"

#include <catch2/catch.hpp>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numbers>
#include <set>
#include <sstream>

using namespace finch;
using namespace finch::tests;

namespace {

/// The brass block on Heron, whose depth of focus is short enough to need following.
struct Block {
    DemoBench demo;
    Recipe recipe;
    Block() {
        demo.setup.bench = load_bench(FINCH_SOURCE "/data", "heron").value();
        demo.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
        demo.metal = materials().find(demo.setup.stock.metal).value();
        recipe.process = Process::deep_engrave;
        recipe.setting = {90, kilohertz(60), nanoseconds(110), mm_per_second(900), mm(0.03), 10, 1, mm(0)};
        recipe.turn_per_pass_deg = 67;
        recipe.line_shift_percent = 38.2;
    }
    [[nodiscard]] Scene scene() const { return {materials(), *demo.metal, demo.setup.bench, demo.setup.stock, {}}; }
};

/// A cone that stands on its tip in a white field: deepest in the middle, `radius` pixels wide.
HeightMap cone(int side, double radius, unsigned short ground = 65535) {
    HeightMap out{side, side, 16, {}};
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            const double r = std::hypot(x + 0.5 - side / 2.0, y + 0.5 - side / 2.0) / radius;
            out.grey.push_back(r < 1 ? static_cast<unsigned short>(65535 * r * 0.9) : ground);
        }
    return out;
}

} // namespace

TEST_CASE("a relief has the depth that a prediction has, and follows the floor by its rule", "[relief]") {
    const Block b;
    const Scene scene = b.scene();
    ReliefRules rules;
    rules.width_mm = 20;
    rules.levels.layers = 40;
    rules.follow = false;
    const ReliefMap map = relief_map(cone(60, 28), rules).value();
    const auto cut = [&](const ReliefRules& r) {
        return cut_relief(scene, b.recipe, r, map, fitted(scene.bench.scanner), {}).value();
    };
    for (const double depth_um : {0.0, 150.0, 900.0})
        for (const int clean : {0, 4}) {
            INFO(depth_um << " µm, cleaned after " << clean);
            rules.depth_um = depth_um;
            rules.clean_every = clean;
            rules.follow = false;
            const ReliefCut stay = cut(rules);
            // One number for one thing: the same passes, predicted as a recipe.
            Recipe whole = with_knob(b.recipe, Knob::passes, stay.passes());
            whole.deep.narrowest = mm(20);
            whole.deep.clean_every = clean * stay.passes_per_layer;
            const Prediction p = predict(scene, whole, {mm(20), 400}).value();
            CHECK(stay.depth_um.back() == Approx(p.removal->depth_if_um).epsilon(1e-9));
            CHECK(stay.passes_per_layer == Approx(stay.passes() / 40.0));
            if (depth_um == 0)
                CHECK(stay.passes_per_layer == 1);
            rules.follow = true;
            const ReliefCut follow = cut(rules);
            const double step =
                std::round(250 * in_mm(waist(scene.bench.lens(), scene.bench.source.wavelength).rayleigh)) / 1000;
            double lowered = 0;
            for (std::size_t k = 0; k < follow.focus_mm.size(); ++k) {
                // Lowered by whole steps, never above the step below, never before the floor is there.
                const double z_mm = k < static_cast<std::size_t>(follow.deepest) ? follow.depth_um[k] / 1000 : 0;
                CHECK(std::abs(std::remainder(follow.focus_mm[k], step)) < 1e-9);
                CHECK(follow.focus_mm[k] >= lowered);
                CHECK(follow.focus_mm[k] <= std::max(z_mm, lowered) + 1e-9);
                lowered = follow.focus_mm[k];
                if (z_mm > 0)
                    CHECK(z_mm - lowered < step);
            }
            if (!stay.stalls)
                CHECK(follow.passes() <= stay.passes());
            CHECK(std::ranges::is_sorted(follow.depth_um));
            CHECK(follow.least_um.back() < follow.depth_um.back());
            CHECK(follow.most_um.back() > follow.depth_um.back());
            if (depth_um > 0 && !follow.stalls)
                CHECK(follow.depth_um.back() >= depth_um);
            rules.follow_most_mm = step; // one step, no more
            CHECK(cut(rules).focus_mm.back() <= step + 1e-9);
            rules.follow_most_mm = 5;
        }
    // Cleaning costs its passes and brings depth.
    rules.depth_um = 0;
    rules.clean_every = 1;
    const ReliefCut clean = cut(rules);
    rules.clean_every = 0;
    const ReliefCut dusty = cut(rules);
    CHECK(clean.depth_um.back() > dusty.depth_um.back());
    CHECK(clean.debris_loss < 1e-9);
    CHECK(dusty.debris_loss > 0.02);
    CHECK(clean.done_s.back() == Approx(clean.time.likely));
    CHECK(std::ranges::is_sorted(clean.done_s));
    CHECK(clean.cleaning_s == Approx(clean.marking_s / materials().model.effort.cleaning_speed).epsilon(0.02));
}

TEST_CASE("a relief is told of nothing whose removal no model has", "[relief]") {
    Block b;
    ReliefRules rules;
    const ReliefMap map = relief_map(cone(40, 18), rules).value();
    const auto code = [&] {
        const Scene scene = b.scene();
        const auto cut = cut_relief(scene, b.recipe, rules, map, fitted(scene.bench.scanner), {});
        return cut ? std::string() : cut.error().code;
    };
    CHECK(code().empty());
    const Setup brass = b.demo.setup;
    b.demo.setup.stock.coating = Coating::powder_coat; // removal of a coat is another model's
    CHECK(code() == "relief.removes_nothing");
    b.demo.setup = brass;
    const Setting fibre = b.recipe.setting;
    b.demo.setup.bench = load_bench(FINCH_SOURCE "/data", "mallow").value(); // a gas laser
    b.recipe.setting.frequency = kilohertz(10);
    b.recipe.setting.pulse_width = nanoseconds(1000);
    b.recipe.setting.scan_speed = mm_per_second(500);
    CHECK(code() == "relief.removes_nothing");
    b.demo.setup = brass;
    b.recipe.setting = fibre;
    b.recipe.setting.power_percent = 0.5;
    CHECK(code() == "relief.removes_nothing");
}

TEST_CASE("rims, greys, repeated layers and thin walls are told of pictures of which they are known", "[relief]") {
    const HeightMap in_white = cone(120, 40);
    const Rim rim = found_rim(in_white).value();
    CHECK(rim.x == Approx(60));
    CHECK(rim.y == Approx(60));
    CHECK(rim.radius_x == Approx(40).margin(1));
    HeightMap black = cone(120, 40, 0); // without a crop the ground would be cut to the bottom
    ReliefRules rules;
    rules.levels.layers = 10;
    const auto cut_pixels = [](const ReliefMap& m) {
        return std::ranges::count_if(m.counts, [](int c) { return c > 0; });
    };
    CHECK(cut_pixels(relief_map(black, rules).value()) == 120 * 120);
    rules.crop_to_rim = true;
    CHECK(static_cast<double>(cut_pixels(relief_map(black, rules).value())) ==
          Approx(std::numbers::pi * 40 * 40).epsilon(0.03));
    for (HeightMap no_rim :
         {HeightMap{20, 20, 8, std::vector<unsigned short>(400, 7)}, HeightMap{2, 2, 8, {0, 9, 99, 200}}}) {
        CHECK_FALSE(found_rim(no_rim));
        CHECK(relief_map(no_rim, rules).error().code == "relief.no_rim");
    }
    HeightMap uneven = black;
    for (int x = 0; x < 120; ++x)
        uneven.grey[static_cast<std::size_t>(x)] = static_cast<unsigned short>(500 * x);
    CHECK_FALSE(found_rim(uneven));

    HeightMap greys{100, 10, 8, {}}; // 51 .. 150 of 255
    for (int i = 0; i < 1000; ++i)
        greys.grey.push_back(static_cast<unsigned short>(51 + i % 100));
    const GreyUse use = grey_use(greys);
    CHECK(use.greys == 100);
    CHECK(use.darkest == Approx(0.2));
    CHECK(use.lightest == Approx(150.0 / 255));
    double all = 0;
    for (const double s : use.share)
        all += s;
    CHECK(all == Approx(1));
    CHECK(doubled_layers({0, 1, 2, 4, 5, 9}, 12) == 4); // 3, 6, 7, 8; below 9 nothing is cut
    CHECK(doubled_layers({0, 0}, 5) == 0);

    // Bars at any of four angles: walls of 6 and gaps of 9 pixels, as their width across says.
    for (const int angle : {0, 1, 2, 3}) {
        std::vector<int> bars;
        for (int y = 0; y < 90; ++y)
            for (int x = 0; x < 90; ++x) {
                const int along = angle == 0 ? x : angle == 1 ? y : angle == 2 ? x + y : x - y + 90;
                bars.push_back(along % 15 < 6 ? 0 : 8);
            }
        const Thinnest t = thinnest(bars, 90, 4);
        INFO("angle " << angle);
        const double across = angle < 2 ? 1 : std::numbers::sqrt2 / 2;
        CHECK(t.wall_px == Approx(6 * across).epsilon(0.001).margin(angle < 2 ? 0 : 0.8));
        CHECK(t.gap_px == Approx(9 * across).epsilon(0.001).margin(angle < 2 ? 0 : 0.8));
    }
    CHECK(thinnest(std::vector<int>(100, 3), 10, 1).gap_px == 0);
}

TEST_CASE("the layers of a relief are those of its job, which says when the lens goes down", "[relief]") {
    const Block b;
    const Scene scene = b.scene();
    ReliefRules rules;
    rules.width_mm = 12;
    rules.levels.layers = 12;
    rules.depth_um = 900;
    rules.clean_every = 3;
    const HeightMap picture = cone(80, 36);
    const ReliefMap map = relief_map(picture, rules).value();
    const ReliefCut cut = cut_relief(scene, b.recipe, rules, map, fitted(scene.bench.scanner), {12, false}).value();
    const Job job = relief_job("cone", scene, b.demo.setup, b.recipe, rules, map, cut).value();
    CHECK(job.width_mm == 12);
    REQUIRE(cut.focus_mm.back() > 0);
    REQUIRE(settled(job));
    std::size_t cuts = 0, cleanings = 0;
    double seconds = 0;
    for (const JobLayer& l : job.layers) {
        if (l.name.starts_with("cleaning")) {
            ++cleanings;
            // It takes no metal.
            const Recipe alone = with_knob(*l.recipe, Knob::focus_offset, 0);
            const Prediction p = predict(scene, alone, {mm(12), 144}).value();
            CHECK(p.removal->depth_um < 0.02 * cut.depth_um[1]);
            continue;
        }
        const AreaStats& stats = cut.layer[cuts];
        INFO(l.name);
        CHECK(area_mm2(l.region) == Approx(stats.area_mm2).epsilon(1e-6));
        CHECK(in_mm(l.recipe->setting.focus_offset) == Approx(-cut.focus_mm[cuts]).margin(1e-9));
        CHECK(std::remainder(l.recipe->setting.hatch_angle_deg - 10 -
                                 static_cast<double>(cuts) * cut.passes_per_layer * 67,
                             360) == Approx(0).margin(1e-6));
        const LayerWork work = layer_work(job, l).value();
        CHECK(marked_mm(work.load) * 0.03 == Approx(stats.area_mm2).epsilon(0.02).margin(0.05));
        seconds += time_parts({}, work.load).total();
        ++cuts;
    }
    CHECK(cuts == static_cast<std::size_t>(cut.deepest));
    CHECK(cleanings == cuts / 3);
    // Time by area and edges against every line of the first pass of each layer.
    CHECK(cut.marking_s == Approx(seconds).epsilon(0.03));

    const auto text = json_text(to_json(job), 1);
    CHECK(json_text(to_json(job_from_json(nlohmann::json::parse(text), "cone.json").value()), 1) == text);
    // An interpreter of its own: where the lens is when the laser is on, and how far it marks.
    std::stringstream gcode(job_gcode(job).value());
    double z = 0, x = 0, y = 0, marked = 0, lowest = 0;
    const auto number = [](const std::string& line, char word) {
        double v = 0;
        const auto at = line.find(word);
        if (at == std::string::npos)
            return std::optional<double>();
        std::from_chars(line.data() + at + 1, line.data() + line.size(), v);
        return std::optional(v);
    };
    for (std::string line; std::getline(gcode, line);) {
        if (!line.starts_with("G0 ") && !line.starts_with("G1 "))
            continue;
        z = number(line, 'Z').value_or(z);
        const double nx = number(line, 'X').value_or(x), ny = number(line, 'Y').value_or(y);
        if (line.starts_with("G1 ")) {
            marked += std::hypot(nx - x, ny - y);
            lowest = std::min(lowest, z);
        }
        x = nx, y = ny;
    }
    CHECK(z == 0); // it is left as it was found
    CHECK(lowest == Approx(-cut.focus_mm[static_cast<std::size_t>(cut.deepest) - 1]).margin(1e-3));
    double all = 0;
    for (std::size_t k = 0; k < cut.layer.size(); ++k)
        all += cut.layer[k].area_mm2 / 0.03 * (cut.passes_per_layer + ((k + 1) % 3 == 0 ? 1 : 0));
    CHECK(marked == Approx(all).epsilon(0.02));
}

TEST_CASE("what is to be known of a relief is told by what is wrong with it", "[relief]") {
    const Block b;
    const Scene scene = b.scene();
    ReliefRules rules;
    rules.levels.layers = 24;
    rules.depth_um = 300;
    rules.width_mm = 8;
    const auto codes = [&](const HeightMap& picture, const ReliefRules& r) {
        const ReliefMap map = relief_map(picture, r).value();
        const ReliefCut cut = cut_relief(scene, b.recipe, r, map, fitted(scene.bench.scanner), {0, true}).value();
        std::set<std::string> out;
        for (const Finding& f : relief_findings(scene, r, picture, grey_use(picture), map, cut)) {
            CHECK_FALSE(f.message.empty());
            out.insert(f.code);
        }
        return out;
    };
    const HeightMap plain = cone(400, 190);
    CHECK(codes(plain, rules).count("relief.coarse_pixels") == 0);
    CHECK(codes(cone(60, 28), rules).count("relief.coarse_pixels") == 1);
    ReliefRules r = rules;
    r.levels.black = 0, r.levels.white = 1;
    HeightMap grey = plain;
    for (unsigned short& g : grey.grey)
        g = static_cast<unsigned short>(20000 + g / 4);
    CHECK(codes(grey, r).count("relief.wasted_greys") == 1);
    r.levels.black = 0.305, r.levels.white = 0.556;
    CHECK(codes(grey, r).count("relief.wasted_greys") == 0);
    r = rules;
    r.depth_um = 60'000;
    CHECK(codes(plain, r).count("relief.stalls") == 1);
    r = rules;
    HeightMap bars{200, 200, 8, {}};
    for (int i = 0; i < 40'000; ++i)
        bars.grey.push_back(i % 200 % 9 < 3 ? 255 : 0);
    r.width_mm = 2; // walls of 30 µm
    CHECK(codes(bars, r).count("relief.thin_wall") == 1);
    r.width_mm = 6; // gaps of 180 µm, whose walls meet
    r.depth_um = 3000;
    CHECK(codes(bars, r).count("relief.narrow_gap") == 1);
    r = rules;
    r.levels.layers = 300; // of an 8 bit picture
    HeightMap eight{100, 100, 8, {}};
    for (int i = 0; i < 10000; ++i)
        eight.grey.push_back(static_cast<unsigned short>(i % 100 * 255 / 99));
    CHECK(codes(eight, r).count("relief.doubled") == 1);
    for (const ReliefSchool school : all_relief_schools) {
        const ReliefRules s = as_school(rules, school, grey_use(plain));
        CHECK(s.width_mm == rules.width_mm);
        CHECK_FALSE(s == rules);
    }
}
