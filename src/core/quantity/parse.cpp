// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/parse.h"

#include "quantity/number_text.h"
#include "quantity/scan.h"
#include "quantity/unit_tables.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <map>

namespace finch {
namespace {

/// Spans that a bench could plausibly see: they only settle an ambiguous decimal sign, or raise a remark.
std::pair<double, double> plausible(QuantityKind kind) {
    switch (kind) {
    case QuantityKind::length:
        return {1e-4, 2000};
    case QuantityKind::pitch:
        return {5e-4, 2};
    case QuantityKind::speed:
        return {0.05, 20000};
    case QuantityKind::frequency:
        return {0.05, 5000};
    case QuantityKind::power:
        return {0.01, 500};
    case QuantityKind::duration:
        return {1e-4, 1e6};
    case QuantityKind::fluence:
        return {1e-6, 100};
    case QuantityKind::percent:
        return {0, 100};
    case QuantityKind::angle:
        return {-360, 360};
    case QuantityKind::temperature:
        return {-50, 500};
    case QuantityKind::energy:
        return {1e-6, 100};
    case QuantityKind::count:
    case QuantityKind::ratio:
        return {0, 1e6};
    }
    return {0, 0};
}

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return std::tolower(c); });
    return text;
}

/// Spellings in lower case, after plain_ascii.
const std::map<std::string, std::string, std::less<>>& aliases() {
    static const std::map<std::string, std::string, std::less<>> table{
        {"mm", "mm"},
        {"millimetre", "mm"},
        {"millimeter", "mm"},
        {"millimetres", "mm"},
        {"millimeters", "mm"},
        {"cm", "cm"},
        {"m", "m"},
        {"um", "um"},
        {"micron", "um"},
        {"microns", "um"},
        {"micrometre", "um"},
        {"micrometer", "um"},
        {"nm", "nm"},
        {"in", "in"},
        {"inch", "in"},
        {"inches", "in"},
        {"\"", "in"},
        {"thou", "thou"},
        {"thous", "thou"},
        {"mil", "thou"},
        {"mils", "thou"},
        {"mm/s", "mm/s"},
        {"mm/sec", "mm/s"},
        {"mms", "mm/s"},
        {"cm/s", "cm/s"},
        {"m/s", "m/s"},
        {"mm/min", "mm/min"},
        {"m/min", "m/min"},
        {"in/s", "in/s"},
        {"ips", "in/s"},
        {"in/sec", "in/s"},
        {"in/min", "in/min"},
        {"ipm", "in/min"},
        {"hz", "Hz"},
        {"khz", "kHz"},
        {"w", "W"},
        {"watt", "W"},
        {"watts", "W"},
        {"kw", "kW"},
        {"ns", "ns"},
        {"ps", "ps"},
        {"fs", "fs"},
        {"us", "us"},
        {"ms", "ms"},
        {"j/mm2", "J/mm2"},
        {"j/mm^2", "J/mm2"},
        {"j/cm2", "J/cm2"},
        {"j/cm^2", "J/cm2"},
        {"lpi", "lpi"},
        {"l/in", "lpi"},
        {"l/inch", "lpi"},
        {"lines/in", "lpi"},
        {"lines/inch", "lpi"},
        {"linesperinch", "lpi"},
        {"dpi", "dpi"},
        {"dots/inch", "dpi"},
        {"l/cm", "l/cm"},
        {"lpcm", "l/cm"},
        {"lines/cm", "l/cm"},
        {"linespercm", "l/cm"},
        {"l/mm", "l/mm"},
        {"lines/mm", "l/mm"},
        {"linespermm", "l/mm"},
        {"%", "%"},
        {"percent", "%"},
        {"pct", "%"},
        {"deg", "deg"},
        {"rad", "rad"},
        {"degc", "degC"},
        {"c", "degC"},
        {"degf", "degF"},
        {"f", "degF"},
        {"uj", "uJ"},
        {"j", "J"},
        {"x", "x"},
        {"passes", "x"},
        {"pass", "x"},
    };
    return table;
}

