// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Thresholds of coats and ladders of compounds teach. What that is worth is counted on benches whose coats go by volume
// and whose compounds fuse by a heat law of their own.
#include "demo_plate.h"
#include "evidence/evidence_json.h"
#include "evidence/learn.h"
#include "evidence/onset.h"
#include "physics/colour_difference.h"
#include "proof/measured_cells.h"
#include "proof/observed.h"
#include "proof/scratch_list.h"
#include "proof/threshold.h"
#include "quantity/median.h"
#include "recipe/appearance.h"
#include "recipe/predict.h"
#include "standin/surface.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

struct Coated {
    const char* name;
    const char* bench;
    const char* stock;
    Coating coating;
    Process process;
    Setting setting;
};

const std::vector<Coated>& coated() {
    static const std::vector<Coated> table{
        {"powder coat, pulses",
         "heron",
         "tripod-sleeve-powder",
         Coating::powder_coat,
         Process::strip,
         {80, kilohertz(80), nanoseconds(110), mm_per_second(600), mm(0.03), 0, 1, mm(4)}},
        {"paint, pulses",
         "heron",
         "tripod-sleeve-powder",
         Coating::paint,
         Process::strip,
         {80, kilohertz(60), nanoseconds(110), mm_per_second(500), mm(0.04), 0, 1, mm(4)}},
        {"powder coat, gas",
         "mallow",
         "tripod-sleeve-powder",
         Coating::powder_coat,
         Process::strip,
         {60, kilohertz(5), nanoseconds(1000), mm_per_second(500), mm(0.1), 0, 1, mm(0)}},
        {"dyed film, gas",
         "mallow",
         "reed-scale-anodised",
         Coating::anodised,
         Process::bleach,
         {60, kilohertz(5), nanoseconds(1000), mm_per_second(500), mm(0.1), 0, 1, mm(0)}},
        {"ceramic, gas",
         "mallow",
         "gauge-strip-304",
         Coating::none,
         Process::compound,
         {60, kilohertz(5), nanoseconds(1000), mm_per_second(500), mm(0.08), 0, 1, mm(8)}},
        {"ceramic on 316, gas",
         "mallow",
         "sundial-316",
         Coating::none,
         Process::compound,
         {60, kilohertz(5), nanoseconds(1000), mm_per_second(400), mm(0.08), 0, 1, mm(8)}}};
    return table;
}

const Fill square{mm(4), 16};

double stays(const Scene& scene, Recipe r, double percent) {
    r.setting.power_percent = percent;
    const auto p = predict(scene, r, square, unseen).value();
    using enum Effect;
    return p.compound ? (p.compound->position < 0 ? 1 : 0)
                      : p.shares[none] + p.shares[coat_kept] + p.shares[partly_strips];
}

const Recipe& letters() {
    static const Recipe r = label_recipe(DemoBench().scene()).value();
    return r;
}

constexpr double weakest = 0.05, strongest = 100;

double predicted_percent(const Scene& scene, const Recipe& r) {
    double low = weakest, high = strongest;
    for (int i = 0; i < 40; ++i) {
        const double middle = std::sqrt(low * high);
        (stays(scene, r, middle) > 0.5 ? low : high) = middle;
    }
    return low;
}

} // namespace

