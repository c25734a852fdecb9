// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/adapter/reference.h"
#include "demo_bench.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <nlohmann/json.hpp>

using namespace finch;
using namespace finch::tests;
using json = nlohmann::json;

namespace {

json vectors(const char* model) {
    std::ifstream in(std::string(FINCH_SOURCE "/tests/data/vectors/") + model + ".json");
    return json::parse(in);
}

/// The first leaf that differs, or nothing.
std::string differs(const json& want, const json& got, double tolerance, const std::string& path = {},
                    double absolute = 1e-15) {
    if (want.is_object()) {
        for (const auto& [key, value] : want.items())
            if (!got.is_object() || !got.contains(key))
                return path + "." + key + " is missing";
            else if (auto why = differs(value, got.at(key), tolerance, path + "." + key, absolute); !why.empty())
                return why;
        return {};
    }
    if (want.is_array()) {
        if (!got.is_array() || got.size() != want.size())
            return path + " has another length";
        for (std::size_t i = 0; i < want.size(); ++i)
            if (auto why = differs(want[i], got[i], tolerance, path + "[" + std::to_string(i) + "]", absolute);
                !why.empty())
                return why;
        return {};
    }
    if (want.is_number() && got.is_number()) {
        const double a = want.get<double>(), b = got.get<double>();
        return std::abs(a - b) <= tolerance * std::max(std::abs(a), std::abs(b)) + absolute
                   ? std::string()
                   : path + ": " + got.dump() + " instead of " + want.dump();
    }
    return want == got ? std::string() : path + ": " + got.dump() + " instead of " + want.dump();
}

} // namespace

TEST_CASE("removal, deep work, patches, reliefs, times and coats reproduce every reference vector", "[reference]") {
    const json want = vectors("removal");
    REQUIRE(want["vectors"].size() == 64);
    json bare = want;
    for (json& v : bare["vectors"])
        v.erase("out");
    const json got = reference_document("removal", bare, materials()).value();
    for (std::size_t i = 0; i < want["vectors"].size(); ++i) {
        const json& w = want["vectors"][i];
        INFO(w["id"] << " " << w["fn"]);
        // The vectors are printed to ten digits.
        const double tolerance = std::max(w["rtol"].get<double>(), 1e-9);
        CHECK(differs(w["out"], got["vectors"][i]["out"], tolerance) == "");
    }
}

TEST_CASE("compound, transfer, units, set-up and cost reproduce every reference vector", "[reference]") {
    const json want = vectors("bench-math");
    json bare = want;
    for (json& v : bare["vectors"]) {
        v.erase("expect");
        v.erase("error");
    }
    const json got = reference_document("bench-math", bare, materials()).value();
    int compared = 0;
    for (std::size_t i = 0; i < want["vectors"].size(); ++i) {
        const json& w = want["vectors"][i];
        if (std::string("ABCDE").find(w["group"].get<std::string>()) == std::string::npos)
            continue;
        INFO(w["id"] << " " << w["fn"]);
        ++compared;
        const char* key = w.contains("error") ? "error" : "expect";
        const json& own = got["vectors"][i];
        REQUIRE(own.contains(key));
        CHECK(differs(w[key], own[key], w["rel_tol"]) == "");
    }
    CHECK(compared == 112);
    for (std::size_t i = 0; i < want["sharma2005"].size(); ++i)
        CHECK(std::abs(got["sharma2005"][i]["de00"].get<double>() - want["sharma2005"][i]["de00"].get<double>()) <
              1e-4);
}

TEST_CASE("a vectors document of another shape is refused with what is wrong", "[reference]") {
    for (const char* model : {"removal", "bench-math"}) {
        INFO(model);
        CHECK(reference_document(model, json::array(), materials()).error().code == "reference.bad_document");
        CHECK(reference_document(model, json::object(), materials()).error().code == "reference.bad_document");
    }
    const json unknown{{"vectors", {{{"fn", "coating_pass"}, {"in", {{"coating", "chocolate"}}}}}}};
    CHECK(reference_document("removal", unknown, materials()).error().code == "reference.bad_document");
}

TEST_CASE("heat, film, crater, coat and plate joined reproduce every reference vector", "[reference]") {
    const json want = vectors("outcome");
    REQUIRE(want["vectors"].size() == 267);
    json bare = want;
    for (json& v : bare["vectors"])
        v.erase("out");
    const json got = reference_document("outcome", bare, materials()).value();
    for (std::size_t i = 0; i < want["vectors"].size(); ++i) {
        const json& w = want["vectors"][i];
        INFO(w["id"] << " " << w["fn"]);
        // Shares of one in a million and below are told by nobody.
        CHECK(differs(w["out"], got["vectors"][i]["out"], w["rtol"].get<double>(), {}, 1e-7) == "");
    }
}

TEST_CASE("prior, film, posterior, cover and order of the search reproduce every reference vector", "[reference]") {
    const json want = vectors("search");
    json bare = want;
    bare["posterior"].erase("modes");
    for (const char* out : {"G", "melt", "removal", "seconds", "dose", "pulses", "fluence", "peak", "n_spot"})
        bare["thermal"].erase(out);
    bare["film"].erase("lab");
    bare["greedy"].erase("chosen");
    const json got = reference_document("search", bare, materials()).value();
    CHECK(differs(want["thermal"], got["thermal"], 1e-6) == "");
    CHECK(differs(want["film"], got["film"], 1e-6) == "");
    CHECK(differs(want["greedy"], got["greedy"], 0) == "");
    CHECK(differs(want["place"], got["place"], 0) == "");
    CHECK(differs(want["worth"], got["worth"], 1e-7, {}, 1e-8) == "");
    CHECK(differs(want["miss"], got["miss"], 1e-6) == "");
    REQUIRE(got["posterior"]["modes"].size() == want["posterior"]["modes"].size());
    for (std::size_t m = 0; m < want["posterior"]["modes"].size(); ++m) {
        const json& w = want["posterior"]["modes"][m];
        const json& g = got["posterior"]["modes"][m];
        CHECK(g["scale"] == w["scale"]);
        CHECK(g["amp"] == w["amp"]);
        for (const char* key : {"weight", "theta", "haze_shift", "calm", "u", "sd"})
            CHECK(differs(w[key], g[key], 0, key, 1e-4) == "");
        for (const char* key : {"lab_shift", "lab_sd"})
            CHECK(differs(w[key], g[key], 0, key, 1e-2) == "");
    }
    CHECK(differs(want["posterior"]["damage"], got["posterior"]["damage"], 1e-5) == "");
    CHECK(differs(want["posterior"]["p_burn"], got["posterior"]["p_burn"], 0, "", 1e-5) == "");
}
