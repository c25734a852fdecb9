// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "evidence/learn.h"
#include "proof/depth_list.h"
#include "proof/designed_sheet.h"
#include "proof/first_sheet.h"
#include "proof/observed.h"
#include "search/depth_cells.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace finch;
using namespace finch::tests;
using standin::Grade;

namespace {

/// A bench that nobody knows, with a piece on it and a gauge beside it.
class HiddenBench {
public:
    DemoBench demo;

    HiddenBench(const char* bench, const char* stock, Grade grade, unsigned seed)
        : world_(draw_world(grade, 900 + seed)), dice_(seed) {
        demo.setup.bench = load_bench(FINCH_SOURCE "/data", bench).value();
        demo.setup.stock = load_stock(FINCH_SOURCE "/data", stock).value();
        demo.metal = materials().find(demo.setup.stock.metal).value();
    }
    [[nodiscard]] double truly(const Recipe& recipe) const {
        standin::Work work(world_, nature(), demo.setup, 60, 50);
        const bool done = work.burn({"cell", recipe, {{10, 10, 5, 4}}, {}}).has_value();
        REQUIRE(done);
        return work.plate().burns.back().surface.depth_um;
    }
    GaugeDepth measured(double um) {
        const double shown = um * std::exp(std::normal_distribution<>(0, 0.012)(dice_));
        return {shown, std::hypot(1.6, 0.02 * shown)};
    }

private:
    standin::World world_;
    std::mt19937 dice_;
};

Recipe engraving() {
    Recipe r;
    r.process = Process::deep_engrave;
    r.setting = {80, kilohertz(60), nanoseconds(100), mm_per_second(900), mm(0.03), 0, 12, mm(0)};
    return r;
}

struct Tally {
    int benches = 0, met = 0, at_once = 0, believed = 0, truly = 0, rounds = 0, hits = 0;
    double promised = 0;
    std::vector<int> cells;
    std::vector<double> minutes;
};

/// From the recipe to a depth: designed, burned and measured round by round, as the window does it.
void search(HiddenBench bench, double um, Tally& out) {
    const Target target = depth_target({um, 0.1 * um});
    std::vector<Observation> seen;
    bool met = false, believed_one = false;
    int cells = 0;
    double minutes = 0;
    for (int round = 0; round < 4 && !believed_one; ++round) {
        const Scene scene = bench.demo.scene(seen.empty() ? Evidence() : learn(materials(), seen));
        SheetRequest request;
        request.number = round + 1;
        request.base = engraving();
        const auto designed = design_depth_sheet(scene, bench.demo.setup, target, request, seen, {});
        if (!designed)
            break;
        SheetReading reading = unphotographed(designed->sheet);
        bool hit = false;
        for (const std::size_t i : burned_cells(designed->sheet)) {
            const double depth = bench.truly(cell_recipe(designed->sheet, i));
            const GaugeDepth shown = bench.measured(depth);
            put_depths(reading, {{i, shown}});
            const bool within = std::abs(depth - um) <= 0.1 * um;
            hit = hit || within;
            if (depth_belief(*target.depth, shown.um, shown.within_um) >= believed && !believed_one) {
                believed_one = true;
                out.truly += within ? 1 : 0;
            }
            ++cells;
        }
        const auto more = observed(designed->sheet, reading, std::make_shared<const Setup>(bench.demo.setup),
                                   std::to_string(round), "gauge");
        seen.insert(seen.end(), more.begin(), more.end());
        minutes += designed->seconds / 60;
        ++out.rounds;
        out.promised += designed->promise;
        out.hits += hit ? 1 : 0;
        out.at_once += hit && round == 0 ? 1 : 0;
        met = met || hit;
    }
    ++out.benches;
    out.met += met ? 1 : 0;
    out.believed += believed_one ? 1 : 0;
    out.cells.push_back(cells);
    out.minutes.push_back(minutes);
}

/// The schools of the trade for a depth, with the same gauge. `ladder`: passes in even steps round the plan; else one
/// cell at a time, its passes scaled by what it missed.
void school(HiddenBench bench, double um, bool ladder, Tally& out) {
    const auto near = depth_trials(bench.demo.scene(), engraving(), {mm(5), 20}, {um, 0.1 * um});
    REQUIRE(!near.empty());
    Recipe planned =
        std::ranges::min_element(near, {}, [&](const DepthTrial& t) { return std::abs(t.um - um); })->recipe;
    bool met = false;
    int cells = 0;
    double minutes = 0, passes = planned.setting.passes;
    for (int round = 0; round < 4 && !met; ++round) {
        double nearest = 1e9, shown_at = um, passes_at = passes;
        for (int k = 0; k < (ladder ? 10 : 1); ++k) {
            Recipe r = planned;
            r.setting.passes = std::max(1, static_cast<int>(std::lround(passes * (ladder ? 0.4 + 0.15 * k : 1))));
            const double depth = bench.truly(r), shown = bench.measured(depth).um;
            met = met || std::abs(depth - um) <= 0.1 * um;
            if (std::abs(shown - um) < nearest) {
                nearest = std::abs(shown - um);
                shown_at = shown;
                passes_at = r.setting.passes;
            }
            ++cells;
            minutes += predict(bench.demo.scene(), r, {mm(5), 20}, unseen).value().mark.pattern.time_s / 60;
        }
        passes = passes_at * um / std::max(shown_at, 0.1);
    }
    ++out.benches;
    out.met += met ? 1 : 0;
    out.cells.push_back(cells);
    out.minutes.push_back(minutes);
}

template <typename T>
T middle(std::vector<T> v) {
    std::ranges::sort(v);
    return v[v.size() / 2];
}

constexpr std::array<std::pair<const char*, const char*>, 4> pieces{{{"heron", "finishing-stamp-brass"},
                                                                     {"wren", "sundial-316"},
                                                                     {"heron", "end-plate-bronze"},
                                                                     {"wren", "setting-circle-titanium"}}};

} // namespace

