// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The tables that a new knob or process adds a row to, and what works on all rows at once.
#include "demo_bench.h"
#include "physics/crew.h"
#include "recipe/plan.h"
#include "recipe/weigh.h"

#include <atomic>
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <set>

using namespace finch;
using namespace finch::tests;

TEST_CASE("every knob has a whole row, and its row moves it alone", "[tables]") {
    const Bench bench = DemoBench().setup.bench;
    std::set<std::string_view> keys, strokes;
    for (const Knob knob : all_knobs) {
        const KnobTraits& t = traits(knob);
        INFO(t.label);
        CHECK(t.knob == knob);
        CHECK(keys.insert(t.key).second);
        CHECK(strokes.insert(t.stroke).second);
        CHECK(knob_from_key(t.key).value() == knob);
        CHECK(t.screen_factor > 0);
        CHECK(t.more.empty() == t.less.empty());
        const KnobLimits limits = knob_limits(bench, knob);
        CHECK(limits.low < limits.high);
        CHECK(limits.low >= t.low);
        CHECK(limits.high <= t.high);
        CHECK((!t.positive || limits.low > 0));
        // Moved to a value and read again; everything else stays.
        const Recipe before = DemoBench::blue();
        const double value = t.whole ? 3 : 0.5 * (limits.low + limits.high) + 0.25;
        const Recipe after = with_knob(before, knob, value);
        CHECK(knob_value(after, knob) == Approx(value));
        for (const Knob other : all_knobs)
            if (other != knob)
                CHECK(knob_value(after, other) == knob_value(before, other));
        // Through a file as well; left out of it, it is the usual value or a fault that names it.
        nlohmann::json document = to_json(after);
        CHECK(knob_value(recipe_from_json(document, "x").value(), knob) == Approx(value));
        document.erase(std::string(t.key));
        const auto without = recipe_from_json(document, "x");
        REQUIRE(without.has_value() == t.usual.has_value());
        if (without)
            CHECK(knob_value(*without, knob) == *t.usual);
        else
            CHECK(sentence(without.error()).find(t.key) != std::string::npos);
        document[std::string(t.key)] = t.high * 2 + 1;
        CHECK_FALSE(recipe_from_json(document, "x"));
    }
    CHECK_FALSE(knob_from_key("mood"));
}

TEST_CASE("every process has a whole row, and its rules stay within what they are for", "[tables]") {
    std::set<std::string_view> keys;
    for (const Process process : all_processes) {
        const ProcessTraits& t = traits(process);
        const ProcessRules& r = rules(process);
        INFO(t.label);
        CHECK(t.process == process);
        CHECK(r.process == process);
        CHECK(keys.insert(t.key).second);
        CHECK(process_from_key(t.key) == process);
        CHECK(r.miss != nullptr);
        REQUIRE_FALSE(r.schools.empty());
        CHECK((r.look_decides || !t.lasting_colour));
        std::set<School> schools;
        for (const SchoolRules& school : r.schools) {
            CHECK(schools.insert(school.school).second);
            CHECK(&rules(process, school.school) == &school);
            CHECK((r.schools.size() == 1) == school.label.empty());
            CHECK(school.sheet.across != school.sheet.down);
            CHECK(school.sheet.reach > 1);
            std::set<Knob> turned;
            for (const SearchAxis& axis : school.search) {
                CHECK(turned.insert(axis.knob).second);
                CHECK(axis.low < axis.high);
                CHECK((!axis.by_ratio || axis.low > 0));
                for (const double seed : axis.seeds)
                    CHECK((seed > 0 && seed < 1));
            }
        }
    }
    CHECK(&rules(Process::engrave, School::in_focus) == &rules(Process::engrave).schools.front());
    CHECK_FALSE(process_from_key("polka"));
}

