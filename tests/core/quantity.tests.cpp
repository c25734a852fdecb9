// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/colour.h"
#include "physics/colour_difference.h"
#include "quantity/format.h"
#include "quantity/parse.h"
#include "quantity/scan.h"

#include <array>
#include <catch2/catch.hpp>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <random>
#include <rapidcheck.h>
#include <rapidcheck/catch.h>

using namespace finch;

namespace {

nlohmann::json vectors() {
    std::ifstream in(FINCH_SOURCE "/tests/data/vectors/quantity-and-colour-difference.json");
    return nlohmann::json::parse(in);
}

const std::map<std::string, QuantityKind> kinds{
    {"length", QuantityKind::length},       {"pitch", QuantityKind::pitch},     {"speed", QuantityKind::speed},
    {"frequency", QuantityKind::frequency}, {"power", QuantityKind::power},     {"duration", QuantityKind::duration},
    {"fluence", QuantityKind::fluence},     {"percent", QuantityKind::percent}, {"angle", QuantityKind::angle}};

const std::map<ParseNote, std::string> notes{{ParseNote::assumed_unit, "ASSUMED_UNIT"},
                                             {ParseNote::assumed_decimal, "ASSUMED_DECIMAL"},
                                             {ParseNote::mil_read_as_thou, "MIL_READ_AS_THOU"},
                                             {ParseNote::dpi_read_as_lines, "DPI_READ_AS_LINES"},
                                             {ParseNote::implausible, "IMPLAUSIBLE"}};

std::string upper_code(const Error& e) {
    std::string s = e.code.substr(e.code.find('.') + 1);
    for (char& c : s)
        c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    return s;
}

ParseContext context_of(const nlohmann::json& kwargs) {
    ParseContext c;
    c.default_unit =
        kwargs.contains("default_unit") && kwargs["default_unit"].is_string() ? kwargs["default_unit"] : "";
    const auto number = [&](const char* key, std::optional<double>& to) {
        if (kwargs.contains(key) && kwargs[key].is_number())
            to = kwargs[key].get<double>();
    };
    number("maximum", c.maximum);
    number("spot_mm", c.spot_mm);
    number("lo", c.low);
    number("hi", c.high);
    const std::string decimal = kwargs.value("decimal", "auto");
    c.decimal = decimal == "point"   ? DecimalSign::point
                : decimal == "comma" ? DecimalSign::comma
                                     : DecimalSign::automatic;
    return c;
}

} // namespace

TEST_CASE("typed quantities are read as the independent specification reads them", "[quantity]") {
    const nlohmann::json document = vectors();
    REQUIRE(document["vectors"].size() > 30);
    for (const auto& v : document["vectors"]) {
        const std::string text = v["args"][0];
        const auto kind = kinds.find(v["args"][1]);
        if (kind == kinds.end())
            continue;
        INFO(v.dump());
        const auto parsed = parse_quantity(text, kind->second, context_of(v["kwargs"]));
        if (v.contains("error")) {
            REQUIRE_FALSE(parsed);
            CHECK(upper_code(parsed.error()) == v["error"].get<std::string>());
            CHECK_FALSE(parsed.error().fix.empty());
            continue;
        }
        const auto& expect = v["expect"];
        REQUIRE(parsed);
        CHECK(parsed->value == Approx(expect["value"].get<double>()).epsilon(1e-9));
        CHECK(parsed->unit == expect["unit"].get<std::string>());
        std::vector<std::string> got;
        for (const ParseNote n : parsed->notes)
            got.push_back(notes.at(n));
        CHECK(got == expect["warnings"].get<std::vector<std::string>>());
    }
}

