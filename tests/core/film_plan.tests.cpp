// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "piece/piece_cost.h"
#include "recipe/effort.h"
#include "recipe/predict.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>
#include <rapidcheck/catch.h>

using namespace finch;
using namespace finch::tests;

namespace {

/// A square of film on the gauge strip, on the bench with the gas laser.
struct Film {
    Job part;
    explicit Film(const std::string& product, double side_mm = 10) {
        part.setup.bench = load_bench(FINCH_SOURCE "/data", "mallow").value();
        part.setup.stock = load_stock(FINCH_SOURCE "/data", "gauge-strip-304").value();
        part.width_mm = part.height_mm = side_mm;
        Recipe r;
        r.process = Process::compound;
        r.compound = product;
        r.coats = 2;
        r.setting = {50, kilohertz(10), nanoseconds(1000), mm_per_second(300), mm(0.1), 0, 1, mm(0)};
        part.layers.push_back(
            {"mark", "#000000", false, r, Region{{{{0, 0}, {side_mm, 0}, {side_mm, side_mm}, {0, side_mm}}}}});
    }
};

using Kind = StepSpan::Kind;

} // namespace

TEST_CASE("the steps of film work come to the minutes and the money that a prediction has of a small batch", "[film]") {
    for (const CompoundConstants& c : materials().compounds.compounds) {
        INFO(c.key);
        Film film(c.key);
        const auto own = own_scene(std::make_shared<const Materials>(materials()), film.part.setup, {}).value();
        const Recipe& recipe = *film.part.layers[0].recipe;
        const Fill fill{mm(10), 100};
        const Prediction p = predict(own.scene(), recipe, fill).value();
        const Effort e = effort(own.scene(), recipe, p, fill);
        const double load_s = materials().model.effort.handling_s;
        const PieceCost ten = piece_cost(materials(), film.part, e.mark_s, {}, load_s, 10).value();
        REQUIRE(ten.plan);
        CHECK(ten.plan->cost() == Approx(e.cost()).epsilon(0.01));
        CHECK(ten.rules.handling_s + ten.rules.batch_s / 10 == Approx(e.handling_s).margin(1));
        CHECK(ten.plan->minutes(Kind::hands) * 6 == Approx(e.handling_s).margin(1)); // 60 s of 10 pieces
        CHECK(ten.plan->minutes(Kind::beam) * 60 == Approx(10 * e.mark_s));
        // More pieces together: what is done once is shared.
        const PieceCost one = piece_cost(materials(), film.part, e.mark_s, {}, load_s, 1).value();
        CHECK(one.plan->hands - ten.plan->hands ==
              Approx(0.9 * one.plan->once_s / 3600 * film.part.setup.bench.rate_per_hour));
        CHECK(one.plan->can == ten.plan->can);
        // The can by hand: what lands on the mark and its border, of what is in the can.
        const double grams = 26 * 26 * 1e-6 * c.dry_g_m2 * recipe.coats / c.transfer / c.solids;
        CHECK(one.plan->can == Approx(c.can_price * grams / c.can_g));
        // As many waits as coats have spaces between them.
        double waits = 0;
        for (const CompoundStep& s : c.steps)
            waits += s.wait_min;
        CHECK(ten.plan->minutes(Kind::wait) == Approx(waits));
        CHECK(ten.plan->minutes() == Approx(ten.plan->minutes(Kind::hands) + waits + ten.plan->minutes(Kind::beam)));
    }
    Film two("ceramic");
    two.part.layers.push_back(two.part.layers[0]);
    two.part.layers.back().recipe->compound = "molybdenum";
    CHECK(piece_cost(materials(), two.part, 10, {}, 8, 4).error().code == "compound.two");
    two.part.layers.back().guide = true;
    CHECK(piece_cost(materials(), two.part, 10, {}, 8, 4));
    two.part.layers[0].recipe->compound = "chalk";
    CHECK(piece_cost(materials(), two.part, 10, {}, 8, 4).error().code == "compound.unknown");
    two.part.layers[0].recipe->process = Process::engrave;
    const PieceCost direct = piece_cost(materials(), two.part, 10, {}, 8, 4).value();
    CHECK_FALSE(direct.plan);
    CHECK(direct.rules.batch_s == 0);
    // By hand afterwards: what takes longest of what is marked, or what the shop says.
    const double brushed = materials().model.effort.after.at("engrave").minutes;
    CHECK(direct.rules.handling_s == Approx(8 + 60 * brushed));
    CHECK_FALSE(direct.after.words.empty());
    two.part.layers.back().guide = false;
    two.part.layers.back().recipe->process = Process::deep_engrave;
    CHECK(piece_cost(materials(), two.part, 10, {}, 8, 4)->rules.handling_s ==
          Approx(8 + 60 * materials().model.effort.after.at("deep-engrave").minutes));
    PriceRules of_the_shop;
    of_the_shop.after_min = 0;
    CHECK(piece_cost(materials(), two.part, 10, of_the_shop, 8, 4)->rules.handling_s == 8);
    for (const auto& [key, after] : materials().model.effort.after)
        CHECK(process_from_key(key));
    CHECK(piece_cost(materials(), Film("ceramic").part, 10, {}, 8, 1001).error().code == "compound.pieces");
}

