// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "evidence/evidence_json.h"
#include "evidence/film_evidence.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "proof/next_sheet.h"
#include "proof/observed.h"
#include "search/taught_film.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>
#include <rapidcheck.h>
#include <rapidcheck/catch.h>

using namespace finch;
using namespace finch::tests;

namespace {

/// What a bench whose films grow by a factor would show on a sheet, with a little noise.
std::vector<Observation> shown(const ProofSheet& sheet, const Setup& setup, double growth, const std::string& source,
                               const std::string& when, double noise = 0) {
    const DemoBench demo;
    Evidence nature;
    nature.growth_gain = growth;
    SheetReading reading;
    reading.sheet_number = sheet.number;
    std::mt19937 random(static_cast<unsigned>(sheet.number));
    const auto jitter = [&] { return noise * (static_cast<double>(random() % 2001) / 1000 - 1); };
    for (const CellForecast& c : forecast(sheet, demo.scene(nature)).cells) {
        CellReading r;
        if (c.fate == CellFate::marks)
            r = {CellState::read,
                 {c.prediction->lab().l + jitter(), c.prediction->lab().a + jitter(), c.prediction->lab().b + jitter()},
                 0.5,
                 0.9};
        reading.cells.push_back(r);
    }
    return observed(sheet, reading, std::make_shared<const Setup>(setup), when, source);
}

std::vector<Observation> joined(std::vector<std::vector<Observation>> parts) {
    std::vector<Observation> out;
    for (auto& part : parts)
        out.insert(out.end(), part.begin(), part.end());
    return out;
}

} // namespace

TEST_CASE("evidence is a fold: no order of readings loses a lesson, and reading again changes nothing", "[evidence]") {
    const DemoBench demo;
    const auto first = shown(demo.sheet(1), demo.setup, 0.8, "r1", "2026-11-24T09:00:00Z", 0.4);
    const auto second = shown(demo.sheet(2), demo.setup, 0.8, "r2", "2026-11-24T10:00:00Z", 0.4);
    auto all = joined({first, second});
    const Evidence both = learn(materials(), all);
    CHECK(both.growth_gain == Approx(0.8).epsilon(0.03));
    CHECK(both.sheets == 2);
    CHECK(both.cells == learn(materials(), first).cells + learn(materials(), second).cells);
    std::mt19937 random(5);
    for (int i = 0; i < 4; ++i) {
        std::shuffle(all.begin(), all.end(), random);
        CHECK(learn(materials(), all) == both);
    }
    // The same photograph read once more, later: the same places, counted once.
    auto again = shown(demo.sheet(1), demo.setup, 0.8, "r3", "2026-11-25T09:00:00Z", 0.4);
    CHECK(learn(materials(), joined({all, again})) == both);
    // A reading that was made anew replaces what was read of the same places before.
    const auto corrected = shown(demo.sheet(1), demo.setup, 1.3, "r4", "2026-11-26T09:00:00Z");
    CHECK(learn(materials(), joined({first, corrected})).growth_gain == Approx(1.3).epsilon(0.03));
}

TEST_CASE("evidence learns from what counts, and from nothing else", "[evidence]") {
    const DemoBench demo;
    auto places = shown(demo.sheet(1), demo.setup, 0.8, "r1", "");
    CHECK(learn(materials(), {}) == Evidence{});
    CHECK(learn(materials(), std::span(places).first(2)) == Evidence{}); // two colours fit anything
    auto left_out = places;
    for (Observation& o : left_out)
        o.counts = false;
    CHECK(learn(materials(), left_out) == Evidence{});
    // A tenth of burnt cells does not pull the fit.
    auto dirty = places;
    for (std::size_t i = 0; i < dirty.size(); i += 10)
        dirty[i].colour = Lab{30, 5, 9};
    CHECK(learn(materials(), dirty).growth_gain == Approx(0.8).epsilon(0.05));
    // What was measured on another lot says nothing here.
    Setup other = demo.setup;
    other.stock.lot = "another";
    auto mixed = joined({places, shown(demo.sheet(2), other, 1.6, "r2", "")});
    CHECK(learn(materials(), mixed) == learn(materials(), places));
    // A metal without an oxide film, or without any model: nothing, and no crash.
    for (const char* metal : {"brass", "nickel", "slate", "no-such-metal"}) {
        INFO(metal);
        Setup strange = demo.setup;
        strange.stock.metal = metal;
        auto odd = places;
        for (Observation& o : odd)
            o.setup = std::make_shared<const Setup>(strange);
        CHECK(learn(materials(), odd) == Evidence{});
        CHECK(agreement(materials(), odd, {}, {}).cells == 0);
    }
}

