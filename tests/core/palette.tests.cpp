// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/palette.h"

#include "demo_plate.h"
#include "evidence/film_evidence.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "proof/measured_cells.h"
#include "proof/tilt_series.h"
#include "recipe/predict.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>
#include <set>

using namespace finch;
using namespace finch::tests;

namespace {

const Fill cell{mm(5), 20};

Recipe at_speed(double mm_s) {
    Recipe r = DemoBench::blue();
    r.setting.scan_speed = mm_per_second(mm_s);
    return r;
}

/// What a world of another kind shows at a setting, cold and by itself.
standin::Surface marked(const DemoBench& demo, const standin::World& world, const Recipe& recipe) {
    standin::Work work(world, nature(), demo.setup, 20, 20);
    REQUIRE(work.burn({"A1", recipe, {{5, 5, 5, 4}}, {}}));
    return work.plate().burns.back().surface;
}

Observation seen(const DemoBench& demo, const Recipe& recipe, const std::string& place, const Lab& lab) {
    Observation o;
    o.piece = "sheet 1";
    o.place = place;
    o.recipe = recipe;
    o.fill = cell;
    o.setup = std::make_shared<const Setup>(demo.setup);
    o.colour = lab;
    o.colour_within = 1.5;
    return o;
}

Palette made(const DemoBench& demo, const std::vector<Observation>& all, const std::vector<WantedColour>& wanted = {}) {
    const auto known = film_posterior(materials(), demo.setup, all).value();
    return palette(demo.scene(learn(materials(), all)), known, all, wanted, DemoBench::blue(), {3, 0.25}, 2).value();
}

} // namespace

TEST_CASE("a palette holds every setting that was read, once, with how it repeats and holds at a tilt", "[palette]") {
    const DemoBench demo;
    const auto world = standin::draw_world(standin::Grade::honest, 11);
    std::vector<Observation> all;
    for (int i = 0; i < 12; ++i) {
        const Recipe r = at_speed(420 * std::pow(1.16, i));
        all.push_back(seen(demo, r, std::to_string(i), true_colour(marked(demo, world, r))));
    }
    // One of them once more, a little off; one spoiled; one of another lot.
    all.push_back(seen(demo, all[3].recipe, "again", {all[3].colour->l + 1, all[3].colour->a, all[3].colour->b - 1}));
    all[7].spoiled = true;
    DemoBench other = demo;
    other.setup.stock.lot = "another";
    all.push_back(seen(other, at_speed(777), "elsewhere", {50, 0, 0}));

    const Palette p = made(demo, all, {{"what was read", *all[5].colour}, {"a signal green", {60, -60, 50}}});
    CHECK(p.cells == 13);
    CHECK(p.spoiled == 1);
    REQUIRE(p.colours.size() == 11);
    CHECK(std::ranges::is_sorted(p.colours, {}, &PaletteColour::film_nm));
    for (const PaletteColour& c : p.colours) {
        INFO(c.place);
        const bool twice = c.recipe.setting == all[3].recipe.setting;
        CHECK(c.repeats == (twice ? 2 : 1));
        if (twice) {
            CHECK(c.repeat_de == Approx(delta_e00(*all[3].colour, *all[12].colour)));
            CHECK(c.lab.l == Approx(all[3].colour->l + 0.5));
        }
        CHECK(c.recipe.setting != all[7].recipe.setting);
        CHECK(c.name == colour_name(c.lab));
        // The tilt begins at what was read, and holds as far as its own colours say.
        REQUIRE(c.tilt.size() == 13);
        CHECK(delta_e00(c.tilt[0], c.lab) < 0.01);
        for (std::size_t i = 0; i < 13; ++i)
            if (static_cast<int>(5 * i) <= c.holds_deg)
                CHECK(delta_e00(c.tilt[0], c.tilt[i]) <= 5);
        CHECK((c.holds_deg == 60 || delta_e00(c.tilt[0], c.tilt[static_cast<std::size_t>(c.holds_deg / 5 + 1)]) > 5));
    }
    std::set<std::string> names;
    for (const std::size_t i : p.named)
        CHECK(names.insert(p.colours[i].name).second);
    for (const PaletteColour& c : p.colours)
        CHECK(names.contains(c.name));
    REQUIRE(p.wanted.size() == 2);
    CHECK(p.wanted[0].read_de == Approx(0).margin(1e-6));
    CHECK(p.wanted[0].between->chance > 0.3);
    CHECK(p.wanted[1].read_de > 20);
    CHECK(p.wanted[1].between->chance < 0.02);
    CHECK(std::ranges::any_of(p.path, &PathPoint::reached));
    const auto document = to_json(p);
    CHECK(document["colours"].size() == 11);
    CHECK(document["wanted"][1]["short_de00"].get<double>() == p.wanted[1].read_de);
}