/// Spellings in which the case decides.
const std::map<std::string, std::string, std::less<>>& cased_units() {
    static const std::map<std::string, std::string, std::less<>> table{
        {"mW", "mW"},         {"MW", "MW"},         {"MHz", "MHz"},        {"mHz", "mHz"},        {"mJ", "mJ"},
        {"mJ/cm2", "mJ/cm2"}, {"mJ/mm2", "mJ/mm2"}, {"mJ/cm^2", "mJ/cm2"}, {"mJ/mm^2", "mJ/mm2"}, {"K", "K"},
    };
    return table;
}

std::string example(QuantityKind kind) {
    switch (kind) {
    case QuantityKind::length:
        return "0.5 mm";
    case QuantityKind::pitch:
        return "0.02 mm";
    case QuantityKind::speed:
        return "800 mm/s";
    case QuantityKind::frequency:
        return "80 kHz";
    case QuantityKind::power:
        return "12 W";
    case QuantityKind::duration:
        return "120 ns";
    case QuantityKind::fluence:
        return "1.5 J/mm2";
    case QuantityKind::percent:
        return "35 %";
    case QuantityKind::angle:
        return "45 deg";
    case QuantityKind::temperature:
        return "21 degC";
    case QuantityKind::energy:
        return "0.8 mJ";
    case QuantityKind::count:
        return "3";
    case QuantityKind::ratio:
        return "1.5";
    }
    return {};
}

tl::unexpected<Error> fault(const char* code, const std::string& message, QuantityKind kind) {
    return failure(std::string("quantity.") + code, message, "Type for example " + example(kind) + ".");
}

struct Unit {
    std::string name;
    std::vector<ParseNote> notes;
};

Expected<Unit> understand_unit(const std::string& typed, QuantityKind kind, const ParseContext& context) {
    const std::string low = lower(typed);
    std::string tight = low;
    std::erase(tight, ' ');
    if (typed.empty()) {
        if (kind == QuantityKind::count || kind == QuantityKind::ratio)
            return Unit{"x", {}};
        if (context.default_unit.empty())
            return fault("no_unit", "A unit is missing.", kind);
        return Unit{context.default_unit, {ParseNote::assumed_unit}};
    }
    if (kind == QuantityKind::frequency && low == "k")
        return Unit{"kHz", {ParseNote::assumed_unit}};
    if (const auto cased = cased_units().find(typed); cased != cased_units().end()) {
        if (cased->second == "mHz" || cased->second == "MW")
            return Unit{cased->second == "mHz" ? "MHz" : "mW", {ParseNote::assumed_unit}};
        return Unit{cased->second, {}};
    }
    if (const auto known = aliases().find(tight); known != aliases().end()) {
        Unit unit{known->second, {}};
        if (tight == "mil" || tight == "mils")
            unit.notes.push_back(ParseNote::mil_read_as_thou);
        if (kind == QuantityKind::pitch && unit.name == "dpi")
            unit.notes.push_back(ParseNote::dpi_read_as_lines);
        return unit;
    }
    if (low == "mhz" || low == "mj")
        return Unit{low == "mhz" ? "MHz" : "mJ", {ParseNote::assumed_unit}};
    if (low == "ppi")
        return fault("ambiguous_unit", "\"ppi\" may mean pulses or pixels per inch.", kind);
    return fault("unknown_unit", fmt::format("The unit \"{}\" is not known here.", typed), kind);
}

Expected<double> percent_value(double x, QuantityKind kind, const ParseContext& context) {
    if (kind == QuantityKind::percent)
        return x;
    if (!(x >= 0 && x <= 100))
        return fault("out_of_range", fmt::format("{:g} % is outside 0 to 100 %.", x), kind);
    if (kind == QuantityKind::pitch) {
        if (!context.spot_mm)
            return fault("no_spot", "An overlap in percent needs a spot diameter.", kind);
        if (x >= 100)
            return fault("out_of_range", "At 100 % overlap the lines would never advance.", kind);
        return *context.spot_mm * (1 - x / 100);
    }
    if (!context.maximum)
        return fault("no_max", "A percentage needs the machine's maximum, which is not known here.", kind);
    return *context.maximum * x / 100;
}

