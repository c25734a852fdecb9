// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/field.h"
#include "bench/focus_arithmetic.h"
#include "bench/round_part.h"
#include "demo_bench.h"
#include "proof/first_sheet.h"
#include "recipe/borrowed.h"
#include "recipe/check.h"
#include "recipe/creep_up.h"
#include "recipe/knob_effects.h"
#include "recipe/regime_map.h"
#include "recipe/weigh.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

Bench bench(const char* name) {
    return load_bench(FINCH_SOURCE "/data", name).value();
}

struct Case {
    const char* metal;
    Coating coating;
    double thickness_mm;
    std::vector<Wish> wishes;
};

Wish wish(WishKind kind, double value, double high = 0) {
    return {kind, true, value, high, {36, 2, -28}};
}

const std::vector<Case>& cases() {
    static const std::vector<Case> table{
        {"stainless-304", Coating::none, 1.4, {wish(WishKind::dark, 40)}},
        {"stainless-316", Coating::none, 2.6, {wish(WishKind::dark, 35), usual_wish(WishKind::corrosion_kept)}},
        {"titanium-2", Coating::none, 1.2, {wish(WishKind::colour, 6)}},
        {"tool-steel", Coating::none, 3, {wish(WishKind::depth, 280, 320)}},
        {"brass", Coating::none, 12, {wish(WishKind::depth, 140, 160)}},
        {"copper", Coating::none, 3, {wish(WishKind::bright, 70)}},
        {"aluminium", Coating::anodised, 2, {usual_wish(WishKind::coat_kept)}},
        {"stainless-304", Coating::powder_coat, 1.6, {usual_wish(WishKind::metal_unmarked)}},
    };
    return table;
}

bool inside(const Recipe& r, const Bench& b) {
    for (const Knob k : all_knobs) {
        if (k == Knob::pulse_width && b.source.kind != SourceKind::variable_pulse_width)
            continue;
        const KnobLimits l = knob_limits(b, k);
        const double v = knob_value(r, k), slack = 1e-9 * std::max(std::abs(l.low), std::abs(l.high));
        if (v < l.low - slack || v > l.high + slack)
            return false;
    }
    return true;
}

} // namespace

TEST_CASE("a plan keeps to the bench, and each candidate meets the aim or says why not", "[plan]") {
    int plans = 0, met = 0;
    for (const char* name : {"wren", "heron", "mallow"}) {
        const Bench b = bench(name);
        for (const Case& c : cases()) {
            const auto metal = materials().find(c.metal).value();
            Stock stock;
            stock.metal = c.metal;
            stock.coating = c.coating;
            stock.thickness = mm(c.thickness_mm);
            Aim aim;
            aim.wishes = c.wishes;
            const Scene scene{materials(), *metal, b, stock, {}};
            for (const PlanTask& task : possible_tasks(scene)) {
                const auto p = plan(scene, aim, task);
                INFO(name << ", " << c.metal << ", " << label(task, materials()));
                REQUIRE(p);
                ++plans;
                REQUIRE_FALSE(p->candidates.empty());
                for (const Candidate& k : p->candidates) {
                    INFO(to_json(k.recipe).dump());
                    CHECK(inside(k.recipe, b));
                    CHECK(k.recipe.process == task.process);
                    CHECK(k.meets == k.why_not.empty());
                    CHECK((!k.meets || !traits(k.recipe.process).lasting_colour || k.prediction.film_seen()));
                    CHECK_FALSE(k.kinds.empty());
                    CHECK(k.verdicts.size() == aim.wishes.size());
                    // What it says of itself is what the model says of the recipe.
                    const auto again = predict({materials(), *metal, b, stock}, k.recipe, aim.fill);
                    REQUIRE(again);
                    CHECK(*again == k.prediction);
                    CHECK((miss(scene, aim, k.recipe, *again).size <= 1e-3) == k.meets);
                    met += k.meets ? 1 : 0;
                }
                // The fastest is no slower than any other that meets.
                for (const Candidate& k : p->candidates)
                    if (p->candidates.front().meets && k.meets)
                        CHECK(p->candidates.front().effort.seconds() <= 1.03 * k.effort.seconds());
            }
        }
    }
    CHECK(plans >= 60);
    CHECK(met >= 100);
}