TEST_CASE("where film work stands follows from what was said, in whatever order", "[film]") {
    const CompoundConstants& c = *materials().compounds.compound("molybdenum");
    const CompoundPlan plan = compound_plan(c, {.pieces = 4, .mark_s = 100}).value();
    const auto at = [&](CompoundStage stage) {
        std::size_t i = 0;
        while (plan.steps.at(i).step.stage != stage)
            ++i;
        return i;
    };
    const std::size_t dry = at(CompoundStage::dry), mark = at(CompoundStage::mark), wash = at(CompoundStage::wash);
    // A step that is done or left out, and one that is taken back with all that follows it.
    rc::prop("stand_of", [&] {
        std::vector<StepEvent> events;
        std::vector<bool> done(plan.steps.size(), false);
        std::vector<double> ended(plan.steps.size(), 0);
        double now = 0;
        for (int i = *rc::gen::inRange(0, 40); i-- > 0;) {
            now += *rc::gen::inRange(0, 200) / 10.0;
            const auto step = static_cast<std::size_t>(*rc::gen::inRange(0, static_cast<int>(plan.steps.size())));
            const auto kind =
                *rc::gen::element(StepEvent::Kind::done, StepEvent::Kind::skipped, StepEvent::Kind::withdrawn);
            events.push_back({plan.steps[step].step.stage, kind, now});
            if (kind == StepEvent::Kind::withdrawn)
                std::fill(done.begin() + static_cast<std::ptrdiff_t>(step), done.end(), false);
            else
                done[step] = true, ended[step] = now;
        }
        now += *rc::gen::inRange(0, 100) / 10.0;
        const CompoundStand s = stand_of(plan, c, events, now);
        const auto first = std::find(done.begin(), done.end(), false);
        RC_ASSERT(s.now.has_value() == (first != done.end()));
        if (s.now)
            RC_ASSERT(*s.now == static_cast<std::size_t>(first - done.begin()));
        const std::size_t done_up_to = s.now.value_or(plan.steps.size());
        for (std::size_t i = 0; i < plan.steps.size(); ++i) {
            const bool past = s.steps[i].state == StepState::done || s.steps[i].state == StepState::skipped;
            RC_ASSERT(past == (i < done_up_to));
            RC_ASSERT(s.steps[i].from_min == (i > 0 ? s.steps[i - 1].to_min : 0.0));
            RC_ASSERT(s.steps[i].to_min >= s.steps[i].from_min);
            if (past)
                RC_ASSERT(s.steps[i].to_min >= ended[i]);
        }
        RC_ASSERT(s.may_mark == (done_up_to > dry));
        RC_ASSERT(s.drying_min.has_value() == (done_up_to == dry));
        if (s.unwashed_min)
            RC_ASSERT(done_up_to > mark && done_up_to <= wash);
        if (s.wash_left_min)
            RC_ASSERT(std::abs(*s.wash_left_min + *s.unwashed_min - c.wash_within_min) < 1e-9);
    });
    // By the clock: sprayed at minute 10, seen dry at 19, marked at 30.
    std::vector<StepEvent> said;
    for (const auto& [stage, minute] :
         {std::pair{CompoundStage::degrease, 4.0}, {CompoundStage::mask, 6.0}, {CompoundStage::spray, 10.0}})
        said.push_back({stage, StepEvent::Kind::done, minute});
    CHECK(stand_of(plan, c, said, 14).drying_min == Approx(4));
    CHECK_FALSE(stand_of(plan, c, said, 14).may_mark);
    said.push_back({CompoundStage::dry, StepEvent::Kind::done, 19});
    CHECK(stand_of(plan, c, said, 20).may_mark);
    said.push_back({CompoundStage::mark, StepEvent::Kind::done, 30});
    CHECK(stand_of(plan, c, said, 41).wash_left_min == Approx(4));
    CHECK(stand_of(plan, c, said, 41).marked);
    CHECK(stand_of(plan, c, said, 50).wash_left_min == Approx(-5));
    CHECK(stand_of(plan, c, said, 50).steps.back().to_min > 50);
    // The coat was damp after all: the marking does not count either.
    said.push_back({CompoundStage::dry, StepEvent::Kind::withdrawn, 51});
    const CompoundStand again = stand_of(plan, c, said, 52);
    CHECK(again.now == dry);
    CHECK_FALSE(again.may_mark);
    CHECK_FALSE(again.unwashed_min);
    CHECK_FALSE(again.marked);
}

