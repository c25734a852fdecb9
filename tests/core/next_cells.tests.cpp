// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "evidence/film_evidence.h"
#include "evidence/learn.h"
#include "proof/designed_sheet.h"
#include "proof/layout.h"
#include "proof/observed.h"
#include "search/burn_order.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>
#include <set>

using namespace finch;
using namespace finch::tests;

namespace {

const DemoBench& demo() {
    static const DemoBench d;
    return d;
}

Target blue() {
    return {"deep blue", {35, 3, -33}, false, 3};
}

SheetRequest request(int number) {
    SheetRequest q = demo().request(number);
    q.base = DemoBench::blue();
    return q;
}

/// What a sheet shows on a bench that shares no formula with the program, read with ordinary care.
SheetReading shown(const ProofSheet& sheet, const standin::World& world, int seed) {
    const standin::Plate plate = burned(demo(), sheet, world);
    std::mt19937 dice(static_cast<unsigned>(seed));
    std::normal_distribution<> noise(0, 0.6);
    SheetReading r;
    r.sheet_number = sheet.number;
    r.cells.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (const standin::Burn* b = plate.find(cell_name(sheet, i))) {
            const Lab lab = true_colour(b->surface);
            r.cells[i] = {CellState::read,
                          {lab.l + noise(dice), lab.a + noise(dice), lab.b + noise(dice)},
                          0.3,
                          1.6,
                          !b->surface.whole};
        }
    return r;
}

FilmPosterior learned(const std::vector<Observation>& seen) {
    return film_posterior(materials(), demo().setup, seen, 2).value();
}

} // namespace

TEST_CASE("designed cells find a colour on benches of another kind with a fifth of a broad sheet's cells", "[search]") {
    // Ten benches of each grade, at most three sheets each; the study of fifty is ./finch bench search.
    int met = 0, benches = 0;
    std::size_t cells = 0, spoiled = 0;
    const Recipe labels = label_recipe(demo().scene()).value();
    for (const standin::Grade grade : {standin::Grade::honest, standin::Grade::hard})
        for (int seed = 1; seed <= 5; ++seed) {
            const standin::World world = draw_world(grade, 300 + static_cast<std::uint64_t>(seed));
            std::vector<Observation> seen;
            bool done = false;
            for (int round = 0; round < 3 && !done; ++round) {
                const auto d = design_sheet(demo().scene(), blue(), request(1 + round), learned(seen), {}, labels, 2);
                REQUIRE(d);
                REQUIRE(d->sheet.free());
                CHECK(d->sheet.own.size() <= (round == 0 ? 12 : 6));
                const SheetReading r = shown(d->sheet, world, 10 * seed + round);
                const auto places = observed(d->sheet, r, std::make_shared<const Setup>(demo().setup),
                                             "2026-11-24T0" + std::to_string(round), "r" + std::to_string(round));
                seen.insert(seen.end(), places.begin(), places.end());
                for (const CellReading& c : r.cells) {
                    cells += c.state == CellState::read ? 1 : 0;
                    spoiled += c.spoiled ? 1 : 0;
                    done = done || (c.state == CellState::read && !c.spoiled && distance(blue(), c.lab) < 3);
                }
            }
            ++benches;
            met += done ? 1 : 0;
        }
    INFO(met << " of " << benches << ", " << cells << " cells, " << spoiled << " spoiled");
    CHECK(met >= benches - 2); // of hundreds: docs/search.md
    CHECK(cells <= static_cast<std::size_t>(benches) * 20);
    CHECK(spoiled <= static_cast<std::size_t>(benches) / 3);
}