TEST_CASE("both schools of annealing are planned at equal dose", "[plan]") {
    const DemoBench demo;
    Aim aim;
    aim.wishes = {wish(WishKind::dark, 40)};
    const Scene scene{materials(), *demo.metal, demo.setup.bench, demo.setup.stock, {}};
    const Weighing w = weigh(scene, aim);
    const auto dose = [&](School school) {
        for (const Proposal& p : w.proposals)
            if (p.task.school == school)
                return p.candidate().prediction.mark.pattern.areal_dose_j_m2;
        return 0.0;
    };
    CHECK(dose(School::in_focus) > 0);
    CHECK(dose(School::out_of_focus) == Approx(dose(School::in_focus)).epsilon(0.02));
    // Side by side.
    for (std::size_t i = 0; i + 1 < w.proposals.size(); ++i)
        if (w.proposals[i].task.school == School::in_focus || w.proposals[i].task.school == School::out_of_focus)
            CHECK((w.proposals[i + 1].school_group == w.proposals[i].school_group ||
                   (i > 0 && w.proposals[i - 1].school_group == w.proposals[i].school_group)));
}

TEST_CASE("unlikely wishes are challenged, impossible processes say why", "[plan]") {
    const Bench wren = bench("wren");
    const auto challenged = [&](const char* metal, std::vector<Wish> wishes, const char* word_) {
        Stock stock;
        stock.metal = metal;
        stock.coating = Coating::none;
        const auto m = materials().find(metal).value();
        Aim aim;
        aim.wishes = std::move(wishes);
        for (const std::string& c : challenges({materials(), *m, wren, stock, {}}, aim))
            if (c.find(word_) != std::string::npos)
                return true;
        return false;
    };
    CHECK(challenged("brass", {usual_wish(WishKind::dark)}, "Black"));
    CHECK(challenged("aluminium", {usual_wish(WishKind::colour)}, "Colour"));
    CHECK(challenged("tool-steel", {wish(WishKind::depth, 500, 550), wish(WishKind::minutes, 2)}, "0.5 mm"));
    CHECK_FALSE(challenged("titanium-2", {usual_wish(WishKind::colour)}, "Colour"));
    CHECK_FALSE(challenged("tool-steel", {wish(WishKind::depth, 20, 30), wish(WishKind::minutes, 60)}, "unlikely"));
    struct Row {
        const char* bench;
        const char* metal;
        Coating coating;
        Process process;
        const char* word;
    };
    for (const Row& r : {Row{"mallow", "stainless-304", Coating::none, Process::anneal, "gas"},
                         Row{"wren", "brass", Coating::none, Process::colour, "oxide"},
                         Row{"wren", "stainless-304", Coating::none, Process::strip, "no coat"},
                         Row{"wren", "stainless-304", Coating::powder_coat, Process::bleach, "anodised"},
                         Row{"wren", "aluminium", Coating::anodised, Process::engrave, "coated"},
                         Row{"wren", "slate", Coating::none, Process::engrave, "Nothing is predicted"}}) {
        INFO(r.bench << " " << r.metal);
        Stock stock;
        stock.metal = r.metal;
        stock.coating = r.coating;
        const Bench b = bench(r.bench);
        const auto can = possible({materials(), *materials().find(r.metal).value(), b, stock, {}},
                                  {r.process, School::single, {}, {}});
        REQUIRE_FALSE(can);
        CHECK(can.error().message.find(r.word) != std::string::npos);
    }
}

TEST_CASE("non-metals get a start and a climb, never a prediction", "[plan]") {
    const Bench b = bench("wren");
    for (const char* key : {"slate", "silicone-rubber", "acrylic"}) {
        INFO(key);
        Stock stock;
        stock.metal = key;
        const auto metal = materials().find(key).value();
        const Scene scene{materials(), *metal, b, stock, {}};
        const Climb dark = creep_up(scene, 10).value(), pale = creep_up(scene, 90).value();
        CHECK(pale.steps.front().dose_j_mm2 > dark.steps.front().dose_j_mm2);
        REQUIRE(dark.steps.size() >= 2);
        for (std::size_t i = 1; i < dark.steps.size(); ++i)
            CHECK(dark.steps[i].power_percent == Approx(1.1 * dark.steps[i - 1].power_percent));
        CHECK(dark.steps.back().dose_so_far_j_mm2 <= materials().non_metal(key)->most_dose_j_mm2);
        CHECK_FALSE(dark.stop_when.empty());
        CHECK(inside(dark.start, b));
        const Prediction p = predict({materials(), *metal, b, stock}, dark.start, {mm(10), 100}).value();
        CHECK(p.effect == Effect::not_modelled);
        CHECK_FALSE(appearance(scene, dark.start, p).known);
    }
}

