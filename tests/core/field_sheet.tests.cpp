// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/field_sheet.h"

#include "demo_plate.h"
#include "physics/colour_difference.h"
#include "proof/over_field.h"
#include "search/draws.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>

using namespace finch;
using namespace finch::tests;

namespace {

const DemoBench& demo() {
    static const DemoBench bench;
    return bench;
}

ProofSheet field_sheet(int number = 6) {
    static const Recipe letters = label_recipe(demo().scene()).value();
    return plan_field_sheet(demo().request(number), demo().setup.bench, letters, static_cast<std::uint64_t>(number))
        .value();
}

/// A reading in which each cell has the colour of its dose, by a path of its own, with noise.
SheetReading by_law(const ProofSheet& sheet, const std::function<double(double x, double y)>& given, double noise,
                    Draws& chance) {
    const auto at = from_middle(sheet);
    SheetReading out;
    out.cells.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const double d = std::log(cell_recipe(sheet, i).setting.power_percent / sheet.base.setting.power_percent) +
                         given(at[i].x, at[i].y);
        // Films go round in a circle, which is no parabola.
        out.cells[i] = {CellState::read,
                        {38 - 25 * d + noise * chance.normal(), 20 * std::sin(3 * d) + noise * chance.normal(),
                         -34 + 40 * d * d + noise * chance.normal()},
                        0.3,
                        1.5};
    }
    return out;
}

} // namespace

TEST_CASE("a field sheet lies over the field, mixed, and says what kind it is", "[field]") {
    const ProofSheet sheet = field_sheet();
    const SheetLayout at = layout(sheet);
    const double field = in_mm(demo().setup.bench.lens().field);
    CHECK(at.width_mm > 0.75 * field);
    CHECK(at.width_mm <= field);
    CHECK(sheet.asks());
    CHECK(kind_word(sheet) == "field sheet");
    CHECK(sheet_from_json(to_json(sheet), "f").value() == sheet);
    // No dose lies to one side.
    const auto middle = from_middle(sheet);
    std::map<double, PointMm> sums;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        sums[sheet.own[i].power_percent].x += middle[i].x / field;
        sums[sheet.own[i].power_percent].y += middle[i].y / field;
    }
    CHECK(sums.size() == 5);
    for (const auto& [power, sum] : sums)
        CHECK(std::hypot(sum.x, sum.y) < 0.7);
    SheetRequest strong = demo().request(7);
    strong.base.setting.power_percent = 95;
    CHECK(plan_field_sheet(strong, demo().setup.bench, sheet.label_recipe, 1).error().code == "field.power");
    CHECK(judge_field(demo().sheet(), {}, 3).error().code == "field.no_sheet");
    SheetReading hidden;
    hidden.cells.resize(sheet.cells());
    CHECK(judge_field(sheet, hidden, 3).error().code == "field.too_few");
}

TEST_CASE("dose over the field is told within what is stated, whatever its law", "[field]") {
    const ProofSheet sheet = field_sheet();
    Draws chance(9);
    int held = 0, all = 0, right = 0, told = 0, called_uneven = 0;
    double stated = 0;
    for (int k = 0; k < 200; ++k) {
        const double edge = chance.even(0, 0.10), tilt_x = chance.even(-0.04, 0.04), tilt_y = chance.even(-0.04, 0.04);
        const double steep = chance.even(2, 4); // falls off by another power than the fit has
        const bool flat = k % 4 == 0;
        const auto given = [&](double x, double y) {
            if (flat)
                return 0.0;
            const double r = std::hypot(x, y) / 75;
            return -edge * std::pow(r, steep) + (tilt_x * x + tilt_y * y) / 75;
        };
        const auto f = judge_field(sheet, by_law(sheet, given, 0.8, chance), 3);
        REQUIRE(f);
        for (const FieldPoint& p : f->nine) {
            if (p.x_mm == 0 && p.y_mm == 0)
                continue;
            ++all;
            stated += p.percent.spread;
            const double truly = 100 * (std::exp(given(p.x_mm, p.y_mm) - given(0, 0)) - 1);
            held += std::abs(truly - p.percent.value) <= p.percent.spread ? 1 : 0;
        }
        if (flat)
            called_uneven += f->verdict == FieldVerdict::uneven ? 1 : 0;
        if (f->verdict == FieldVerdict::unsure)
            continue;
        ++told;
        double worst = 0; // by the law itself
        for (const FieldPoint& p : f->nine) {
            const double d = given(p.x_mm, p.y_mm);
            worst = std::max(worst, delta_e00({38 - 25 * d, 20 * std::sin(3 * d), -34 + 40 * d * d}, {38, 0, -34}));
        }
        right += (worst <= 3.6) == (f->verdict == FieldVerdict::even) || (worst > 2.4 && worst <= 3.6) ? 1 : 0;
    }
    INFO("held " << held << " of " << all << ", stated " << stated / all << " %; told " << told << ", right " << right
                 << "; flat called uneven " << called_uneven);
    CHECK(held * 100 >= all * 85);
    CHECK(held * 100 <= all * 99);
    CHECK(called_uneven <= 1);
    CHECK(right * 100 >= told * 95);
    CHECK(told > 100);
}

TEST_CASE("dose over the field of benches of another kind is found", "[field]") {
    const ProofSheet sheet = field_sheet();
    const SheetLayout plate = layout(sheet);
    int held = 0, all = 0;
    std::vector<double> off;
    for (int seed = 1; seed <= 6; ++seed) {
        const standin::World world = draw_world(standin::Grade::honest, 500 + static_cast<std::uint64_t>(seed));
        const auto f = judge_field(
            sheet, read_by_instrument(sheet, burned(demo(), sheet, world), static_cast<unsigned>(seed), 0.7), 3);
        REQUIRE(f);
        // What power at a corner makes the middle's colour there, by trial: each on cold metal of the same plate.
        const auto colour = [&](double x, double y, double power) {
            Recipe r = sheet.base;
            r.setting.power_percent *= power;
            Lab sum;
            constexpr int marks = 5; // one alone scatters
            for (int k = 0; k < marks; ++k) {
                standin::World again = world;
                again.seed += static_cast<std::uint64_t>(1000 * k);
                standin::Work work(again, nature(), demo().setup, plate.width_mm, plate.height_mm);
                REQUIRE(work.burn({"x", r, {{plate.width_mm / 2 + x - 2.5, plate.height_mm / 2 + y - 2, 5, 4}}, {}}));
                const Lab l = true_colour(work.plate().burns.back().surface);
                sum = {sum.l + l.l / marks, sum.a + l.a / marks, sum.b + l.b / marks};
            }
            return sum;
        };
        const Lab middle = colour(0, 0, 1);
        for (const std::size_t corner : {0, 2, 6, 8}) {
            const FieldPoint& p = f->nine[corner];
            double best = 1, least = 1e9;
            for (double power = 0.9; power < 1.2; power += 0.01)
                if (const double de = delta_e00(colour(p.x_mm, p.y_mm, power), middle); de < least) {
                    least = de;
                    best = power;
                }
            const double truly = 100 * (1 / best - 1);
            off.push_back(std::abs(truly - p.percent.value));
            held += std::abs(truly - p.percent.value) <= p.percent.spread + 0.5 ? 1 : 0; // steps of one in a hundred
            ++all;
        }
    }
    std::ranges::sort(off);
    INFO("held " << held << " of " << all << ", off " << off[off.size() / 2] << " % in the middle, " << off.back()
                 << " % at most");
    CHECK(held * 100 >= all * 80);
    CHECK(off[off.size() / 2] < 1.5);
}