Expected<double> canonical(double x, const std::string& unit, QuantityKind kind, const ParseContext& context) {
    if (unit == "%")
        return percent_value(x, kind, context);
    if (kind == QuantityKind::pitch) {
        if (const auto lines = line_table().find(unit); lines != line_table().end()) {
            if (!(x > 0))
                return fault("not_positive", "A line density must be above zero.", kind);
            return 1.0 / (x * lines->second);
        }
    }
    const UnitTable& table = unit_table(kind);
    const auto scale = table.find(unit);
    if (scale == table.end())
        return fault("wrong_kind", fmt::format("{} is not a unit of this field.", unit), kind);
    if (unit == "degF")
        return (x - 32) / 1.8;
    if (unit == "K")
        return x - 273.15;
    return x * scale->second;
}

/// Which signs and spans a value of this kind may have.
Expected<double> checked(double v, QuantityKind kind, const ParseContext& context) {
    const bool may_be_negative = kind == QuantityKind::angle || kind == QuantityKind::length ||
                                 kind == QuantityKind::percent || kind == QuantityKind::temperature;
    if (!may_be_negative && v < 0)
        return fault("negative", "The value must not be negative.", kind);
    if ((kind == QuantityKind::pitch || kind == QuantityKind::duration) && v == 0)
        return fault("not_positive", "The value must be above zero.", kind);
    if (kind == QuantityKind::percent && !(v >= 0 && v <= 100))
        return fault("out_of_range", fmt::format("{:g} % is outside 0 to 100 %.", v), kind);
    if (kind == QuantityKind::count && v != std::floor(v))
        return fault("not_a_number", "A whole number is needed.", kind);
    const double low = context.low.value_or(-std::numeric_limits<double>::infinity());
    const double high = context.high.value_or(std::numeric_limits<double>::infinity());
    if (v < low - 1e-12 || v > high + 1e-12)
        return failure("quantity.out_of_range",
                       fmt::format("{:g} {} is outside {:g} to {:g} {}.", v, canonical_unit(kind), low, high,
                                   canonical_unit(kind)),
                       "Stay within what this bench can do.");
    return v;
}

struct Split {
    std::string number;
    std::string unit;
};

/// Length of the arithmetic at the start: up to the last digit or bracket of all that may stand in it.
std::size_t arithmetic_end(std::string_view text) {
    Scan scan(text);
    scan.all_of("0123456789.,' +-*/()\t");
    const std::size_t last = scan.since(0).find_last_of("0123456789)");
    if (last == std::string_view::npos)
        return 0;
    Scan behind(text, last + 1);
    behind.blanks();
    return std::string_view("+-*/(").find(behind.peek()) != std::string_view::npos && !behind.done() ? 0 : last + 1;
}

/// Length of a number at the start: "1 1/2", "3/4", "-1 200.5e3".
std::size_t number_end(std::string_view text) {
    Scan scan(text);
    scan.any_of("+-");
    scan.blanks();
    Scan ratio = scan;
    if (ratio.digits() > 0) {
        if (Scan mixed = ratio; mixed.blanks() > 0 && mixed.digits() > 0)
            if (Scan slash = mixed; slash.blanks(), slash.any_of("/"))
                if (slash.blanks(); slash.digits() > 0)
                    return slash.at();
        if (ratio.blanks(); ratio.any_of("/"))
            if (ratio.blanks(); ratio.digits() > 0)
                return ratio.at();
    }
    if (scan.all_of("0123456789.,") == 0)
        return 0;
    scan.all_of("0123456789.,' ");
    scan.exponent();
    return scan.at();
}

/// Cuts "1 1/2 thou" into number and unit; nothing if it does not start like a number.
std::optional<Split> split(const std::string& text) {
    std::size_t end = arithmetic_end(text);
    if (end == 0 || !is_expression(std::string_view(text).substr(0, end)))
        end = text.find_first_of("*()") == std::string::npos ? number_end(text) : 0;
    if (end == 0)
        return std::nullopt;
    Split out{text.substr(0, end), text.substr(end)};
    out.unit.erase(0, out.unit.find_first_not_of(' '));
    while (!out.number.empty() && out.number.back() == ' ')
        out.number.pop_back();
    while (!out.unit.empty() && (out.unit.back() == ' ' || out.unit.back() == '.'))
        out.unit.pop_back();
    return out;
}

