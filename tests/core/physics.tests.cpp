// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "formats/data_folder.h"
#include "recipe/predict.h"
#include "reference/adapter/reference.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <functional>
#include <nlohmann/json.hpp>
#include <rapidcheck.h>
#include <rapidcheck/catch.h>

using namespace finch;
using json = nlohmann::json;

namespace {

const Materials& materials() {
    static const Materials table = load_materials(FINCH_SOURCE "/data").value();
    return table;
}

/// Compares two values leaf by leaf; `tolerance` picks the allowed difference by path.
void compare(const json& got, const json& expected, const std::string& path,
             const std::function<double(const std::string&, double)>& tolerance) {
    INFO(path);
    if (expected.is_object()) {
        for (const auto& [key, value] : expected.items()) {
            INFO(path + "." + key);
            REQUIRE(got.contains(key));
            compare(got[key], value, path + "." + key, tolerance);
        }
        CHECK(got.size() == expected.size());
    } else if (expected.is_array()) {
        REQUIRE(got.size() == expected.size());
        for (std::size_t i = 0; i < expected.size(); ++i)
            compare(got[i], expected[i], path + "[]", tolerance);
    } else if (expected.is_number()) {
        REQUIRE(got.is_number());
        CHECK(std::abs(got.get<double>() - expected.get<double>()) <=
              tolerance(path, std::abs(expected.get<double>())));
    } else {
        CHECK(got == expected);
    }
}

bool ends_with(const std::string& text, const std::string& end) {
    return text.size() >= end.size() && text.compare(text.size() - end.size(), end.size(), end) == 0;
}

} // namespace

TEST_CASE("the annealing model reproduces every reference vector", "[physics]") {
    std::ifstream in(FINCH_SOURCE "/tests/data/vectors/anneal-color.json");
    const json expected = json::parse(in);
    const auto got = reference_document("anneal-color", expected, materials());
    REQUIRE(got);
    REQUIRE(expected["predict"].size() == 64);
    for (std::size_t i = 0; i < expected["functions"].size(); ++i) {
        INFO(expected["functions"][i]["f"]);
        const bool bessel = expected["functions"][i]["f"] == "i0e";
        compare((*got)["functions"][i]["value"], expected["functions"][i]["value"], "value",
                [&](const std::string&, double v) { return std::max(1e-15, (bessel ? 1e-12 : 1e-9) * v); });
    }
    for (std::size_t i = 0; i < expected["predict"].size(); ++i) {
        INFO(expected["predict"][i]["id"]);
        compare((*got)["predict"][i]["result"], expected["predict"][i]["result"], "",
                [](const std::string& path, double v) {
                    if (path.find("lab") != std::string::npos)
                        return 0.01;
                    return ends_with(path, "srgb[]") ? 1.0 : std::max(1e-9, 1e-6 * v);
                });
    }
    for (std::size_t i = 0; i < expected["errors"].size(); ++i)
        CHECK((*got)["errors"][i]["code"] == expected["errors"][i]["code"]);
    for (std::size_t i = 0; i < expected["sensitivity"].size(); ++i) {
        INFO(expected["sensitivity"][i]["id"]);
        compare((*got)["sensitivity"][i]["result"], expected["sensitivity"][i]["result"], "",
                [](const std::string&, double v) { return std::max(1e-4, 1e-4 * v); });
    }
}

TEST_CASE("a vectors document needs no expected outputs, and a refused input gets its code", "[physics]") {
    std::ifstream in(FINCH_SOURCE "/tests/data/vectors/anneal-color.json");
    json bare = json::parse(in);
    const json full = reference_document("anneal-color", bare, materials()).value();
    for (const char* block : {"functions", "predict", "errors", "sensitivity"})
        for (json& v : bare[block])
            for (const char* key : {"value", "result", "code"})
                v.erase(key);
    CHECK(reference_document("anneal-color", bare, materials()).value() == full);
    bare["predict"][0]["settings"]["power_pct"] = 0;
    CHECK(reference_document("anneal-color", bare, materials()).value()["predict"][0]["result"] == "E_POWER");
    CHECK(reference_document("weather", bare, materials()).error().code == "reference.unknown_model");
}

namespace {

struct Random {
    Bench bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    Stock stock;
    Recipe recipe;
    Fill fill{mm(10), 100};
    std::shared_ptr<const Metal> metal;

