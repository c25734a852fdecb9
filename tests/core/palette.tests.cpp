// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/palette.h"
#include "demo_plate.h"
#include "evidence/film_evidence.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
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