TEST_CASE("what was learned of films and damage is a fold over what was seen", "[search][evidence]") {
    const Recipe labels = label_recipe(demo().scene()).value();
    const auto d = design_sheet(demo().scene(), blue(), request(1), learned({}), {}, labels, 2).value();
    const SheetReading r = shown(d.sheet, draw_world(standin::Grade::honest, 305), 3);
    auto seen = observed(d.sheet, r, std::make_shared<const Setup>(demo().setup), "2026-11-24", "reading");
    const FilmPosterior one = learned(seen);
    REQUIRE_FALSE(one.modes().empty());
    std::mt19937 dice(4);
    std::shuffle(seen.begin(), seen.end(), dice);
    const FilmPosterior two = learned(seen);
    for (std::size_t m = 0; m < one.modes().size(); ++m)
        for (std::size_t k = 0; k < 5; ++k)
            CHECK(one.modes()[m].offsets[k] == Approx(two.modes()[m].offsets[k]).margin(1e-9));
    // Nor does it matter how many hands there were.
    const FilmPosterior alone = film_posterior(materials(), demo().setup, seen, 1).value();
    REQUIRE(alone.modes().size() == two.modes().size());
    for (std::size_t m = 0; m < two.modes().size(); ++m)
        CHECK(alone.modes()[m].offsets == two.modes()[m].offsets);
    CHECK(design_sheet(demo().scene(), blue(), request(2), alone, {}, labels, 1).value().sheet ==
          design_sheet(demo().scene(), blue(), request(2), two, {}, labels, 3).value().sheet);
    // Another lot says nothing here, and one that does not count neither.
    auto others = seen;
    Setup elsewhere = demo().setup;
    elsewhere.stock.lot = "another";
    for (Observation& o : others)
        o.setup = std::make_shared<const Setup>(elsewhere);
    CHECK(learned(others).cells().empty());
    for (Observation& o : others = seen)
        o.counts = false;
    CHECK(learned(others).cells().empty());
}

TEST_CASE("spoiled cells teach where a bench spoils metal, and whole ones that it does not", "[search]") {
    std::vector<Recipe> line;
    Recipe dark = DemoBench::blue();
    dark.process = Process::anneal;
    dark.setting = {40, kilohertz(122), nanoseconds(200), mm_per_second(900), mm(0.005), 0, 1, mm(0)};
    for (int i = 0; i < 8; ++i) {
        dark.setting.scan_speed = mm_per_second(200 * std::pow(1.5, i));
        line.push_back(dark);
    }
    const auto all = trials(demo().scene(), line, {mm(5), 20}, 1);
    REQUIRE(all.size() == line.size());
    const auto chances = [&](int spoiled_up_to) {
        std::vector<DamageSeen> seen;
        for (std::size_t i = 0; i < all.size(); ++i)
            seen.push_back({all[i], static_cast<int>(i) < spoiled_up_to});
        return DamagePosterior(seen, DamagePrior()).chances(all);
    };
    for (int border = 0; border <= 8; ++border) {
        INFO("spoiled up to " << border);
        const auto after = chances(border);
        for (std::size_t i = 0; i < after.size(); ++i)
            if (static_cast<int>(i) < border)
                CHECK(after[i] > 0.45);
            else
                CHECK(after[i] < 0.55);
    }
    // The drawn worlds say the same as the chances.
    std::vector<DamageSeen> seen{{all[1], true}, {all[5], false}};
    const DamagePosterior p(seen, DamagePrior());
    Draws draws(5);
    const auto worlds = p.worlds(all, 4000, draws);
    const auto told = p.chances(all);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto spoiled = std::ranges::count_if(worlds, [&](const std::vector<bool>& w) { return w[i]; });
        CHECK(static_cast<double>(spoiled) / 4000 == Approx(told[i]).margin(0.06));
    }
}

TEST_CASE("what is believed of a cell comes true as often, however far its photograph is off as a whole",
          "[search][beliefs]") {
    const auto& metal = demo().scene().metal;
    const auto table = std::make_shared<const FilmTable>(*metal.film);
    std::vector<Recipe> recipes;
    for (int i = 0; i < 12; ++i) {
        recipes.push_back(DemoBench::blue());
        recipes.back().setting.scan_speed = mm_per_second(500 + 120 * i);
    }
    const auto emulated = trials(demo().scene(), recipes, {}, 2);
    REQUIRE(emulated.size() == recipes.size());
    std::mt19937 dice(45);
    std::normal_distribution<> normal;
    for (const double read_sd : {0.7, 0.9, 1.8}) {
        const double shared = std::sqrt(read_sd * read_sd - 0.7 * 0.7);
        double told = 0, met = 0, surely = 0, surely_met = 0, highest = 0;
        Goal goal;
        for (int sheet = 0; sheet < 40; ++sheet) {
            const double thicker = 0.2 * normal(dice), l = normal(dice), a = normal(dice), b = normal(dice);
            std::vector<SeenCell> cells;
            std::vector<Lab> truth;
            for (const Trial& t : emulated) {
                const Lab film = table->at(std::exp(t.told({thicker, 0, 0, 0, 0.3}).ln_nm), t.haze);
                const double off = shared * (1 + 0.0225 * chroma(film)), own = 0.5;
                truth.push_back(film);
                cells.push_back({t,
                                 {film.l + off * l + own * normal(dice), film.a + off * a + own * normal(dice),
                                  film.b + off * b + own * normal(dice)},
                                 read_sd});
            }
            const Lab& near = truth[static_cast<std::size_t>(sheet) % truth.size()];
            goal.lab = {near.l + 0.4 * normal(dice), near.a + 0.8 * normal(dice), near.b + 0.8 * normal(dice)};
            const auto believes = beliefs(FilmPosterior(table, cells), goal, static_cast<std::uint64_t>(sheet));
            const double most = most_believable(cells.front(), goal);
            for (std::size_t i = 0; i < cells.size(); ++i) {
                CHECK(believes[i] <= most + 0.12); // both are shares of two hundred draws
                highest = std::max(highest, believes[i]);
                const bool meets = goal.miss(truth[i]) < goal.within;
                told += std::max(believes[i], 0.0);
                met += meets ? 1 : 0;
                surely += believes[i] >= believed ? 1 : 0;
                surely_met += believes[i] >= believed && meets ? 1 : 0;
            }
        }
        INFO("read within " << read_sd << ": told " << told << ", met " << met << ", surely " << surely << " and met "
                            << surely_met << ", highest " << highest);
        CHECK(told < 1.15 * met);
        CHECK(surely_met >= 0.9 * surely);
        CHECK((surely > 0) == (read_sd < 1)); // else no reading settles it, and none says so
    }
    CHECK(most_believable({{}, {}, unread_sd - 0.01}, {{}, true, 2}) == 1);
}

