// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/world.h"

#include <array>

namespace finch::standin {

inline constexpr std::size_t bands = 41; ///< 380, 390 .. 780 nm
/// Share of the light that comes back, with the mirror direction, by wavelength.
using Reflectance = std::array<double, bands>;
[[nodiscard]] constexpr double band_nm(std::size_t i) {
    return 380 + 10 * static_cast<double>(i);
}

/// Through three values at 400, 550 and 700 nm, bent but not beyond them at the ends.
[[nodiscard]] double through(const std::array<double, 3>& at, double nm);

/// A metal under an oxide film, seen near its mirror direction and by the light that its roughness scatters. Layers
/// by their characteristic matrices. `haze`: share scattered, 0..1; `tilt_deg`: of the piece, out of the straight view.
[[nodiscard]] Reflectance film_reflectance(const World& world, const OwnMetal& metal, double film_nm, double haze,
                                           double tilt_deg = 0);

/// Metal that ran: brownish grey. `deep` 0..1: how far.
[[nodiscard]] Reflectance molten_reflectance(double deep);
/// Even look of three values.
[[nodiscard]] Reflectance plain_reflectance(const std::array<double, 3>& at);
/// (1 - share) a + share b.
[[nodiscard]] Reflectance mixed(const Reflectance& a, const Reflectance& b, double share);
[[nodiscard]] Reflectance scaled(Reflectance r, double factor);

} // namespace finch::standin
