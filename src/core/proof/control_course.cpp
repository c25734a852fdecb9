// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/control_course.h"

#include <algorithm>
#include <array>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <numeric>

namespace finch {
namespace {

constexpr std::size_t fewest_before = 3;
constexpr double allowance = 0.5;       ///< of a standard deviation: smaller changes are not collected
constexpr double alarm_sum = 5;         ///< of what is collected on one side
constexpr double one_day = 3.5;         ///< score that is an alarm by itself
constexpr double head_start = 2.5;      ///< of a sum after its alarm
constexpr double change_share = 0.98;   ///< as where a change began is found from the same days, 0.95 holds 8 in 10
constexpr double seen_share = 0.9;      ///< of the changes that are said to be seen
constexpr double least_spread = 0.0016; ///< half the step in which a lot check finds the dose
constexpr double most_score = 8;

struct Usual {
    double mean = 0, spread = 0, n = 0;

    [[nodiscard]] double wide() const { return spread * std::sqrt(1 + 1 / n); }
    [[nodiscard]] boost::math::students_t t() const { return boost::math::students_t(n - 1); }
    /// Change in widths that alarms by itself so often, by the power of the test (non-central t).
    [[nodiscard]] double seen_at_once() const {
        const double tail = boost::math::cdf(boost::math::complement(boost::math::normal(), one_day));
        const double critical = boost::math::quantile(boost::math::complement(t(), tail));
        double low = 0, high = 400;
        for (int i = 0; i < 50; ++i) {
            const double middle = (low + high) / 2;
            const boost::math::non_central_t shifted(n - 1, middle);
            (boost::math::cdf(boost::math::complement(shifted, critical)) < seen_share ? low : high) = middle;
        }
        return high;
    }
    /// As a standard normal score.
    [[nodiscard]] double score(double value) const {
        const double t_value = (value - mean) / wide();
        // By the lesser tail: the other is 1 to the last digit.
        const double tail = boost::math::cdf(boost::math::complement(t(), std::abs(t_value)));
        const double z = boost::math::quantile(boost::math::complement(boost::math::normal(), std::max(tail, 1e-15)));
        return std::copysign(std::min(z, most_score), t_value);
    }
};

Usual usual_of(const std::vector<double>& values, double least) {
    Usual u;
    u.n = static_cast<double>(values.size());
    u.mean = std::accumulate(values.begin(), values.end(), 0.0) / u.n;
    double squares = 0;
    for (const double v : values)
        squares += (v - u.mean) * (v - u.mean);
    u.spread = std::max(least, std::sqrt(squares / (u.n - 1)));
    return u;
}

/// What is collected on one side of usual.
struct Sum {
    double value = 0;
    std::size_t since = 0; ///< the first day that it holds

