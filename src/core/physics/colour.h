// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstdint>
#include <string_view>

namespace finch {

inline constexpr std::size_t spectrum_size = 41; ///< 380..780 nm in steps of 10 nm
using Spectrum = std::array<double, spectrum_size>;

/// CIE 1931 tristimulus values under D65, Y = 1 for the perfect reflector.
struct Xyz {
    double x = 0, y = 0, z = 0;
    bool operator==(const Xyz&) const = default;
};

/// CIELAB against the perfect reflector under D65.
struct Lab {
    double l = 0, a = 0, b = 0;
    bool operator==(const Lab&) const = default;
};

/// 8 bit sRGB.
struct Rgb {
    int r = 0, g = 0, b = 0;
    bool operator==(const Rgb&) const = default;
};

/// CIE 1931 2 degree observer at a wavelength in nm (Wyman, Sloan and Shirley 2013, multi-lobe fit).
[[nodiscard]] Xyz observer(double wavelength_nm);
/// White of this wavelength grid.
[[nodiscard]] const Xyz& white_point();
/// Colour of a reflectance spectrum (0..1) under D65.
[[nodiscard]] Xyz to_xyz(const Spectrum& reflectance);
[[nodiscard]] Lab to_lab(const Xyz& xyz);
[[nodiscard]] Xyz to_xyz(const Lab& lab);
/// Linear light of the sRGB primaries, not clipped; 1 = white.
[[nodiscard]] std::array<double, 3> to_linear_rgb(const Xyz& xyz);
[[nodiscard]] Xyz from_linear_rgb(const std::array<double, 3>& rgb);
/// sRGB transfer curve, both ways, values in 0..1.
[[nodiscard]] double srgb_encode(double linear);
[[nodiscard]] double srgb_decode(double encoded);
/// The byte nearest to srgb_encode, clipped to 0..1, without a power: for every pixel of a picture.
[[nodiscard]] std::uint8_t srgb_byte(double linear);
/// Clipped to the gamut of sRGB.
[[nodiscard]] Rgb to_srgb(const Xyz& xyz);
[[nodiscard]] Rgb to_srgb(const Lab& lab);

[[nodiscard]] double chroma(const Lab& lab);
/// Hue angle in degrees, 0..360.
[[nodiscard]] double hue(const Lab& lab);
/// Plain name of a colour ("straw", "light blue", "dark grey").
[[nodiscard]] std::string_view colour_name(const Lab& lab);

} // namespace finch