TEST_CASE("a design keeps to cells, minutes and risk, and is the same each time", "[search]") {
    const Recipe labels = label_recipe(demo().scene()).value();
    const FilmPosterior nothing = learned({});
    const auto design = [&](const DesignLimits& limits) {
        return design_sheet(demo().scene(), blue(), request(1), nothing, limits, labels, 2).value();
    };
    const DesignedSheet d = design({});
    CHECK(design({}).sheet == d.sheet);
    CHECK(d.for_target + d.to_learn == d.sheet.own.size());
    CHECK(d.promise > 0.1);
    CHECK(d.promise <= 1);
    CHECK(design({4, 30, 0.25}).sheet.own.size() <= 4);
    const DesignedSheet brief = design({12, 0.4, 0.25});
    CHECK(brief.seconds <= 24);
    CHECK(brief.promise <= d.promise + 0.1);
    // Every setting is one that the bench can do.
    for (const Setting& s : d.sheet.own)
        for (const Knob k : {Knob::power, Knob::frequency, Knob::pulse_width, Knob::scan_speed, Knob::hatch_pitch}) {
            Recipe r = d.sheet.base;
            r.setting = s;
            const KnobLimits l = knob_limits(demo().setup.bench, k);
            CHECK(knob_value(r, k) >= l.low);
            CHECK(knob_value(r, k) <= l.high);
        }
    // A metal without colours is refused with what helps.
    Setup brass = demo().setup;
    brass.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    const auto refused = film_posterior(materials(), brass, {}, 1);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().code == "search.no_film");
    CHECK_FALSE(refused.error().fix.empty());
}

TEST_CASE("free cells burn in an order that keeps neighbours apart, and come back from their file", "[proof]") {
    std::vector<Setting> cells;
    for (int i = 0; i < 10; ++i) {
        Setting s = DemoBench::blue().setting;
        s.scan_speed = mm_per_second(700 + 50 * i);
        s.power_percent = i % 2 ? 13 : 16;
        cells.push_back(s);
    }
    const Recipe labels = label_recipe(demo().scene()).value();
    const ProofSheet sheet = plan_free_sheet(request(9), cells, demo().setup.bench, labels).value();
    CHECK(sheet.columns() == 4);
    CHECK(sheet.rows() == 3);
    CHECK(sheet.left_out ==
          std::vector<bool>{false, false, false, false, false, false, false, false, false, false, true, true});
    CHECK(varied_knobs(sheet) == std::vector<Knob>{Knob::power, Knob::scan_speed});
    CHECK(sheet_from_json(to_json(sheet), "s").value() == sheet);
    const SheetLayout at = layout(sheet);
    std::vector<std::string> order;
    for (const ToolStep& step : tool_steps(sheet, at, fiducial_modules(at)))
        if (step.name != "fiducial" && step.name != "label")
            order.push_back(step.name);
    CHECK(std::set<std::string>(order.begin(), order.end()).size() == 10);
    // The warmest cell is colder than it would be row by row.
    const auto warmest = [&](const std::vector<std::string>& names) {
        std::vector<CellPlace> places;
        for (const std::string& name : names) {
            const RectMm& cell = at.cells[cell_from_name(sheet, name).value()];
            places.push_back({cell.x + cell.w / 2, cell.y + cell.h / 2});
        }
        const auto k = expected_warmth(*demo().metal, mm(1.4), places, std::vector<CellHeat>(places.size(), {3, 4}));
        return *std::ranges::max_element(k);
    };
    std::vector<std::string> row_by_row;
    for (std::size_t i = 0; i < 10; ++i)
        row_by_row.push_back(cell_name(sheet, i));
    CHECK(warmest(order) < 0.8 * warmest(row_by_row));
    CHECK(plan_free_sheet(request(9), {}, demo().setup.bench, labels).error().code == "proof.no_cells");
    CHECK(plan_free_sheet(request(9), std::vector<Setting>(151), demo().setup.bench, labels).error().code ==
          "proof.no_cells");
}

