// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/sheet_heat.h"
#include "demo_plate.h"
#include "evidence/film_evidence.h"
#include "proof/layout.h"
#include "proof/observed.h"
#include "vision/fiducials.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>
#include <rapidcheck/catch.h>
#include <set>

using namespace finch;
using namespace finch::tests;

namespace {

/// A label of half a millimetre: where heat stays.
const DemoBench& demo() {
    static const DemoBench d = [] {
        DemoBench thin;
        thin.setup.stock.thickness = mm(0.5);
        return thin;
    }();
    return d;
}

/// A map of cells that take half a minute each, for which the plate is small.
ProofSheet hot_sheet() {
    SheetRequest q = demo().request(21);
    q.base.setting.power_percent = 60;
    q.across = {Knob::scan_speed, 400, 800, 4, Steps::ratio};
    q.down = {Knob::hatch_pitch, 0.003, 0.004, 3, Steps::ratio};
    return plan_sheet(q, demo().setup.bench, label_recipe(demo().scene()).value()).value();
}

SheetHeat heat_of(const ProofSheet& sheet) {
    return sheet_heat(sheet, *demo().metal, demo().setup.stock.thickness, cell_heats(forecast(sheet, demo().scene())));
}

std::vector<std::string> cells_of(const std::vector<ToolStep>& steps) {
    std::vector<std::string> out;
    for (const ToolStep& s : steps)
        if (s.name != "fiducial" && s.name != "label")
            out.push_back(s.name);
    return out;
}

} // namespace

TEST_CASE("rests keep every cell under the wanted warmth, each as short as that allows", "[heat][proof]") {
    rc::prop("rests", [] {
        const auto count = *rc::gen::inRange<std::size_t>(1, 16);
        std::vector<CellPlace> places = cell_grid(count);
        std::vector<CellHeat> heats;
        for (std::size_t i = 0; i < count; ++i)
            heats.push_back({*rc::gen::inRange(0, 20) * 1.0, *rc::gen::inRange(1, 40) * 1.0});
        const double below = *rc::gen::inRange(1, 60);
        const Length plate = mm(1.4);
        const auto rests = rests_below(below, 120, *demo().metal, plate, places, heats);
        const auto warmth = expected_warmth(*demo().metal, plate, places, heats, rests);
        for (std::size_t i = 0; i < count; ++i) {
            RC_ASSERT(warmth[i] <= below || rests[i] == 120);
            if (rests[i] <= 0)
                continue;
            auto shorter = rests;
            shorter[i] -= 1;
            RC_ASSERT(expected_warmth(*demo().metal, plate, places, heats, shorter)[i] > below);
        }
        RC_ASSERT(rests_below(401, 120, *demo().metal, plate, places, heats) == std::vector<double>(count, 0.0));
    });
}

TEST_CASE("a sheet is burned in turns that are kept with it, whatever the order will be one day", "[heat][proof]") {
    ProofSheet sheet = hot_sheet();
    sheet.left_out.assign(sheet.cells(), false);
    sheet.left_out[5] = true;
    const SheetHeat bare = heat_of(sheet);
    sheet.rest_below_k = std::round(10 * bare.warmest_k() / 4) / 10;
    const SheetForecast f = forecast(sheet, demo().scene());
    const ProofSheet burned = with_turns(sheet, demo().scene());
    CHECK(f.rests_s > 5);
    ProofSheet plain = sheet;
    plain.rest_below_k = 0;
    CHECK(f.total_s == Approx(forecast(plain, demo().scene()).total_s + f.rests_s));
    CHECK(forecast(burned, demo().scene()).rests_s == Approx(f.rests_s));
    CHECK(heat_of(burned).warmest_k() <= sheet.rest_below_k);
    REQUIRE(burned.turns.size() == sheet.cells() - 1);
    std::set<std::size_t> once;
    for (const CellTurn& t : burned.turns)
        once.insert(t.cell);
    CHECK(once.size() == burned.turns.size());
    CHECK_FALSE(once.contains(5));
    // What the bench is sent: these turns, with their rests.
    const SheetLayout at = layout(burned);
    const auto steps = tool_steps(burned, at, fiducial_modules(at));
    const auto names = cells_of(steps);
    double rests_s = 0;
    for (std::size_t i = 0; i < names.size(); ++i)
        CHECK(names[i] == cell_name(burned, burned.turns[i].cell));
    for (const ToolStep& s : steps)
        rests_s += s.rest_s;
    CHECK(rests_s == Approx(f.rests_s));
    // A map of an older record tells no turns: it was burned row by row.
    CHECK(cells_of(tool_steps(plain, layout(plain), fiducial_modules(layout(plain)))).front() == "A1");
    CHECK(cells_of(tool_steps(plain, layout(plain), fiducial_modules(layout(plain))))[1] == "B1");
    // The file keeps both; turns that leave a cell out, name one twice or one that is not there are refused.
    CHECK(sheet_from_json(to_json(burned), "s").value() == burned);
    for (const char* wrong : {"A1", "F9", "B2"}) {
        auto document = to_json(burned);
        document["turns"][3]["cell"] = document["turns"][0]["cell"] == wrong ? "B1" : wrong;
        if (document["turns"][3]["cell"] == to_json(burned)["turns"][3]["cell"])
            document["turns"].erase(3);
        const auto read = sheet_from_json(document, "s");
        REQUIRE_FALSE(read.has_value());
        CHECK(read.error().message == "Each cell that is not left out is burned once.");
    }
}

