// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "document/json_fields.h"
#include "formats/job_export.h"
#include "formats/run_program.h"
#include "piece/marking_order.h"
#include "piece/part_way.h"
#include "piece/placing.h"
#include "safety/gates.h"
#include "standin/controller.h"

#include <catch2/catch.hpp>
#include <charconv>
#include <map>
#include <nlohmann/json.hpp>
#include <random>
#include <set>
#include <sstream>
#include <tuple>

using namespace finch;
using namespace finch::tests;

namespace {

/// A job of one part with marks that are not the same whichever way they lie.
Job part(double width = 14, double height = 10) {
    Job job;
    job.name = "tag";
    job.setup = DemoBench().setup;
    job.width_mm = width, job.height_mm = height;
    Recipe recipe = DemoBench::blue();
    recipe.setting.hatch_pitch = mm(0.2);
    recipe.setting.passes = 3;
    recipe.turn_per_pass_deg = 31;
    job.layers.push_back({"mark", "#000000", false, recipe,
                          Region{{{{1, 1}, {6, 1}, {6, 2}, {2, 2}, {2, height - 1}, {1, height - 1}},
                                  {{8, 1}, {12, 1}, {12, 4}, {8, 4}}}}});
    job.layers.push_back({"rim", "#333333", true, {}, Region{{{{0, 0}, {width, 0}, {width, height}, {0, height}}}}});
    return job;
}

Job with_two_layers() {
    Job job = part();
    JobLayer second = job.layers[0];
    second.name = "second";
    second.recipe->setting.focus_offset = mm(1.5);
    second.recipe->setting.power_percent = 40;
    second.recipe->cross_hatch = true;
    second.recipe->setting.passes = 2;
    second.contours = 2;
    second.by_shape = true;
    job.layers.push_back(second);
    return job;
}

std::vector<std::pair<std::string, Job>> jobs() {
    std::vector<std::pair<std::string, Job>> out{{"one part", part()}, {"two layers", with_two_layers()}};
    Tray tray;
    tray.columns = 2, tray.rows = 2, tray.pitch_x_mm = 20, tray.pitch_y_mm = 16;
    out.emplace_back("a tray", in_tray(with_two_layers(), tray).value());
    Job own_words = out.back().second;
    own_words.layers[2].only_at = {1, 3};
    out.emplace_back("a tray of which two have a layer of their own", own_words);
    Job tiles = with_two_layers();
    for (int i = 0; i < 3; ++i) {
        JobPlace p{i + 1, {-4.0 * i, 0}, RectMm{4.0 * i, 0, 4, 10}};
        p.by_hand = i > 0;
        tiles.places.push_back(p);
    }
    out.emplace_back("tiles", tiles);
    Job strips = tiles;
    for (JobPlace& p : strips.places)
        p.by_hand = false, p.axis_deg = 9.0 * p.number;
    out.emplace_back("strips", strips);
    Job steps = part();
    steps.steps = {{0, 1, 1, 0}, {0, 0, 1, 12.5}};
    out.emplace_back("an order against heat", steps);
    tray.in_turn = true;
    out.emplace_back("a tray in turn", in_tray(with_two_layers(), tray).value());
    out.emplace_back("a tray in turn, against heat", in_tray(steps, tray).value());
    own_words.in_turn = true;
    out.emplace_back("a tray in turn of which two have a layer of their own", own_words);
    tiles.in_turn = true; // tiles are moved by hand: once each
    out.emplace_back("tiles that cannot be in turn", tiles);
    return out;
}

using Stroke = standin::Stage::Stroke;
/// What a controller of another make understands of a program.
std::vector<Stroke> strokes_of(const std::string& gcode) {
    const auto stages = standin::stages_of(gcode);
    if (!stages)
        FAIL(sentence(stages.error()));
    std::vector<Stroke> out;
    for (const auto& s : *stages)
        for (const Stroke& stroke : s.strokes)
            if (stroke.marks)
                out.push_back(stroke);
    return out;
}

std::vector<Stroke> sorted(std::vector<Stroke> strokes) {
    std::ranges::sort(strokes, {}, [](const Stroke& s) {
        return std::tuple(s.line.from.x, s.line.from.y, s.line.to.x, s.line.to.y);
    });
    return strokes;
}

void same(const std::vector<Stroke>& a, const std::vector<Stroke>& b) {
    REQUIRE(a.size() == b.size());
    for (std::size_t i = 0; i < a.size(); ++i) {
        CHECK(a[i].line.from == b[i].line.from);
        CHECK(a[i].line.to == b[i].line.to);
        CHECK(a[i].speed_mm_s == b[i].speed_mm_s);
    }
}

std::vector<std::string> keys(const std::vector<Gate>& gates, std::optional<GateVerdict> only = {}) {
    std::vector<std::string> out;
    for (const Gate& g : gates)
        if (!only || (g.kind == GateKind::known && g.known == *only))
            out.push_back(g.key);
    return out;
}

SafetyTable table() {
    return load_safety(FINCH_SOURCE "/data").value();
}

Circumstances all_well() {
    Circumstances out;
    out.focus_confirmed = true;
    out.focus_words = "Confirmed";
    out.enclosure_open = false;
    return out;
}

} // namespace

