// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/chance.h"

namespace finch::standin {

double smooth_random(std::uint64_t seed, double x, double y) {
    const double fx = std::floor(x), fy = std::floor(y);
    const auto knot = [&](double dx, double dy) {
        const auto i = static_cast<std::uint64_t>(static_cast<std::int64_t>(fx + dx) + 100000);
        const auto j = static_cast<std::uint64_t>(static_cast<std::int64_t>(fy + dy) + 100000);
        return 2 * unit_random(seed, i * 1000003u + j) - 1;
    };
    const auto ease = [](double t) { return t * t * (3 - 2 * t); };
    const double u = ease(x - fx), v = ease(y - fy);
    return (1 - v) * ((1 - u) * knot(0, 0) + u * knot(1, 0)) + v * ((1 - u) * knot(0, 1) + u * knot(1, 1));
}

} // namespace finch::standin