TEST_CASE("the next sheet is laid round the chosen cell, but never round a spoiled one", "[proof]") {
    SheetReading r;
    r.cells.resize(3, {CellState::read, {40, 0, 0}, 0, 1, false});
    const std::vector<RankedCell> ranked{{2, 1, 0, 1, true}, {0, 2, 0, 1, true}};
    CHECK(middle_cell(r, {}, ranked) == 2);
    CHECK(middle_cell(r, 0, ranked) == 0);
    r.cells[0].spoiled = true;
    CHECK(middle_cell(r, 0, ranked) == 2);
    CHECK(middle_cell(r, 99, ranked) == 2);
}

TEST_CASE("a frame is filled in rounds: one set of markers, no place twice", "[proof]") {
    const Recipe labels = label_recipe(demo().scene()).value();
    const auto round = [&](int number, std::size_t cells) {
        return plan_free_sheet(request(number), std::vector<Setting>(cells, DemoBench::blue().setting),
                               demo().setup.bench, labels)
            .value();
    };
    const std::array<std::array<bool, 49>, 4> modules{};
    const ProofSheet first = with_frame(round(9, 12), demo().setup.bench).value();
    CHECK(first.cells() == 20);
    CHECK(first.close);
    const SheetLayout plate = layout(first);
    std::set<std::string> burned;
    std::size_t next = 0;
    std::vector<ProofSheet> rounds{first};
    for (const std::size_t cells : {4, 3, 1})
        rounds.push_back(on_frame_of(round(10 + static_cast<int>(rounds.size()), cells), first,
                                     rounds.back().first_own() + rounds.back().own.size())
                             .value());
    for (const ProofSheet& s : rounds) {
        INFO(s.number);
        const SheetLayout at = layout(s);
        CHECK(at.width_mm == plate.width_mm);
        CHECK(at.fiducials[2].id == plate.fiducials[2].id);
        CHECK(at.cells.back().x == plate.cells.back().x);
        CHECK(s.first_own() == next);
        next += s.own.size();
        std::size_t places = 0;
        for (const ToolStep& step : tool_steps(s, at, modules))
            if (step.name != "fiducial" && step.name != "label") {
                CHECK(burned.insert(step.name).second);
                ++places;
            } else
                CHECK_FALSE(s.on_old_plate());
        CHECK(places == s.own.size());
        const double lettering = forecast(s, demo().scene()).labels_s;
        CHECK((s.on_old_plate() ? lettering == 0 : lettering > 5));
        CHECK(sheet_from_json(to_json(s), "f").value() == s);
    }
    CHECK(burned.size() == 20);
    CHECK(on_frame_of(round(20, 1), first, 20).error().code == "proof.frame_full");
    // A plate of before frames lay close goes on as it lies.
    ProofSheet old = first;
    old.close = false;
    const ProofSheet onwards = on_frame_of(round(22, 3), old, 12).value();
    CHECK_FALSE(onwards.close);
    CHECK(layout(onwards).fiducials[1].box.x == layout(old).fiducials[1].box.x);
    CHECK(to_json(old)["version"] == 3);
    CHECK(sheet_from_json(to_json(onwards), "f").value() == onwards);
    ProofSheet wider = round(21, 1);
    wider.cell_width = mm(6);
    CHECK(on_frame_of(wider, first, 12).error().code == "proof.frame_cells");
    // A file whose cells lie beside the frame is no sheet.
    auto broken = to_json(rounds.back());
    broken["frame"]["first"] = 20;
    CHECK(sheet_from_json(broken, "f").error().place.field == "frame.first");
    // A small field has no room for more: it is said.
    Bench small = demo().setup.bench;
    for (Lens& lens : small.lenses)
        lens.field = mm(35);
    CHECK(with_frame(round(9, 12), small).error().code == "proof.too_large");
}