TEST_CASE("of parts in turn each gets a pass before any gets the next, and no less than its pause", "[run]") {
    for (const double pause : {0.0, 0.4, 3.0, 500.0}) {
        Job one = part();
        one.steps = {{0, 1, 1, 0}, {0, 0, 1, pause}};
        Tray tray;
        tray.columns = 3, tray.rows = 2, tray.pitch_x_mm = 20, tray.pitch_y_mm = 16;
        const std::string one_by_one = job_gcode(in_tray(one, tray).value()).value();
        tray.in_turn = true;
        const Job job = in_tray(one, tray).value();
        // What a clock beside a bench without jumps and delays sees: when each nest was left, and when it is begun.
        std::istringstream lines(job_gcode(job).value());
        std::map<std::string, double> left;
        std::vector<std::string> visits;
        std::string nest;
        double now = 0, other = 0, shortest = 1e9, dwelt = 0;
        PointMm at;
        for (std::string line; std::getline(lines, line);) {
            std::istringstream words(line);
            PointMm to = at;
            double feed = 0, dwell = 0;
            for (std::string word; words >> word && word[0] != ';';)
                std::from_chars(word.data() + 1, word.data() + word.size(),
                                word[0] == 'X'   ? to.x
                                : word[0] == 'Y' ? to.y
                                : word[0] == 'F' ? feed
                                : word[0] == 'P' ? dwell
                                                 : other);
            now += dwell, dwelt += dwell;
            if (line.starts_with("; nest ")) {
                if (!nest.empty())
                    left[nest] = now;
                nest = line.substr(7);
                visits.push_back(nest);
            }
            if (line.starts_with("G1")) {
                if (left.contains(nest)) {
                    shortest = std::min(shortest, now - left[nest]);
                    left.erase(nest);
                }
                now += std::hypot(to.x - at.x, to.y - at.y) / (feed / 60);
            }
            at = to;
        }
        INFO(pause);
        REQUIRE(visits.size() == 12);
        for (std::size_t i = 0; i < 6; ++i)
            CHECK(visits[i] == visits[i + 6]);
        CHECK(shortest >= pause - 1e-3);
        CHECK(dwelt == Approx(pauses_s(job).value()).margin(0.01));
        if (pause == 0.4)
            CHECK(dwelt == 0); // the others take longer than that
        if (pause == 500)
            CHECK(dwelt < 520); // once for all, not for each
        same(sorted(strokes_of(job_gcode(job).value())), sorted(strokes_of(one_by_one)));
        Job back = job_from_json(to_json(job), "").value();
        CHECK(back.in_turn);
        CHECK(to_json(back) == to_json(job));
    }
}

