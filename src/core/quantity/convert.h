// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace finch {

/// Converts within one kind of quantity, and between a density of lines and the pitch that it means (reciprocal).
/// Errors: quantity.wrong_kind, quantity.unknown_unit, quantity.not_positive, quantity.not_a_number.
[[nodiscard]] Expected<double> convert(double value, std::string_view from, std::string_view to);

/// Measured percent -> absolute pairs, rising in both.
using PercentTable = std::vector<std::pair<double, double>>;

/// What a percent field of a machine means: linear to a maximum, or by a measured table without extrapolation.
/// Errors: quantity.out_of_range, quantity.not_positive, quantity.bad_table.
[[nodiscard]] Expected<double> from_percent(double percent, double maximum, const PercentTable& table = {});

/// The percent to type for an absolute value, rounded to the field's step and never to 0, and the relative error that
/// rounding leaves. Errors as above.
struct TypedPercent {
    double percent = 0, relative_error = 0;
};
[[nodiscard]] Expected<TypedPercent> to_percent(double value, double maximum, const PercentTable& table = {},
                                                double step = 0);

} // namespace finch