TEST_CASE("a field takes what operators type and refuses nonsense by name", "[quantity]") {
    struct Row {
        const char* text;
        QuantityKind kind;
        double value;
        const char* code;
    };
    const ParseContext pitch{"mm", {}, 0.06, {}, {}, DecimalSign::automatic};
    const std::vector<Row> rows{
        {"0.02", QuantityKind::pitch, 0.02, nullptr},
        {"0,02 mm", QuantityKind::pitch, 0.02, nullptr},
        {"2*0.015", QuantityKind::pitch, 0.03, nullptr},
        {"2 * 0,015 mm", QuantityKind::pitch, 0.03, nullptr},
        {"(12+3)/2 um", QuantityKind::pitch, 0.0075, nullptr},
        {"3×0.01 mm", QuantityKind::pitch, 0.03, nullptr},
        {"500 lpi", QuantityKind::pitch, 0.0508, nullptr},
        {"40 l/cm", QuantityKind::pitch, 0.25, nullptr},
        {"50 %", QuantityKind::pitch, 0.03, nullptr},
        {"1.5 thou", QuantityKind::length, 0.0381, nullptr},
        {"12 µm", QuantityKind::length, 0.012, nullptr},
        {"−0.7 mm", QuantityKind::length, -0.7, nullptr},
        {"70 °F", QuantityKind::temperature, 21.1111111, nullptr},
        {"294.15 K", QuantityKind::temperature, 21, nullptr},
        {"20k", QuantityKind::frequency, 20, nullptr},
        {"3", QuantityKind::count, 3, nullptr},
        {"2.5", QuantityKind::count, 0, "quantity.not_a_number"},
        {"", QuantityKind::pitch, 0, "quantity.empty"},
        {"fine", QuantityKind::pitch, 0, "quantity.not_a_number"},
        {"0.02 parsecs", QuantityKind::pitch, 0, "quantity.unknown_unit"},
        {"20 kHz", QuantityKind::pitch, 0, "quantity.wrong_kind"},
        {"2*", QuantityKind::pitch, 0, "quantity.not_a_number"},
        {"1/0", QuantityKind::pitch, 0, "quantity.not_a_number"},
        {"((((((2", QuantityKind::pitch, 0, "quantity.not_a_number"},
        {"1,500", QuantityKind::speed, 0, "quantity.ambiguous_decimal"},
        {"1e999 mm", QuantityKind::length, 0, "quantity.not_a_number"},
        {"nan", QuantityKind::speed, 0, "quantity.not_a_number"},
        {"-5 mm/s", QuantityKind::speed, 0, "quantity.negative"},
        {"110 %", QuantityKind::percent, 0, "quantity.out_of_range"},
    };
    for (const Row& row : rows) {
        INFO(row.text);
        ParseContext context = row.kind == QuantityKind::pitch ? pitch : ParseContext{};
        if (row.kind == QuantityKind::speed)
            context.default_unit = "mm/s";
        const auto parsed = parse_quantity(row.text, row.kind, context);
        if (row.code != nullptr) {
            REQUIRE_FALSE(parsed);
            CHECK(parsed.error().code == row.code);
        } else {
            REQUIRE(parsed);
            CHECK(parsed->value == Approx(row.value).epsilon(1e-7));
        }
    }
}

TEST_CASE("no text whatever crashes the parser or yields a number that is not finite", "[quantity]") {
    rc::prop("any bytes", [](const std::string& text) {
        for (const auto& [name, kind] : kinds)
            if (const auto parsed = parse_quantity(text, kind, {"mm", 100.0, 0.06, {}, {}, DecimalSign::automatic}))
                RC_ASSERT(std::isfinite(parsed->value));
    });
    const std::string alphabet = "0123456789.,+-*/() eE'%umkl";
    rc::prop("number-like text", [&](const std::vector<unsigned char>& picks) {
        std::string text;
        for (const unsigned char p : picks)
            text += alphabet[p % alphabet.size()];
        if (const auto parsed =
                parse_quantity(text, QuantityKind::pitch, {"mm", {}, {}, {}, {}, DecimalSign::automatic}))
            RC_ASSERT(std::isfinite(parsed->value) && parsed->value > 0);
    });
}