TEST_CASE("rests bring cells nearer to what they are on a cold plate, on benches of another kind", "[heat][proof]") {
    // The bench adds up its own heat; what a cell is alone on a cold plate is the measure.
    int better = 0, tried = 0;
    for (const int seed : {3, 4, 5, 6}) {
        const standin::World world = standin::draw_world(standin::Grade::honest, static_cast<std::uint64_t>(seed));
        ProofSheet sheet = hot_sheet();
        const ProofSheet plain = with_turns(sheet, demo().scene());
        sheet.rest_below_k = 3;
        const ProofSheet rested = with_turns(sheet, demo().scene());
        const auto off = [&](const ProofSheet& s) {
            const SheetLayout at = layout(s);
            standin::Work work(world, nature(), demo().setup, at.width_mm, at.height_mm);
            double worst = 0;
            for (const ToolStep& step : tool_steps(s, at, fiducial_modules(at)))
                if (!step.hatch.empty() && step.name != "fiducial") {
                    work.wait(step.rest_s);
                    REQUIRE(work.burn(step));
                    standin::Work cold(world, nature(), demo().setup, at.width_mm, at.height_mm);
                    cold.wait(work.clock_s()); // the laser is as warm
                    REQUIRE(cold.burn(step));
                    worst = std::max(worst, std::abs(std::log(work.plate().burns.back().surface.film_nm /
                                                              cold.plate().burns.back().surface.film_nm)));
                }
            return worst;
        };
        ++tried;
        const double before = off(plain), after = off(rested);
        CAPTURE(seed, before, after);
        CHECK(after <= before + 0.01);
        better += after < 0.7 * before ? 1 : 0;
    }
    CHECK(better >= tried - 1);
}

TEST_CASE("a read cell carries what warmed it, and the search knows it", "[heat][evidence]") {
    ProofSheet sheet = with_turns(hot_sheet(), demo().scene());
    SheetReading reading;
    reading.sheet_number = sheet.number;
    reading.cells.resize(sheet.cells(), {CellState::read, {60, 5, 30}, 0.3, 1.6, false});
    reading.cells[2].state = CellState::hidden; // unread, and hot all the same
    const auto places =
        observed(sheet, reading, std::make_shared<const Setup>(demo().setup), "2026-11-09T10:00:00Z", "r");
    REQUIRE(places.size() == sheet.cells() - 1);
    const SheetHeat heat = heat_of(sheet);
    const auto posterior = film_posterior(materials(), demo().setup, places);
    REQUIRE(posterior);
    std::size_t warm = 0;
    for (const SeenCell& c : posterior->cells())
        for (std::size_t i = 0; i < heat.turns.size(); ++i)
            if (cell_recipe(sheet, heat.turns[i].cell) == c.trial.recipe) {
                CHECK(c.trial.warmth_k == Approx(heat.warmth_k[i]).margin(1e-9));
                warm += c.trial.warmth_k > 1 ? 1 : 0;
            }
    CHECK(warm > 1); // others are taken for molten there
}