TEST_CASE("prices never fall short of cost and margin, and routes cross where their bills are equal", "[film]") {
    std::mt19937 draw(31);
    const auto number = [&](double low, double high) { return std::uniform_real_distribution(low, high)(draw); };
    const auto rules = [&] {
        CostRules r;
        r.machine_rate_h = number(5, 60), r.operator_rate_h = number(5, 60);
        r.mark_s = number(1, 900), r.handling_s = number(0, 200);
        r.setup_min = number(0, 60), r.proof_min = number(0, 60), r.proof_blanks = static_cast<int>(number(0, 9));
        r.blank = number(0, 20), r.consumable = number(0, 3), r.attend = number(0, 1), r.fixed = number(0, 200);
        return r;
    };
    for (int i = 0; i < 200; ++i) {
        const CostRules a = rules(), b = rules();
        const double spoiled = number(0, 0.2), margin = number(0, 0.8);
        const auto unit = [&](int n) { return batch_cost(a, n, spoiled).map(&JobCost::unit); };
        const auto tiers = price_list({100, 1, 10, 25, 10}, margin, 0.05, unit).value();
        REQUIRE(tiers.size() == 4);
        for (std::size_t k = 0; k < tiers.size(); ++k) {
            const PriceTier& t = tiers[k];
            CHECK(std::abs(std::remainder(t.unit_price, 0.05)) < 1e-9);
            if (k == 0) {
                CHECK(t.unit_price * (1 - margin) >= t.unit_cost - 1e-9);
                continue;
            }
            CHECK(t.unit_price <= tiers[k - 1].unit_price);
            // From there on, and not before, ordering this tier costs no more.
            int from = tiers[k - 1].pieces;
            while (from < t.pieces && from * tiers[k - 1].unit_price < t.total - 1e-9)
                ++from;
            CHECK(t.cheaper_from == from);
        }
        // Without spoilage bills are straight lines: they cross where counting finds it.
        const auto at = routes_against(a, 0, b, 0, 7).value().crossing;
        const auto first_cheaper = [&](int n) {
            return batch_cost(a, n, 0).value().total <= batch_cost(b, n, 0).value().total;
        };
        for (const int n : {1, 3, 10, 40, 200, 5000}) {
            const bool below = !at.pieces || n < *at.pieces;
            if (!at.pieces || std::abs(n - *at.pieces) > 1e-6)
                CHECK(first_cheaper(n) == (below ? at.first_below : at.first_above));
        }
    }
    const auto code = [](const auto& result) { return result ? std::string() : result.error().code; };
    CHECK(code(batch_cost({}, 0, 0)) == "cost.pieces");
    CHECK(code(batch_cost({}, 5, 0.95)) == "cost.share");
    CHECK(code(batch_cost({.mark_s = -1}, 5, 0)) == "setup.negative");
    CHECK(code(batch_cost({.attend = 2}, 5, 0)) == "cost.share");
}
