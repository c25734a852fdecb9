// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <numbers>
#include <random>

namespace finch {

/// Random numbers that are the same on every machine: the distributions of the standard library are not.
class Draws {
public:
    explicit Draws(std::uint64_t seed) : engine_(seed) {}
    [[nodiscard]] double even() { return static_cast<double>(engine_() >> 11) / 9007199254740992.0; }
    [[nodiscard]] double even(double low, double high) { return low + (high - low) * even(); }
    /// An even choice among n.
    [[nodiscard]] std::size_t below(std::size_t n) {
        return std::min(n - 1, static_cast<std::size_t>(even() * static_cast<double>(n)));
    }
    /// Standard normal, by Box and Muller.
    [[nodiscard]] double normal() {
        const double radius = std::sqrt(-2 * std::log(1 - even()));
        return radius * std::cos(2 * std::numbers::pi * even());
    }

private:
    std::mt19937_64 engine_;
};

} // namespace finch