    [[nodiscard]] double oxide() const {
        return predict({materials(), *metal, bench, stock}, recipe, fill).value().oxide_nm();
    }
};

/// A setting that anneals or colours, away from melting, derating and scale.
Random random_anneal() {
    Random r;
    const std::vector<std::string> keys{"stainless-304", "stainless-316", "stainless-430", "titanium-2", "mild-steel"};
    r.stock.metal = keys[*rc::gen::inRange<std::size_t>(0, keys.size())];
    r.stock.thickness = mm(*rc::gen::inRange(8, 60) / 10.0);
    r.metal = materials().find(r.stock.metal).value();
    Setting& s = r.recipe.setting;
    s.power_percent = *rc::gen::inRange(8, 26);
    s.pulse_width = nanoseconds(*rc::gen::inRange(20, 200));
    s.frequency = kilohertz(*rc::gen::inRange(220, 480));
    s.scan_speed = mm_per_second(*rc::gen::inRange(300, 2500));
    s.hatch_pitch = micrometres(*rc::gen::inRange(25, 120) / 10.0);
    return r;
}

void expect_growth(const char* what, const std::function<void(Random&)>& change, bool thicker) {
    rc::prop(what, [&] {
        Random r = random_anneal();
        const auto before = predict({materials(), *r.metal, r.bench, r.stock}, r.recipe, r.fill).value();
        RC_PRE(before.oxide_nm() > 10 && before.oxide_nm() < 2500 && before.mark.look.valid);
        change(r);
        RC_ASSERT((r.oxide() > before.oxide_nm()) == thicker);
    });
}

} // namespace

TEST_CASE("the oxide answers to every knob in the direction that physics says", "[physics]") {
    expect_growth(
        "more power, thicker", [](Random& r) { r.recipe.setting.power_percent *= 1.1; }, true);
    expect_growth(
        "more passes, thicker", [](Random& r) { r.recipe.setting.passes += 1; }, true);
    expect_growth(
        "warmer start, thicker", [](Random& r) { r.stock.start_temperature_c += 60; }, true);
    expect_growth(
        "faster, thinner", [](Random& r) { r.recipe.setting.scan_speed *= 1.2; }, false);
    expect_growth(
        "coarser, thinner", [](Random& r) { r.recipe.setting.hatch_pitch *= 1.2; }, false);
    expect_growth(
        "out of focus, thinner", [](Random& r) { r.recipe.setting.focus_offset = mm(2.5); }, false);
    expect_growth(
        "higher frequency at the same power, thinner",
        [](Random& r) {
            // Not titanium: its growth meets the supply ceiling early, and then more and weaker pulses may grow as
            // much.
            RC_PRE(r.stock.metal != "titanium-2");
            r.recipe.setting.frequency *= 1.3;
        },
        false);
    expect_growth(
        "thinner plate, thicker oxide or equal",
        [](Random& r) {
            r.stock.thickness = mm(0.15);
            r.recipe.setting.power_percent *= 1.0001;
        },
        true);
}

TEST_CASE("time and lines are those of the area, however absurd the pitch", "[physics]") {
    const Bench bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    for (const double area : {0.01, 100.0, 1e6})
        for (const double length : {0.1, 10.0, 1000.0})
            for (const double pitch : {1e-7, 0.0035, 10.0})
                for (const double angle : {0.0, 37.0}) {
                    INFO(area << " mm2 in lines of " << length << " mm, " << pitch << " mm apart, at " << angle);
                    Setting s = tests::DemoBench::blue().setting;
                    s.hatch_pitch = mm(pitch);
                    s.hatch_angle_deg = angle;
                    s.passes = 3;
                    const auto pulse = pulse_output(bench.source, s);
                    const Pattern p = pattern(pulse, bench.source, bench.lens(), s, {mm(length), area}, 1e-4);
                    // Lines times their length times their pitch is the area, to half a line.
                    const double covered = p.lines * p.line_m * pitch * 1e-3, line = p.line_m * pitch * 1e-3;
                    CHECK(std::abs(covered - area * 1e-6) <= std::max(line, 1e-9 * area * 1e-6));
                    CHECK(p.time_s == Approx(3 * p.lines * (p.line_m / 0.99 + 1e-4)));
                }
}

TEST_CASE("growth is exactly proportional to the gain, and a reading gives the gain back", "[physics]") {
    rc::prop("gain", [] {
        Random r = random_anneal();
        const double gain = *rc::gen::inRange(40, 250) / 100.0;
        const auto plain = predict({materials(), *r.metal, r.bench, r.stock}, r.recipe, r.fill).value();
        Evidence e;
        e.growth_gain = gain;
        const auto tuned = predict({materials(), *r.metal, r.bench, r.stock, e}, r.recipe, r.fill).value();
        RC_PRE(plain.oxide_nm() > 5 && tuned.oxide_nm() > 5 && tuned.oxide_nm() < 2900 && plain.oxide_nm() < 2900);
        const auto found =
            gain_from_thickness(plain.mark.oxide.thickness_m, tuned.mark.oxide.thickness_m, 1, materials().model);
        RC_ASSERT(found.has_value() && std::abs(*found / gain - 1) < 1e-6);
    });
    CHECK(gain_from_thickness(2e-9, 30e-9, 1, materials().model).error().code == "physics.gain");
}

TEST_CASE("an unmarked surface keeps the colour of the bare metal", "[physics]") {
    for (const auto& metal : materials().metals) {
        INFO(metal->key);
        if (metal->film == nullptr)
            continue; // named for a compound or a climb by hand: no bare look is claimed
        const Spectrum bare = metal->film->bare(0);
        const Spectrum none = metal->film->surface(0, 0);
        CHECK(bare == none);
        for (const double r : bare)
            CHECK((r > 0.2 && r < 1));
    }
}
