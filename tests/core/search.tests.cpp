// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What the search finds, against trying everything.
#include "demo_bench.h"
#include "recipe/effort.h"
#include "recipe/plan.h"
#include "recipe/search_space.h"

#include <catch2/catch.hpp>
#include <map>
#include <nlohmann/json.hpp>

using namespace finch;
using namespace finch::tests;

namespace {

struct Best {
    double seconds = 1e300, unease = 1e300, unsteadiness = 1e300;
    int met = 0;
    Recipe fastest; ///< for the message
};

/// All recipes of an even grid over the search's own space, `steps` values an axis; the limits and the rules that
/// follow from others are the space's, the choice among them is nobody's.
Best try_everything(const Scene& scene, const Aim& aim, const PlanTask& task, int steps) {
    const SearchSpace space(scene, aim, task);
    const std::size_t axes = space.seeds().front().size();
    std::vector<int> at(axes, 0);
    Best best;
    for (bool more = true; more;) {
        std::vector<double> point(axes);
        for (std::size_t i = 0; i < axes; ++i)
            point[i] = at[i] / (steps - 1.0);
        const Recipe r = space.rounded(space.recipe(point));
        if (const auto p = predict(scene, r, aim.fill); p && miss(scene, aim, r, *p).size <= 1e-3) {
            ++best.met;
            const double t = effort(scene, r, *p, aim.fill).seconds();
            best.unsteadiness = std::min(best.unsteadiness, unsteadiness(outcome_spread(scene, r, *p, aim.fill), t));
            if (t < best.seconds) {
                best.seconds = t;
                best.fastest = r;
            }
            best.unease = std::min(best.unease, unease(safety_margin(r, *p), t));
        }
        more = false;
        for (std::size_t i = 0; i < axes && !more; ++i) {
            at[i] = (at[i] + 1) % steps;
            more = at[i] != 0;
        }
    }
    return best;
}

} // namespace

TEST_CASE("the search finds what trying everything finds", "[plan][search]") {
    struct Case {
        const char* name;
        const char* metal;
        Coating coating;
        double thickness_mm;
        Process process;
        School school;
        Wish wish;
    };
    const std::vector<Case> cases{
        {"dark on 304",
         "stainless-304",
         Coating::none,
         1.4,
         Process::anneal,
         School::in_focus,
         {WishKind::dark, true, 40, 0, {}}},
        {"colour on titanium",
         "titanium-2",
         Coating::none,
         1.2,
         Process::colour,
         School::speed_by_pitch,
         {WishKind::colour, true, 8, 0, {36, 2, -28}}},
        {"depth in brass",
         "brass",
         Coating::none,
         12,
         Process::deep_engrave,
         School::single,
         {WishKind::depth, true, 140, 160, {}}},
        {"strip of 304", "stainless-304", Coating::powder_coat, 1.6, Process::strip, School::single,
         usual_wish(WishKind::metal_unmarked)},
    };
    int compared = 0;
    for (const Case& c : cases) {
        const auto metal = materials().find(c.metal).value();
        const Bench b = load_bench(FINCH_SOURCE "/data", "wren").value();
        Stock stock;
        stock.metal = c.metal;
        stock.coating = c.coating;
        stock.thickness = mm(c.thickness_mm);
        Aim aim;
        aim.wishes = {c.wish};
        const Scene scene{materials(), *metal, b, stock, {}};
        const PlanTask task{c.process, c.school, {}, {}};
        const auto found = plan(scene, aim, task);
        REQUIRE(found);
        const std::size_t axes = SearchSpace(scene, aim, task).seeds().front().size();
        const int steps = axes <= 3 ? 13 : axes == 4 ? 7 : axes == 5 ? 5 : 4;
        const Best all = try_everything(scene, aim, task, steps);
        std::map<CandidateKind, const Candidate*> best;
        for (const Candidate& k : found->candidates)
            for (const CandidateKind kind : k.kinds)
                best[kind] = &k;
        INFO(c.name << ": " << axes << " knobs, " << all.met << " of the grid meet; grid " << all.seconds << " s, "
                    << all.unease << " unease, " << all.unsteadiness << " unsteadiness");
        // Where one of a coarse grid does the job, the search must do it too.
        if (all.met == 0)
            continue;
        ++compared;
        REQUIRE(found->candidates.front().meets);
        const Candidate &fast = *best.at(CandidateKind::fastest), &safe = *best.at(CandidateKind::safest),
                        &steady = *best.at(CandidateKind::most_robust);
        const double uneasy = unease(safe.margin, safe.effort.seconds()),
                     unsteady = unsteadiness(steady.spread, steady.effort.seconds());
        INFO("found " << fast.effort.seconds() << " s, " << uneasy << " unease, " << unsteady
                      << " unsteadiness; fastest " << to_json(fast.recipe).dump() << ", of the grid "
                      << to_json(all.fastest).dump());
        // Some 900 trials against up to 4096: a grid may happen on a little more, never on another order of work.
        CHECK(fast.effort.seconds() <= 1.25 * all.seconds);
        CHECK(uneasy <= all.unease + 0.25);
        CHECK(unsteady <= 1.6 * all.unsteadiness + (steady.spread.in_colour ? 0.5 : 0.005));
        for (std::size_t i = 0; i < found->candidates.size(); ++i)
            for (std::size_t j = 0; j < i; ++j)
                CHECK_FALSE(alike(found->candidates[i].recipe, found->candidates[j].recipe));
    }
    CHECK(compared >= 3);
}