    /// Whether it is an alarm.
    bool add(double score, std::size_t day) {
        // A day that is an alarm by itself is where the change began, unless it was collecting already.
        if (value <= 0 || (score > one_day && value < head_start))
            since = day;
        value = std::max(0.0, value + score - allowance);
        return value > alarm_sum || score > one_day;
    }
};

double off_score_of(double off_de) {
    return std::cbrt(off_de * off_de);
}

std::string change_percent(double ln) {
    return fmt::format("{:.1f} %", std::abs(100 * std::expm1(ln)));
}

std::string day_of(const ControlPoint& p) {
    return fmt::format("sheet {}, {}", p.reading.sheet, p.reading.when_utc.substr(0, 10));
}

std::string change_words(const ControlCourse& c) {
    const bool less = c.change_ln < 0;
    const double near = less ? c.change_high_ln : c.change_low_ln, far = less ? c.change_low_ln : c.change_high_ln;
    const bool open = (near < 0) != less && near != 0; // the interval holds no change as well
    // A lot check finds no more than its strongest and weakest cell.
    const bool open_end = std::abs(c.points.back().reading.dose_ln) > 0.0895;
    return fmt::format("{}{} {} than usual ({}{} to {}), since {}", open_end ? "at least " : "",
                       change_percent(c.change_ln), less ? "less" : "more", open ? "\u2212" : "", change_percent(near),
                       change_percent(far), day_of(c.points[c.since]));
}

std::string words_of(const ControlCourse& c) {
    const auto before = std::ranges::count_if(c.points, &ControlPoint::usual);
    const std::string would = fmt::format(" A change of {} would be seen at once, nine times in ten; smaller ones that "
                                          "last collect over the days.",
                                          change_percent(c.seen_at_once_ln));
    switch (c.verdict) {
    case ControlVerdict::settling:
        return fmt::format("{} of the {} sheets that say what is usual; every later one is judged by those before it.",
                           std::min<long>(before, fewest_before), fewest_before);
    case ControlVerdict::usual: {
        std::string out =
            fmt::format("As usual, over {} sheets; days differ by {}.", c.points.size(), change_percent(c.spread_ln));
        const auto alarm = std::ranges::find_if(c.points.rbegin(), c.points.rend(), &ControlPoint::alarm);
        if (alarm != c.points.rend())
            out += fmt::format(" The last alarm was {}.", day_of(*alarm));
        return out + would;
    }
    case ControlVerdict::watch:
        return fmt::format("It may be changing: {}. It may be chance; burn the control once more.",
                           c.beside ? "its colours leave their path, since " + day_of(c.points[c.since])
                                    : change_words(c));
    case ControlVerdict::less:
        return fmt::format("The bench gives {}. Look at the lens and its window, then at the focus, then at what the "
                           "source gives.",
                           change_words(c));
    case ControlVerdict::more:
        return fmt::format("The bench gives {}. Was the lens cleaned or changed, the focus moved, or the source "
                           "adjusted?",
                           change_words(c));
    case ControlVerdict::off_path:
        break;
    }
    return fmt::format(
        "The colours lie {:.1f} CIEDE2000 beside where any dose would put them, farther than usual, since "
        "{}. Look at the focus, the surface and its cleaning, the air, and at the camera.",
        c.points.back().reading.off_de, day_of(c.points[c.since]));
}

/// What the days from `since` on differ from those that are usual by, nine in ten.
void tell_change(ControlCourse& c) {
    std::vector<double> now, before;
    for (std::size_t i = 0; i < c.points.size(); ++i)
        if (i >= c.since)
            now.push_back(c.points[i].reading.dose_ln);
        else if (c.points[i].usual)
            before.push_back(c.points[i].reading.dose_ln);
    if (before.size() < 2)
        return;
    const Usual u = usual_of(before, least_spread);
    const double n = static_cast<double>(now.size());
    c.change_ln = std::accumulate(now.begin(), now.end(), 0.0) / n - u.mean;
    const double half = boost::math::quantile(u.t(), change_share) * u.spread * std::sqrt(1 / n + 1 / u.n);
    c.change_low_ln = c.change_ln - half;
    c.change_high_ln = c.change_ln + half;
}

} // namespace

std::optional<ControlReading> control_reading(const ProofSheet& sheet, const SheetReading& reading,
                                              const std::string& when_utc) {
    const auto f = judge_lot_check(sheet, reading);
    // Also a coarse photograph that happens to lie near says little of a day; what cells scatter by is the plate's, and
    // part of how days differ.
    if (!f || f->verdict == LotVerdict::unsure || f->within_de > 2 * sheet.lot->accept_de)
        return std::nullopt;
    return ControlReading{sheet.number, when_utc, -std::log(f->best_dose), f->best_de, f->as_it_is_de};
}

bool same_control(const ProofSheet& a, const ProofSheet& b) {
    Recipe named = b.base;
    named.name = a.base.name;
    return a.lot && a.lot == b.lot && a.base == named;
}

ControlCourse control_course(std::vector<ControlReading> readings) {
    std::ranges::stable_sort(readings, {}, [](const ControlReading& r) { return std::pair(r.sheet, r.when_utc); });
    ControlCourse c;
    for (const ControlReading& r : readings) {
        if (!c.points.empty() && c.points.back().reading.sheet == r.sheet)
            c.points.back().reading = r;
        else
            c.points.push_back({r});
    }
    Sum less, more, off;
    for (std::size_t i = 0; i < c.points.size(); ++i) {
        ControlPoint& p = c.points[i];
        std::vector<double> doses, offs;
        for (std::size_t k = 0; k < i; ++k)
            if (c.points[k].usual) {
                doses.push_back(c.points[k].reading.dose_ln);
                offs.push_back(off_score_of(c.points[k].reading.off_de));
            }
        c.verdict = ControlVerdict::settling;
        if (doses.size() < fewest_before)
            continue;
        p.judged = true;
        const Usual dose = usual_of(doses, least_spread);
        const Usual beside = usual_of(offs, 0.05);
        const double half = boost::math::quantile(dose.t(), 0.95) * dose.wide();
        p.usual_low_ln = dose.mean - half;
        p.usual_high_ln = dose.mean + half;
        const double score = dose.score(p.reading.dose_ln);
        const bool too_little = less.add(-score, i), too_much = more.add(score, i);
        const bool aside = off.add(beside.score(off_score_of(p.reading.off_de)), i);
        p.alarm = too_little || too_much || aside;
        c.verdict = too_little                                                   ? ControlVerdict::less
                    : too_much                                                   ? ControlVerdict::more
                    : aside                                                      ? ControlVerdict::off_path
                    : std::max({less.value, more.value, off.value}) > head_start ? ControlVerdict::watch
                                                                                 : ControlVerdict::usual;
        Sum* const sum = too_little || (!p.alarm && less.value >= std::max(more.value, off.value)) ? &less
                         : too_much || (!p.alarm && more.value >= off.value)                       ? &more
                                                                                                   : &off;
        c.since = sum->since;
        c.beside = sum == &off;
        if (p.alarm) {
            for (std::size_t k = sum->since; k <= i; ++k)
                c.points[k].usual = false;
            const std::size_t began = sum->since;
            less = more = off = {};
            sum->value = head_start;
            sum->since = began;
        }
    }
    std::vector<double> usual;
    for (const ControlPoint& p : c.points)
        if (p.usual)
            usual.push_back(p.reading.dose_ln);
    if (usual.size() >= fewest_before) {
        const Usual u = usual_of(usual, least_spread);
        c.spread_ln = u.spread;
        c.seen_at_once_ln = u.seen_at_once() * u.wide();
    }
    if (c.verdict != ControlVerdict::settling && c.verdict != ControlVerdict::usual)
        tell_change(c);
    c.words = words_of(c);
    return c;
}

nlohmann::json to_json(const ControlCourse& c) {
    static constexpr std::array verdicts{"settling", "usual", "watch", "less", "more", "off the path"};
    nlohmann::json points = nlohmann::json::array();
    for (const ControlPoint& p : c.points) {
        nlohmann::json out = {{"sheet", p.reading.sheet},
                              {"when_utc", p.reading.when_utc},
                              {"dose_factor", std::exp(p.reading.dose_ln)},
                              {"off_path_de", p.reading.off_de},
                              {"as_it_is_de", p.reading.as_it_is_de},
                              {"alarm", p.alarm},
                              {"counts_as_usual", p.usual}};
        if (p.judged)
            out["usual_dose_factor"] = {std::exp(p.usual_low_ln), std::exp(p.usual_high_ln)};
        points.push_back(std::move(out));
    }
    nlohmann::json out = {
        {"finding", verdicts.at(static_cast<std::size_t>(c.verdict))}, {"points", points}, {"words", c.words}};
    if (c.spread_ln > 0) {
        out["days_differ_by"] = std::expm1(c.spread_ln);
        out["seen_at_once"] = std::expm1(c.seen_at_once_ln);
    }
    if (c.verdict != ControlVerdict::settling && c.verdict != ControlVerdict::usual) {
        out["since_sheet"] = c.points[c.since].reading.sheet;
        out["change_factor"] = std::exp(c.change_ln);
        out["change_factor_within"] = {std::exp(c.change_low_ln), std::exp(c.change_high_ln)};
    }
    return out;
}

} // namespace finch
