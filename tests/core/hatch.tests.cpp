// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/hatch.h"
#include "piece/repair.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

using namespace finch;

namespace {

Outline ring(double x, double y, double r, int corners = 400) {
    Outline o;
    o.closed = true;
    for (int i = 0; i < corners; ++i) {
        const double a = 2 * std::numbers::pi * i / corners;
        o.points.push_back({x + r * std::cos(a), y + r * std::sin(a)});
    }
    return o;
}

/// Areas of a few kinds: round with a hole, many small ones, and a comb with thin teeth.
std::vector<Region> regions() {
    ArtShape washer, dots, comb;
    washer.rule = dots.rule = comb.rule = FillRule::even_odd;
    washer.outlines = {ring(20, 30, 12), ring(22, 31, 5)};
    for (int i = 0; i < 60; ++i)
        dots.outlines.push_back(ring(3 + 5 * (i % 10), 3 + 4.7 * (i / 10), 1.6, 31));
    Outline& teeth = comb.outlines.emplace_back();
    teeth.closed = true;
    teeth.points = {{0, 0}};
    for (int i = 0; i < 20; ++i)
        for (const PointMm p : {PointMm{i * 2.0, 20}, {i * 2.0 + 1.1, 20}, {i * 2.0 + 1.1, 4}, {i * 2.0 + 2, 4}})
            teeth.points.push_back(p);
    teeth.points.push_back({40, 0});
    std::vector<Region> out;
    for (const ArtShape& s : {washer, dots, comb})
        out.push_back(region_of(s).value());
    return out;
}

Region turned(const Region& region, double deg, PointMm about) {
    Region out = region;
    const double a = deg * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    for (auto& r : out.rings)
        for (PointMm& p : r)
            p = {about.x + c * (p.x - about.x) - s * (p.y - about.y),
                 about.y + s * (p.x - about.x) + c * (p.y - about.y)};
    return out;
}

/// How far a place lies outside of an area: nothing inside.
double outside(const Region& region, const PointMm& p) {
    bool inside = false;
    double nearest = 1e9;
    for (const auto& r : region.rings)
        for (std::size_t i = 0, k = r.size() - 1; i < r.size(); k = i++) {
            const PointMm &a = r[k], &b = r[i];
            if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (b.x - a.x) * (p.y - a.y) / (b.y - a.y))
                inside = !inside;
            const double l2 = std::pow(b.x - a.x, 2) + std::pow(b.y - a.y, 2);
            const double t = std::clamp(((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / l2, 0.0, 1.0);
            nearest = std::min(nearest, std::hypot(p.x - a.x - t * (b.x - a.x), p.y - a.y - t * (b.y - a.y)));
        }
    return inside ? 0 : nearest;
}

} // namespace

TEST_CASE("hatch runs cover the area and do not leave it", "[hatch]") {
    std::mt19937 random(7);
    for (const Region& region : regions())
        for (const double angle : {0.0, 13.0, 45.0, 90.0, 137.5, -30.0, 720.25})
            for (const double pitch : {0.02, 0.11}) {
                INFO(angle << " deg, " << pitch << " mm, " << region.rings.size() << " rings");
                const Hatch h = hatch(region, {pitch, angle}).value();
                CHECK(h.length_mm() * pitch == Approx(area_mm2(region)).epsilon(5e-3));
                for (int i = 0; i < 60; ++i) {
                    const HatchRun& r = h.runs[random() % h.runs.size()];
                    const double t = static_cast<double>(random() % 1000) / 999;
                    CHECK(outside(region, r.from) < 1e-6);
                    CHECK(outside(region, r.to) < 1e-6);
                    CHECK(outside(region, {r.from.x + t * (r.to.x - r.from.x), r.from.y + t * (r.to.y - r.from.y)}) <
                          1e-6);
                }
            }
}

TEST_CASE("turning drawing and lines together changes nothing", "[hatch]") {
    for (const Region& region : regions()) {
        const Hatch straight = hatch(region, {0.05, 10}).value();
        for (const double by : {17.3, 90.0, -140.0}) {
            const Hatch h = hatch(turned(region, by, {3, 4}), {0.05, 10 + by}).value();
            CHECK(h.runs.size() == straight.runs.size());
            CHECK(h.length_mm() == Approx(straight.length_mm()).epsilon(1e-9));
        }
    }
}

TEST_CASE("lines run to and fro, one way, or moved by a share of the pitch", "[hatch]") {
    ArtShape bar;
    bar.outlines = {{{{0, 0}, {10, 0}, {10, 2}, {0, 2}}, true}};
    const Region region = region_of(bar).value();
    const auto starts = [&](const HatchRules& rules) {
        std::vector<double> out;
        const Hatch h = hatch(region, rules).value();
        for (const HatchRun& r : h.runs)
            out.insert(out.end(), {r.from.x, r.from.y});
        return out;
    };
    CHECK(starts({0.5, 0}) == std::vector<double>{0, 0.25, 10, 0.75, 0, 1.25, 10, 1.75});
    CHECK(starts({0.5, 0, 0, false}) == std::vector<double>{0, 0.25, 0, 0.75, 0, 1.25, 0, 1.75});
    CHECK(starts({0.5, 0, 0.5, false}) == std::vector<double>{0, 0, 0, 0.5, 0, 1, 0, 1.5});
    CHECK(starts({0.5, 180, 0, false}) == std::vector<double>{10, 1.75, 10, 1.25, 10, 0.75, 10, 0.25});
    CHECK(hatch(region, {5, 0}).value().runs.size() == 1);
    CHECK(hatch({}, {0.5, 0}).value().runs.empty());
    for (const HatchRules& wrong : {HatchRules{0, 0}, HatchRules{-1, 0}, HatchRules{std::nan(""), 0},
                                    HatchRules{0.1, std::numeric_limits<double>::infinity()}})
        CHECK(hatch(region, wrong).error().code == "hatch.pitch");
    Region wide = region;
    for (PointMm& p : wide.rings[0])
        p.y *= 6e3;
    CHECK(hatch(wide, {5e-4, 0}).error().code == "hatch.too_many");
}

TEST_CASE("shape by shape the same lines are marked, each shape whole, with shorter ways between", "[hatch]") {
    std::vector<Region> all = regions();
    ArtShape target; // a disc in a ring in a ring
    target.rule = FillRule::even_odd;
    for (const double r : {10.0, 8.0, 6.0, 4.0, 2.0})
        target.outlines.push_back(ring(12, 12, r));
    all.push_back(region_of(target).value());
    const std::vector<double> longest{1.0001, 0.6, 1.0001, 4}; // a ring in a ring is better filled line by line
    for (std::size_t i = 0; i < all.size(); ++i) {
        Region backward = all[i]; // as a job from elsewhere may have it
        for (auto& r : backward.rings)
            std::reverse(r.begin(), r.end());
        for (const double angle : {0.0, 23.0}) {
            HatchRules rules{0.05, angle, 0.3};
            const Hatch whole = hatch(all[i], rules).value();
            rules.by_shape = true;
            for (const Region& region : {all[i], backward}) {
                const Hatch split = hatch(region, rules).value();
                REQUIRE(split.runs.size() == whole.runs.size());
                CHECK(split.length_mm() == Approx(whole.length_mm()));
                const auto middles = [](const Hatch& h) {
                    std::vector<std::pair<double, double>> out;
                    for (const HatchRun& r : h.runs)
                        out.emplace_back(std::round(1e4 * (r.from.x + r.to.x)), std::round(1e4 * (r.from.y + r.to.y)));
                    std::sort(out.begin(), out.end());
                    return out;
                };
                CHECK(middles(split) == middles(whole));
                const auto way = [](const Hatch& h) {
                    double mm = 0;
                    for (std::size_t k = 1; k < h.runs.size(); ++k)
                        mm += std::hypot(h.runs[k].from.x - h.runs[k - 1].to.x, h.runs[k].from.y - h.runs[k - 1].to.y);
                    return mm;
                };
                CHECK(way(split) <= way(whole) * longest[i]);
            }
        }
    }
    // Each of the sixty dots is done when the next is begun.
    HatchRules rules{0.05, 10};
    rules.by_shape = true;
    std::vector<int> seen;
    const Hatch dots = hatch(all[1], rules).value();
    for (const HatchRun& r : dots.runs) {
        const int dot = static_cast<int>(std::lround((r.from.x + r.to.x - 6) / 10)) +
                        10 * static_cast<int>(std::lround((r.from.y + r.to.y - 6) / 9.4));
        if (seen.empty() || seen.back() != dot)
            seen.push_back(dot);
    }
    CHECK(seen.size() == 60);
}

TEST_CASE("areas grow and shrink evenly, and thin parts are found", "[hatch]") {
    ArtShape disc;
    disc.outlines = {ring(20, 20, 10, 2000)};
    const Region region = region_of(disc).value();
    for (const double by : {0.0, 0.3, -0.3, 9.0})
        CHECK(area_mm2(inset(region, by).value()) == Approx(std::numbers::pi * std::pow(10 - by, 2)).epsilon(1e-4));
    CHECK(inset(region, 10.1).value().empty());
    CHECK(narrower_than(region, 1).value().empty());
    CHECK(area_mm2(narrower_than(region, 30).value()) == Approx(area_mm2(region)));
    const Region comb = regions()[2];
    CHECK(area_mm2(narrower_than(comb, 1).value()) < 42 * 0.25 * (1 - std::numbers::pi / 4)); // its corners
    CHECK(area_mm2(narrower_than(comb, 1.2).value()) == Approx(20 * 1.1 * 16).epsilon(0.05)); // the teeth
}

TEST_CASE("an outline that crosses itself is found where it does", "[hatch]") {
    const Outline eight{{{0, 0}, {10, 10}, {10, 0}, {0, 10}}, true};
    const auto at = self_crossing(eight);
    REQUIRE(at);
    CHECK(at->x == Approx(5));
    CHECK(at->y == Approx(5));
    CHECK_FALSE(self_crossing(eight, 100)); // of loops that small nothing is said
    CHECK_FALSE(self_crossing(ring(0, 0, 5)));
    CHECK_FALSE(self_crossing({{{0, 0}, {1, 0}, {1, 1}}, true}));
}
