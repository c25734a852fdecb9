// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "evidence/what_explains.h"
#include "physics/colour_difference.h"
#include "proof/answer.h"
#include "proof/control_course.h"
#include "proof/observed.h"
#include "proof/offset_series.h"
#include "proof/threshold.h"
#include "recipe/appearance.h"
#include "search/draws.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace finch;
using namespace finch::tests;
using standin::Grade;

// What a course, a threshold or a series says is a claim. It is counted here how often it holds: on days drawn by
// chance, and on benches that share no formula with the program.

namespace {

const Recipe& letters() {
    static const Recipe recipe = label_recipe(DemoBench().scene()).value();
    return recipe;
}

ControlReading day(int number, double dose_ln, double off_de) {
    return {number, "2026-11-" + std::to_string(10 + number % 20) + "T08:00:00Z", dose_ln, off_de, 1};
}

/// Distance from a path of two coordinates that scatter alike.
double beside(Draws& chance, double by) {
    return by * std::hypot(chance.normal(), chance.normal());
}

/// With tails: one day in ten scatters three times as much.
double tailed(Draws& chance) {
    return chance.normal() * (chance.below(10) == 0 ? 3 : 1);
}

bool alarmed(ControlVerdict v) {
    return v == ControlVerdict::less || v == ControlVerdict::more || v == ControlVerdict::off_path;
}

} // namespace

TEST_CASE("a bench that stays as it is alarms once in a hundred days at most", "[control]") {
    constexpr int courses = 300, days = 40;
    for (const bool tails : {false, true}) {
        int alarms = 0, judged = 0;
        for (int course = 0; course < courses; ++course) {
            Draws chance(static_cast<std::uint64_t>(course) + (tails ? 1000 : 0));
            const double spread = std::exp(chance.even(-6, -3.5)), mean = chance.even(-0.03, 0.03);
            std::vector<ControlReading> all;
            for (int i = 1; i <= days; ++i)
                all.push_back(day(i, mean + spread * (tails ? tailed(chance) : chance.normal()),
                                  beside(chance, tails ? 1.0 : 0.6)));
            for (const ControlPoint& p : control_course(all).points) {
                judged += p.judged ? 1 : 0;
                alarms += p.alarm ? 1 : 0;
            }
        }
        INFO(alarms << " alarms on " << judged << " days, tails " << tails);
        // Tails make single days stand out, and they should be looked at.
        CHECK(alarms < judged / (tails ? 40 : 100));
        CHECK(judged == courses * (days - 3));
    }
}

TEST_CASE("a change of the size that is told is seen as soon as it is told, and by how much", "[control]") {
    int at_once = 0, in_a_week = 0, held = 0, told = 0, again = 0, right_way = 0;
    constexpr int courses = 300, before = 14;
    for (int course = 0; course < courses; ++course) {
        Draws chance(5000 + static_cast<std::uint64_t>(course));
        const double spread = std::exp(chance.even(-6, -3.5));
        const int side = course % 2 == 0 ? -1 : 1;
        std::vector<ControlReading> quiet;
        for (int i = 1; i <= before; ++i)
            quiet.push_back(day(i, spread * chance.normal(), beside(chance, 0.6)));
        const ControlCourse usual = control_course(quiet);
        const auto with = [&](double change, int days) {
            std::vector<ControlReading> all = quiet;
            for (int i = 1; i <= days; ++i)
                all.push_back(day(before + i, side * change + spread * chance.normal(), beside(chance, 0.6)));
            return control_course(all);
        };
        at_once += alarmed(with(usual.seen_at_once_ln, 1).verdict) ? 1 : 0;
        const double slow = 0.5 * usual.seen_at_once_ln; // that lasts
        const ControlCourse week = with(slow, 7);
        const auto first =
            std::find_if(week.points.begin() + before, week.points.end(), [](const auto& p) { return p.alarm; });
        in_a_week += first != week.points.end() ? 1 : 0;
        if (alarmed(week.verdict) || week.verdict == ControlVerdict::watch) {
            ++told;
            held += week.change_low_ln <= side * slow && side * slow <= week.change_high_ln ? 1 : 0;
            right_way += week.change_ln * side > 0 ? 1 : 0;
        }
        // Nobody did anything: it is said again, and the days of it do not become usual.
        const ControlCourse later = with(1.5 * usual.seen_at_once_ln, 4);
        again += alarmed(later.verdict) ? 1 : 0;
    }
    INFO("at once " << at_once << ", in a week " << in_a_week << ", told " << told << ", held " << held << ", again "
                    << again << " of " << courses);
    CHECK(at_once >= 0.85 * courses);
    CHECK(in_a_week >= 0.85 * courses);
    CHECK(held >= 0.87 * told);
    CHECK(right_way == told);
    CHECK(again >= 0.95 * courses);
}