TEST_CASE("a text that is cut short is still a text", "[quantity]") {
    rc::prop("any letters, any length", [] {
        const auto picks = *rc::gen::container<std::vector<int>>(rc::gen::inRange(0, 4));
        std::string text;
        for (const int pick : picks)
            text += std::array{"a", "\u00fc", "\u20ac", "\U0001f600"}.at(static_cast<std::size_t>(pick));
        for (std::size_t most = 0; most < 12; ++most) {
            const std::string cut = shortened(text, most);
            RC_ASSERT((cut.size() <= most && text.starts_with(cut)));
            RC_ASSERT((cut == text || most - cut.size() < 4));
            // A document holds it: nothing was cut in its midst.
            RC_ASSERT(nlohmann::json::parse(nlohmann::json(cut).dump()).get<std::string>() == cut);
        }
    });
}

TEST_CASE("numbers survive printing and reading again", "[quantity]") {
    rc::prop("exactly, in files", [](double v) {
        RC_PRE(std::isfinite(v));
        RC_ASSERT(plain_number(format_exact(v)) == v);
    });
    rc::prop("to the digits shown, on the screen", [] {
        const double v = *rc::gen::inRange(1, 1000000) * std::pow(10.0, *rc::gen::inRange(-9, 4));
        const int digits = *rc::gen::inRange(2, 6);
        const auto back = parse_quantity(format_for_screen(v, digits) + " mm", QuantityKind::length);
        RC_ASSERT(back.has_value());
        RC_ASSERT(std::abs(back->value - v) <= 0.51 * std::pow(10.0, 1 - digits) * v);
    });
    rc::prop("a band that is worth telling never reads as one number", [] {
        const double low = 1e-3 * *rc::gen::inRange(100, 1'000'000);
        const double high = low * (1 + 1e-3 * *rc::gen::inRange(60, 3000)), middle = std::sqrt(low * high);
        const int digits = band_digits(low, high);
        RC_ASSERT(digits <= 3);
        RC_ASSERT(format_number(low, digits) != format_number(middle, digits));
        RC_ASSERT(format_number(middle, digits) != format_number(high, digits));
    });
    CHECK(format_number(0.0035) == "0.0035");
    CHECK(format_number(86600) == "86600");
    CHECK(format_number(1.4349) == "1.43");
    CHECK(format_for_screen(-86600) == "\u221286\u2009600");
    CHECK(format_duration(420) == "7 min 00");
    CHECK(format_duration(11.2) == "11 s");
}

TEST_CASE("a byte of light is the nearest, as the curve has it", "[colour]") {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> level(-0.1, 1.1);
    const auto by_the_curve = [](double v) {
        return static_cast<int>(std::floor(255 * srgb_encode(std::clamp(v, 0.0, 1.0)) + 0.5));
    };
    for (int i = 0; i < 200000; ++i) {
        const double v = level(random);
        if (srgb_byte(v) != by_the_curve(v))
            FAIL(v << " is " << int(srgb_byte(v)));
    }
    for (int byte = 0; byte < 256; ++byte)
        CHECK(srgb_byte(srgb_decode(byte / 255.0)) == byte);
}

TEST_CASE("CIEDE2000 agrees with the published pairs in both orders", "[colour]") {
    const auto pairs = vectors()["sharma2005"];
    REQUIRE(pairs.size() == 34);
    for (const auto& p : pairs) {
        INFO(p.dump());
        const Lab a{p["lab1"][0], p["lab1"][1], p["lab1"][2]};
        const Lab b{p["lab2"][0], p["lab2"][1], p["lab2"][2]};
        const double de = p["de00"];
        CHECK(delta_e00(a, b) == Approx(de).margin(1e-4));
        CHECK(delta_e00(b, a) == Approx(de).margin(1e-4));
    }
}