TEST_CASE("what a search does not ask of its tries changes nothing that it does ask", "[tables]") {
    const DemoBench demo;
    for (const double power : {6.0, 13.0, 40.0, 95.0})
        for (const double speed : {150.0, 990.0, 5000.0}) {
            Recipe r = DemoBench::blue();
            r.setting.power_percent = power;
            r.setting.scan_speed = mm_per_second(speed);
            r.setting.passes = 3;
            const Prediction whole = predict(demo.scene(), r, {mm(10), 100}).value();
            const Prediction brief = predict(demo.scene(), r, {mm(10), 100}, unseen).value();
            INFO(power << " %, " << speed << " mm/s: " << word(whole.effect));
            CHECK(brief.effect == whole.effect);
            CHECK(brief.oxide_nm() == whole.oxide_nm());
            CHECK(brief.depth_um() == whole.depth_um());
            CHECK(brief.mark.melt_index == whole.mark.melt_index);
            CHECK(brief.removal_index == whole.removal_index);
            CHECK(brief.mark.pattern.time_s == whole.mark.pattern.time_s);
            if (whole.film_seen())
                CHECK(colour_from_above(brief, *demo.metal) == whole.lab());
        }
}

TEST_CASE("a crew does every part once, and what a part throws comes out of it", "[tables]") {
    for (const int threads : {1, 2, 5}) {
        Crew crew(threads);
        for (const int parts : {0, 1, 2, 3, 100}) {
            std::vector<std::atomic<int>> done(static_cast<std::size_t>(parts));
            crew.run(parts, [&](int i) { ++done[static_cast<std::size_t>(i)]; });
            for (const auto& d : done)
                CHECK(d == 1);
        }
        for (int bad = 0; bad < 8; ++bad) {
            std::atomic<int> begun = 0;
            CHECK_THROWS_WITH(crew.run(8,
                                       [&](int i) {
                                           ++begun;
                                           if (i == bad)
                                               throw std::runtime_error("part " + std::to_string(i));
                                       }),
                              "part " + std::to_string(bad));
            CHECK(begun >= 1);
        }
        // And it still works.
        std::atomic<int> sum = 0;
        crew.run(10, [&](int i) { sum += i; });
        CHECK(sum == 45);
    }
}

TEST_CASE("weighing gives the same on one thread and on three, shows each step, and stops when told", "[tables]") {
    const DemoBench demo;
    Aim aim;
    aim.title = "dial";
    aim.fill = {mm(20), 200};
    aim.wishes = {usual_wish(WishKind::dark), usual_wish(WishKind::minutes, false)};
    const std::vector<Bench> others{load_bench(FINCH_SOURCE "/data", "mallow").value()};
    std::vector<std::size_t> shown;
    const Weighing one =
        weigh(demo.scene(), aim, others, 1, [&](const Weighing& w) { shown.push_back(w.proposals.size()); });
    const Weighing three = weigh(demo.scene(), aim, others, 3);
    REQUIRE(one.proposals.size() == three.proposals.size());
    CHECK(one.headline == three.headline);
    for (std::size_t i = 0; i < one.proposals.size(); ++i) {
        CHECK(one.proposals[i].label == three.proposals[i].label);
        CHECK(one.proposals[i].bench == three.proposals[i].bench);
        CHECK(one.proposals[i].candidate().recipe == three.proposals[i].candidate().recipe);
    }
    CHECK(shown.size() >= one.proposals.size());
    CHECK(shown.front() == 1);
    for (const int threads : {1, 3}) {
        int calls = 0;
        std::stop_source stop;
        std::size_t last_shown = 0;
        const auto second_stops = [&](const Weighing& so_far) {
            last_shown = so_far.proposals.size();
            if (++calls == 2)
                stop.request_stop();
        };
        const Weighing stopped = weigh(demo.scene(), aim, others, threads, second_stops, stop.get_token());
        CHECK(calls == 2);
        CHECK(stopped.proposals.size() == last_shown); // what is given back is what was shown
    }
    // A plan that is told to stop gives up in its midst: what it was about does not come out half done.
    for (const PlanTask& task : possible_tasks(demo.scene())) {
        if (task.process == Process::creep_up)
            continue;
        std::stop_source stop;
        stop.request_stop();
        CHECK(plan(demo.scene(), aim, task, stop.get_token()).error().code == "work.cancelled");
    }
}
