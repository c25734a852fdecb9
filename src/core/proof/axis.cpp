// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/axis.h"

#include "quantity/format.h"
#include "quantity/scan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

double plain_value(const AxisPlan& plan, int i) {
    if (plan.count == 1)
        return plan.from;
    const double t = static_cast<double>(i) / (plan.count - 1);
    return plan.steps == Steps::ratio ? plan.from * std::pow(plan.to / plan.from, t)
                                      : plan.from + t * (plan.to - plan.from);
}

std::optional<Error> fault(const AxisPlan& plan, const KnobLimits& limits) {
    const KnobTraits& t = traits(plan.knob);
    const auto range = [&](const std::string& message, const std::string& fix) {
        return Error{"proof.axis_range", message, fix, {{}, 0, std::string(t.key)}};
    };
    if (plan.count < 1 || plan.count > most_steps)
        return Error{"proof.axis_count",
                     fmt::format("An axis takes 1 to {} steps, not {}.", most_steps, plan.count),
                     "Change the count.",
                     {{}, 0, std::string(t.key)}};
    for (const double v : {plan.from, plan.to})
        if (!std::isfinite(v) || v < limits.low - 1e-9 || v > limits.high + 1e-9)
            return range(fmt::format("{} {} {} is outside {} to {}.", t.label, format_number(v, 4), t.unit,
                                     format_number(limits.low, 4), format_number(limits.high, 4)),
                         "Stay within what the bench can set.");
    if (plan.count > 1 && plan.from == plan.to)
        return range(fmt::format("{} starts and ends at the same value.", t.label), "Give it a range, or one step.");
    if (plan.steps == Steps::ratio && plan.count > 1 && !(plan.from > 0 && plan.to > 0))
        return range(fmt::format("{} cannot go through zero in equal ratios.", t.label), "Choose even steps.");
    return std::nullopt;
}

} // namespace

double friendly(double value, double slack) {
    if (value == 0 || !std::isfinite(value))
        return value;
    const double sign = value < 0 ? -1 : 1;
    const double size = std::abs(value);
    const double decade = std::pow(10, std::floor(std::log10(size)));
    for (int digits = 0; digits < 7; ++digits)
        for (const double share : {1.0, 0.5}) {
            const double step = decade * std::pow(10, -digits) * share;
            const double rounded = std::round(size / step) * step;
            if (std::abs(rounded - size) <= slack && rounded > 0)
                return sign * plain_number(format_number(rounded, digits + 2)).value_or(rounded);
        }
    return value;
}

Expected<std::vector<double>> axis_values(const AxisPlan& plan, const KnobLimits& limits) {
    if (auto bad = fault(plan, limits))
        return tl::unexpected(*bad);
    std::vector<double> out;
    for (int i = 0; i < plan.count; ++i) {
        const double v = plain_value(plan, i);
        const double next = plan.count > 1 ? plain_value(plan, i > 0 ? i - 1 : 1) : v;
        // A rounded value stays within an eighth of a step, so that steps still look even, and within a few percent,
        // so that wide ratios still end near where they were asked to.
        double rounded = plan.count > 1 ? friendly(v, std::min(std::abs(v - next) / 8, 0.04 * std::abs(v))) : v;
        if (traits(plan.knob).whole)
            rounded = std::round(v);
        out.push_back(std::clamp(rounded, limits.low, limits.high));
    }
    // Whole passes may fall together when the range is narrower than the count.
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

} // namespace finch