TEST_CASE("the card, the map and the next cells tell one film", "[evidence]") {
    const DemoBench demo;
    const auto places = shown(demo.sheet(1), demo.setup, 0.8, "r1", "", 1);
    const Evidence known = learn(materials(), places);
    const FilmPosterior posterior = film_posterior(materials(), demo.setup, places).value();
    const auto reread = evidence_from_json(evidence_document(known), "f");
    REQUIRE(reread);
    const Fill cell{mm(5), 20};
    std::vector<Recipe> recipes;
    for (double speed = 300; speed < 3000; speed *= 1.3)
        for (const double power : {12.0, 22.0, 40.0}) {
            recipes.push_back(DemoBench::blue());
            recipes.back().setting.scan_speed = mm_per_second(speed);
            recipes.back().setting.power_percent = power;
        }
    const auto planned = trials(demo.scene(), recipes, cell);
    REQUIRE(planned.size() == recipes.size());
    const auto told = posterior.told(planned, posterior.likeliest());
    int films = 0;
    for (std::size_t i = 0; i < recipes.size(); ++i) {
        INFO(i);
        const Prediction p = predict(demo.scene(known), recipes[i], cell, straight).value();
        CHECK(predict(demo.scene(*reread), recipes[i], cell, straight).value() == p);
        CHECK(predict(demo.scene(known), recipes[i], cell, unseen)->shares == p.shares);
        CHECK(p.oxide_nm() ==
              Approx(std::min(std::exp(told[i].ln_nm), materials().model.scale_limit_m * 1e9)).epsilon(1e-9));
        if (posterior.modes().size() == 1)
            CHECK(p.film_spread_ln == Approx(std::hypot(std::sqrt(told[i].variance), 0.04)).epsilon(1e-6));
        if (!p.film_seen())
            continue;
        ++films;
        // The table of a search has a step of 2 nm; the card works the film out.
        const Lab film = posterior.table().at(p.oxide_nm(), told[i].haze);
        const Lab seen{film.l + told[i].shift.l, film.a + told[i].shift.a, film.b + told[i].shift.b};
        CHECK(delta_e00(seen, p.lab()) < 0.5);
    }
    CHECK(films > 15);
    // More growth than learned, as between lots, comes on top of it.
    Evidence more = known;
    more.growth_gain *= 1.21;
    const double before = predict(demo.scene(known), recipes[4], cell)->oxide_nm(),
                 after = predict(demo.scene(more), recipes[4], cell)->oxide_nm();
    CHECK(after / before == Approx(1.1).epsilon(0.01));
    // On another metal it says nothing.
    const auto titanium = materials().find("titanium-2").value();
    const Scene other{materials(), *titanium, demo.setup.bench, demo.setup.stock};
    CHECK(predict(other.knowing(known), recipes[4], cell)->lab() == predict(other, recipes[4], cell)->lab());
}

