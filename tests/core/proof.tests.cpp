// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "proof/layout.h"
#include "proof/next_sheet.h"
#include "proof/observed.h"
#include "recipe/check.h"
#include "recipe/explain.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>
#include <rapidcheck.h>
#include <rapidcheck/catch.h>
#include <set>

using namespace finch;
using namespace finch::tests;

TEST_CASE("an axis has distinct, ordered, friendly values within its range", "[proof]") {
    rc::prop("any plan", [] {
        AxisPlan plan;
        plan.knob = Knob::scan_speed;
        plan.from = *rc::gen::inRange(10, 3000);
        plan.to = plan.from + *rc::gen::inRange(200, 5000);
        plan.count = *rc::gen::inRange(2, 13);
        plan.steps = *rc::gen::element(Steps::linear, Steps::ratio);
        const auto values = axis_values(plan, {1, 9000});
        RC_ASSERT(values.has_value());
        RC_ASSERT(values->size() == static_cast<std::size_t>(plan.count));
        const double step = (plan.to - plan.from) / (plan.count - 1);
        for (std::size_t i = 1; i < values->size(); ++i)
            RC_ASSERT((*values)[i] > (*values)[i - 1]);
        RC_ASSERT(std::abs(values->front() - plan.from) <= step / 4);
        // Friendly digits may move the end of a wide range of ratios by a little more.
        RC_ASSERT(std::abs(values->back() - plan.to) <= std::max(step / 4, 0.05 * plan.to));
    });
    const auto pitches = axis_values({Knob::hatch_pitch, 0.003, 0.007, 6, Steps::ratio}, {1e-4, 1}).value();
    CHECK(pitches == std::vector<double>{0.003, 0.0035, 0.0042, 0.005, 0.006, 0.007});
}

TEST_CASE("a sheet that cannot be is refused with the reason", "[proof]") {
    const DemoBench demo;
    struct Row {
        const char* what;
        void (*change)(SheetRequest&);
        const char* code;
    };
    const std::vector<Row> rows{
        {"no steps", [](SheetRequest& q) { q.across.count = 0; }, "proof.axis_count"},
        {"more columns than letters", [](SheetRequest& q) { q.across.count = 27; }, "proof.axis_count"},
        {"faster than the scanner", [](SheetRequest& q) { q.across.to = 20000; }, "proof.axis_range"},
        {"both ends equal", [](SheetRequest& q) { q.down.to = q.down.from; }, "proof.axis_range"},
        {"ratios through zero",
         [](SheetRequest& q) {
             q.down = {Knob::focus_offset, -1, 1, 5, Steps::ratio};
         },
         "proof.axis_range"},
        {"not a number", [](SheetRequest& q) { q.down.to = std::nan(""); }, "proof.axis_range"},
        {"the same knob twice", [](SheetRequest& q) { q.down = q.across; }, "proof.same_knob"},
        {"cells of nothing", [](SheetRequest& q) { q.cell_width = mm(0); }, "proof.cell_size"},
        {"cells that touch", [](SheetRequest& q) { q.gap = mm(0); }, "proof.gap"},
        {"wider than the field", [](SheetRequest& q) { q.cell_width = mm(45); }, "proof.too_large"},
    };
    for (const Row& row : rows) {
        INFO(row.what);
        SheetRequest q = demo.request(1);
        row.change(q);
        const auto sheet = plan_sheet(q, demo.setup.bench, {});
        REQUIRE_FALSE(sheet);
        CHECK(sheet.error().code == row.code);
        CHECK_FALSE(sheet.error().fix.empty());
    }
}

TEST_CASE("cells and labels of a sheet do not overlap and stay on it", "[proof]") {
    const DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    const SheetLayout at = layout(sheet);
    std::vector<RectMm> boxes = at.cells;
    for (const Fiducial& f : at.fiducials)
        boxes.push_back(f.box);
    boxes.push_back(at.white_card);
    for (const LabelText& label : at.labels)
        boxes.push_back({label.at.x, label.at.y - label.height_mm, stroke_text_width(label) - 0.3 * label.height_mm,
                         label.height_mm});
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        const RectMm& a = boxes[i];
        CHECK((a.x >= 0 && a.y >= 0 && a.x + a.w <= at.width_mm && a.y + a.h <= at.height_mm));
        for (std::size_t j = i + 1; j < boxes.size(); ++j) {
            const RectMm& b = boxes[j];
            INFO(i << " against " << j);
            CHECK((a.x + a.w <= b.x || b.x + b.w <= a.x || a.y + a.h <= b.y || b.y + b.h <= a.y));
        }
    }
    std::set<int> ids;
    for (int number : {7, 8, 257})
        for (const Fiducial& f : layout(demo.sheet(number)).fiducials)
            ids.insert(f.id);
    // Numbers 7 and 257 share a code, 8 has its own.
    CHECK(ids.size() == 8);
}

