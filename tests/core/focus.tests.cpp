// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "physics/colour_difference.h"
#include "proof/focus_ladder.h"
#include "proof/lot_check.h"
#include "vision/sheet_photo.h"

#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <random>
#include <set>

using namespace finch;
using namespace finch::tests;
using standin::Grade;

// The bench that is burned on shares no formula with the fit, and the fit none with any bench: it knows that marks
// above and below the best focus mirror each other, and nothing else. The whole table, on fifty benches a grade, is
// printed by `core_tests "[ladder-table]"` and kept in docs/bands.md.

namespace {

const Recipe& labels() {
    static const Recipe recipe = label_recipe(DemoBench().scene()).value();
    return recipe;
}

DemoBench focused() {
    DemoBench demo;
    const Setup& s = demo.setup;
    demo.setup.focus.confirmed =
        confirmation(s.focus, s.bench.name, s.bench.lens().name, s.stock, "OD", "2026-11-24T09:12:00Z");
    return demo;
}

/// Distance from the best focus up to which a mark alone, in the middle of the field, keeps its look.
double truly_holds(const DemoBench& demo, standin::World world, double accept_de, double end) {
    world.scatter = world.patches = world.warm_up = world.neighbours = 0;
    const auto look = [&](double off) {
        Recipe r = DemoBench::blue();
        r.setting.focus_offset = mm(off - world.focus_mm);
        return true_colour(standin::marked(world, *nature(), demo.setup, r, {0, 0, 4, 4}, {}).value());
    };
    const Lab middle = look(0);
    for (double off = 0.02; off < end; off += 0.02)
        if (delta_e00(middle, look(off)) > accept_de || delta_e00(middle, look(-off)) > accept_de)
            return off;
    return end;
}

struct LadderTally {
    int benches = 0, found = 0, near = 0, best_held = 0, tilts = 0, tilt_near = 0, tilt_held = 0, holds_held = 0;
    double worst = 0;
};

void climb(Grade grade, unsigned seed, bool over_field, LadderTally& out) {
    const DemoBench demo = focused();
    const standin::World world = draw_world(grade, 900 + seed);
    const ProofSheet sheet =
        plan_focus_ladder(demo.request(3), {mm(0), mm(0), 13, over_field}, demo.setup.bench, labels(), seed).value();
    const auto found =
        judge_ladder(sheet, read_by_instrument(sheet, cells_of(demo, sheet, world), seed, 0.5), demo.setup.bench, 3);
    REQUIRE(found);
    const FocusFit& fit = found->fit;
    const double rayleigh = in_mm(waist(demo.setup.bench.lens(), demo.setup.bench.source.wavelength).rayleigh);
    const double off = std::abs(fit.best_mm.value + world.focus_mm);
    ++out.benches;
    if (found->verdict != LadderVerdict::found)
        return; // nothing is offered to be taken
    ++out.found;
    out.near += off <= 0.15 * rayleigh ? 1 : 0;
    out.best_held += off <= fit.best_mm.spread ? 1 : 0;
    out.worst = std::max(out.worst, off);
    const double holds = truly_holds(demo, world, 3, in_mm(ladder_reach(demo.setup.bench)));
    out.holds_held += std::abs(holds - fit.holds_mm.value) <= fit.holds_mm.spread ? 1 : 0;
    if (!over_field)
        return;
    for (const auto& [told, truth] : {std::pair{fit.tilt_x_mm, -world.tilt_x_mm}, {fit.tilt_y_mm, -world.tilt_y_mm}}) {
        ++out.tilts;
        out.tilt_near += std::abs(told.value - truth) <= 0.1 ? 1 : 0;
        out.tilt_held += std::abs(told.value - truth) <= told.spread ? 1 : 0;
    }
}

/// A made-up metal: its look is any even function of the distance from the best focus.
SheetReading made_up(const ProofSheet& sheet, double best, const std::function<Lab(double)>& look, double noise) {
    std::mt19937 dice(5);
    std::normal_distribution<> normal(0, noise);
    SheetReading out;
    out.cells.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        const Lab l = look(std::abs(in_mm(sheet.own[i].focus_offset) - best));
        out.cells[i] = {CellState::read, {l.l + normal(dice), l.a + normal(dice), l.b + normal(dice)}, 1, 1};
    }
    return out;
}

} // namespace

