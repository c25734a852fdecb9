// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <cstdint>

namespace finch::standin {

/// Evenly distributed number in [0, 1) that depends only on its arguments.
[[nodiscard]] constexpr double unit_random(std::uint64_t seed, std::uint64_t index) {
    std::uint64_t x = seed * 0x9E3779B97F4A7C15u + index * 0xD1B54A32D192ED03u + 0x632BE59BD9B4E019u;
    x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9u;
    x = (x ^ (x >> 27)) * 0x94D049BB133111EBu;
    return static_cast<double>((x ^ (x >> 31)) >> 11) / 9007199254740992.0;
}

/// Bell-shaped with standard deviation 1, never beyond 3: the sum of nine even draws.
[[nodiscard]] constexpr double bell_random(std::uint64_t seed, std::uint64_t index) {
    double sum = -4.5;
    for (std::uint64_t i = 0; i < 9; ++i)
        sum += unit_random(seed, 9 * index + i + 7919);
    const double z = sum / 0.8660254037844386;
    return z > 3 ? 3 : z < -3 ? -3 : z;
}

/// One draw after the other from a seed.
struct Chance {
    std::uint64_t seed = 1, index = 0;
    double even(double low, double high) { return low + (high - low) * unit_random(seed, ++index); }
    double bell(double deviation) { return deviation * bell_random(seed, ++index); }
    /// A factor whose logarithm is bell-shaped.
    double factor(double deviation) { return std::exp(bell(deviation)); }
};

/// Smooth random field with values of about -1 to 1 and a mean near zero; `x`, `y` in lengths of its grain.
[[nodiscard]] double smooth_random(std::uint64_t seed, double x, double y);

} // namespace finch::standin
