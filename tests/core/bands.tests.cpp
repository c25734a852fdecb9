// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "recipe/predict.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <random>

using namespace finch;
using namespace finch::tests;
using standin::Grade;

// How often the stated bands hold on benches that share no formula with the program. The whole table, on fifty benches
// a grade, is printed by `core_tests "[bands-table]"` and kept in docs/bands.md.

namespace {

struct Tally {
    int all = 0, held = 0;
    double sum = 0, squares = 0, stated = 0;
    void add(double off_ln, double spread_ln) {
        ++all;
        held += std::abs(off_ln) <= 1.645 * spread_ln ? 1 : 0;
        sum += off_ln;
        squares += off_ln * off_ln;
        stated += spread_ln;
    }
    [[nodiscard]] double share() const { return all > 0 ? 100.0 * held / all : 0; }
    [[nodiscard]] std::string row() const {
        return fmt::format("{} | {:.0f} % | {:+.2f} | {:.2f} | {:.2f}", all, share(), sum / all,
                           std::sqrt(squares / all), stated / all);
    }
};
using Tallies = std::map<std::string, Tally>;

/// A bench of the demo workshop that is truly like a world.
struct Bench {
    DemoBench demo;
    standin::World world;
    std::mt19937 dice;

    Bench(const char* stock, Grade grade, unsigned seed) : world(draw_world(grade, 500 + seed)), dice(seed) {
        demo.setup.stock = load_stock(FINCH_SOURCE "/data", stock).value();
        demo.metal = materials().find(demo.setup.stock.metal).value();
    }
    double between(double low, double high) {
        return low * std::pow(high / low, std::uniform_real_distribution<>(0, 1)(dice));
    }
    double noise(double deviation) { return std::normal_distribution<>(0, deviation)(dice); }
    [[nodiscard]] standin::Surface burned(const Recipe& recipe, int index) const {
        standin::Work work(world, nature(), demo.setup, 60, 50);
        const bool done = work.burn({"c" + std::to_string(index), recipe, {{10, 10, 5, 4}}, {}}).has_value();
        REQUIRE(done);
        return work.plate().burns.back().surface;
    }
};

const Fill cell{mm(5), 20};

Observation observation(Bench& bench, const Recipe& recipe, int index) {
    Observation o;
    o.piece = "sheet";
    o.place = std::to_string(index);
    o.recipe = recipe;
    o.fill = cell;
    o.setup = std::make_shared<const Setup>(bench.demo.setup);
    return o;
}

/// Before any reading and after one sheet of twelve, near its cells and far from them. The middle of what the sheet
/// leaves unexplained goes to `left`.
void films(Bench bench, Tallies& out, std::vector<double>& left) {
    const Recipe base = DemoBench::blue();
    std::vector<Observation> sheet;
    for (int i = 0; i < 12; ++i) {
        Recipe r = base;
        r.setting.scan_speed = mm_per_second(600 * std::pow(1900 / 600.0, i % 4 / 3.0));
        r.setting.hatch_pitch = mm(0.003 * std::pow(7 / 3.0, i / 4 / 2.0));
        Observation o = observation(bench, r, i);
        Lab seen = true_colour(bench.burned(r, i));
        seen = {seen.l + bench.noise(0.7), seen.a + bench.noise(0.7), seen.b + bench.noise(0.7)};
        o.colour = seen;
        sheet.push_back(o);
    }
    const Evidence known = learn(materials(), sheet);
    left.push_back(agreement(materials(), sheet, {}, known).after_de);
    for (int k = 0; k < 24; ++k) {
        const bool far = k % 2 != 0;
        Recipe r = base;
        if (far)
            r.setting = {bench.between(8, 45),
                         kilohertz(bench.between(80, 800)),
                         nanoseconds(bench.between(6, 250)),
                         mm_per_second(bench.between(60, 4000)),
                         mm(bench.between(0.003, 0.012)),
                         0,
                         1,
                         mm(0)};
        else {
            r.setting.scan_speed *= bench.between(0.6, 1.8);
            r.setting.hatch_pitch *= bench.between(0.85, 2);
            r.setting.power_percent *= bench.between(0.9, 1.1);
        }
        const auto before = predict(bench.demo.scene(), r, cell, unseen);
        if (!before || before->shares.film() < 0.5 || before->oxide_nm() < 10 || before->oxide_nm() > 600)
            continue;
        const standin::Surface truth = bench.burned(r, 100 + k);
        if (!truth.whole || truth.film_nm < 8)
            continue; // a border of its own: no film to compare
        const auto after = predict(bench.demo.scene(known), r, cell, unseen);
        const std::string where = far ? "far" : "near";
        out["film before, " + where].add(std::log(truth.film_nm / before->oxide_nm()), before->film_spread_ln);
        out["film after one sheet, " + where].add(std::log(truth.film_nm / after->oxide_nm()), after->film_spread_ln);
    }
}

void depths(Bench bench, Tallies& out) {
    Recipe base;
    base.process = Process::deep_engrave;
    base.setting = {80, kilohertz(60), nanoseconds(100), mm_per_second(900), mm(0.03), 0, 12, mm(0)};
    std::vector<Observation> coupons;
    for (int i = 0; i < 3; ++i) {
        Recipe r = base;
        r.setting.passes = 6 + 6 * i;
        Observation o = observation(bench, r, i);
        o.depth_um = bench.burned(r, i).depth_um * std::exp(bench.noise(0.02));
        o.depth_spread_um = 0.03 * *o.depth_um;
        if (*o.depth_um > 0.5)
            coupons.push_back(o);
    }
    const Evidence known = coupons.empty() ? Evidence() : learn(materials(), coupons);
    for (int k = 0; k < 16; ++k) {
        const bool far = k % 2 != 0;
        Recipe r = base;
        if (far)
            r.setting = {bench.between(40, 100),
                         kilohertz(bench.between(25, 200)),
                         nanoseconds(bench.between(20, 300)),
                         mm_per_second(bench.between(300, 3000)),
                         mm(bench.between(0.02, 0.06)),
                         0,
                         static_cast<int>(bench.between(3, 60)),
                         mm(0)};
        else {
            r.setting.scan_speed *= bench.between(0.7, 1.4);
            r.setting.passes = static_cast<int>(bench.between(5, 30));
        }
        const auto before = predict(bench.demo.scene(), r, cell, unseen);
        if (!before || !before->removal || before->depth_um() < 1 || before->share_away < 0.7)
            continue;
        const double truth = bench.burned(r, 100 + k).depth_um;
        if (truth < 0.3)
            continue;
        const auto after = predict(bench.demo.scene(known), r, cell, unseen);
        const std::string where = far ? "far" : "near";
        out["depth before, " + where].add(std::log(truth / before->removal->depth_if_um), before->removal->spread_ln);
        out["depth after three coupons, " + where].add(std::log(truth / after->removal->depth_if_um),
                                                       after->removal->spread_ln);
    }
}

struct Measured {
    Tallies bands;
    std::vector<double> left;
};
Measured measured(Grade grade, unsigned benches) {
    Measured out;
    for (unsigned seed = 1; seed <= benches; ++seed) {
        for (const char* stock : {"sundial-316", "setting-circle-titanium"})
            films({stock, grade, seed}, out.bands, out.left);
        for (const char* stock :
             {"finishing-stamp-brass", "sundial-316", "end-plate-bronze", "setting-circle-titanium"})
            depths({stock, grade, seed}, out.bands);
    }
    std::sort(out.left.begin(), out.left.end());
    return out;
}

} // namespace