TEST_CASE("a ladder finds the best focus and the tilt of benches that it knows nothing of", "[focus]") {
    for (const Grade grade : {Grade::honest, Grade::hard}) {
        LadderTally close, wide;
        for (unsigned seed = 1; seed <= 4; ++seed) {
            climb(grade, seed, false, close);
            climb(grade, seed + 20, true, wide);
        }
        INFO(word(grade) << ": worst " << close.worst << " and " << wide.worst << " mm, tilt near " << wide.tilt_near);
        CHECK(close.found + wide.found == 8);
        CHECK(close.near + wide.near == 8);
        CHECK(close.best_held + wide.best_held >= 6);
        CHECK(wide.tilt_near >= 7);
        CHECK(wide.tilt_held >= 5);
        CHECK(close.holds_held + wide.holds_held >= 5);
    }
}

TEST_CASE("ladders on fifty benches a grade", "[.][ladder-table]") {
    fmt::print(
        "grade, ladder | found | within 15 % of zR | band held | worst, mm | tilt within 0.1 mm | tilt band held | "
        "reach of the mark held\n");
    for (const Grade grade : {Grade::honest, Grade::hard})
        for (const bool over_field : {false, true}) {
            LadderTally t;
            for (unsigned seed = 1; seed <= 50; ++seed)
                climb(grade, seed, over_field, t);
            fmt::print("{}, {} | {} | {} | {} | {:.2f} | {}/{} | {}/{} | {}\n", standin::word(grade),
                       over_field ? "over the field" : "close", t.found, t.near, t.best_held, t.worst, t.tilt_near,
                       t.tilts, t.tilt_held, t.tilts, t.holds_held);
            CHECK(t.found >= 49);
            CHECK(t.near == t.found);
        }
}

TEST_CASE("the photograph of a ladder says the same as the instrument", "[focus]") {
    const DemoBench demo = focused();
    const standin::World world = draw_world(Grade::honest, 902);
    const ProofSheet sheet =
        plan_focus_ladder(demo.request(3), {mm(0), mm(0), 13, true}, demo.setup.bench, labels(), 2).value();
    const SheetLayout at = layout(sheet);
    standin::Shot shot;
    shot.seed = 2;
    shot.white_card = at.white_card;
    const Picture photo = taken(burned(demo, sheet, world), standin::draw_camera(Grade::honest, 902), shot);
    const auto read = read_sheet_photo(photo, sheet);
    REQUIRE(read);
    const auto found = judge_ladder(sheet, read->reading, demo.setup.bench, 3);
    REQUIRE(found);
    CHECK(found->verdict == LadderVerdict::found);
    CHECK(found->over_field);
    CHECK(found->fit.best_mm.value == Approx(-world.focus_mm).margin(0.1));
    CHECK(found->fit.tilt_x_mm.value == Approx(-world.tilt_x_mm).margin(0.12));
    CHECK(found->fit.tilt_y_mm.value == Approx(-world.tilt_y_mm).margin(0.12));
    CHECK(found->words.find("Best focus 0.4") == 0);
    CHECK(found->words.find("lower than the head stood") != std::string::npos);
}

