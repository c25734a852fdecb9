// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/recipe.h"

#include <vector>

namespace finch {

enum class Steps { linear, ratio };

/// One axis of a proof sheet as it is asked for. Values are in the knob's unit.
struct AxisPlan {
    Knob knob = Knob::scan_speed;
    double from = 0;
    double to = 0;
    int count = 6;
    Steps steps = Steps::ratio;
    bool operator==(const AxisPlan&) const = default;
};

inline constexpr int most_steps = 26; ///< columns are lettered A to Z

/// The values of an axis: even steps or ratios, rounded to numbers that a person likes, rising or falling strictly.
/// Errors: proof.axis_count (1..26), proof.axis_range (outside the limits, equal ends, ratio through zero).
[[nodiscard]] Expected<std::vector<double>> axis_values(const AxisPlan& plan, const KnobLimits& limits);

/// The number with the fewest digits within `slack` of the value.
[[nodiscard]] double friendly(double value, double slack);

} // namespace finch