TEST_CASE("a cell that was ticked as spoiled moves the borders that every prediction tells", "[evidence]") {
    const DemoBench demo;
    auto places = shown(demo.sheet(1), demo.setup, 1, "r1", "");
    const Evidence whole = learn(materials(), places);
    // The hottest cells of the sheet come out molten, long before the model says so.
    std::vector<std::pair<double, Observation*>> hottest;
    for (Observation& o : places)
        hottest.emplace_back(predict(demo.scene(), o.recipe, o.fill)->melt_index, &o);
    std::ranges::sort(hottest, std::greater{}, [](const auto& h) { return h.first; });
    for (int i = 0; i < 6; ++i)
        hottest[static_cast<std::size_t>(i)].second->spoiled = true;
    const Evidence spoiled = learn(materials(), places);
    const auto film = [&](const Evidence& e, const Observation& o) {
        return predict(demo.scene(e), o.recipe, o.fill)->shares.film();
    };
    const Observation &hot = *hottest.front().second, &mild = *hottest.back().second;
    CHECK(film(spoiled, hot) < film(whole, hot) - 0.2);
    CHECK(film(spoiled, mild) == Approx(film(whole, mild)).margin(0.1));
    // Ticks alone, with no colour read, teach the borders and leave the film to the physics.
    for (Observation& o : places)
        o.colour.reset();
    const Evidence ticks = learn(materials(), places);
    CHECK(ticks.cells == 0);
    CHECK(film(ticks, hot) < film({}, hot));
    CHECK(predict(demo.scene(ticks), mild.recipe, mild.fill)->lab() ==
          predict(demo.scene(), mild.recipe, mild.fill)->lab());
}

TEST_CASE("a depth gauge teaches the depth gain as the photograph teaches the film", "[evidence]") {
    const DemoBench demo;
    std::vector<Observation> gauge;
    for (int i = 0; i < 5; ++i) {
        Observation o;
        o.piece = "coupon " + std::to_string(i / 3);
        o.place = std::to_string(i);
        o.source = "gauge";
        o.setup = std::make_shared<const Setup>(demo.setup);
        o.recipe.process = Process::engrave;
        o.recipe.setting = {80, kilohertz(60), nanoseconds(200), mm_per_second(600), mm(0.02), 0, 10 + i, mm(0)};
        o.fill = {mm(10), 100};
        const auto p = predict(demo.scene(), o.recipe, o.fill).value();
        REQUIRE(p.depth_um() > 5);
        Evidence nature;
        nature.depth_gain = i == 4 ? 3 : 1.25; // one reading beside the truth
        o.depth_um = predict(demo.scene().knowing(nature), o.recipe, o.fill).value().removal->depth_if_um;
        gauge.push_back(o);
    }
    const Evidence e = learn(materials(), gauge);
    CHECK(e.depth_gain == Approx(1.25).epsilon(1e-6));
    CHECK(e.depth_coupons == 2);
    CHECK(e.growth_gain == 1);
    std::reverse(gauge.begin(), gauge.end());
    CHECK(learn(materials(), gauge) == e);
}

TEST_CASE("every metal, process and bench goes from recipe to the next sheet without a fall, in finite numbers",
          "[evidence]") {
    int sheets = 0;
    for (const char* bench_name : {"wren", "heron", "mallow"})
        for (const auto& metal : materials().metals)
            for (const Process process : all_processes) {
                INFO(bench_name << ", " << metal->name << ", " << traits(process).label);
                Setup setup = DemoBench().setup;
                setup.bench = load_bench(FINCH_SOURCE "/data", bench_name).value();
                setup.stock.metal = metal->key;
                const Scene scene{materials(), *metal, setup.bench, setup.stock};
                Recipe r = DemoBench::blue();
                r.process = process;
                r.compound = process == Process::compound ? "ceramic" : "";
                r.setting.frequency = std::min(r.setting.frequency, setup.bench.source.frequency_max);
                SheetRequest q;
                q.base = r;
                q.across = {Knob::scan_speed, 600, 1900, 3, Steps::ratio};
                q.down = {Knob::power, 10, 40, 3, Steps::ratio};
                const auto sheet = plan_sheet(q, setup.bench, r);
                if (!sheet)
                    continue;
                ++sheets;
                SheetReading reading;
                for (const CellForecast& c : forecast(*sheet, scene).cells) {
                    CHECK(std::isfinite(c.time_s));
                    reading.cells.push_back({CellState::read, {40, 3, -10}, 1, 0.8});
                }
                const auto places = observed(*sheet, reading, std::make_shared<const Setup>(setup), "", "r");
                const Evidence e = learn(materials(), places);
                CHECK(std::isfinite(e.growth_gain));
                const auto next = next_sheet(*sheet, reading, named_targets().front(), 4, scene.knowing(e));
                if (next && next->hoped_de)
                    CHECK(*next->hoped_de < 200);
            }
    CHECK(sheets >= 300);
}