TEST_CASE("a head that goes where the ladder says is in focus, and a second ladder says so", "[focus]") {
    DemoBench demo = focused();
    const standin::World world = draw_world(Grade::honest, 912); // off by 0.3 mm
    const auto best = [&](unsigned seed) {
        const ProofSheet sheet = plan_focus_ladder(demo.request(3), {}, demo.setup.bench, labels(), seed).value();
        return judge_ladder(sheet, read_by_instrument(sheet, cells_of(demo, sheet, world), seed, 0.5), demo.setup.bench,
                            3)
            ->fit.best_mm.value;
    };
    const double first = best(1);
    CHECK(std::abs(first) > 0.2);
    Focus& focus = demo.setup.focus;
    focus.confirmed = found_by_ladder(*focus.confirmed, mm(first), "OD", "2026-11-24T10:00:00Z");
    focus.head_raised = focus.confirmed->head_raised;
    CHECK(focus.confirmed->method == FocusMethod::ladder);
    CHECK_FALSE(focus_state(focus, demo.setup.bench.name, demo.setup.bench.lens().name, demo.setup.stock).stale());
    CHECK(std::abs(best(2)) < 0.08);
    // Going there twice is going there once; a head that moved since is not in focus.
    CHECK(found_by_ladder(confirmation(Focus{}, "b", "l", demo.setup.stock, "OD", "t"), mm(first), "OD", "t")
              .from_gauge == mm(first));
    focus.head_raised += mm(0.2);
    CHECK(in_mm(focus_state(focus, demo.setup.bench.name, demo.setup.bench.lens().name, demo.setup.stock)
                    .surface_error) == Approx(0.2));
}

TEST_CASE("a ladder says when it found nothing, and why", "[focus]") {
    const DemoBench demo = focused();
    const ProofSheet sheet = plan_focus_ladder(demo.request(3), {}, demo.setup.bench, labels(), 1).value();
    const auto verdict = [&](double best, const std::function<Lab(double)>& look) {
        return judge_ladder(sheet, made_up(sheet, best, look, 0.4), demo.setup.bench, 3).value();
    };
    const auto any = [](double off) { return Lab{50 + 20 * std::cos(2 * off), 10 * std::sin(off), -20 + 8 * off}; };
    const LadderFinding inside = verdict(0.7, any);
    CHECK(inside.verdict == LadderVerdict::found);
    CHECK(inside.fit.best_mm.value == Approx(0.7).margin(0.1));
    CHECK_FALSE(inside.over_field);
    CHECK(verdict(0, [](double) { return Lab{50, 1, 2}; }).verdict == LadderVerdict::flat);
    const LadderFinding beyond = verdict(2.6, any);
    INFO(beyond.words << " scatter " << beyond.fit.scatter_de << " change " << beyond.fit.change_de << " out "
                      << beyond.fit.doubtful.size());
    CHECK(beyond.verdict == LadderVerdict::beyond);
    CHECK(beyond.words.find("Burn another ladder") != std::string::npos);
    // One mark under a speck does not move it.
    SheetReading speck = made_up(sheet, 0.7, any, 0.4);
    speck.cells[5].lab = {90, 0, 0};
    const LadderFinding around = judge_ladder(sheet, speck, demo.setup.bench, 3).value();
    CHECK(around.fit.best_mm.value == Approx(0.7).margin(0.1));
    REQUIRE(around.fit.doubtful.size() == 1);
    CHECK(around.cells[around.fit.doubtful.front()] == 5);
    // Too little to go by.
    SheetReading few = speck;
    for (std::size_t i = 8; i < few.cells.size(); ++i)
        few.cells[i].state = CellState::hidden;
    CHECK(judge_ladder(sheet, few, demo.setup.bench, 3).error().code == "ladder.too_few");
    CHECK(judge_ladder(demo.sheet(), speck, demo.setup.bench, 3).error().code == "ladder.no_ladder");
}