TEST_CASE("a threshold sheet of a coat and a ladder of a compound bring predictions nearer, as far as they say",
          "[coats]") {
    int asked = 0, taught = 0, before_held = 0, near_held = 0, far_held = 0;
    std::vector<double> before_off, near_off, far_off;
    for (const Coated& c : coated()) {
        DemoBench demo;
        demo.setup.bench = load_bench(FINCH_SOURCE "/data", c.bench).value();
        demo.setup.stock = load_stock(FINCH_SOURCE "/data", c.stock).value();
        demo.setup.stock.coating = c.coating;
        demo.metal = materials().find(demo.setup.stock.metal).value();
        SheetRequest request = demo.request(4);
        request.base = {};
        request.base.process = c.process;
        request.base.setting = c.setting;
        request.base.compound = "ceramic";
        const double guess = predicted_percent(demo.scene(), request.base);
        for (unsigned seed = 1; seed <= 8; ++seed) {
            const standin::World world = standin::draw_world(standin::Grade::honest, 3100 + seed);
            standin::World quiet = world;
            quiet.scatter = quiet.patches = quiet.warm_up = quiet.neighbours = 0;
            const Lab own = true_colour(standin::untouched(quiet, *nature(), demo.setup.stock));
            const Lab done = finished(demo.scene(), request.base).lab;
            const auto truth = [&](Recipe r) {
                for (double p = weakest; p < strongest; p *= 1.02) {
                    r.setting.power_percent = p;
                    const auto s = standin::marked(quiet, *nature(), demo.setup, r, {0, 0, 4, 4}, {});
                    if (s && delta_e00(true_colour(*s), done) < delta_e00(true_colour(*s), own))
                        return p;
                }
                return strongest;
            };
            // As an operator goes on: where a sheet finds nothing, the next one is laid where it says.
            ThresholdRequest range{std::max(0.5, guess / 3.5), std::min(100.0, guess * 3.5), 10, 3};
            std::vector<Observation> seen;
            Evidence evidence;
            const auto sheets = [&] {
                return c.process == Process::compound ? evidence.ladders_under("ceramic") : evidence.coat_sheets;
            };
            for (int number = 4; number < 8 && sheets() == 0; ++number) {
                request.number = number;
                const auto sheet = plan_threshold(request, range, demo.scene(), letters(), seed);
                REQUIRE(sheet);
                REQUIRE(to_json(sheet_from_json(to_json(*sheet), "f").value()) == to_json(*sheet));
                SheetReading read = read_by_instrument(*sheet, cells_of(demo, *sheet, world), seed, 0.3);
                read.ground = own;
                for (const Observation& o : observed(*sheet, read, std::make_shared<const Setup>(demo.setup),
                                                     "2026-11-24T09:0" + std::to_string(number) + ":00Z", "r"))
                    seen.push_back(o);
                evidence = learn(materials(), seen);
                range = judge_threshold(*sheet, read, demo.setup.bench).value().next;
            }
            ++asked;
            std::mt19937 dice(seed);
            std::ranges::shuffle(seen, dice);
            CHECK(learn(materials(), seen) == evidence);
            CHECK(evidence_from_json(evidence_document(evidence), "f").value() == evidence);
            CHECK(evidence.ladders_under("molybdenum") == 0);
            Recipe other = request.base;
            other.setting.scan_speed = other.setting.scan_speed * 1.6;
            other.setting.hatch_pitch = other.setting.hatch_pitch * 0.75;
            const auto off = [&](const Evidence& knowing, const Recipe& r, int& held) {
                const Scene scene = demo.scene(knowing);
                const double told = predicted_percent(scene, r);
                Recipe at = r;
                at.setting.power_percent = std::clamp(told, 0.1, 100.0);
                const double ln = std::abs(std::log(told / truth(r)));
                held += ln <= 1.645 * predict(scene, at, square, unseen)->band_ln ? 1 : 0;
                return ln;
            };
            before_off.push_back(off({}, other, before_held));
            if (sheets() == 0)
                continue;
            ++taught;
            near_off.push_back(off(evidence, request.base, near_held));
            far_off.push_back(off(evidence, other, far_held));
        }
    }
    const double before = std::exp(median(before_off)), near = std::exp(median(near_off)),
                 far = std::exp(median(far_off));
    INFO("asked " << asked << ", taught " << taught << "; held before " << before_held << ", near " << near_held
                  << ", far " << far_held << "; off by a factor of " << before << " before, " << near << " near and "
                  << far << " far");
    CHECK(taught >= 0.8 * asked); // some compounds bond where the gas source hardly lases
    CHECK(near_held >= 0.85 * taught);
    CHECK(far_held >= 0.85 * taught);
    CHECK(near < 1.1);
    CHECK(far < 1.2);
    CHECK(before > 1.3); // else there was nothing to learn
}

TEST_CASE("scratch tests are read, kept, and say where a compound holds best", "[coats]") {
    DemoBench demo;
    SheetRequest request = demo.request(4);
    request.base.process = Process::compound;
    request.base.compound = "ceramic";
    const ProofSheet sheet = plan_threshold(request, {10, 60, 6, 2}, demo.scene(), letters(), 3).value();
    const auto& ladder = materials().compounds.ladder;
    SheetReading read = read_by_instrument(sheet, {}, 1, 0.1);
    CHECK_FALSE(judge_threshold(sheet, read, demo.setup.bench)); // nothing was read yet
    read.ground = sheet.threshold->unmarked;
    // More power holds better up to a third of full power, then it is burned and holds less.
    std::string lines = "cell;survived\n";
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (sheet.holds(i)) {
            const double p = sheet.own[i].power_percent;
            const int steps = p < 34 ? static_cast<int>(p / 6) : 1;
            read.cells[i].state = CellState::read;
            read.cells[i].lab = {p < 18 ? 70.0 : 25.0, 0, 0};
            lines += cell_name(sheet, i) +
                     (i % 2 == 0 || steps == 0 ? "; " + std::to_string(steps) : "; " + ladder.at(steps - 1U).tool) +
                     "\n";
        }
    const auto scratches = scratches_from_text(lines, sheet, ladder);
    REQUIRE(scratches);
    put_scratches(read, *scratches);
    CHECK(reading_from_json(to_json(read, sheet), sheet, "f").value() == read);
    SheetReading again = read;
    for (CellReading& c : again.cells)
        c.scratch_steps.reset();
    keep_what_was_said(again, read);
    CHECK(again == read);
    const ThresholdFinding f = judge_threshold(sheet, read, demo.setup.bench).value();
    INFO(f.words);
    REQUIRE(f.holds);
    CHECK(f.holds->percent > 20);
    CHECK(f.holds->percent < 30);
    CHECK(f.holds->low_percent <= f.holds->percent);
    CHECK(f.holds->high_percent < 45);
    REQUIRE(f.done);
    CHECK(f.done->found == Onset::Found::within);
    CHECK(f.done->percent == Approx(17).margin(4));
    CHECK(f.words.find("scratch ladder") != std::string::npos);
    read.ground.reset(); // of a ground that was not seen nothing is told, nor of one as dark as the compound
    CHECK_FALSE(judge_threshold(sheet, read, demo.setup.bench)->done);
    read.ground = Lab{27, 0, 0};
    CHECK_FALSE(is_done(sheet, read, 0));
    for (const char* wrong : {"A1; 8", "A1; -1", "A1; 2.5", "A1; diamond", "A1; "})
        CHECK_FALSE(scratches_from_text(wrong, sheet, ladder));
    CHECK(scratches_from_text("A1; diamond", sheet, ladder).error().place.line == 1);
    CHECK(scratches_from_text("A1; nothing", sheet, ladder).value().front().steps == 0);
}