TEST_CASE("a diode may colour, but only for decoration", "[plan]") {
    Bench diode = bench("wren");
    diode.source.kind = SourceKind::blue_diode;
    diode.source.wavelength = nanometres(450);
    Stock stock;
    stock.coating = Coating::none;
    const Scene scene{materials(), *materials().find(stock.metal).value(), diode, stock, {}};
    const auto p = plan(scene, {}, {Process::colour, School::speed_by_pitch, {}, {}}).value();
    CHECK_FALSE(p.candidates.front().meets);
    CHECK(p.candidates.front().why_not.find("Decorative only") == 0);
    CHECK_FALSE(possible(scene, {Process::engrave, School::single, {}, {}}));
}

TEST_CASE("a transfer there and back returns the recipe when nothing was clamped", "[transfer]") {
    std::mt19937 rng(3);
    const auto log_in = [&](double low, double high) {
        return std::exp(std::uniform_real_distribution<double>(std::log(low), std::log(high))(rng));
    };
    MachineLimits wide, there;
    wide.power_w = {0.5, 100};
    wide.speed_mm_s = {5, 9000};
    wide.frequency_khz = {1, 1500};
    wide.spot_mm = {0.02, 0.4};
    wide.pulses_ns = {100};
    there = wide;
    there.spot_mm = {0.03, 0.3};
    int free = 0, clamped = 0;
    for (int i = 0; i < 60; ++i) {
        const MachineSettings old{
            log_in(1, 60), log_in(50, 2000), log_in(10, 400), log_in(0.025, 0.2), log_in(0.003, 0.05), 100, 1, 1064};
        for (const TransferFamily f : {TransferFamily::anneal, TransferFamily::colour, TransferFamily::engrave,
                                       TransferFamily::strip, TransferFamily::compound}) {
            const TransferResult out = transfer(old, f, there).value();
            const TransferResult back = transfer(out.settings, f, wide).value();
            if (out.clamped.empty()) {
                ++free;
                for (const auto& [a, b] : {std::pair{old.power_w, back.settings.power_w},
                                           {old.speed_mm_s, back.settings.speed_mm_s},
                                           {old.frequency_khz, back.settings.frequency_khz},
                                           {old.spot_mm, back.settings.spot_mm},
                                           {old.pitch_mm, back.settings.pitch_mm}})
                    CHECK(b == Approx(a).epsilon(0.02));
                CHECK(out.verdict == TransferVerdict::equivalent);
                continue;
            }
            ++clamped;
            // The report names what broke, with what that does, in order of importance.
            const bool lost = std::any_of(out.report.begin(), out.report.end(), [](const Kept& k) { return !k.kept; });
            CHECK(lost == (out.verdict != TransferVerdict::equivalent));
            for (const Kept& k : out.report)
                CHECK(k.kept == k.effect.empty());
        }
    }
    CHECK(free > 50);
    CHECK(clamped > 10);
}