TEST_CASE("a palette's tilt goes through the looks that were read, and keeps to the film between and beyond them",
          "[palette][tilt]") {
    const DemoBench demo;
    const auto world = standin::draw_world(standin::Grade::honest, 11);
    std::vector<Observation> all;
    for (int i = 0; i < 3; ++i) {
        const Recipe r = at_speed(500 * std::pow(1.4, i));
        all.push_back(seen(demo, r, std::to_string(i), true_colour(marked(demo, world, r))));
    }
    const auto before = made(demo, all);
    const auto at = [](const Palette& p, const Recipe& r) {
        return *std::ranges::find_if(p.colours, [&](const PaletteColour& c) { return c.recipe.setting == r.setting; });
    };
    const Lab above = *all[1].colour;
    const auto other = [&](double l, double a, double b) { return Lab{above.l + l, above.a + a, above.b + b}; };
    all[1].tilted = {{20, other(1, 2, -3), 1}, {45, other(4, -6, 9), 1}};
    const PaletteColour was = at(before, all[1].recipe), is = at(made(demo, all), all[1].recipe);
    CHECK(was.tilt_read_to == 0);
    CHECK(is.tilt_read_to == 45);
    CHECK(is.tilt[0] == was.tilt[0]);
    CHECK(delta_e00(is.tilt[4], other(1, 2, -3)) < 0.01);
    CHECK(delta_e00(is.tilt[9], other(4, -6, 9)) < 0.01);
    // Half way to the first look half of what was missing; beyond the last all of it.
    CHECK(is.tilt[2].a - was.tilt[2].a == Approx(0.5 * (is.tilt[4].a - was.tilt[4].a)));
    CHECK(is.tilt[12].b - was.tilt[12].b == Approx(is.tilt[9].b - was.tilt[9].b));
    CHECK(at(made(demo, all), all[2].recipe).tilt == at(before, all[2].recipe).tilt);
    // A second mark of it that was not tilted changes nothing of the change.
    all.push_back(seen(demo, all[1].recipe, "again", other(2, 0, 0)));
    const PaletteColour twice = at(made(demo, all), all[1].recipe);
    CHECK(twice.tilt[4].a - twice.tilt[0].a == Approx(2));
}