TEST_CASE("the program's observer and the tables of the CIE see the same colours", "[bands]") {
    const standin::OwnMetal& steel = nature()->metals.at("stainless-316");
    for (double nm = 5; nm < 500; nm *= 1.2) {
        const standin::Reflectance r = standin::film_reflectance({}, steel, nm, 0.4);
        Spectrum spectrum;
        std::copy(r.begin(), r.end(), spectrum.begin());
        standin::Surface surface;
        surface.reflects = r;
        INFO(nm << " nm");
        CHECK(delta_e00(to_lab(to_xyz(spectrum)), true_colour(surface)) < 0.5);
    }
}

TEST_CASE("stated bands hold on benches of another kind, before and after a sheet, near and far", "[bands]") {
    const Measured honest = measured(Grade::honest, 8);
    REQUIRE(honest.bands.size() == 8);
    for (const auto& [what, tally] : honest.bands) {
        INFO(what << ": " << tally.row());
        CHECK(tally.all > 60);
        // Nine in ten are stated. A few benches scatter; all fifty are in docs/bands.md.
        CHECK(tally.share() > 82);
    }
    // Nor is everything explained: a program that learned its own formulas would leave next to nothing.
    CHECK(honest.left[honest.left.size() / 2] > 1);
    CHECK(honest.left[honest.left.size() / 2] < 8);
}

TEST_CASE("the table of bands", "[.][bands-table]") {
    for (const Grade grade : {Grade::honest, Grade::hard}) {
        const Measured m = measured(grade, 50);
        std::string table;
        for (const auto& [what, tally] : m.bands)
            table += fmt::format("| {} | {} | {} |\n", standin::word(grade), what, tally.row());
        WARN(table << "colours left unexplained after one sheet, median CIEDE2000 " << m.left[m.left.size() / 2]
                   << ", nine in ten under " << m.left[m.left.size() * 9 / 10]);
    }
}