TEST_CASE("passes that are sent one by one mark what the whole job marks, in its order and time", "[run]") {
    for (const auto& [name, job] : jobs()) {
        INFO(name);
        const ScannerKnowledge scanner = fitted(job.setup.bench.scanner);
        const auto plan = run_plan(job, scanner).value();
        std::vector<Stroke> all;
        double likely = 0, paused = 0;
        int by_hand = 0;
        for (const RunPortion& p : plan) {
            const auto some = strokes_of(portion_gcode(job, p).value());
            CHECK_FALSE(some.empty());
            all.insert(all.end(), some.begin(), some.end());
            likely += p.likely_s;
            paused += p.pause_s;
            by_hand += p.moved_by_hand ? 1 : 0;
        }
        same(all, strokes_of(job_gcode(job).value()));
        const double whole = time_of(scanner, loads_of(job).value()).likely;
        // A pass that is turned has other lines than the first; shapes that are sent apart take a pass's overhead each.
        if (job.steps.empty())
            CHECK(likely == Approx(whole).epsilon(0.05));
        else
            CHECK(likely - paused > whole);
        CHECK(paused == Approx(pauses_s(job).value()));
        CHECK(by_hand == std::ranges::count_if(places_of(job), [](const JobPlace& p) { return p.by_hand; }));
    }
    Job nothing = part();
    nothing.layers[0].guide = true;
    CHECK(run_plan(nothing, fitted(nothing.setup.bench.scanner)).error().code == "job.empty");
    nothing.layers[0].guide = false;
    nothing.layers[0].recipe.reset();
    CHECK(run_plan(nothing, fitted(nothing.setup.bench.scanner)).error().code == "job.no_recipe");
}

TEST_CASE("a program that was stopped after any line goes on with no line twice and none left out", "[run]") {
    std::mt19937 draw(11);
    for (const auto& [name, job] : jobs()) {
        const auto plan = run_plan(job, fitted(job.setup.bench.scanner)).value();
        for (const std::size_t at : {std::size_t{0}, plan.size() / 2, plan.size() - 1}) {
            const std::string whole = portion_gcode(job, plan[at]).value();
            const auto lines = static_cast<int>(std::ranges::count(whole, '\n'));
            const auto all = strokes_of(whole);
            for (int trial = 0; trial < 40; ++trial) {
                INFO(name << ", portion " << at << ", trial " << trial);
                // Stopped twice: the second time in what was left.
                const int first = std::uniform_int_distribution<int>(0, lines)(draw);
                const LeftProgram left = left_after(whole, first).value();
                std::vector<Stroke> done;
                for (const Stroke& s : all)
                    if (s.of_line <= first)
                        done.push_back(s);
                const auto rest = strokes_of(left.gcode);
                const int again = std::uniform_int_distribution<int>(0, lines)(draw);
                for (const Stroke& s : rest)
                    if (s.of_line + left.shift <= again)
                        done.push_back(s);
                const LeftProgram last = left_after(whole, std::max(first, again)).value();
                const auto end = strokes_of(last.gcode);
                done.insert(done.end(), end.begin(), end.end());
                same(done, all);
            }
            // Sent in pieces that the bench takes at once.
            std::vector<Stroke> pieces;
            for (int line = 0;;) {
                const LeftProgram left = left_after(whole, line).value();
                const ProgramSlice slice = first_slice(left.gcode, 400);
                const auto some = strokes_of(std::string(slice.gcode));
                pieces.insert(pieces.end(), some.begin(), some.end());
                if (slice.whole)
                    break;
                REQUIRE(slice.lines + left.shift > line);
                line = slice.lines + left.shift;
            }
            same(pieces, all);
            // With the power, lens and rotary of the whole.
            const LeftProgram late = left_after(whole, lines - 3).value();
            for (const char* word : {"\nG0 Z", " S"})
                CHECK((whole.find(word) == std::string::npos) == (late.gcode.find(word) == std::string::npos));
        }
    }
    CHECK(left_after("G21\n", 2).error().code == "run.line");
    CHECK(left_after("", -1).error().code == "run.line");
    // Whatever it is given.
    for (int trial = 0; trial < 2000; ++trial) {
        std::string text;
        for (int i = std::uniform_int_distribution<int>(0, 60)(draw); i > 0; --i)
            text += "GMXYZAFSP0123456789.-; \n\r\xff"[std::uniform_int_distribution<int>(0, 26)(draw)];
        const int line = std::uniform_int_distribution<int>(-1, 8)(draw);
        if (const auto left = left_after(text, line); left && line > 0)
            CHECK(left->gcode.starts_with("G21\nG90\nM5\n"));
    }
}