TEST_CASE("how far a colour holds follows from its looks, and is no surer than they are", "[tilt]") {
    const Lab above{60, 0, 0};
    const auto look = [&](double deg, double l) { return TiltLook{deg, {60 + l, 0, 0}, 1}; };
    CHECK_FALSE(tilt_score(above, 1, {}));
    // A change in lightness alone: CIEDE2000 grows evenly, so that 5 lies where a straight line has it.
    const std::vector<TiltLook> looks{look(20, 2), look(40, 10)};
    const double low = delta_e00(above, looks[0].lab), high = delta_e00(above, looks[1].lab);
    const auto score = tilt_score(above, 1, looks);
    REQUIRE(score);
    CHECK(score->holds_deg == Approx(20 + 20 * (5 - low) / (high - low)));
    CHECK_FALSE(score->at_least);
    CHECK(score->most_de == Approx(high));
    CHECK(score->low_deg < score->holds_deg);
    CHECK(score->high_deg > score->holds_deg);
    const auto vague = tilt_score(above, 4, looks);
    CHECK(vague->holds_deg == score->holds_deg);
    CHECK(vague->low_deg < score->low_deg);
    CHECK(vague->high_deg > score->high_deg);
    const auto kept = tilt_score(above, 1, std::vector<TiltLook>{look(20, 2), look(60, -2)});
    CHECK(kept->at_least);
    CHECK(kept->holds_deg == 60);
    CHECK(tilt_words(*kept) == "holds 60° and more");
    // The first time it leaves counts, though it comes back.
    CHECK(tilt_score(above, 1, std::vector<TiltLook>{look(20, 12), look(40, 1)})->holds_deg < 20);

    SheetReading reading, so;
    reading.cells.resize(3), so.cells.resize(3);
    for (const std::size_t i : {0, 1})
        reading.cells[i].state = CellState::read;
    for (const std::size_t i : {1, 2})
        so.cells[i] = {CellState::read, {50, 1, 2}, 0, 1.5};
    CHECK(add_tilt(reading, so, 30).value() == 1);
    CHECK(add_tilt(reading, so, 15).value() == 1);
    so.cells[1].lab.l = 51;
    CHECK(add_tilt(reading, so, 30.4).value() == 1); // the same angle once more
    REQUIRE(reading.cells[1].tilted.size() == 2);
    CHECK(reading.cells[1].tilted[0].deg == 15);
    CHECK(reading.cells[1].tilted[1].lab.l == 51);
    CHECK(add_tilt(reading, so, 80).error().code == "tilt.angle");
    SheetReading bare = reading;
    bare.photos = 0;
    CHECK(add_tilt(bare, so, 30).error().code == "tilt.straight");
    // A newer photograph from above keeps them, and so does a file.
    SheetReading newer = so;
    keep_what_was_said(newer, reading);
    CHECK(newer.cells[1].tilted == reading.cells[1].tilted);
}

TEST_CASE("what a palette promises of settings that were not burned is not more than comes true", "[palette]") {
    DemoBench demo;
    double promised = 0, met = 0;
    int tries = 0;
    for (unsigned seed = 1; seed <= 8; ++seed) {
        const auto world = standin::draw_world(standin::Grade::honest, 700 + seed);
        std::mt19937 dice(seed);
        std::normal_distribution<> noise(0, 0.7);
        std::vector<Observation> all;
        for (int i = 0; i < 10; ++i) {
            const Recipe r = at_speed(420 * std::pow(1.2, i));
            Lab lab = true_colour(marked(demo, world, r));
            lab = {lab.l + noise(dice), lab.a + noise(dice), lab.b + noise(dice)};
            all.push_back(seen(demo, r, std::to_string(i), lab));
        }
        // Colours that this bench can make, between its cells and beyond them.
        std::vector<WantedColour> wanted;
        for (const double speed : {380.0, 560.0, 940.0, 1500.0, 2700.0})
            wanted.push_back({"a colour", true_colour(marked(demo, world, at_speed(speed)))});
        for (const WantedMatch& m : made(demo, all, wanted).wanted) {
            REQUIRE(m.between);
            promised += m.between->chance;
            met += delta_e00(true_colour(marked(demo, world, m.between->recipe)), m.wanted.lab) <= 3 ? 1 : 0;
            ++tries;
        }
    }
    INFO("promised " << promised << ", met " << met << " of " << tries);
    CHECK(promised > 0.4 * tries);
    CHECK(met > promised - 0.1 * tries);
}

TEST_CASE("a wanted colour is a name, L* a* b* or #RRGGBB, and a metal without films has no palette", "[palette]") {
    CHECK(wanted_from_text("deep blue")->name == "deep blue");
    CHECK(wanted_from_text("35 3 -33")->lab.b == -33);
    CHECK(wanted_from_text("#1F5A96")->name == colour_name(wanted_from_text("#1F5A96")->lab));
    CHECK(wanted_from_text("the sea").error().code == "target.not_a_colour");
    DemoBench demo;
    const FilmPosterior known = film_posterior(materials(), demo.setup, {}).value();
    const auto brass = materials().find("brass").value();
    const Scene scene{materials(), *brass, demo.setup.bench, demo.setup.stock};
    CHECK(palette(scene, known, {}, {}, DemoBench::blue()).error().code == "search.no_film");
    // Before anything was read there is a path, and no colour.
    const Palette before = made(demo, {}, {{"gold", {50, 9, 36}}});
    CHECK(before.colours.empty());
    CHECK_FALSE(before.wanted[0].read);
    CHECK(before.wanted[0].between);
}