TEST_CASE("a sheet survives writing and reading", "[proof]") {
    const DemoBench demo;
    ProofSheet sheet = demo.sheet();
    sheet.left_out[47] = true;
    CHECK(sheet_from_text(to_json(sheet).dump(), "sheet.json").value() == sheet);
    CHECK(cell_name(sheet, 11) == "D2");
    CHECK(cell_from_name(sheet, "D2").value() == 11);
    CHECK(cell_from_name(sheet, "Z9").error().code == "proof.no_cell");
}

TEST_CASE("the forecast adds up and marks the hopeless cells", "[proof]") {
    const DemoBench demo;
    SheetRequest q = demo.request(3);
    q.across = {Knob::power, 2, 100, 10, Steps::ratio};
    const ProofSheet sheet = plan_sheet(q, demo.setup.bench, demo.sheet().label_recipe).value();
    const SheetForecast f = forecast(sheet, demo.scene());
    std::set<CellFate> fates;
    double sum = f.labels_s;
    for (const CellForecast& c : f.cells) {
        fates.insert(c.fate);
        sum += c.time_s;
    }
    CHECK(fates.contains(CellFate::marks));
    CHECK(fates.contains(CellFate::burns));
    CHECK(fates.contains(CellFate::shows_nothing));
    CHECK(f.total_s == Approx(sum).epsilon(0.05));
    const ProofSheet trimmed = without_hopeless(sheet, f);
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        CHECK(trimmed.left_out[i] == (f.cells[i].fate != CellFate::marks));
    CHECK(forecast(trimmed, demo.scene()).total_s < f.total_s);
}

TEST_CASE("along a line of equal pulses the pulses per area are equal", "[proof]") {
    const DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    const auto at = [](const SheetAxis& axis, double position) {
        const auto i = static_cast<std::size_t>(
            std::clamp(std::floor(position), 0.0, static_cast<double>(axis.values.size()) - 2));
        return axis.values[i] * std::pow(axis.values[i + 1] / axis.values[i], position - static_cast<double>(i));
    };
    const auto lines = level_lines(sheet, demo.setup.bench, LevelKind::pulses_per_mm2, 4);
    REQUIRE(lines.size() == 4);
    for (const LevelLine& line : lines)
        for (const auto& points : {line.from, line.to})
            for (const auto& p : points) {
                const double pulses = 300e3 / (at(sheet.across, p.column) * at(sheet.down, p.row));
                CHECK(pulses == Approx(line.level).epsilon(0.01));
            }
}

TEST_CASE("label recipes are dark and safe on every bench and metal that can anneal", "[proof]") {
    for (const char* bench : {"wren", "heron"})
        for (const char* stock : {"sundial-316", "gauge-strip-304", "setting-circle-titanium"}) {
            INFO(bench << " on " << stock);
            const Bench b = load_bench(FINCH_SOURCE "/data", bench).value();
            const Stock s = load_stock(FINCH_SOURCE "/data", stock).value();
            const auto metal = materials().find(s.metal).value();
            const auto r = label_recipe({materials(), *metal, b, s});
            REQUIRE(r);
            CHECK_FALSE(blocked(check(*r, b, s)));
            const auto p = predict({materials(), *metal, b, s}, *r, {mm(5), 25}).value();
            CHECK(p.mark.look.valid);
            CHECK(p.shares.film() > 0.9);
            CHECK(p.burn_index < 0.5);
            CHECK(p.lab().l < 62);
        }
}

TEST_CASE("cells are ranked by colour, then evenness, then time, and a darkness forgives what is darker", "[proof]") {
    const Target blue{"blue", {35, 3, -33}, false, 4};
    SheetReading reading;
    reading.cells = {{CellState::read, {35, 3, -33}, 3.0, 1},
                     {CellState::read, {35, 3, -33}, 0.5, 1},
                     {CellState::read, {60, 3, -33}, 0.1, 1},
                     {CellState::hidden, {}, 0, 0}};
    const auto ranked = rank(reading, blue, {});
    REQUIRE(ranked.size() == 3);
    CHECK(ranked[0].cell == 1);
    CHECK(ranked[1].cell == 0);
    CHECK_FALSE(ranked[2].passes);
    const Target dark{"dark", {36, 0, 0}, true, 4};
    CHECK(distance(dark, {20, 0, 0}) == Approx(0));
    CHECK(distance(dark, {50, 0, 0}) > 8);
}