/// Of two readings of "1,500", the one that alone fits the field's limits or, without limits, a bench.
Expected<double> settle(const std::vector<double>& values, QuantityKind kind, const ParseContext& context) {
    auto [low, high] = plausible(kind);
    if (context.low || context.high) {
        low = context.low.value_or(-std::numeric_limits<double>::infinity());
        high = context.high.value_or(std::numeric_limits<double>::infinity());
    }
    const auto fits = [low = low, high = high](double v) { return v >= low && v <= high; };
    if (fits(values[0]) == fits(values[1]))
        return fault("ambiguous_decimal",
                     fmt::format("The comma could be a decimal sign or a thousands sign: {:g} or {:g} {}.", values[0],
                                 values[1], canonical_unit(kind)),
                     kind);
    return fits(values[0]) ? values[0] : values[1];
}

} // namespace

std::string_view canonical_unit(QuantityKind kind) {
    switch (kind) {
    case QuantityKind::length:
    case QuantityKind::pitch:
        return "mm";
    case QuantityKind::speed:
        return "mm/s";
    case QuantityKind::frequency:
        return "kHz";
    case QuantityKind::power:
        return "W";
    case QuantityKind::duration:
        return "ns";
    case QuantityKind::fluence:
        return "J/mm2";
    case QuantityKind::percent:
        return "%";
    case QuantityKind::angle:
        return "deg";
    case QuantityKind::temperature:
        return "degC";
    case QuantityKind::energy:
        return "mJ";
    case QuantityKind::count:
    case QuantityKind::ratio:
        return "";
    }
    return "";
}

std::string_view sentence(ParseNote note) {
    switch (note) {
    case ParseNote::assumed_unit:
        return "No unit was typed, so this field's own unit was taken.";
    case ParseNote::assumed_decimal:
        return "The comma was read so that the value fits this field.";
    case ParseNote::mil_read_as_thou:
        return "mil was read as a thousandth of an inch.";
    case ParseNote::dpi_read_as_lines:
        return "dpi was read as lines per inch.";
    case ParseNote::implausible:
        return "This value is far from anything a bench would use.";
    }
    return "";
}

Expected<ParsedQuantity> parse_quantity(std::string_view raw, QuantityKind kind, const ParseContext& context) {
    if (raw.size() > 400)
        return fault("not_a_number", "This text is too long for a number.", kind);
    std::string text = plain_ascii(raw);
    text.erase(0, text.find_first_not_of(' '));
    if (text.empty())
        return fault("empty", "Nothing was typed.", kind);
    const auto parts = split(text);
    if (!parts)
        return fault("not_a_number", fmt::format("\"{}\" does not start with a number.", raw), kind);
    auto unit = understand_unit(parts->unit, kind, context);
    if (!unit)
        return tl::unexpected(unit.error());
    std::vector<double> readings;
    if (is_expression(parts->number)) {
        const auto value = evaluate(parts->number);
        if (!value)
            return tl::unexpected(value.error());
        readings = {*value};
    } else {
        readings = number_readings(parts->number, context.decimal);
    }
    if (readings.empty())
        return fault("not_a_number", fmt::format("\"{}\" is not a number.", parts->number), kind);
    ParsedQuantity out{0, unit->name, unit->notes};
    for (double& reading : readings) {
        const auto v = canonical(reading, unit->name, kind, context);
        if (!v)
            return tl::unexpected(v.error());
        reading = *v;
    }
    out.value = readings.front();
    if (readings.size() == 2) {
        const auto settled = settle(readings, kind, context);
        if (!settled)
            return tl::unexpected(settled.error());
        out.value = *settled;
        out.notes.push_back(ParseNote::assumed_decimal);
    }
    if (const auto good = checked(out.value, kind, context); !good)
        return tl::unexpected(good.error());
    const auto [low, high] = plausible(kind);
    if (out.value < low || out.value > high)
        out.notes.push_back(ParseNote::implausible);
    return out;
}

} // namespace finch