TEST_CASE("a depth is reached on benches of another kind with a handful of cells", "[depth]") {
    for (const Grade grade : {Grade::honest, Grade::hard}) {
        Tally all;
        for (const auto& [bench, stock] : pieces)
            for (unsigned seed = 1; seed <= 4; ++seed)
                search({bench, stock, grade, seed}, seed % 2 == 0 ? 40 : 120, all);
        INFO(word(grade) << ": met " << all.met << ", believed " << all.believed << ", truly " << all.truly);
        CHECK(all.met == all.benches);
        CHECK(all.believed >= all.benches - 1);
        CHECK(all.truly >= all.believed - 1);
        CHECK(middle(all.cells) <= 5);
        // No promise above what came of it, but for chance.
        CHECK(all.promised / all.rounds <= 1.0 * all.hits / all.rounds + 0.05);
    }
}

TEST_CASE("how many cells a depth costs, beside the schools of the trade", "[.][depth-table]") {
    fmt::print(
        "| stock, depth, grade | method | met | at once | cells | minutes | promise / hit | believed, truly |\n");
    for (const auto& [bench, stock] : pieces)
        for (const double um : {25.0, 120.0, 300.0})
            for (const Grade grade : {Grade::honest, Grade::hard}) {
                std::array<Tally, 3> t;
                for (unsigned seed = 1; seed <= 50; ++seed) {
                    const HiddenBench b(bench, stock, grade, seed);
                    search(b, um, t[0]);
                    school(b, um, true, t[1]);
                    school(b, um, false, t[2]);
                }
                static constexpr std::array names{"search", "ladder of ten", "one at a time"};
                for (std::size_t i = 0; i < t.size(); ++i)
                    fmt::print("| {}, {:.0f} µm, {} | {} | {}/{} | {} | {} | {:.1f} | {} | {} |\n", stock, um,
                               word(grade), names[i], t[i].met, t[i].benches,
                               i == 0 ? std::to_string(t[i].at_once) : "", middle(t[i].cells), middle(t[i].minutes),
                               i == 0 ? fmt::format("{:.2f} / {:.2f}", t[i].promised / t[i].rounds,
                                                    1.0 * t[i].hits / t[i].rounds)
                                      : "",
                               i == 0 ? fmt::format("{}, {}", t[i].believed, t[i].truly) : "");
                std::fflush(stdout);
            }
}

