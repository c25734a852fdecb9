// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_plate.h"
#include "formats/folders.h"
#include "recipe/borrowed.h"
#include "recipe/predict.h"
#include "recipe/recipe.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <QTemporaryDir>

using namespace finch;
using namespace finch::tests;

namespace {

std::vector<std::shared_ptr<const Metal>> alloys() {
    std::vector<std::shared_ptr<const Metal>> out;
    for (const auto& m : materials().metals)
        if (!m->alloy_of.empty())
            out.push_back(m);
    return out;
}

Prediction cut_in(const Metal& metal, const Recipe& recipe) {
    DemoBench demo;
    demo.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    demo.setup.stock.metal = metal.key;
    return predict({materials(), metal, demo.setup.bench, demo.setup.stock}, recipe, {mm(5), 20}, unseen).value();
}

/// ln of how much deeper the simulated bench cuts than is told.
double told_wrong(const Metal& metal) {
    DemoBench demo;
    demo.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    demo.setup.stock.metal = metal.key;
    standin::Work work(draw_world(standin::Grade::honest, 5), nature(), demo.setup, 60, 50);
    Recipe r;
    r.process = Process::deep_engrave;
    r.setting = {80, kilohertz(60), nanoseconds(100), mm_per_second(900), mm(0.03), 0, 12, mm(0)};
    const bool done = work.burn({"c", r, {{10, 10, 5, 4}}, {}}).has_value();
    REQUIRE(done);
    return std::log(work.plate().burns.back().surface.depth_um / cut_in(metal, r).depth_um());
}

/// Folders with the shipped data and one file of a user's over it.
struct OwnFile {
    QTemporaryDir folder;
    DataFolders folders{FINCH_SOURCE "/data", folder.path().toStdString()};
    OwnFile(const std::string& name, const std::string& text) {
        std::filesystem::create_directories(folders.own / "materials");
        std::ofstream(folders.own / "materials" / name) << text;
    }
};

nlohmann::json shipped(const char* name) {
    return nlohmann::json::parse(read_text_file(std::string(FINCH_SOURCE "/data/materials/") + name).value());
}

} // namespace

TEST_CASE("an alloy is its metal but for what its file says, in every table that asks", "[alloys]") {
    REQUIRE(alloys().size() >= 10);
    const SafetyTable safety = load_safety({FINCH_SOURCE "/data"}).value();
    for (const auto& alloy : alloys()) {
        INFO(alloy->key);
        const Metal& of = *materials().find(alloy->alloy_of).value();
        CHECK(of.alloy_of.empty());
        REQUIRE((alloy->removal && of.removal));
        // Not said of any alloy; the rest is.
        CHECK(alloy->removal->incubation == of.removal->incubation);
        CHECK(alloy->removal->penetration_um == of.removal->penetration_um);
        CHECK(alloy->melting_k != of.melting_k);
        CHECK(alloy->removal->melting_rise_k == Approx(alloy->melting_k - 293));
        // Between the metals of the table the threshold goes with the root of the law of the diffusion threshold.
        const auto law = [](const Metal& m) {
            return m.removal->heat_capacity_j_mm3k * m.removal->melting_rise_k *
                   std::sqrt(m.removal->diffusivity_mm2_s) / m.absorptance;
        };
        CHECK(alloy->removal->threshold_j_cm2 ==
              Approx(of.removal->threshold_j_cm2 * std::sqrt(law(*alloy) / law(of))).epsilon(0.03));
        CHECK(alloy->removal->depth_spread >= 2); // nobody measured one
        // A compound takes to it as to its metal, and its heat goes the alloy's own way.
        const CompoundMetal* own = materials().compounds.metal(alloy->key);
        const CompoundMetal* whole = materials().compounds.metal(of.key);
        REQUIRE((own != nullptr && whole != nullptr));
        CHECK(own->grades == whole->grades);
        CHECK(own->conductivity_w_mk / whole->conductivity_w_mk ==
              Approx(alloy->conductivity_bulk / of.conductivity_bulk));
        const CompoundConstants& dry = *materials().compounds.compound("molybdenum");
        const auto suits = suitability(dry, *own, CompoundSurface::raw);
        REQUIRE(suits);
        CHECK(suits->reasons == suitability(dry, *whole, CompoundSurface::raw)->reasons);
        for (const DurabilityRow& row : materials().durability_rows)
            CHECK(materials().durability(row.process, alloy->key).note ==
                  materials().durability(row.process, of.key).note);
        CHECK(safety.fume.contains(alloy->key));
        CHECK(nature()->metals.contains(alloy->key));
    }
    // As people write them; the metal alone is the metal.
    for (const auto& [words, key] : {std::pair{"leaded brass", "brass-leaded"},
                                     {"aluminium 6000", "aluminium-6000"},
                                     {"brass", "brass"},
                                     {"beryllium copper", "copper-beryllium"},
                                     {"cast aluminum", "aluminium-cast"},
                                     {"copper", "copper"}})
        CHECK(borrowed_from_text(std::string("25 W, 40 kHz, 600 mm/s; ") + words, materials()).value().metal == key);
    CHECK(safety.fume.at("brass-leaded").find("lead fume") != std::string::npos);
    CHECK(safety.fume.at("copper-beryllium").find("hygienist") != std::string::npos);
}