TEST_CASE("the gates of a job come from its own risks", "[run][gates]") {
    struct Row {
        const char* name;
        const char* stock;
        std::function<void(Job&, Circumstances&)> change;
        std::vector<std::string> asked, not_asked, refused;
    };
    const std::vector<Row> rows{
        {"a colour on thick steel",
         "sundial-316",
         [](Job&, Circumstances&) {},
         {"eyewear", "under", "frame", "room"},
         {"bright", "chuck", "spray", "enclosure_asked"},
         {}},
        {"brass throws the beam back", "finishing-stamp-brass", [](Job&, Circumstances&) {}, {"bright"}, {"spray"}, {}},
        {"the focus is stale",
         "sundial-316",
         [](Job&, Circumstances& c) { c.focus_confirmed = false; },
         {},
         {},
         {"focus"}},
        {"another bench lies there",
         "sundial-316",
         [](Job&, Circumstances& c) { c.as_made_for = false; },
         {},
         {},
         {"setup"}},
        {"the door is open",
         "sundial-316",
         [](Job&, Circumstances& c) { c.enclosure_open = true; },
         {},
         {},
         {"enclosure"}},
        {"the bench does not tell of its door",
         "sundial-316",
         [](Job&, Circumstances& c) { c.enclosure_open.reset(); },
         {"enclosure"},
         {},
         {}},
        {"nobody looked for a coat",
         "sundial-316",
         [](Job& j, Circumstances&) { j.setup.stock.coating = Coating::unknown; },
         {"coat"},
         {},
         {}},
        {"it was found bare",
         "sundial-316",
         [](Job& j, Circumstances&) { j.setup.stock.coating = Coating::none; },
         {},
         {"coat"},
         {}},
        {"it does not fit the field",
         "sundial-316",
         [](Job& j, Circumstances&) {
             for (auto& p : j.layers[0].region.rings[1])
                 p.x += 400;
         },
         {},
         {},
         {"field"}},
        {"round a turned part",
         "sundial-316",
         [](Job& j, Circumstances&) {
             j.places = {{1, {}, RectMm{0, 0, 4, 10}, 9.0}};
         },
         {"chuck"},
         {},
         {}},
        {"hours of it",
         "finishing-stamp-brass",
         [](Job& j, Circumstances&) {
             j.layers[0].recipe->setting = {80,  kilohertz(45), nanoseconds(150), mm_per_second(1000), mm(0.02), 0,
                                            600, mm(0)};
             j.layers[0].recipe->process = Process::engrave;
         },
         {"stays", "held"},
         {},
         {}},
        {"a wet film",
         "gauge-strip-304",
         [](Job& j, Circumstances& c) {
             j.layers[0].recipe->process = Process::compound;
             c.film_drying = "It is wet.";
         },
         {"spray"},
         {},
         {"film"}},
        {"a recipe that the source cannot burn",
         "sundial-316",
         [](Job& j, Circumstances&) { j.layers[0].recipe->setting.frequency = kilohertz(90000); },
         {},
         {},
         {"recipe"}},
    };
    for (const Row& row : rows) {
        INFO(row.name);
        Job job = part();
        job.setup.stock = load_stock(FINCH_SOURCE "/data", row.stock).value();
        Circumstances now = all_well();
        row.change(job, now);
        const auto metal = materials().find(job.setup.stock.metal).value();
        const Scene scene{materials(), *metal, job.setup.bench, job.setup.stock, {}};
        const auto plan = run_plan(job, fitted(job.setup.bench.scanner)).value();
        const auto gates = gates_of(job, risks_of(job, plan, scene), *metal, table(), now);
        const auto all = keys(gates);
        for (const std::string& key : row.asked)
            CHECK(std::ranges::count(all, key) == 1);
        for (const std::string& key : row.not_asked)
            CHECK(std::ranges::count(all, key) == 0);
        CHECK(keys(gates, GateVerdict::refused) == row.refused);
        // All is asked, whatever the job: each must be answered, and a refused answer locks.
        std::vector<GateAnswer> answers;
        for (const Gate& g : gates) {
            if (g.kind == GateKind::known)
                continue;
            CHECK_FALSE(verdict_at(g, answers));
            CHECK_FALSE(g.why.empty());
            answers.push_back({g.key,
                               g.kind == GateKind::choice     ? g.choices.front().key
                               : g.kind == GateKind::initials ? "OD"
                                                              : "",
                               "OD", "2026-11-24T09:00:00Z"});
        }
        CHECK(locked_by(gates, answers).size() == row.refused.size());
        for (GateAnswer& a : answers)
            if (a.key == "under")
                a.choice = "burns";
        CHECK(locked_by(gates, answers).size() == row.refused.size() + 1);
        for (std::size_t i = 0; i < answers.size(); ++i) {
            auto one_less = answers;
            one_less.erase(one_less.begin() + static_cast<std::ptrdiff_t>(i));
            CHECK_FALSE(locked_by(gates, one_less).empty());
        }
    }
}