TEST_CASE("a course does not depend on the order in which its readings come, nor on older ones of a sheet",
          "[control]") {
    Draws chance(3);
    std::vector<ControlReading> all;
    for (int i = 1; i <= 12; ++i)
        all.push_back(day(i, 0.01 * chance.normal(), beside(chance, 0.6)));
    const auto wanted = to_json(control_course(all));
    ControlReading older = all[4];
    older.when_utc = "2026-11-01T08:00:00Z";
    older.dose_ln = 0.09;
    all.push_back(older);
    for (int k = 0; k < 20; ++k) {
        std::swap(all[chance.below(all.size())], all[chance.below(all.size())]);
        CHECK(to_json(control_course(all)) == wanted);
    }
    CHECK(control_course({}).verdict == ControlVerdict::settling);
    // However many days there are, and though all are alike, it says what would be seen.
    std::vector<ControlReading> alike;
    double seen = 1e9;
    for (int i = 1; i <= 60; ++i) {
        alike.push_back(day(i, 0, 0.4));
        const ControlCourse c = control_course(alike);
        CHECK(c.verdict == (i > 3 ? ControlVerdict::usual : ControlVerdict::settling));
        if (i >= 3) {
            CHECK(c.seen_at_once_ln > 0);
            CHECK(c.seen_at_once_ln < seen);
            seen = c.seen_at_once_ln;
        }
    }
    CHECK(control_course({all[0], all[1], all[2]}).verdict == ControlVerdict::settling);
}

TEST_CASE("a lens that gets dirty is found on benches of another kind, and by how much", "[control]") {
    const DemoBench demo;
    SheetRequest request = demo.request(1);
    int early = 0, found = 0, near = 0, focus_found = 0;
    constexpr int benches = 8, clean = 9, days = 17;
    for (int bench = 1; bench <= benches; ++bench) {
        standin::World world = draw_world(Grade::honest, 300 + static_cast<std::uint64_t>(bench));
        const Lab proven =
            true_colour(standin::marked(world, *nature(), demo.setup, DemoBench::blue(), {0, 0, 4, 4}, {}).value());
        Draws chance(static_cast<std::uint64_t>(bench));
        const auto burned_on = [&](int number, double power, double focus_mm) {
            standin::World today = world;
            today.power *= std::exp(power + 0.008 * chance.normal());
            today.focus_mm += focus_mm;
            request.number = number;
            const ProofSheet sheet = plan_lot_check(request, {proven, 3}, demo.setup.bench, letters()).value();
            const SheetReading read = read_by_instrument(sheet, cells_of(demo, sheet, today),
                                                         static_cast<unsigned>(100 * bench + number), 0.4);
            return control_reading(sheet, read, "2026-11-" + std::to_string(number + 9) + "T08:00:00Z");
        };
        std::vector<ControlReading> dirty, moved;
        for (int number = 1; number <= days; ++number) {
            const double lost = -0.012 * std::max(0, number - clean);
            if (const auto r = burned_on(number, lost, 0))
                dirty.push_back(*r);
            if (number <= clean)
                moved = dirty;
        }
        for (int number = clean + 1; number <= clean + 3; ++number)
            if (const auto r = burned_on(number, 0, 1.4))
                moved.push_back(*r);
        const ControlCourse course = control_course(dirty);
        bool after = false;
        for (const ControlPoint& p : course.points)
            if (p.reading.sheet <= clean)
                early += p.alarm ? 1 : 0;
            else
                after |= p.alarm;
        found += after ? 1 : 0;
        near += course.verdict == ControlVerdict::less && course.change_ln < -0.02 && course.change_ln > -0.12 ? 1 : 0;
        const ControlCourse out_of_focus = control_course(moved);
        focus_found += std::ranges::any_of(out_of_focus.points,
                                           [](const ControlPoint& p) { return p.alarm && p.reading.sheet > clean; })
                           ? 1
                           : 0;
    }
    INFO("early " << early << ", found " << found << ", by how much " << near << ", focus " << focus_found << " of "
                  << benches);
    CHECK(early <= 2);
    CHECK(found >= benches - 1);
    CHECK(near >= benches - 2);
    CHECK(focus_found >= benches - 1);
}

