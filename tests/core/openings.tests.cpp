// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "physics/colour_difference.h"
#include "proof/first_sheet.h"
#include "proof/opening_plans.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

using namespace finch;
using namespace finch::tests;
using standin::Grade;

namespace {

Recipe planned(const DemoBench& demo, const Target& target) {
    Aim aim;
    Wish wish = usual_wish(target.darker_is_better ? WishKind::dark : WishKind::colour);
    wish.lab = target.lab;
    if (target.darker_is_better)
        wish.value = target.lab.l;
    aim.wishes = {wish};
    aim.fill = {mm(5), 20};
    const PlanTask task{target.darker_is_better ? Process::anneal : Process::colour, School::single, {}, {}};
    return plan(demo.scene(), aim, task).value().candidates.front().recipe;
}

std::vector<OpeningPlan> openings(const DemoBench& demo, const Target& target) {
    SheetRequest request = demo.request(1);
    request.base = planned(demo, target);
    return opening_plans(demo.scene(), demo.setup, target, request, {}, {}, 2).value();
}

struct Tally {
    int sheets = 0, hits = 0;
    double promise = 0, damage = 0, spoiled = 0, minutes = 0, plate_cm2 = 0;
    std::size_t cells = 0;
    std::string name;
};

/// Burns every plan on benches that share no formula with the program; by the key of the plan.
std::map<std::string, Tally> burned(const std::vector<const char*>& targets, Grade grade, unsigned benches) {
    const DemoBench demo;
    std::map<std::string, Tally> out;
    for (const char* name : targets) {
        const auto& all = named_targets();
        Target target = *std::ranges::find(all, std::string(name), &Target::name);
        target.accept_de = 3;
        const auto plans = openings(demo, target);
        for (unsigned seed = 1; seed <= benches; ++seed)
            for (const OpeningPlan& p : plans) {
                Tally& t = out[p.key];
                t.name = p.name;
                bool hit = false;
                for (const std::size_t i : burned_cells(p.sheet)) {
                    standin::Work work(draw_world(grade, 900 + seed), nature(), demo.setup, 60, 50);
                    if (!work.burn({"cell", cell_recipe(p.sheet, i), {{10, 10, 5, 4}}, {}}))
                        continue;
                    const standin::Surface& s = work.plate().burns.back().surface;
                    t.spoiled += s.whole ? 0 : 1;
                    hit = hit || (s.whole && goal_of(target).miss(true_colour(s)) <= target.accept_de);
                }
                ++t.sheets;
                t.hits += hit ? 1 : 0;
                t.promise += p.promise;
                t.damage += p.expected_damage;
                t.minutes += p.seconds / 60;
                t.cells += p.cells;
                t.plate_cm2 += p.plate_mm2 / 100;
            }
    }
    return out;
}

} // namespace

TEST_CASE("ways to begin are compared with what they cost and promise, and none promises more than it holds",
          "[openings]") {
    const DemoBench demo;
    const auto plans = openings(demo, named_targets()[5]);
    REQUIRE(plans.size() >= 8);
    CHECK(plans.front().key == "designed");
    std::set<std::string> keys;
    for (std::size_t i = 0; i < plans.size(); ++i) {
        const OpeningPlan& p = plans[i];
        INFO(p.name);
        CHECK(keys.insert(p.key).second);
        CHECK(p.cells == burned_cells(p.sheet).size());
        CHECK(p.seconds > 0);
        CHECK(p.promise >= 0);
        CHECK(p.promise <= 1);
        CHECK(p.expected_damage <= static_cast<double>(p.cells));
        if (i > 1)
            CHECK(p.promise <= plans[i - 1].promise);
        // What is printed can be burned as it stands.
        CHECK(to_json(sheet_from_json(to_json(p.sheet), "").value()) == to_json(p.sheet));
    }
    CHECK(plans.front().seconds < 0.5 * std::ranges::max_element(plans, {}, &OpeningPlan::seconds)->seconds);
    // A source of fixed pulse width burns no plan that turns it.
    DemoBench fixed;
    fixed.setup.bench = load_bench(FINCH_SOURCE "/data", "heron").value();
    for (const OpeningPlan& p : openings(fixed, named_targets().front()))
        CHECK(p.key.find("width") == std::string::npos);
    // And none is promised what it does not hold: seldom meeting is no fault, promising is.
    for (const Grade grade : {Grade::honest, Grade::hard}) {
        Tally all;
        for (const auto& [key, t] : burned({"deep blue", "gold"}, grade, 5)) {
            all.sheets += t.sheets;
            all.hits += t.hits;
            all.promise += t.promise;
        }
        INFO(word(grade) << ": promised " << all.promise << ", held " << all.hits << " of " << all.sheets);
        CHECK(all.promise <= all.hits + 0.05 * all.sheets);
    }
}

TEST_CASE("what each way to begin costs and holds", "[.][openings-table]") {
    for (const Grade grade : {Grade::honest, Grade::hard}) {
        fmt::print("| {} | cells | plate, cm2 | minutes | promised | held | spoiled, expected | spoiled |\n",
                   word(grade));
        for (const auto& [key, t] : burned({"straw", "gold", "deep blue", "dark"}, grade, 50))
            fmt::print("| {} | {:.0f} | {:.0f} | {:.1f} | {:.0f} % | {:.0f} % | {:.1f} | {:.1f} |\n", t.name,
                       1.0 * static_cast<double>(t.cells) / t.sheets, t.plate_cm2 / t.sheets, t.minutes / t.sheets,
                       100 * t.promise / t.sheets, 100.0 * t.hits / t.sheets, t.damage / t.sheets,
                       t.spoiled / t.sheets);
        std::fflush(stdout);
    }
}
