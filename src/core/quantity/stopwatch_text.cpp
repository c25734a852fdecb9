// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/stopwatch_text.h"

#include "quantity/scan.h"

#include <algorithm>
#include <fmt/format.h>
#include <vector>

namespace finch {
namespace {

/// The number that comes next, with a point or a comma.
std::optional<double> number_at(Scan& scan) {
    const std::size_t from = scan.at();
    while (is_digit(scan.peek()))
        scan.take();
    if (scan.at() > from && (scan.peek() == '.' || scan.peek() == ',')) {
        scan.take();
        while (is_digit(scan.peek()))
            scan.take();
    }
    std::string digits(scan.since(from));
    std::ranges::replace(digits, ',', '.');
    return plain_number(digits);
}

void pass_blanks(Scan& scan) {
    while (is_blank(scan.peek()))
        scan.take();
}

/// Seconds of the unit that comes next: 0 where there is none, below it where it is not known.
double unit_at(Scan& scan) {
    const std::size_t from = scan.at();
    while (is_letter(scan.peek()))
        scan.take();
    const std::string_view word = scan.since(from);
    return word.empty()                                        ? 0
           : word == "s" || word == "sec" || word == "seconds" ? 1
           : word == "min" || word == "minutes" || word == "m" ? 60
           : word == "h" || word == "hours"                    ? 3600
                                                               : -1;
}

std::optional<double> read_seconds(std::string_view text) {
    Scan scan(text);
    double total = 0, unit = 0; // of the last part
    int colons = 0, parts = 0;
    while (!scan.done()) {
        const auto value = number_at(scan);
        if (!value || ++parts > 3 || (colons > 0 && *value >= 60))
            return std::nullopt;
        if (scan.peek() == ':' && unit == 0) {
            scan.take();
            ++colons;
            total = 60 * (total + *value);
            continue;
        }
        if (colons > 0) {
            total += *value; // 1:32 ends here
            break;
        }
        pass_blanks(scan);
        const double before = unit;
        unit = unit_at(scan);
        if (unit == 0) // a number alone is in seconds; after minutes or hours in the next smaller unit
            unit = before > 0 ? before / 60 : 1;
        if (unit < 1 || (before > 0 && unit >= before) || (before > 0 && *value >= before / unit))
            return std::nullopt;
        total += unit * *value;
        pass_blanks(scan);
    }
    const bool whole = scan.done() && parts == (colons > 0 ? colons + 1 : parts) && parts > 0;
    return whole ? std::optional(total) : std::nullopt;
}

} // namespace

Expected<double> seconds_from_text(std::string_view text) {
    constexpr double shortest_s = 0.01, longest_s = 1e7; // what a file of a bench may hold
    const auto seconds = read_seconds(trimmed(text));
    if (!seconds || *seconds < shortest_s || *seconds > longest_s)
        return failure("time.unreadable", fmt::format("\"{}\" is no time.", shortened(text, 40)),
                       "Write seconds (44.7), minutes and seconds (1:32), or 1 min 32.");
    return *seconds;
}

} // namespace finch