TEST_CASE("a recipe is carried to a fixed source with what that bench's window must be told", "[transfer]") {
    Recipe blue = DemoBench::blue();
    blue.process = Process::colour;
    const Bench wren = bench("wren"), heron = bench("heron");
    CHECK(cannot_run(wren, blue).empty());
    CHECK(cannot_run(heron, blue).size() == 2); // pulse width and frequency
    const Carried c = carry(wren, blue, heron).value();
    CHECK(inside(c.recipe, heron));
    CHECK(c.result.verdict == TransferVerdict::new_proof_needed);
    CHECK(c.result.report.front().invariant == Invariant::pulses_per_mm2);
    CHECK(c.typed.typed.power > 0);
    CHECK(std::fmod(c.typed.typed.pitch, 10) == Approx(0).margin(1e-6)); // lines per inch, in tens
    // Below its full-power frequency the percentage makes up for what the source does not give.
    Recipe low = blue;
    low.setting = {70.6, kilohertz(26.8), nanoseconds(200), mm_per_second(600), mm(0.03), 0, 1, mm(0)};
    const MachineSettings was = machine_settings(wren, low);
    CHECK(machine_settings(wren, recipe_on(wren, was, low)).power_w == Approx(was.power_w));
    // The verdict comes from what happens on both benches: soft pulses turn into ones that tear.
    Recipe dark = blue;
    dark.process = Process::anneal;
    dark.setting = {25, kilohertz(300), nanoseconds(200), mm_per_second(150), mm(0.01), 0, 1, mm(0)};
    const DemoBench demo;
    const Scene here{materials(), *demo.metal, wren, demo.setup.stock, {}};
    Carried anneal = carry(wren, dark, heron).value();
    const CarriedOutcome told = carried_outcome(here, dark, heron, anneal, {mm(10), 100}).value();
    CHECK(told.before.effect == Effect::dark);
    CHECK(told.fluence.ratio > 2);
    CHECK(told.verdict == TransferVerdict::new_proof_needed);
    CHECK_FALSE(told.reasons.empty());
    // To itself nothing changes.
    Carried same = carry(wren, dark, wren).value();
    CHECK(carried_outcome(here, dark, wren, same, {mm(10), 100}).value().verdict == TransferVerdict::equivalent);
    // What would show nothing gets a start that does something.
    Carried faint = carry(wren, blue, heron).value();
    const CarriedOutcome start = carried_outcome(here, blue, heron, faint, {mm(10), 100}).value();
    CHECK(start.verdict == TransferVerdict::new_proof_needed);
    CHECK(start.after.effect != Effect::none);
    // What is typed there is the recipe that is judged.
    const Carried first = carry(wren, blue, heron).value();
    const double slower = knob_value(faint.recipe, Knob::scan_speed) / knob_value(first.recipe, Knob::scan_speed);
    CHECK(slower < 1);
    CHECK(faint.typed.typed.speed == Approx(first.typed.typed.speed * slower));
    CHECK(faint.result.report.front().ratio == Approx(first.result.report.front().ratio / slower));
    // Many passes stay many: the dose lost is made up by passes.
    Recipe deep = blue;
    deep.process = Process::engrave;
    deep.setting = {90, kilohertz(45), nanoseconds(120), mm_per_second(600), mm(0.03), 0, 60, mm(0)};
    const Carried d = carry(wren, deep, heron).value();
    CHECK(d.recipe.setting.passes > 30);
}

TEST_CASE("borrowed settings are understood as far as they go, and scored honestly", "[borrowed]") {
    const auto b = borrowed_from_text("25 W, 40 kHz, 600 mm/s, 0.03", materials()).value();
    CHECK(b.power_w == Approx(25));
    CHECK(b.frequency_khz == Approx(40));
    CHECK(b.speed_mm_s == Approx(600));
    CHECK(b.pitch_mm == Approx(0.03));
    const auto full =
        borrowed_from_text("38 W laser; power 40 %; 300 kHz; 26 ns; 1 m/s; hatch 5080 lpi; stainless 316; "
                           "210 mm lens; 2 passes; 2.6 mm thick",
                           materials())
            .value();
    CHECK(full.rated_w == Approx(38));
    CHECK(full.power_percent == Approx(40));
    CHECK(full.pulse_ns == Approx(26));
    CHECK(full.speed_mm_s == Approx(1000));
    CHECK(full.pitch_mm == Approx(0.005));
    CHECK(full.metal == "stainless-316");
    CHECK(full.lens_mm == Approx(210));
    CHECK(full.passes == 2);
    CHECK(full.thickness_mm == Approx(2.6));
    CHECK(borrowed_from_text("lovely weather", materials()).error().code == "borrowed.nothing");
    const DemoBench demo;
    const Scene scene{materials(), *demo.metal, demo.setup.bench, demo.setup.stock, {}};
    const Match poor = match(b, scene), good = match(full, scene);
    CHECK(good.score >= 95);
    CHECK(poor.score < 60);
    CHECK(poor.missing.size() == 4);
    const BorrowedStart start = rescaled(b, scene, Process::engrave).value();
    CHECK(inside(start.recipe, demo.setup.bench));
    CHECK(start.recipe.process == Process::engrave);
    CHECK_FALSE(start.assumed.empty());
    const auto table = borrowed_table("name;speed (mm/s);power (%);freq kHz;hatch (mm);metal\n"
                                      "a;600;50;40;0,03;brass\nb;6 m/s;80;60;0.02;steel 304\n",
                                      "friend.csv")
                           .value();
    CHECK(table.meaning[1] == BorrowedField::speed);
    const auto second = borrowed_row(table, 1, materials()).value();
    CHECK(second.speed_mm_s == Approx(6000));
    CHECK(second.metal == "stainless-304");
    struct Bad {
        const char* text;
        const char* code;
        int line;
    };
    std::string long_one = "speed\n";
    for (std::size_t i = 0; i <= most_borrowed_rows; ++i)
        long_one += "900\n";
    for (const Bad& bad :
         {Bad{"", "borrowed.empty", 0}, Bad{"speed,power\n", "borrowed.empty", 0},
          Bad{"speed,power\n1,2\n3\n", "borrowed.ragged", 3}, Bad{long_one.c_str(), "borrowed.too_long", 5002}}) {
        const auto t = borrowed_table(bad.text, "bad.csv");
        REQUIRE_FALSE(t);
        CHECK(t.error().code == bad.code);
        CHECK(t.error().place.line == bad.line);
    }
    const auto wrong = borrowed_table("speed\nfast\n", "bad.csv").value();
    CHECK(borrowed_row(wrong, 0, materials()).error().code == "borrowed.row");
}

