// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/depth_wedge.h"
#include "demo_plate.h"
#include "proof/answer.h"
#include "proof/depth_list.h"
#include "search/draws.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <set>

using namespace finch;
using namespace finch::tests;
using standin::Grade;

namespace {

Recipe brass_relief() {
    Recipe r;
    r.process = Process::deep_engrave;
    r.setting = {90, kilohertz(60), nanoseconds(200), mm_per_second(800), mm(0.03), 0, 1, mm(0)};
    return r;
}

DemoBench on_brass() {
    DemoBench demo;
    demo.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    demo.metal = materials().find(demo.setup.stock.metal).value();
    return demo;
}

ProofSheet wedge(const DemoBench& demo, const WedgeRequest& wanted, int number = 5) {
    SheetRequest request = demo.request(number);
    request.base = brass_relief();
    return plan_wedge(request, wanted, demo.scene(), brass_relief(), static_cast<std::uint64_t>(number)).value();
}

} // namespace

TEST_CASE("what a wedge says holds as often as it says: first pass, fall-off, passes for a depth", "[wedge]") {
    const DemoBench demo = on_brass();
    const ProofSheet sheet = wedge(demo, {40, 6, 2});
    int first = 0, doubling = 0, passes = 0;
    constexpr int tries = 200;
    for (int k = 0; k < tries; ++k) {
        Draws chance(static_cast<std::uint64_t>(k));
        const double a = chance.even(0.8, 5), b = chance.even(0.75, 1.05), um = a * std::pow(chance.even(8, 36), b);
        SheetReading reading = unphotographed(sheet);
        for (std::size_t i = 0; i < sheet.own.size(); ++i) {
            const double depth = a * std::pow(sheet.own[i].passes, b), within = std::hypot(0.4, 0.03 * depth);
            put_depths(reading, {{i, {depth + within / 1.645 * chance.normal(), within}}});
        }
        const auto f = judge_wedge(sheet, reading, demo.scene(), WantedDepth{um, 0.1 * um});
        if (!f) {
            FAIL(f.error().message);
            continue;
        }
        first += f->first_low <= a && a <= f->first_high ? 1 : 0;
        doubling += f->doubling_low <= std::exp2(b) && std::exp2(b) <= f->doubling_high ? 1 : 0;
        const double truly = std::pow(um / a, 1 / b);
        passes += *f->passes_low <= truly && truly <= *f->passes_high ? 1 : 0;
        CHECK(f->s_per_cm2.value() > 0);
    }
    INFO("first " << first << ", doubling " << doubling << ", passes " << passes << " of " << tries);
    CHECK(first >= 0.85 * tries);
    CHECK(doubling >= 0.85 * tries);
    CHECK(passes >= 0.85 * tries);
}

TEST_CASE("the passes that a wedge tells make the depth on benches of another kind", "[wedge]") {
    const DemoBench demo = on_brass();
    int near = 0, inside = 0, told = 0;
    constexpr unsigned benches = 20;
    for (unsigned seed = 1; seed <= benches; ++seed) {
        const standin::World world = draw_world(Grade::honest, 500 + seed);
        const ProofSheet sheet = wedge(demo, {48, 6, 2}, static_cast<int>(seed));
        REQUIRE(to_json(sheet_from_json(to_json(sheet), "f").value()) == to_json(sheet));
        const standin::Plate plate = cells_of(demo, sheet, world);
        Draws chance(seed);
        SheetReading reading = unphotographed(sheet);
        for (std::size_t i = 0; i < sheet.own.size(); ++i) {
            const double um = plate.find(cell_name(sheet, i))->surface.depth_um;
            const double within = std::hypot(1.0, 0.03 * um);
            put_depths(reading, {{i, {um + within / 1.645 * chance.normal(), within}}});
        }
        const auto deepest =
            std::ranges::max_element(reading.cells, {}, [](const CellReading& c) { return c.depth_um.value_or(0); });
        const double um = 0.6 * *deepest->depth_um;
        const auto f = judge_wedge(sheet, reading, demo.scene(), WantedDepth{um, 0.1 * um});
        if (!f || !f->passes)
            continue;
        ++told;
        INFO(f->words);
        Recipe r = brass_relief();
        const auto depth_at = [&](double passes) {
            r.setting.passes = static_cast<int>(std::lround(passes));
            return standin::marked(world, *nature(), demo.setup, r, {20, 20, 5, 4}, {}).value().depth_um;
        };
        near += std::abs(depth_at(*f->passes) / um - 1) < 0.1 ? 1 : 0;
        inside += depth_at(std::floor(*f->passes_low)) <= 1.03 * um && depth_at(std::ceil(*f->passes_high)) >= 0.97 * um
                      ? 1
                      : 0;
        CHECK(answer(sheet, reading, demo.scene(), depth_target({um, 0.1 * um})) == f->words);
    }
    INFO("told " << told << ", within a tenth " << near << ", interval " << inside);
    CHECK(told >= 18);
    CHECK(near >= 0.85 * told);
    CHECK(inside >= 0.8 * told);
}

TEST_CASE("a wedge is refused where it makes no sense, and says what is missing", "[wedge]") {
    const DemoBench demo = on_brass();
    SheetRequest request = demo.request(5);
    request.base = brass_relief();
    const auto code = [&](const WedgeRequest& w) {
        return plan_wedge(request, w, demo.scene(), brass_relief(), 1).error().code;
    };
    CHECK(code({32, 2, 2}) == "wedge.passes");
    CHECK(code({32, 6, 9}) == "wedge.passes");
    CHECK(code({4, 6, 2}) == "wedge.passes");
    request.base = DemoBench::blue();
    CHECK(plan_wedge(request, {}, DemoBench().scene(), DemoBench::blue(), 1).error().code == "wedge.no_depth");
    const ProofSheet sheet = wedge(demo, {32, 6, 2});
    std::set<int> counts;
    for (const Setting& s : sheet.own)
        counts.insert(s.passes);
    CHECK(counts.size() == 6);
    CHECK(*counts.begin() == 1);
    CHECK(*counts.rbegin() == 32);
    SheetReading reading = unphotographed(sheet);
    CHECK(judge_wedge(sheet, reading, demo.scene(), {}).error().code == "wedge.too_few");
    for (std::size_t i = 0; i < sheet.own.size(); ++i)
        put_depths(reading, {{i, {0.1, 2}}}); // nothing but the gauge's own error
    CHECK(judge_wedge(sheet, reading, demo.scene(), {}).error().code == "wedge.too_few");
    CHECK(judge_wedge(DemoBench().sheet(), reading, demo.scene(), {}).error().code == "wedge.none");
    nlohmann::json two = to_json(sheet);
    two["ladder"] = true;
    CHECK(sheet_from_json(two, "f").error().place.field == "ladder");
    // Without a wanted depth it tells how it falls off; far beyond what was measured it warns.
    for (std::size_t i = 0; i < sheet.own.size(); ++i)
        put_depths(reading, {{i, {2.0 * std::pow(sheet.own[i].passes, 0.9), 0.5}}});
    const WedgeFinding f = judge_wedge(sheet, reading, demo.scene(), {}).value();
    CHECK_FALSE(f.passes);
    CHECK(f.first_um == Approx(2).epsilon(0.01));
    CHECK(f.doubling == Approx(std::exp2(0.9)).epsilon(0.01));
    const WedgeFinding far = judge_wedge(sheet, reading, demo.scene(), WantedDepth{500, 50}).value();
    CHECK(far.beyond > 2);
    CHECK(far.words.find("longer wedge") != std::string::npos);
}
