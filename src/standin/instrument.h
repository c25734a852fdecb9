// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/reflectance.h"

namespace finch::standin {

/// Tristimulus values of light of a spectrum, by the tables of the CIE 1931 observer; Y of `white` = 1.
[[nodiscard]] std::array<double, 3> tristimulus(const Reflectance& light, const Reflectance& white);
/// Daylight of 6500 K by the table of the CIE.
[[nodiscard]] const Reflectance& daylight();
/// L*, a*, b* as a good colour instrument reads a surface: mirror direction included, daylight 6500 K, 2 degrees.
[[nodiscard]] std::array<double, 3> instrument_lab(const Reflectance& surface);
/// The surface of a matt card of that colour: smooth over the wavelengths.
[[nodiscard]] Reflectance card_of(const std::array<double, 3>& lab);

} // namespace finch::standin
