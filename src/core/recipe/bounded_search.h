// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <functional>
#include <vector>

namespace finch {

/// Smallest value of a function on the unit box, without derivatives (NLopt, subplex). Returns the best point seen, so
/// it is never worse than the start.
struct SearchResult {
    std::vector<double> x;
    double value = 0;
};
[[nodiscard]] SearchResult minimise(const std::function<double(const std::vector<double>&)>& function,
                                    std::vector<double> start, int evaluations, double first_step = 0.15);

/// Differential evolution (Storn and Price 1997) from points already valued: a step is the difference of two others, so
/// that a crowd along a ridge learns the way of the ridge. Deterministic; the best point seen.
[[nodiscard]] SearchResult follow_the_crowd(const std::function<double(const std::vector<double>&)>& function,
                                            std::vector<SearchResult> crowd, int evaluations);

} // namespace finch
