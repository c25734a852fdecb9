// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/comparison.h"
#include "demo_plate.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <numeric>
#include <random>
#include <set>

using namespace finch;
using namespace finch::tests;

namespace {

const DemoBench& demo() {
    static const DemoBench d;
    return d;
}

ComparisonRequest faster(double share, std::size_t pairs = 8) {
    ComparisonRequest q{DemoBench::blue(), DemoBench::blue(), pairs, Measure::lightness, 1};
    q.second.setting.scan_speed *= share;
    return q;
}

Expected<ProofSheet> planned(const ComparisonRequest& q, std::uint64_t seed = 1) {
    static const Recipe labels = label_recipe(demo().scene()).value();
    return plan_comparison(demo().request(3), q, demo().setup.bench, labels, seed);
}

/// Readings of pairs whose second cell is lighter by so much; each reading scatters by 0.5, each place by 1.5 (both
/// cells of a pair alike).
SheetReading read(const ProofSheet& sheet, double lighter, unsigned seed) {
    std::mt19937 dice(seed);
    std::normal_distribution<> normal(0, 1);
    SheetReading out;
    out.sheet_number = sheet.number;
    out.cells.resize(sheet.cells());
    const std::size_t pairs = sheet.own.size() / 2;
    for (std::size_t i = 0; i < pairs; ++i) {
        const double place = 40 + 1.5 * normal(dice);
        out.cells[i] = {CellState::read, {place + 0.5 * normal(dice), 0, 0}, 1, 1};
        out.cells[pairs + i] = {CellState::read, {place + lighter + 0.5 * normal(dice), 0, 0}, 1, 1};
    }
    return out;
}

} // namespace

TEST_CASE("equal recipes are called different at most as often as was said, and real differences as often as promised",
          "[comparison]") {
    for (const std::size_t pairs : {std::size_t{4}, std::size_t{8}, std::size_t{16}}) {
        const ProofSheet sheet = planned(faster(1.1, pairs)).value();
        int false_alarms = 0, matters = 0, inside = 0, found = 0;
        constexpr int tries = 500;
        // With the true scatter known, the difference that is shown nine times in ten can be set.
        double shown = 0;
        for (unsigned i = 0; i < tries; ++i)
            shown += judge_comparison(sheet, read(sheet, 0, i))->shown / tries;
        for (unsigned i = 0; i < tries; ++i) {
            const ComparisonVerdict same = judge_comparison(sheet, read(sheet, 0, 9000 + i)).value();
            false_alarms += same.low > 0 || same.high < 0 ? 1 : 0;
            matters += same.finding == Comparing::matters ? 1 : 0;
            const ComparisonVerdict other = judge_comparison(sheet, read(sheet, shown, 20000 + i)).value();
            found += other.low > 0 ? 1 : 0;
            inside += other.low <= shown && shown <= other.high ? 1 : 0;
        }
        INFO(pairs << " pairs: false " << false_alarms << ", matters " << matters << ", shown " << shown << ", found "
                   << found << ", interval holds " << inside << " of " << tries);
        CHECK(false_alarms < 40); // 5 % of 500, with three deviations of chance
        CHECK(matters <= 25);
        // The mean of estimated scatters is a little under the true one where pairs are few.
        CHECK(found > 420);
        CHECK(found < 490);
        CHECK(inside > 460);
    }
}

TEST_CASE("a comparison agrees with a t test worked out by hand, and says plainly what it can tell", "[comparison]") {
    const ProofSheet sheet = planned(faster(1.1, 5)).value();
    SheetReading r;
    r.cells.resize(10);
    const std::array first{34.5, 32.2, 33.1, 32.9, 32.5}, second{36.4, 34.8, 35.2, 34.8, 34.3};
    for (std::size_t i = 0; i < 5; ++i) {
        r.cells[i] = {CellState::read, {first.at(i), 0, 0}, 1, 1};
        r.cells[5 + i] = {CellState::read, {second.at(i), 0, 0}, 1, 1};
    }
    // Differences 1.9, 2.6, 2.1, 1.9, 1.8: mean 2.06, deviation 0.32094, t(4, 0.975) = 2.77645.
    const ComparisonVerdict v = judge_comparison(sheet, r).value();
    CHECK(v.difference == Approx(2.06));
    CHECK(v.high - v.difference == Approx(2.77645 * 0.320936 / std::sqrt(5.0)).epsilon(1e-4));
    CHECK(v.finding == Comparing::matters);
    CHECK(v.words.find("It matters: L* rises by 2.1 (1.7 to 2.5)") == 0);
    // The other way round it falls by as much.
    SheetReading turned = r;
    std::rotate(turned.cells.begin(), turned.cells.begin() + 5, turned.cells.end());
    CHECK(judge_comparison(sheet, turned)->words.find("It matters: L* falls by 2.1 (1.7 to 2.5)") == 0);
    // The same readings under other lines that were settled before.
    const auto under = [&](double matters, const SheetReading& reading) {
        ProofSheet s = sheet;
        s.paired->matters = matters;
        return judge_comparison(s, reading).value();
    };
    CHECK(under(2, r).finding == Comparing::differs);
    CHECK(under(5, r).finding == Comparing::does_not_matter);
    SheetReading wild = r;
    wild.cells[5].lab.l = 20;
    CHECK(under(1, wild).finding == Comparing::cannot_tell);
    CHECK(under(1, wild).needed > 5);
    // A hidden or spoiled cell takes its partner with it.
    SheetReading fewer = r;
    fewer.cells[0].state = CellState::hidden;
    fewer.cells[6].spoiled = true;
    CHECK(judge_comparison(sheet, fewer)->readings.size() == 3);
    fewer.cells[2].state = CellState::hidden;
    CHECK(judge_comparison(sheet, fewer).error().code == "compare.too_few");
    CHECK(judge_comparison(demo().sheet(), {}).error().code == "compare.no_comparison");
}