TEST_CASE("a design for a depth keeps to the stock, and says what it cannot reach", "[depth]") {
    const HiddenBench b("heron", "finishing-stamp-brass", Grade::honest, 1);
    const auto ask = [&](const Setup& setup, Recipe base, double um) {
        const Scene scene{materials(), *b.demo.metal, setup.bench, setup.stock};
        SheetRequest request;
        request.base = std::move(base);
        return design_depth_sheet(scene, setup, depth_target({um, 0.1 * um}), request, {}, {});
    };
    Setup thin = b.demo.setup;
    thin.stock.thickness = mm(0.3);
    const auto deep = ask(thin, engraving(), 250);
    if (deep) // what is designed stays above the back, as far as it is known
        for (const std::size_t i : burned_cells(deep->sheet)) {
            const auto p = predict({materials(), *b.demo.metal, thin.bench, thin.stock}, cell_recipe(deep->sheet, i),
                                   {mm(5), 20}, unseen);
            CHECK(p->depth_um() * std::exp(p->removal->spread_ln) <= 300);
        }
    CHECK(ask(thin, engraving(), 900).error().code == "search.too_deep");
    Recipe anneal = DemoBench::blue();
    anneal.setting.power_percent = 2;
    CHECK(ask(b.demo.setup, anneal, 100).error().code == "search.no_depth");
    // A pass that takes twice the depth at once is made faster.
    const auto shallow = ask(b.demo.setup, engraving(), 0.4);
    REQUIRE(shallow);
    CHECK(cell_recipe(shallow->sheet, 0).setting.scan_speed > engraving().setting.scan_speed);
    // A narrow band is bracketed.
    SheetRequest asked;
    asked.base = engraving();
    const auto narrow = design_depth_sheet(b.demo.scene(), b.demo.setup, depth_target({150, 8}), asked, {}, {});
    REQUIRE(narrow);
    CHECK(narrow->sheet.own.size() >= 2);
    // An aim that asks for a depth is searched as one.
    Aim aim;
    aim.wishes = {usual_wish(WishKind::depth)};
    aim.wishes[0].value = 100;
    aim.wishes[0].high = 140;
    const Scene scene = b.demo.scene();
    Candidate c;
    c.recipe = engraving();
    c.prediction = predict(scene, c.recipe, {mm(5), 20}).value();
    CHECK(sheet_target(aim, c).depth == WantedDepth{120, 20});
}

