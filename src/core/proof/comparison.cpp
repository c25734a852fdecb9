// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/comparison.h"

#include "search/draws.h"

#include <algorithm>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace finch {
namespace {

constexpr double sure = 0.975, power = 0.90; ///< two-sided 95 %; nine times in ten
constexpr std::size_t fewest_pairs = 3, most_pairs = 24;

/// Difference that n pairs with this scatter of differences show nine times in ten.
double shown_by(std::size_t n, double sd) {
    const double freedom = static_cast<double>(n) - 1, root = std::sqrt(static_cast<double>(n));
    const double critical = boost::math::quantile(boost::math::students_t(freedom), sure);
    double low = 0, high = 60; // of the difference in standard errors
    for (int i = 0; i < 60; ++i) {
        const double middle = (low + high) / 2;
        const boost::math::non_central_t t(freedom, middle);
        const double seen = boost::math::cdf(boost::math::complement(t, critical)) + boost::math::cdf(t, -critical);
        (seen < power ? low : high) = middle;
    }
    return high * sd / root;
}

double half_width(std::size_t n, double sd) {
    return boost::math::quantile(boost::math::students_t(static_cast<double>(n) - 1), sure) * sd /
           std::sqrt(static_cast<double>(n));
}

std::string number(double v) {
    return fmt::format("{}{:.1f}", v <= -0.05 ? "\u2212" : "", std::abs(v));
}

std::string words_of(const ComparisonVerdict& v, const PairedCells& p) {
    const std::string_view what = word(p.measure);
    const bool falls = v.difference < 0; // told by its size, so the ends of the interval turn round
    const std::string change =
        fmt::format("{} {} by {} ({} to {})", what, falls ? "falls" : "rises", number(std::abs(v.difference)),
                    number(falls ? -v.high : v.low), number(falls ? -v.low : v.high));
    const std::string with = fmt::format(" {} pairs show {} nine times in ten.", v.readings.size(), number(v.shown));
    switch (v.finding) {
    case Comparing::matters:
        return fmt::format("It matters: {}, all of it above the {} that was settled.{}", change, number(p.matters),
                           with);
    case Comparing::differs:
        return fmt::format("It differs: {}; whether by the {} that was settled is open.{}", change, number(p.matters),
                           with);
    case Comparing::does_not_matter:
        return fmt::format(
            "It does not matter: the difference lies between {} and {}, within the {} that was settled.{}",
            number(v.low), number(v.high), number(p.matters), with);
    case Comparing::cannot_tell:
        break;
    }
    return fmt::format("This cannot tell: the difference lies between {} and {}. About {} pairs would.", number(v.low),
                       number(v.high), v.needed);
}

} // namespace

double measured_by(Measure measure, const Lab& lab) {
    switch (measure) {
    case Measure::lightness:
        return lab.l;
    case Measure::chroma:
        return chroma(lab);
    case Measure::a:
        return lab.a;
    case Measure::b:
        return lab.b;
    }
    return 0;
}

std::string_view word(Measure measure) {
    switch (measure) {
    case Measure::lightness:
        return "L*";
    case Measure::chroma:
        return "chroma";
    case Measure::a:
        return "a*";
    case Measure::b:
        return "b*";
    }
    return "";
}

Expected<ProofSheet> plan_comparison(const SheetRequest& request, const ComparisonRequest& c, const Bench& bench,
                                     const Recipe& labels, std::uint64_t seed) {
    if (c.pairs < fewest_pairs || c.pairs > most_pairs)
        return failure("compare.pairs", fmt::format("{} pairs cannot be compared.", c.pairs),
                       fmt::format("Take {} to {}.", fewest_pairs, most_pairs));
    if (c.first.setting == c.second.setting)
        return failure("compare.same", "Both recipes have the same setting.", "Change what is to be compared.");
    Recipe rest = c.second;
    rest.setting = c.first.setting;
    rest.name = c.first.name;
    if (!(rest == c.first))
        return failure("compare.more_than_setting",
                       "The recipes differ in more than power, frequency, width, speed, hatch, passes and focus.",
                       "Compare recipes of one process with the same cross-hatch, turn, compound and steps.");
    std::vector<Setting> cells(c.pairs, c.first.setting);
    cells.insert(cells.end(), c.pairs, c.second.setting);
    SheetRequest free = request;
    free.base = c.first;
    auto sheet = plan_free_sheet(free, cells, bench, labels);
    if (!sheet)
        return sheet;
    sheet->own_columns = c.pairs;
    sheet->left_out.assign(sheet->cells(), false);
    Draws draws(seed);
    std::vector<std::size_t> pairs(c.pairs);
    std::iota(pairs.begin(), pairs.end(), std::size_t{0});
    for (std::size_t i = pairs.size(); i > 1; --i)
        std::swap(pairs[i - 1], pairs[draws.below(i)]);
    PairedCells paired{c.measure, c.matters, {}};
    for (const std::size_t pair : pairs) {
        const bool second_first = draws.below(2) == 1;
        paired.order.push_back(second_first ? c.pairs + pair : pair);
        paired.order.push_back(second_first ? pair : c.pairs + pair);
    }
    sheet->paired = std::move(paired);
    return inside_field(std::move(*sheet), bench);
}

Expected<ComparisonVerdict> judge_comparison(const ProofSheet& sheet, const SheetReading& reading) {
    if (!sheet.paired || reading.cells.size() != sheet.cells())
        return failure("compare.no_comparison", fmt::format("Sheet {} compares nothing.", sheet.number),
                       "Plan a comparison of two recipes.");
    ComparisonVerdict v;
    const std::size_t pairs = sheet.own.size() / 2;
    const auto usable = [](const CellReading& c) { return c.state == CellState::read && !c.spoiled; };
    std::vector<double> differences;
    for (std::size_t i = 0; i < pairs; ++i) {
        const CellReading &a = reading.cells[i], &b = reading.cells[pairs + i];
        if (!usable(a) || !usable(b))
            continue;
        v.readings.emplace_back(measured_by(sheet.paired->measure, a.lab), measured_by(sheet.paired->measure, b.lab));
        differences.push_back(v.readings.back().second - v.readings.back().first);
    }
    const std::size_t n = differences.size();
    if (n < fewest_pairs)
        return failure("compare.too_few", fmt::format("Only {} pairs could be read whole.", n),
                       "Read the sheet again, or burn it again: three pairs are the least.");
    v.difference = std::accumulate(differences.begin(), differences.end(), 0.0) / static_cast<double>(n);
    double squares = 0;
    for (const double d : differences)
        squares += (d - v.difference) * (d - v.difference);
    // Readings have two digits behind the point: no scatter at all is not believed.
    const double sd = std::max(std::sqrt(squares / static_cast<double>(n - 1)), 0.01);
    const double half = half_width(n, sd), matters = sheet.paired->matters;
    v.low = v.difference - half;
    v.high = v.difference + half;
    v.shown = shown_by(n, sd);
    const bool differs = v.low > 0 || v.high < 0;
    v.finding = v.low >= matters || v.high <= -matters ? Comparing::matters
                : v.low > -matters && v.high < matters ? Comparing::does_not_matter
                : differs                              ? Comparing::differs
                                                       : Comparing::cannot_tell;
    if (v.finding == Comparing::cannot_tell)
        for (v.needed = n + 1; v.needed < 400 && shown_by(v.needed, sd) > matters; ++v.needed) {
        }
    v.words = words_of(v, *sheet.paired);
    return v;
}

} // namespace finch