TEST_CASE("an opening sheet holds the target in its middle, on any base recipe", "[proof]") {
    const DemoBench demo;
    for (const char* name : {"dark", "deep blue", "gold"}) {
        INFO(name);
        const Target target = *std::find_if(named_targets().begin(), named_targets().end(),
                                            [&](const Target& t) { return t.name == name; });
        const auto opening =
            opening_sheet(target, DemoBench::blue(), Knob::scan_speed, Knob::hatch_pitch, demo.scene());
        REQUIRE(opening);
        CHECK(opening->hoped_de.value() < 5);
        SheetRequest q = opening->request;
        q.number = 1;
        const auto sheet = plan_sheet(q, demo.setup.bench, demo.sheet().label_recipe);
        REQUIRE(sheet);
        const auto f = forecast(*sheet, demo.scene());
        CHECK(std::count_if(f.cells.begin(), f.cells.end(),
                            [](const CellForecast& c) { return c.fate == CellFate::marks; }) >= 24);
    }
}

TEST_CASE("a recipe is checked against the bench, with the remedy in numbers", "[recipe]") {
    const DemoBench demo;
    struct Row {
        const char* what;
        void (*change)(Recipe&, Stock&);
        const char* code;
        bool blocks;
    };
    const std::vector<Row> rows{
        {"power above 100 %", [](Recipe& r, Stock&) { r.setting.power_percent = 130; }, "recipe.limit", true},
        {"faster than the scanner", [](Recipe& r, Stock&) { r.setting.scan_speed = mm_per_second(12000); },
         "recipe.limit", true},
        {"a pulse that the source has not got", [](Recipe& r, Stock&) { r.setting.pulse_width = nanoseconds(500); },
         "recipe.limit", true},
        {"on for most of the time",
         [](Recipe& r, Stock&) {
             r.setting.pulse_width = nanoseconds(350);
             r.setting.frequency = kilohertz(1500);
         },
         "recipe.duty", true},
        {"below full power", [](Recipe& r, Stock&) { r.setting.frequency = kilohertz(40); }, "recipe.derated", false},
        {"a slipped decimal in the pitch", [](Recipe& r, Stock&) { r.setting.hatch_pitch = mm(0.35); },
         "recipe.pitch_beyond_spot", false},
        {"pulses far apart",
         [](Recipe& r, Stock&) {
             r.setting.frequency = kilohertz(150);
             r.setting.scan_speed = mm_per_second(8000);
         },
         "recipe.gaps", false},
        {"a turn that repeats",
         [](Recipe& r, Stock&) {
             r.setting.passes = 9;
             r.turn_per_pass_deg = 120;
         },
         "recipe.turn_repeats", false},
        {"a surface nobody checked", [](Recipe&, Stock& s) { s.coating = Coating::unknown; }, "stock.coating_unknown",
         false},
        {"a lacquered surface", [](Recipe&, Stock& s) { s.coating = Coating::clear; }, "stock.coated", false},
        {"plywood under the part", [](Recipe&, Stock& s) { s.under_it = "Plywood scrap"; }, "stock.fuel_below", true},
    };
    CHECK(check(DemoBench::blue(), demo.setup.bench, demo.setup.stock).empty());
    for (const Row& row : rows) {
        INFO(row.what);
        Recipe r = DemoBench::blue();
        Stock s = demo.setup.stock;
        row.change(r, s);
        const auto findings = check(r, demo.setup.bench, s);
        const auto hit =
            std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.code == row.code; });
        REQUIRE(hit != findings.end());
        CHECK((hit->severity == Severity::blocking) == row.blocks);
        CHECK_FALSE(hit->remedy.empty());
    }
    CHECK(distinct_directions(120) == 3);
    CHECK(distinct_directions(67) == 180);
}

TEST_CASE("every number explains itself with values and what it rests on", "[recipe]") {
    const DemoBench demo;
    const auto p = predict(demo.scene(), DemoBench::blue(), {}).value();
    for (int q = 0; q <= static_cast<int>(Quantity::haze); ++q) {
        const Explanation e = explain(static_cast<Quantity>(q), demo.scene(), DemoBench::blue(), {}, p);
        INFO(e.name);
        CHECK_FALSE(e.name.empty());
        CHECK_FALSE(e.result.empty());
        CHECK_FALSE(e.formula.empty());
        CHECK_FALSE(e.put_in.empty());
        CHECK_FALSE(e.rests_on.empty());
        CHECK(e.result.find('?') == std::string::npos);
    }
}