TEST_CASE("pairs are burned in an order of chance, and only recipes that differ in one setting are paired",
          "[comparison]") {
    const ProofSheet sheet = planned(faster(1.1)).value();
    CHECK(sheet.columns() == 8);
    CHECK(sheet.rows() == 2);
    CHECK(sheet_from_json(to_json(sheet), "f").value() == sheet);
    // Each pair one after another; over many draws neither recipe nor any pair comes first more often.
    std::array<int, 8> began{};
    int second_first = 0;
    for (std::uint64_t seed = 0; seed < 400; ++seed) {
        const auto order = planned(faster(1.1), seed)->paired->order;
        CHECK(std::set<std::size_t>(order.begin(), order.end()).size() == 16);
        for (std::size_t i = 0; i < 16; i += 2) {
            CHECK(order[i] % 8 == order[i + 1] % 8);
            second_first += order[i] >= 8 ? 1 : 0;
        }
        ++began.at(order[0] % 8);
    }
    CHECK(std::abs(second_first - 1600) < 120);
    for (const int n : began)
        CHECK(std::abs(n - 50) < 28);
    std::vector<std::string> burned;
    const std::array<std::array<bool, 49>, 4> modules{};
    for (const ToolStep& step : tool_steps(sheet, layout(sheet), modules))
        if (step.name != "fiducial" && step.name != "label")
            burned.push_back(step.name);
    REQUIRE(burned.size() == 16);
    for (std::size_t i = 0; i < 16; ++i)
        CHECK(burned[i] == cell_name(sheet, sheet.paired->order[i]));
    CHECK(planned(faster(1)).error().code == "compare.same");
    CHECK(planned(faster(1.1, 2)).error().code == "compare.pairs");
    ComparisonRequest more = faster(1.1);
    more.second.cross_hatch = !more.second.cross_hatch;
    CHECK(planned(more).error().code == "compare.more_than_setting");
    auto broken = to_json(sheet);
    broken["paired"]["order"][3] = broken["paired"]["order"][4];
    CHECK(sheet_from_json(broken, "f").error().place.field == "paired.order");
}

TEST_CASE("on a bench of another kind a tenth more speed is seen, and nothing is seen where nothing changed",
          "[comparison]") {
    int seen = 0, alarms = 0;
    for (unsigned seed = 1; seed <= 6; ++seed) {
        const auto world = standin::draw_world(standin::Grade::honest, 40 + seed);
        for (const double share : {1.1, 1.0000001}) { // a change that no film can answer to
            const ProofSheet sheet = planned(faster(share), seed).value();
            const standin::Plate plate = burned(demo(), sheet, world);
            std::mt19937 dice(seed);
            std::normal_distribution<> noise(0, 0.5);
            SheetReading r;
            for (std::size_t i = 0; i < sheet.cells(); ++i) {
                const Lab lab = true_colour(plate.find(cell_name(sheet, i))->surface);
                r.cells.push_back(
                    {CellState::read, {lab.l + noise(dice), lab.a + noise(dice), lab.b + noise(dice)}, 1, 1});
            }
            ProofSheet asked = sheet;
            asked.paired->measure = Measure::b;
            const ComparisonVerdict v = judge_comparison(asked, r).value();
            const bool differs = v.low > 0 || v.high < 0;
            (share > 1.01 ? seen : alarms) += differs ? 1 : 0;
        }
    }
    INFO("seen " << seen << " of 6, alarms " << alarms << " of 6");
    CHECK(seen >= 5);
    CHECK(alarms <= 1);
}