TEST_CASE("a threshold lies where it is said to on benches of another kind", "[threshold]") {
    DemoBench demo;
    const Lab bare = unmarked(demo.scene()).lab;
    SheetRequest request = demo.request(4);
    request.base.setting.scan_speed = mm_per_second(600);
    int within = 0, held = 0, spared = 0, spared_held = 0, spoils = 0, spoils_held = 0, asked = 0;
    for (unsigned seed = 1; seed <= 24; ++seed) {
        standin::World world = draw_world(Grade::honest, 900 + seed);
        // The truth by trying, in the middle of the plate, cold.
        standin::World quiet = world;
        quiet.scatter = quiet.patches = quiet.warm_up = quiet.neighbours = 0;
        const auto begins = [&](const std::function<bool(const standin::Surface&)>& has) {
            for (double p = 0.5; p < 100; p *= 1.02) {
                Recipe r = request.base;
                r.setting.power_percent = p;
                if (has(standin::marked(quiet, *nature(), demo.setup, r, {0, 0, 4, 4}, {}).value()))
                    return p;
            }
            return 100.0;
        };
        const Lab own = true_colour(standin::untouched(quiet, *nature(), demo.setup.stock));
        const double shows = begins([&](const standin::Surface& s) { return delta_e00(true_colour(s), bare) > 2; });
        const double tears = begins([](const standin::Surface& s) { return !s.whole; });
        if (delta_e00(own, bare) > 1.5)
            continue; // another surface than the one that is on the bench's card
        ++asked;
        const ThresholdRequest range{std::max(0.5, shows / 2.2), std::min(100.0, std::max(tears, shows) * 1.8), 10, 3};
        const ProofSheet sheet = plan_threshold(request, range, demo.scene(), letters(), seed).value();
        REQUIRE(to_json(sheet_from_json(to_json(sheet), "f").value()) == to_json(sheet));
        const standin::Plate plate = cells_of(demo, sheet, world);
        SheetReading read = read_by_instrument(sheet, plate, seed, 0.3);
        for (std::size_t i = 0; i < sheet.cells(); ++i)
            if (const standin::Burn* b = plate.find(cell_name(sheet, i)))
                read.cells[i].spoiled = !b->surface.whole;
        const ThresholdFinding f = judge_threshold(sheet, read, demo.setup.bench).value();
        INFO(f.words);
        using Found = Onset::Found;
        if (f.shows.found == Found::within) {
            ++within;
            // A bench warms up and plates are patchy: a fiftieth of what is meant is not known better.
            held += f.shows.low / 1.02 <= shows && shows <= f.shows.high * 1.02 ? 1 : 0;
        }
        if (f.shows.spared_up_to > 0) {
            ++spared;
            spared_held += f.shows.spared_up_to <= 1.02 * shows ? 1 : 0;
        }
        if (tears < 100 && f.spoils.found == Found::within) {
            ++spoils;
            spoils_held += f.spoils.low / 1.02 <= tears && tears <= f.spoils.high * 1.02 ? 1 : 0;
        }
        CHECK(answer(sheet, read, demo.scene(), {}) == f.words);
    }
    INFO("asked " << asked << ", within " << within << " held " << held << ", spared " << spared << " held "
                  << spared_held << ", spoils " << spoils << " held " << spoils_held);
    CHECK(asked >= 12);
    CHECK(within >= asked * 3 / 4);
    CHECK(held >= 0.8 * within);
    CHECK(spared_held >= 0.9 * spared);
    CHECK(spoils >= asked / 2);
    CHECK(spoils_held >= 0.8 * spoils);
}

TEST_CASE("a threshold that no cell shows, that all show, and that is sharp", "[threshold]") {
    const DemoBench demo;
    const ThresholdRequest range{4, 40, 8, 3};
    const ProofSheet sheet = plan_threshold(demo.request(4), range, demo.scene(), letters(), 7).value();
    const Lab bare = sheet.threshold->unmarked;
    const auto said = [&](double from) {
        SheetReading read;
        read.sheet_number = sheet.number;
        read.cells.resize(sheet.cells());
        for (std::size_t i = 0; i < sheet.own.size(); ++i)
            read.cells[i] = {
                CellState::read, {bare.l - (sheet.own[i].power_percent > from ? 12 : 0), bare.a, bare.b}, 1, 1};
        return judge_threshold(sheet, read, demo.setup.bench).value();
    };
    using Found = Onset::Found;
    CHECK(said(100).shows.found == Found::above);
    CHECK(said(100).next.high_percent > 40);
    CHECK(said(1).shows.found == Found::below);
    CHECK(said(1).next.high_percent < 6);
    for (double from = 6; from < 38; from *= 1.3) {
        const ThresholdFinding f = said(from);
        CAPTURE(from, f.words);
        REQUIRE(f.shows.found == Found::within);
        // Between two powers that were burned, nine in ten of the room.
        CHECK(f.shows.low <= 1.05 * from);
        CHECK(from <= 1.05 * f.shows.high);
        CHECK(f.next.low_percent < from);
        CHECK(from < f.next.high_percent);
        CHECK(f.next.high_percent / f.next.low_percent < 10);
        CHECK(f.spoils.found == Found::above);
        // The next sheet can be planned as it is told.
        CHECK(plan_threshold(demo.request(5), f.next, demo.scene(), letters(), 8));
    }
    for (const auto& [wanted, code] : {std::pair{ThresholdRequest{10, 11, 8, 3}, "threshold.range"},
                                       {ThresholdRequest{10, 120, 8, 3}, "threshold.range"},
                                       {ThresholdRequest{10, 40, 3, 3}, "threshold.powers"},
                                       {ThresholdRequest{10, 40, 8, 9}, "threshold.powers"}})
        CHECK(plan_threshold(demo.request(4), wanted, demo.scene(), letters(), 7).error().code == code);
    nlohmann::json two = to_json(sheet);
    two["offsets"] = true;
    CHECK(sheet_from_json(two, "f").error().place.field == "threshold");
}

