// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <optional>
#include <vector>

namespace finch {

/// Five logarithms: power, speed, frequency, spot, pitch.
using LogSettings = std::array<long double, 5>;

/// One weighted wish row . x = target.
struct WishRow {
    std::array<double, 5> row{};
    double target = 0;
    double weight = 1;
};
/// row . x <= most.
struct UpperBound {
    std::array<double, 5> row{};
    double most = 0;
};

/// Least squares within a box and at most one inequality, exact by enumerating which variables sit at a limit. Rows in
/// falling weight. Extended precision, because the weights span eight decades. Nothing if the limits contradict each
/// other.
[[nodiscard]] std::optional<LogSettings> boxed_least_squares(const std::vector<WishRow>& rows, const LogSettings& low,
                                                             const LogSettings& high,
                                                             const std::optional<UpperBound>& bound);
/// Sum of the squared weighted misses.
[[nodiscard]] long double miss(const std::vector<WishRow>& rows, const LogSettings& x);

} // namespace finch