TEST_CASE("the regime map does not depend on threads, and its coarse look is its fine one", "[map]") {
    const DemoBench demo;
    const Scene scene{materials(), *demo.metal, demo.setup.bench, demo.setup.stock, {}};
    const auto compute = [&](int threads, int stop_at) {
        RegimeMap map;
        map.side = 24;
        map.across = map_axis(demo.setup.bench, DemoBench::blue(), Knob::scan_speed);
        map.down = map_axis(demo.setup.bench, DemoBench::blue(), Knob::power);
        compute_map(scene, DemoBench::blue(), {mm(10), 100}, map, threads,
                    [&](const RegimeMap& m) { return m.block > stop_at; });
        return map;
    };
    const RegimeMap one = compute(1, 1), two = compute(2, 1), coarse = compute(2, 8);
    CHECK(one.block == 1);
    CHECK(coarse.block == 8);
    for (int y = 0; y < 24; ++y)
        for (int x = 0; x < 24; ++x) {
            CHECK(one.at(x, y).effect == two.at(x, y).effect);
            CHECK(one.at(x, y).lab == two.at(x, y).lab);
            CHECK(coarse.at(x, y).effect == one.at(x - x % 8, y - y % 8).effect);
        }
    // A line of equal dose really has that dose.
    for (const MapLine& line : equal_lines(one, MapField::dose))
        for (const auto& [a, b] : line.pieces) {
            const Recipe r = one.recipe(DemoBench::blue(), a.x, a.y);
            const auto p = predict(demo.scene(), r, {mm(10), 100});
            CHECK(p->mark.pattern.areal_dose_j_m2 / 1e6 == Approx(line.level).epsilon(0.05));
        }
}

TEST_CASE("advice on heat is right in sign, and frequency's four effects are apart", "[effects]") {
    const DemoBench demo;
    const Scene scene{materials(), *demo.metal, demo.setup.bench, demo.setup.stock, {}};
    Recipe r = DemoBench::blue();
    for (const bool more : {true, false}) {
        const auto advice = heat_advice(scene, r, {mm(10), 100}, more);
        CHECK(advice.size() >= 4);
        for (const KnobEffect& e : advice) {
            INFO(e.words);
            CHECK((more ? e.film > 0 : e.film < 0));
            CHECK(e.words.find("dose") != std::string::npos);
        }
    }
    // Where metal goes, more heat means deeper, never the setting that only loses power.
    const Stock brass = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    const Scene deep{materials(), **materials().find("brass"), demo.setup.bench, brass, {}};
    Recipe cut = with_knob(with_knob(with_knob(r, Knob::power, 96), Knob::frequency, 40.4), Knob::pulse_width, 95);
    cut = with_knob(with_knob(with_knob(cut, Knob::scan_speed, 238), Knob::hatch_pitch, 0.0183), Knob::passes, 15);
    cut.process = Process::engrave;
    for (const KnobEffect& e : heat_advice(deep, cut, {mm(30), 300}, true)) {
        INFO(e.words);
        CHECK(e.depth > 0);
    }
    const FrequencyEffects f = frequency_effects(scene, r, 0.5);
    CHECK(f.average_power == Approx(1));
    CHECK(f.pulse_energy == Approx(2));
    CHECK(f.peak_power == Approx(2));
    CHECK(f.pulses_per_area == Approx(0.5));
    // Below the frequency that carries full power, the average falls with it.
    r = with_knob(r, Knob::frequency, 150);
    CHECK(frequency_effects(scene, r, 0.5).average_power < 0.6);
}

