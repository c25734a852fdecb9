// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"

#include <array>
#include <cstddef>

namespace finch {

/// One period of the pulses at the points of a quadrature: 12 while the pulse is on, 40 after it. SI units.
struct PulseCycle {
    static constexpr std::size_t points = 52;
    std::array<double, points> rise{};   ///< K per J/m2 of this pulse
    std::array<double, points> decay{};  ///< K per J/m2 that the moving mean has yet to lose to the pulses before
    std::array<double, points> weight{}; ///< s
};

/// One ring of the beam profile.
struct RingHeat {
    double base_k = 0;       ///< before the spot comes
    double moving_k = 0;     ///< rise under the moving mean of the pulses
    double fluence_j_m2 = 0; ///< absorbed and kept, of one pulse
};

/// Square of the oxide thickness that one pulse grows at a ring, m2: the integral over the cycle of the parabolic
/// constant with its ceiling. The same as summing `growth_constant(real_temperature(...))`, in vectors.
[[nodiscard]] double cycle_growth(const PulseCycle& cycle, const RingHeat& ring, const Metal& metal, double gain);

} // namespace finch