TEST_CASE("an offset series makes one film at every offset, and its verdict is the fastest that passes", "[offsets]") {
    const DemoBench demo;
    const Scene scene = demo.scene();
    const SheetRequest request = demo.request(6);
    const ProofSheet sheet = plan_offsets(request, {}, scene, letters()).value();
    REQUIRE(to_json(sheet_from_json(to_json(sheet), "f").value()) == to_json(sheet));
    const Fill fill = cell_fill(sheet);
    const double film = predict(scene, request.base, fill, unseen)->oxide_nm();
    REQUIRE(sheet.own.size() == 3 * sheet.columns());
    CHECK(sheet.columns() >= 5);
    int below = 0, above = 0;
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        const double asked = film * std::array{1 / 1.17, 1.0, 1.17}.at(i / sheet.columns());
        CHECK(predict(scene, cell_recipe(sheet, i), fill, unseen)->oxide_nm() == Approx(asked).epsilon(0.02));
        below += in_mm(sheet.own[i].focus_offset) < -0.01 ? 1 : 0;
        above += in_mm(sheet.own[i].focus_offset) > 0.01 ? 1 : 0;
    }
    CHECK(below == above);
    // The head moves one way only.
    double last = -1e9;
    for (const ToolStep& s : tool_steps(sheet, layout(sheet), {}))
        if (s.name != "fiducial" && s.name != "label" && s.name != "frame") {
            const double at = in_mm(s.recipe.setting.focus_offset);
            if (std::ranges::any_of(sheet.own, [&](const Setting& o) { return o == s.recipe.setting; })) {
                CHECK(at >= last - 1e-9);
                last = at;
            }
        }
    for (unsigned seed = 1; seed <= 6; ++seed) {
        const standin::World world = draw_world(Grade::honest, 40 + seed);
        SheetReading read = read_by_instrument(sheet, cells_of(demo, sheet, world), seed, 0.3);
        read.cells[1].spoiled = true;
        const Target dark{"dark", {30, 0, 0}, true, 8};
        const Target blue{};
        for (const Target& target : {dark, blue}) {
            const OffsetFinding f = judge_offsets(sheet, read, scene, target).value();
            INFO(f.words);
            REQUIRE(f.offsets.size() == sheet.columns());
            // By trying all cells one by one.
            std::optional<std::size_t> best;
            const auto seconds = [&](std::size_t i) {
                return predict(scene, cell_recipe(sheet, i), {})->mark.pattern.time_s;
            };
            for (const OffsetResult& r : f.offsets) {
                CHECK(r.s_per_cm2 == Approx(seconds(r.cell)));
                CHECK(r.passes == (r.miss <= target.accept_de));
                for (std::size_t i = 0; i < sheet.own.size(); ++i)
                    if (i % sheet.columns() == r.cell % sheet.columns() && !read.cells[i].spoiled)
                        CHECK(distance(target, read.cells[i].lab) >= r.miss);
            }
            const OffsetResult& told = f.offsets.at(f.best);
            for (const OffsetResult& r : f.offsets)
                CHECK((told.passes ? !r.passes || r.s_per_cm2 >= told.s_per_cm2 : !r.passes && r.miss >= told.miss));
            CHECK(std::abs(f.offsets.at(f.in_focus).offset_mm) < 0.01);
            CHECK(answer(sheet, read, scene, target) == f.words);
        }
    }
    SheetRequest away = request;
    away.base.process = Process::deep_engrave;
    CHECK(plan_offsets(away, {}, scene, letters()).error().code == "offsets.no_film");
    CHECK(plan_offsets(request, {mm(0), 4}, scene, letters()).error().code == "offsets.count");
    CHECK(judge_offsets(demo.sheet(), {}, scene, {}).error().code == "offsets.none_asked");
}

