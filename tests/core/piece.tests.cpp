// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "piece/relief.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <numeric>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

AreaMask rectangle(int width, int height, double pixel_mm, int rim = 4) {
    AreaMask m{width + 2 * rim, height + 2 * rim, pixel_mm, {}};
    for (int y = 0; y < m.height; ++y)
        for (int x = 0; x < m.width; ++x)
            m.set.push_back(x >= rim && x < rim + width && y >= rim && y < rim + height ? 1 : 0);
    return m;
}

AreaMask disc(int radius, double pixel_mm) {
    const int side = 2 * radius + 9;
    AreaMask m{side, side, pixel_mm, {}};
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x)
            m.set.push_back(std::hypot(x - side / 2, y - side / 2) <= radius ? 1 : 0);
    return m;
}

double marked_mm(const std::vector<LineRuns>& lines) {
    double sum = 0;
    for (const LineRuns& line : lines)
        for (const auto& [from, to] : line)
            sum += to - from;
    return sum;
}

} // namespace

TEST_CASE("hatch lines cover what they fill, at any angle, and nothing beside it", "[piece]") {
    struct Row {
        const char* name;
        AreaMask mask;
        double area_mm2;
    };
    const std::vector<Row> rows{{"bar", rectangle(200, 60, 0.05), 10 * 3},
                                {"disc", disc(100, 0.05), std::numbers::pi * 25}};
    constexpr double pitch = 0.1;
    for (const Row& row : rows)
        for (const double angle : {0.0, 17.0, 45.0, 67.0, 90.0, 151.0}) {
            INFO(row.name << " at " << angle);
            const auto lines = hatch_runs(row.mask, pitch, angle);
            CHECK(marked_mm(lines) * pitch == Approx(row.area_mm2).epsilon(0.03));
            for (const LineRuns& line : lines)
                for (std::size_t i = 0; i < line.size(); ++i) {
                    CHECK(line[i].second > line[i].first);
                    if (i > 0)
                        CHECK(line[i].first > line[i - 1].second);
                }
        }
    const AreaMask nothing{50, 50, 0.1, std::vector<unsigned char>(2500)};
    CHECK(marked_mm(hatch_runs(nothing, pitch, 30)) == 0);
    CHECK(area_stats(nothing, pitch).area_mm2 == 0);
}

TEST_CASE("times of the scanner obey their closed forms", "[piece]") {
    const ScannerTiming t;
    // A jump takes longer the longer it is, and long ones add their length at full speed.
    double last = 0;
    for (double x = 0.001; x < 200; x *= 1.3) {
        const double now = jump_time_s(t, x);
        CHECK(now > last);
        last = now;
    }
    CHECK(jump_time_s(t, 150) - jump_time_s(t, 100) == Approx(50 / t.jump_mm_s));
    CHECK(run_time_s(t, 30, 600) - run_time_s(t, 10, 600) == Approx(20.0 / 600));
    CHECK(focus_time_s(t, 0) == 0);
    CHECK(focus_time_s(t, -1) == focus_time_s(t, 1));
    // A bar hatched along its length: lines, gaps and turns counted by hand.
    const auto lines = hatch_runs(rectangle(400, 100, 0.05), 0.1, 0);
    constexpr double speed = 800;
    double by_hand = t.pass_s;
    double runs = 0;
    for (const LineRuns& line : lines)
        for (const auto& [from, to] : line) {
            by_hand += run_time_s(t, to - from, speed);
            ++runs;
        }
    const double whole = pass_time_s(t, lines, speed, 0.1);
    CHECK(whole >= by_hand);
    CHECK(whole <= by_hand + (runs + 1) * jump_time_s(t, 0.5));
    // The estimate from the area alone comes near to the lines.
    const AreaStats stats = area_stats(rectangle(400, 100, 0.05), 0.1);
    CHECK(pass_time_s(t, stats.area_mm2, stats.area_mm2, stats.runs, speed, 0.1) == Approx(whole).epsilon(0.2));
    // Twice the speed never takes twice as long, nor half of the time.
    const double fast = pass_time_s(t, lines, 2 * speed, 0.1);
    CHECK(fast < whole);
    CHECK(fast > 0.5 * whole);
}

TEST_CASE("grey becomes layers: black deepest, order kept, ends exact", "[piece]") {
    HeightMap ramp{256, 1, 8, {}};
    for (unsigned short g = 0; g < 256; ++g)
        ramp.grey.push_back(g);
    for (const int layers : {1, 2, 7, 64, 256, 4096})
        for (const double gamma : {0.5, 1.0, 2.2}) {
            INFO(layers << " layers, gamma " << gamma);
            LevelRules rules;
            rules.layers = layers;
            rules.gamma = gamma;
            const auto counts = layer_counts(ramp, rules).value();
            CHECK(counts.front() == layers);
            CHECK(counts.back() == 0);
            CHECK(std::is_sorted(counts.rbegin(), counts.rend()));
            rules.invert = true;
            const auto other = layer_counts(ramp, rules).value();
            for (std::size_t i = 0; i < counts.size(); ++i)
                CHECK(std::abs(counts[i] + other[i] - layers) <= 1);
        }
    // The same picture in 16 bits says the same.
    HeightMap fine = ramp;
    fine.bits = 16;
    for (unsigned short& g : fine.grey)
        g = static_cast<unsigned short>(g * 257);
    CHECK(layer_counts(fine, {}).value() == layer_counts(ramp, {}).value());
    for (const LevelRules& wrong : {LevelRules{0}, LevelRules{5000}, LevelRules{64, 0.8, 0.2}, LevelRules{64, 0, 1, 0}})
        CHECK_FALSE(layer_counts(ramp, wrong));
}

TEST_CASE("one walk over a height map tells what a walk for every layer tells", "[piece]") {
    std::mt19937 random(3);
    for (const auto& [width, height, layers] : {std::tuple{1, 1, 3}, {7, 5, 4}, {40, 33, 12}, {64, 1, 5}}) {
        INFO(width << " x " << height);
        std::vector<int> counts(static_cast<std::size_t>(width * height));
        for (int& c : counts)
            c = static_cast<int>(random() % static_cast<unsigned>(layers + 1));
        const auto all = layer_stats(counts, width, 0.2, layers, 0.03).value();
        REQUIRE(all.size() == static_cast<std::size_t>(layers));
        for (int k = 0; k < layers; ++k) {
            AreaMask mask{width, height, 0.2, {}};
            for (const int c : counts)
                mask.set.push_back(c > k ? 1 : 0);
            const AreaStats one = area_stats(mask, 0.03);
            CHECK(all[static_cast<std::size_t>(k)].area_mm2 == Approx(one.area_mm2));
            CHECK(all[static_cast<std::size_t>(k)].runs == Approx(one.runs));
        }
    }
    for (const auto& [counts, width] :
         {std::pair{std::vector<int>{}, 1}, {{1, 2}, 0}, {{1, 2, 3}, 2}, {{9}, 1}, {{-1}, 1}})
        CHECK(layer_stats(counts, width, 0.1, 4, 0.03).error().code == "relief.counts");
}