TEST_CASE("focus goes stale when anything it rests on moves, and raising the head makes up for thickness", "[bench]") {
    struct Row {
        const char* what;
        void (*change)(Setup&);
        std::optional<StaleReason> reason;
        double error_mm;
    };
    const std::vector<Row> rows{
        {"nothing", [](Setup&) {}, std::nullopt, 0},
        {"the method", [](Setup& s) { s.focus.method = FocusMethod::camera; }, std::nullopt, 0},
        {"what lies under it", [](Setup& s) { s.stock.under_it = "steel"; }, std::nullopt, 0},
        {"half a micrometre", [](Setup& s) { s.stock.thickness += micrometres(0.4); }, std::nullopt, -0.0004},
        {"another bench with a lens of the same name", [](Setup& s) { s.bench.name = "Heron"; },
         StaleReason::bench_changed, 0},
        {"another lens", [](Setup& s) { s.bench.lens_index = 1 - s.bench.lens_index; }, StaleReason::lens_changed, 0},
        {"thicker stock", [](Setup& s) { s.stock.thickness += mm(1.2); }, StaleReason::thickness_changed, -1.2},
        {"another lot", [](Setup& s) { s.stock.lot = "S316-08"; }, StaleReason::stock_changed, 0},
        {"another metal", [](Setup& s) { s.stock.metal = "titanium-2"; }, StaleReason::stock_changed, 0},
        {"another offset", [](Setup& s) { s.focus.offset += mm(0.3); }, StaleReason::offset_changed, -0.3},
        {"the head", [](Setup& s) { s.focus.head_raised += mm(0.5); }, StaleReason::head_moved, 0.5},
        {"thicker stock, and the head raised for it",
         [](Setup& s) {
             s.stock.thickness += mm(1.2);
             s.focus.head_raised += mm(1.2);
         },
         StaleReason::thickness_changed, 0},
    };
    for (const Row& row : rows) {
        // Where the head stood when the focus was confirmed does not matter, only how far it moved since.
        for (const double head : {0.0, 7.5}) {
            INFO(row.what);
            Setup s = DemoBench().setup;
            s.focus.head_raised = mm(head);
            CHECK(focus_state(s.focus, s.bench.name, s.bench.lens().name, s.stock).reasons ==
                  std::vector{StaleReason::never_confirmed});
            s.focus.confirmed =
                confirmation(s.focus, s.bench.name, s.bench.lens().name, s.stock, "OD", "2026-11-24T09:12:00Z");
            row.change(s);
            const FocusState now = focus_state(s.focus, s.bench.name, s.bench.lens().name, s.stock);
            CHECK(now.stale() == row.reason.has_value());
            if (row.reason)
                CHECK(now.reasons.front() == *row.reason);
            CHECK(in_mm(now.surface_error) == Approx(row.error_mm).margin(1e-9));
        }
    }
}

TEST_CASE("beam optics obey their closed forms", "[bench]") {
    rc::prop("spot, Rayleigh length and measured spot", [] {
        Lens lens;
        lens.focal_length = mm(*rc::gen::inRange(60, 400));
        lens.beam_at_lens = mm(*rc::gen::inRange(4, 14));
        lens.beam_quality_m2 = 1 + *rc::gen::inRange(0, 100) / 100.0;
        const Length wavelength = nanometres(1064);
        const BeamWaist w = computed_waist(lens, wavelength);
        // The spot has doubled in area one Rayleigh length away, on either side.
        RC_ASSERT(std::abs(in_metres(spot_at(w, w.rayleigh)) / in_metres(w.spot) - std::sqrt(2.0)) < 1e-12);
        RC_ASSERT(spot_at(w, mm(1)) == spot_at(w, mm(-1)));
        RC_ASSERT(std::abs(in_metres(spot_at(w, depth_for_growth(w, 1.1))) / in_metres(w.spot) - 1.1) < 1e-12);
        lens.measured_spot = 1.2 * w.spot;
        RC_ASSERT(std::abs(in_metres(waist(lens, wavelength).spot) / in_metres(w.spot) - 1.2) < 1e-12);
    });
    // Brute force over all turns: the longest bar in the field.
    for (const double width : {1.0, 12.0, 60.0}) {
        const LongestPart best = longest_part(mm(150), mm(width));
        double longest = 0;
        for (double turn = 0; turn <= 45; turn += 0.05) {
            const double c = std::cos(turn * M_PI / 180), s = std::sin(turn * M_PI / 180);
            longest = std::max(longest, std::min((150 - width * s) / c, s > 1e-9 ? (150 - width * c) / s : 1e9));
        }
        CHECK(in_mm(best.length) == Approx(longest).epsilon(1e-3));
    }
}