TEST_CASE("the table of a shop is read whole or named where it is wrong", "[run][gates]") {
    const auto text = read_text_file(FINCH_SOURCE "/data/safety.json").value();
    const auto good = parse_json(text, "safety.json").value();
    CHECK(safety_from_json(good, "safety.json").value().look_every_min == 15);
    // Every metal that ships has its fume.
    for (const auto& metal : materials().metals)
        CHECK(table().fume.contains(metal->key));
    for (const auto& [field, wrong] : std::vector<std::pair<const char*, nlohmann::json>>{
             {"look_every_min", {{"value", 0}, {"source", "x"}}},
             {"look_every_min", {{"value", 5}}},
             {"under", nlohmann::json::array()},
             {"under", {{{"key", "x"}, {"words", "x"}, {"text", ""}, {"verdict", "maybe"}}}},
             {"fume", {{"brass", 5}}},
             {"version", 2}}) {
        auto bad = good;
        bad[field] = wrong;
        INFO(bad[field].dump());
        const auto read = safety_from_json(bad, "safety.json");
        REQUIRE_FALSE(read);
        CHECK(sentence(read.error()).find(field) != std::string::npos);
    }
}

TEST_CASE("what a long run should look like is told pass by pass", "[run]") {
    Job job = part();
    job.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    job.layers[0].recipe->process = Process::engrave;
    job.layers[0].recipe->setting = {80, kilohertz(45), nanoseconds(150), mm_per_second(1000), mm(0.02), 0, 300, mm(0)};
    const auto metal = materials().find("brass").value();
    const Scene scene{materials(), *metal, job.setup.bench, job.setup.stock, {}};
    double last = 0;
    std::set<std::string> stages;
    for (const int done : {1, 5, 20, 60, 150, 300}) {
        const PartWay now = part_way(scene, job.layers[0], done).value();
        CHECK(now.depth_um > last);
        CHECK(now.least_um <= now.depth_um);
        CHECK(now.most_um >= now.depth_um);
        last = now.depth_um;
        stages.insert(now.stage);
    }
    // At its end it is what is predicted of the whole.
    const auto whole = predict(scene, *job.layers[0].recipe,
                               {mm(std::sqrt(area_mm2(job.layers[0].region))), area_mm2(job.layers[0].region)});
    CHECK(last == Approx(whole->depth_um()));
    CHECK(stages.size() >= 2);
}