TEST_CASE("typing slips and bad tries are noticed", "[check]") {
    CHECK(slip(Knob::hatch_pitch, 0.0035, 0.035)->remedy.find("0.0035") != std::string::npos);
    CHECK(slip(Knob::power, 13, 1.3));
    CHECK_FALSE(slip(Knob::power, 13, 26));
    CHECK_FALSE(slip(Knob::hatch_angle, 4, 40));
    Recipe r = DemoBench::blue();
    CHECK(bad_history(r, {{with_knob(r, Knob::power, 13.5), "noon line, too brown"}}));
    CHECK_FALSE(bad_history(r, {{with_knob(r, Knob::power, 20), "another"}}));
    // A shift of the lines heals a turn that repeats.
    const Bench b = bench("wren");
    r.setting.passes = 30;
    r.turn_per_pass_deg = 120;
    const auto warns = [&] {
        const auto all = check(r, b, {});
        return std::any_of(all.begin(), all.end(), [](const Finding& f) { return f.code == "recipe.turn_repeats"; });
    };
    CHECK(warns());
    r.line_shift_percent = 38.2;
    CHECK_FALSE(warns());
}

TEST_CASE("set-up arithmetic agrees with brute force", "[setup]") {
    std::mt19937 rng(12);
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(rng);
    };
    for (int i = 0; i < 40; ++i) {
        std::vector<double> set;
        for (int k = 0; k < 9; ++k)
            set.push_back(std::round(uniform(0.02, 2) * 1000) / 1000);
        const double target = std::round(uniform(0, 8) * 1000) / 1000;
        double best = target;
        for (int bits = 0; bits < 512; ++bits) {
            double sum = 0;
            for (int k = 0; k < 9; ++k)
                sum += (bits >> k & 1) != 0 ? set[static_cast<std::size_t>(k)] : 0;
            best = std::min(best, std::abs(sum - target));
        }
        CHECK(std::abs(shim_stack(target, set)->error_mm) == Approx(best).margin(1e-6));
        const double l = uniform(20, 220), w = uniform(5, 120);
        const auto f = rectangle_in_field(l, w, 150).value();
        bool any = false;
        for (double a = 0; a <= 90; a += 0.05) {
            const double c = std::cos(a * 3.14159265358979 / 180), s = std::sin(a * 3.14159265358979 / 180);
            any = any || (l * c + w * s <= 150 && l * s + w * c <= 150);
        }
        CHECK(f.fits == any);
        CylinderJob job;
        job.diameter_mm = uniform(5, 90);
        job.arc_mm = uniform(2, 3 * job.diameter_mm);
        job.half_depth_mm = uniform(0.1, 1);
        job.keep_pitch = i % 2 == 0;
        const auto s = cylinder_split(job).value();
        CHECK(s.lines * s.pitch_mm - s.seam_mm == Approx(job.arc_mm).epsilon(1e-9));
        CHECK(s.strip_arc_mm <= s.widest_strip_mm + 1.01 * s.pitch_mm);
    }
}

TEST_CASE("an aim survives writing and reading, and a broken one is refused by field", "[aim]") {
    Aim aim;
    aim.title = "Loom reed scale";
    for (std::size_t i = 0; i < wish_kind_count; ++i) {
        aim.wishes.push_back(usual_wish(static_cast<WishKind>(i), i % 2 == 0));
        CHECK_FALSE(describe(aim.wishes.back()).empty());
    }
    CHECK(aim_from_json(to_json(aim), "aim.json").value() == aim);
    nlohmann::json bad = to_json(aim);
    bad["wishes"][3]["high"] = 1;
    CHECK(aim_from_json(bad, "aim.json").error().place.field == "wishes[3].high");
    bad = to_json(aim);
    bad["wishes"][0]["kind"] = "loud";
    CHECK_FALSE(aim_from_json(bad, "aim.json"));
}