TEST_CASE("a ladder goes through zero on both sides, in one direction, each offset at several places", "[focus]") {
    const DemoBench demo = focused();
    for (const bool over_field : {false, true}) {
        const ProofSheet sheet =
            plan_focus_ladder(demo.request(3), {mm(2), mm(0.5), 13, over_field}, demo.setup.bench, labels(), 9).value();
        const SheetLayout at = layout(sheet);
        const double field = in_mm(demo.setup.bench.lens().field);
        CHECK(at.width_mm <= field);
        CHECK((at.width_mm > 0.8 * field) == over_field);
        double last = -100;
        std::map<double, int> times;
        for (const ToolStep& s : tool_steps(sheet, at, {}))
            if (s.name != "fiducial" && s.name != "label") {
                const double offset = in_mm(s.recipe.setting.focus_offset);
                CHECK(offset >= last);
                last = offset;
                ++times[offset];
            }
        CHECK(times.size() == 13);
        CHECK(times.begin()->first == Approx(-1.5));
        CHECK(times.rbegin()->first == Approx(2.5));
        for (const auto& [offset, count] : times)
            CHECK(count >= 2);
        // The document holds it; nothing is learned of films from marks that are out of focus on purpose.
        const ProofSheet back = sheet_from_json(to_json(sheet), "f").value();
        CHECK(back == sheet);
    }
    const auto refused = [&](LadderRequest r) {
        return plan_focus_ladder(demo.request(3), r, demo.setup.bench, labels(), 1).error().code;
    };
    CHECK(refused({mm(2), mm(0), 3, false}) == "ladder.steps");
    CHECK(refused({mm(0.05), mm(0), 13, false}) == "ladder.reach");
    CHECK(refused({mm(2), mm(49), 13, false}) == "ladder.reach");
    nlohmann::json two = to_json(demo.sheet());
    two = to_json(plan_focus_ladder(demo.request(3), {}, demo.setup.bench, labels(), 1).value());
    two["lot_check"] = {{"expected", {36, 2, -28}}, {"accept_de", 3}};
    CHECK(sheet_from_json(two, "f").error().place.field == "ladder");
}

TEST_CASE("a lot check tells the same lot, another dose and another surface apart", "[lot]") {
    const DemoBench demo = focused();
    const auto burn = [&](const standin::World& world, const Lab& expected, const DemoBench& on, unsigned seed) {
        const ProofSheet sheet = plan_lot_check(demo.request(3), {expected, 3}, demo.setup.bench, labels()).value();
        REQUIRE(to_json(sheet_from_json(to_json(sheet), "f").value()) == to_json(sheet));
        return judge_lot_check(sheet, read_by_instrument(sheet, cells_of(on, sheet, world), seed, 0.4)).value();
    };
    int same = 0, dose = 0, nearer = 0, different = 0, held = 0;
    constexpr unsigned benches = 12;
    for (unsigned seed = 1; seed <= benches; ++seed) {
        standin::World world = draw_world(Grade::honest, 700 + seed);
        world.scatter *= 0.5;
        const Recipe blue = DemoBench::blue();
        const Lab proven = true_colour(standin::marked(world, *nature(), demo.setup, blue, {0, 0, 4, 4}, {}).value());
        same += burn(world, proven, demo, seed).verdict == LotVerdict::same ? 1 : 0;
        // A lot that takes up 5 % less.
        standin::World pale = world;
        pale.absorptance *= 0.95;
        const LotFinding f = burn(pale, proven, demo, seed + 50);
        if (f.verdict == LotVerdict::dose) {
            ++dose;
            // The truth by trying: the corrected recipe on that lot.
            const Lab corrected =
                true_colour(standin::marked(pale, *nature(), demo.setup, f.corrected, {0, 0, 4, 4}, {}).value());
            nearer += delta_e00(corrected, proven) < f.as_it_is_de ? 1 : 0;
            held += f.best_dose_low <= f.best_dose && f.best_dose <= f.best_dose_high ? 1 : 0;
        }
        // Another finish altogether.
        different += burn(world, {85, 0, 3}, demo, seed + 90).verdict == LotVerdict::different ? 1 : 0;
    }
    INFO("same " << same << ", dose " << dose << ", nearer " << nearer << ", different " << different);
    CHECK(same >= 9);
    CHECK(dose >= 6);
    CHECK(nearer == dose);
    CHECK(held == dose);
    CHECK(different == benches);
}