TEST_CASE("the number that makes films differ is found, and numbers that go together are not told apart", "[explain]") {
    const DemoBench demo;
    const auto setup = std::make_shared<const Setup>(demo.setup);
    const auto read = [&](std::uint64_t seed, bool power_alone) {
        Draws chance(seed);
        std::vector<Observation> out;
        for (int i = 0; i < 60; ++i) {
            Observation o;
            o.piece = "sheet " + std::to_string(i / 15);
            o.place = std::to_string(i);
            o.recipe = DemoBench::blue();
            Setting& s = o.recipe.setting;
            s.power_percent = chance.even(8, 22);
            if (!power_alone) {
                s.scan_speed = mm_per_second(chance.even(500, 2000));
                s.hatch_pitch = mm(chance.even(0.003, 0.008));
                s.frequency = kilohertz(chance.even(200, 500));
            }
            o.setup = setup;
            const auto p = predict(demo.scene(), o.recipe, o.fill, unseen);
            if (!p)
                continue;
            const double x = std::log(p->mark.pattern.areal_dose_j_m2);
            o.colour = Lab{50 + 20 * std::sin(3 * x) + chance.normal(), 15 * std::cos(2 * x) + chance.normal(),
                           15 * std::sin(2 * x) + chance.normal()};
            out.push_back(o);
        }
        return out;
    };
    int first = 0, sure = 0;
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
        const Explanations e = what_explains(materials(), demo.setup, read(seed, false)).value();
        INFO(e.words);
        const Explaining& q = e.quantities.front();
        first += q.key == "areal_dose_j_mm2" ? 1 : 0;
        sure += e.surely_first > 0.9 ? 1 : 0;
        CHECK(q.low <= q.share);
        CHECK(q.share <= q.high);
        CHECK(q.share > 0.75);
    }
    CHECK(first == 12);
    CHECK(sure >= 11);
    // With one knob turned all that it moves moves together.
    const Explanations together = what_explains(materials(), demo.setup, read(3, true)).value();
    INFO(together.words);
    CHECK(together.surely_first > 0.05);
    CHECK(together.surely_first < 0.95);
    CHECK(std::ranges::any_of(together.quantities,
                              [](const Explaining& q) { return q.key == "scan_speed_mm_s" && !q.varied; }));
    // The same whatever order they come in; of another lot nothing is taken.
    auto seen = read(5, false);
    const auto wanted = to_json(what_explains(materials(), demo.setup, seen).value());
    std::ranges::reverse(seen);
    Setup other = demo.setup;
    other.stock.lot = "elsewhere";
    Observation strange = seen.front();
    strange.piece = "strange";
    strange.setup = std::make_shared<const Setup>(other);
    seen.push_back(strange);
    CHECK(to_json(what_explains(materials(), demo.setup, seen).value()) == wanted);
    CHECK(what_explains(materials(), other, seen).error().code == "explain.too_few");
}

TEST_CASE("what explains the colours on benches of another kind", "[explain]") {
    const DemoBench demo;
    int ahead = 0, judged = 0;
    for (unsigned seed = 1; seed <= 6; ++seed) {
        std::vector<Observation> seen;
        for (int number = 1; number <= 3; ++number) {
            SheetRequest request = demo.request(number);
            request.base.setting.power_percent = 9 + 3 * number;
            request.base.setting.frequency = kilohertz(150 + 100 * number);
            request.across.steps = Steps::ratio;
            ProofSheet sheet = plan_sheet(request, demo.setup.bench, letters()).value();
            sheet = without_hopeless(sheet, forecast(sheet, demo.scene()));
            const SheetReading read =
                read_by_instrument(sheet, cells_of(demo, sheet, draw_world(Grade::honest, 60 + seed)), seed, 0.5);
            const auto places = observed(sheet, read, std::make_shared<const Setup>(demo.setup), "2026-11-24",
                                         "r" + std::to_string(number));
            seen.insert(seen.end(), places.begin(), places.end());
        }
        const auto e = what_explains(materials(), demo.setup, seen);
        if (!e)
            continue;
        ++judged;
        INFO(e->words);
        ahead += e->quantities.front().modelled ? 1 : 0;
        CHECK(e->quantities.front().share > 0.3);
    }
    INFO("the heat model ahead of every single number on " << ahead << " of " << judged);
    CHECK(judged >= 5);
    CHECK(ahead >= judged / 2);
}
