// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/convert.h"

#include "quantity/unit_tables.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr std::array kinds{QuantityKind::length,  QuantityKind::speed,    QuantityKind::frequency,
                           QuantityKind::power,   QuantityKind::duration, QuantityKind::fluence,
                           QuantityKind::percent, QuantityKind::angle,    QuantityKind::energy};

std::optional<double> size_in(const UnitTable& table, std::string_view unit) {
    const auto it = table.find(unit);
    return it != table.end() ? std::optional(it->second) : std::nullopt;
}

bool known(std::string_view unit) {
    return size_in(line_table(), unit) || std::any_of(kinds.begin(), kinds.end(), [&](QuantityKind k) {
               return size_in(unit_table(k), unit).has_value();
           });
}

tl::unexpected<Error> mismatch(std::string_view from, std::string_view to) {
    for (const std::string_view unit : {from, to})
        if (!known(unit))
            return failure("quantity.unknown_unit", fmt::format("\"{}\" is no unit known here.", unit),
                           "Check its spelling.");
    return failure("quantity.wrong_kind", fmt::format("{} cannot be turned into {}.", from, to),
                   "Choose units of the same kind.");
}

std::optional<Error> table_fault(const PercentTable& table) {
    bool rising = table.size() >= 2;
    for (std::size_t i = 1; i < table.size(); ++i)
        rising = rising && table[i].first > table[i - 1].first && table[i].second > table[i - 1].second;
    if (rising)
        return std::nullopt;
    return Error{"quantity.bad_table",
                 "The table needs two or more points that rise in both columns.",
                 "Measure again, or sort the rows.",
                 {}};
}

tl::unexpected<Error> outside(const char* what) {
    return failure("quantity.out_of_range", fmt::format("The value is outside {}.", what),
                   "Nothing is extrapolated: measure further or choose another value.");
}

/// Linear between points; `at` and `to` choose the columns.
double interpolate(const PercentTable& table, double x, double std::pair<double, double>::*at,
                   double std::pair<double, double>::*to) {
    std::size_t i = 1;
    while (i + 1 < table.size() && x > table[i].*at)
        ++i;
    const auto &a = table[i - 1], &b = table[i];
    return a.*to + (x - a.*at) / (b.*at - a.*at) * (b.*to - a.*to);
}

} // namespace

Expected<double> convert(double value, std::string_view from, std::string_view to) {
    if (!std::isfinite(value))
        return failure("quantity.not_a_number", "The value is not a number.", "Enter a number.");
    const auto lines_from = size_in(line_table(), from), lines_to = size_in(line_table(), to);
    if (lines_from && lines_to)
        return value * *lines_from / *lines_to;
    if (lines_from || lines_to) {
        const auto length = size_in(unit_table(QuantityKind::length), lines_from ? to : from);
        if (!length)
            return mismatch(from, to);
        if (value <= 0)
            return failure("quantity.not_positive", "A line density or pitch must be above 0.", "Enter more than 0.");
        return lines_from ? 1 / (value * *lines_from) / *length : 1 / (value * *length) / *lines_to;
    }
    for (const QuantityKind kind : kinds) {
        const auto a = size_in(unit_table(kind), from), b = size_in(unit_table(kind), to);
        if (a && b)
            return value * *a / *b;
    }
    return mismatch(from, to);
}

Expected<double> from_percent(double percent, double maximum, const PercentTable& table) {
    if (!(percent >= 0 && percent <= 100))
        return outside("0 to 100 %");
    if (table.empty()) {
        if (!(maximum > 0))
            return failure("quantity.not_positive", "The machine's maximum must be above 0.", "Set it.");
        return maximum * percent / 100;
    }
    if (auto fault = table_fault(table))
        return tl::unexpected(*fault);
    if (percent < table.front().first || percent > table.back().first)
        return outside("the measured table");
    return interpolate(table, percent, &std::pair<double, double>::first, &std::pair<double, double>::second);
}

Expected<TypedPercent> to_percent(double value, double maximum, const PercentTable& table, double step) {
    if (!(value > 0))
        return failure("quantity.not_positive", "The value must be above 0.", "Enter more than 0.");
    TypedPercent out;
    if (!table.empty()) {
        if (auto fault = table_fault(table))
            return tl::unexpected(*fault);
        if (value < table.front().second || value > table.back().second)
            return outside("the measured table");
        out.percent = interpolate(table, value, &std::pair<double, double>::second, &std::pair<double, double>::first);
    } else {
        if (!(maximum > 0))
            return failure("quantity.not_positive", "The machine's maximum must be above 0.", "Set it.");
        out.percent = 100 * value / maximum;
        if (out.percent > 100 * (1 + 1e-12))
            return outside("what the machine reaches");
    }
    if (step > 0)
        out.percent = std::min(100.0, std::max(step, std::floor(out.percent / step + 0.5) * step));
    const auto realised = from_percent(std::min(out.percent, 100.0), maximum, table);
    if (!realised)
        return tl::unexpected(realised.error());
    out.relative_error = *realised / value - 1;
    return out;
}

} // namespace finch