TEST_CASE("an alloy is listed where it changes the answer, and the demo's bench marks it", "[alloys]") {
    for (const auto& alloy : alloys()) {
        const Metal& of = *materials().find(alloy->alloy_of).value();
        double most = 0;
        bool another_effect = false;
        for (const double percent : {20.0, 40.0, 80.0})
            for (const double speed : {300.0, 900.0, 2500.0}) {
                Recipe r;
                r.process = Process::deep_engrave;
                r.setting = {percent, kilohertz(60), nanoseconds(100), mm_per_second(speed), mm(0.03), 0, 12, mm(0)};
                const Prediction a = cut_in(*alloy, r), b = cut_in(of, r);
                another_effect |= a.effect != b.effect;
                if (a.depth_um() > 1 && b.depth_um() > 1)
                    most = std::max(most, std::abs(std::log(a.depth_um() / b.depth_um())));
            }
        // Leaded ones give off lead, which is answer enough.
        INFO(alloy->name << ": depth by a factor of up to " << std::exp(most));
        CHECK((most > std::log(1.1) || another_effect || alloy->key.ends_with("-leaded")));
        // The simulated bench cuts it by another law, and agrees in what is other about it as well as is told.
        CHECK(std::abs(told_wrong(*alloy) - told_wrong(of)) < 1.645 * std::log(alloy->removal->depth_spread));
    }
}

TEST_CASE("a workshop's own metal changes its alloys, and a broken file is that of its own name", "[alloys]") {
    auto brass = shipped("brass.json");
    brass["removal"]["penetration_um"]["value"] = 0.2;
    std::vector<Error> troubles;
    const Materials own = load_materials(OwnFile("brass.json", brass.dump()).folders, &troubles).value();
    CHECK(troubles.empty());
    CHECK(own.find("brass-leaded").value()->removal->penetration_um == 0.2);
    CHECK(own.find("bronze-leaded").value()->removal->penetration_um == 0.12);

    struct Row {
        const char *file, *text, *field;
    };
    const auto whole = materials().metals.size();
    for (const Row& row : {Row{"mine.json", R"({"format": "finch-metal", "version": 1, "key": "x", "name": "X",
                                                "alloy_of": "unobtainium"})",
                               "alloy_of"},
                           Row{"mine.json", R"({"format": "finch-metal", "version": 1, "key": "x", "name": "X",
                                                "alloy_of": "brass-leaded"})",
                               "alloy_of"},
                           Row{"mine.json", R"({"format": "finch-metal", "version": 1, "key": "x", "name": "X",
                                                "alloy_of": 7})",
                               "alloy_of"},
                           Row{"mine.json", R"({"format": "finch-metal", "version": 1, "key": "x", "name": "X",
                                                "alloy_of": "brass", "constants": {"melting_k": null}})",
                               "melting_k"},
                           Row{"brass.json", R"({"format": "finch-metal", "version": 1, "key": "brass"})", "name"}}) {
        troubles.clear();
        const OwnFile file(row.file, row.text);
        const auto loaded = load_materials(file.folders, &troubles);
        INFO(row.text);
        REQUIRE(loaded);
        REQUIRE(troubles.size() == 1);
        CHECK(troubles.front().place.file == (file.folders.own / "materials" / row.file).string());
        CHECK(sentence(troubles.front()).find(row.field) != std::string::npos);
        CHECK(loaded->metals.size() == whole);
    }
    // Its alloys go with a metal that a workshop put another in the place of; the rest is there.
    brass["key"] = "our-brass";
    troubles.clear();
    const auto left = load_materials(OwnFile("brass.json", brass.dump()).folders, &troubles);
    REQUIRE(left);
    CHECK(troubles.size() == 3);
    CHECK(left->find("our-brass"));
    CHECK_FALSE(left->find("brass-leaded"));
    CHECK(left->find("bronze-leaded"));
}