TEST_CASE("depths are read as they are typed, pasted and logged", "[depth]") {
    const DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    struct Row {
        const char* text;
        std::vector<std::tuple<const char*, double, double>> cells;
    };
    for (const Row& row : {Row{"120", {{"A1", 120, 6}}},
                           Row{"120\n80 ± 3\r\n\n0.05 mm", {{"A1", 120, 6}, {"B1", 80, 3}, {"C1", 50, 2.5}}},
                           Row{"cell;depth\nB2;120;5\n# left\nc3\t60 +- 2", {{"B2", 120, 5}, {"C3", 60, 2}}},
                           Row{"\xEF\xBB\xBF"
                               "B2: 0,12 mm; 0,01 mm\nnext 1",
                               {}},
                           Row{"B2 12\n7", {{"B2", 12, 2}, {"C2", 7, 2}}}}) {
        INFO(row.text);
        const auto depths = depths_from_text(row.text, sheet);
        if (row.cells.empty()) {
            CHECK_FALSE(depths);
            CHECK(depths.error().place.line == 2);
            continue;
        }
        REQUIRE(depths);
        REQUIRE(depths->size() == row.cells.size());
        for (std::size_t i = 0; i < row.cells.size(); ++i) {
            const auto& [name, um, within] = row.cells[i];
            CHECK(cell_name(sheet, (*depths)[i].cell) == name);
            CHECK((*depths)[i].depth.um == Approx(um));
            CHECK((*depths)[i].depth.within_um == Approx(within));
        }
    }
    for (const auto& [text, code, line] : {std::tuple{"", "depth.none", 0},
                                           {"A1 5\nZ9 7", "proof.no_cell", 2},
                                           {"A1 5\na1 6", "depth.line", 2},
                                           {"A1 deep 5", "quantity.not_a_number", 1},
                                           {"A1 5 kHz", "quantity.unknown_unit", 1}}) {
        INFO(text);
        const auto depths = depths_from_text(text, sheet, "list.csv");
        REQUIRE_FALSE(depths);
        CHECK(depths.error().place.line == line);
        CHECK(depths.error().place.file == "list.csv");
        if (line == 0 || std::string(code) == "depth.line")
            CHECK(depths.error().code == code);
    }
    CHECK(wanted_depth_from_text("0.12 mm +- 10").value() == WantedDepth{120, 10});
    CHECK(wanted_depth_from_text("80").value() == WantedDepth{80, 8});
    CHECK(wanted_depth_from_text("0").error().code == "depth.none_wanted");
    // Any list comes back from its own text, and noise is no more than an error.
    std::mt19937 dice(7);
    for (int k = 0; k < 400; ++k) {
        SheetReading reading = unphotographed(sheet);
        std::string text, noise;
        for (const std::size_t i : burned_cells(sheet)) {
            if (dice() % 2 == 0)
                continue;
            const double um = static_cast<double>(dice() % 90000) / 100;
            put_depths(reading, {{i, {um, 3}}});
            text += fmt::format("{}; {}; 3\n", cell_name(sheet, i), um);
        }
        SheetReading again = unphotographed(sheet);
        put_depths(again, depths_from_text(text, sheet).value());
        for (std::size_t i = 0; i < sheet.cells(); ++i)
            CHECK(again.cells[i].depth_um.value_or(-1) == Approx(reading.cells[i].depth_um.value_or(-1)));
        constexpr std::string_view letters = "A1bZ90.,;:\t +-\n#e%\xC2\xB1\xFFmu";
        for (auto n = dice() % 40; n > 0; --n)
            noise += letters[dice() % letters.size()];
        if (const auto read = depths_from_text(noise, sheet); !read)
            CHECK_FALSE(read.error().message.empty());
    }
}

TEST_CASE("cells are ranked by the depth that is wanted, photographed or not", "[depth]") {
    const DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    SheetReading reading = unphotographed(sheet);
    put_depths(reading, {{0, {100, 3}}, {1, {118, 3}}, {2, {131, 3}}, {3, {119, 3}}});
    reading.cells[3].spoiled = true;
    const Target target = depth_target({120, 10});
    CHECK(target.name == "120 \u00b5m deep");
    const auto ranked = rank(reading, target, {});
    REQUIRE(ranked.size() == 3); // what is spoiled or was not measured wins nothing
    CHECK(ranked[0].cell == 1);
    CHECK(ranked[0].miss == Approx(2));
    CHECK(ranked[0].passes);
    CHECK(ranked[1].cell == 2);
    CHECK_FALSE(ranked[1].passes);
    CHECK(rank(reading, named_targets().front(), {}).empty());
    CHECK(depth_belief({120, 10}, 120, 3) > 0.99);
    CHECK(depth_belief({120, 10}, 130, 3) == Approx(0.5).margin(0.01));
}
