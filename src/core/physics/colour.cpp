// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/colour.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr Spectrum d65{49.9755, 54.6482, 82.7549, 91.4860, 93.4318, 86.6823, 104.865, 117.008, 117.812,
                       114.861, 115.923, 108.811, 109.354, 107.802, 104.790, 107.689, 104.405, 104.046,
                       100.000, 96.3342, 95.7880, 88.6856, 90.0062, 89.5991, 87.6987, 83.2886, 83.6992,
                       80.0268, 80.2146, 82.2778, 78.2842, 69.7213, 71.6091, 74.3490, 61.6040, 69.8856,
                       75.0870, 63.5927, 46.4182, 66.8054, 63.3828};
constexpr Xyz srgb_white{0.95047, 1.0, 1.08883};

double lobe(double wavelength, double mean, double below, double above) {
    const double t = (wavelength - mean) / (wavelength < mean ? below : above);
    return std::exp(-0.5 * t * t);
}

struct Weights {
    std::array<Xyz, spectrum_size> at{};
    Xyz white;
};

const Weights& weights() {
    static const Weights table = [] {
        Weights w;
        double sum = 0;
        for (std::size_t i = 0; i < spectrum_size; ++i) {
            const Xyz bar = observer(380.0 + 10.0 * static_cast<double>(i));
            w.at[i] = {bar.x * d65[i], bar.y * d65[i], bar.z * d65[i]};
            sum += w.at[i].y;
        }
        for (Xyz& v : w.at) {
            v = {v.x / sum, v.y / sum, v.z / sum};
            w.white = {w.white.x + v.x, w.white.y + v.y, w.white.z + v.z};
        }
        return w;
    }();
    return table;
}

double lab_curve(double t) {
    return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116;
}

double lab_inverse(double f) {
    const double cube = f * f * f;
    return cube > 216.0 / 24389 ? cube : (116 * f - 16) * 27 / 24389;
}

} // namespace

Xyz observer(double nm) {
    return {1.056 * lobe(nm, 599.8, 37.9, 31.0) + 0.362 * lobe(nm, 442.0, 16.0, 26.7) -
                0.065 * lobe(nm, 501.1, 20.4, 26.2),
            0.821 * lobe(nm, 568.8, 46.9, 40.5) + 0.286 * lobe(nm, 530.9, 16.3, 31.1),
            1.217 * lobe(nm, 437.0, 11.8, 36.0) + 0.681 * lobe(nm, 459.0, 26.0, 13.8)};
}

const Xyz& white_point() {
    return weights().white;
}

Xyz to_xyz(const Spectrum& reflectance) {
    const Weights& w = weights();
    Xyz sum;
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        sum.x += w.at[i].x * reflectance[i];
        sum.y += w.at[i].y * reflectance[i];
        sum.z += w.at[i].z * reflectance[i];
    }
    return sum;
}

Lab to_lab(const Xyz& xyz) {
    const Xyz& white = white_point();
    const double fx = lab_curve(std::max(0.0, xyz.x) / white.x);
    const double fy = lab_curve(std::max(0.0, xyz.y) / white.y);
    const double fz = lab_curve(std::max(0.0, xyz.z) / white.z);
    return {116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)};
}

Xyz to_xyz(const Lab& lab) {
    const Xyz& white = white_point();
    const double fy = (lab.l + 16) / 116;
    return {white.x * lab_inverse(fy + lab.a / 500), white.y * lab_inverse(fy),
            white.z * lab_inverse(fy - lab.b / 200)};
}

std::array<double, 3> to_linear_rgb(const Xyz& xyz) {
    const Xyz& white = white_point();
    const double x = xyz.x / white.x * srgb_white.x;
    const double y = xyz.y / white.y * srgb_white.y;
    const double z = xyz.z / white.z * srgb_white.z;
    return {3.2404542 * x - 1.5371385 * y - 0.4985314 * z, -0.9692660 * x + 1.8760108 * y + 0.0415560 * z,
            0.0556434 * x - 0.2040259 * y + 1.0572252 * z};
}

Xyz from_linear_rgb(const std::array<double, 3>& rgb) {
    // Inverse of the matrix above (sRGB primaries, D65).
    const double x = 0.4124564 * rgb[0] + 0.3575761 * rgb[1] + 0.1804375 * rgb[2];
    const double y = 0.2126729 * rgb[0] + 0.7151522 * rgb[1] + 0.0721750 * rgb[2];
    const double z = 0.0193339 * rgb[0] + 0.1191920 * rgb[1] + 0.9503041 * rgb[2];
    const Xyz& white = white_point();
    return {x / srgb_white.x * white.x, y / srgb_white.y * white.y, z / srgb_white.z * white.z};
}

double srgb_encode(double v) {
    return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
}

double srgb_decode(double v) {
    return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}

std::uint8_t srgb_byte(double linear) {
    // Light from which each byte is the nearest, and for a first guess the byte at 4096 levels.
    static const std::array<double, 257> from = [] {
        std::array<double, 257> t{};
        for (std::size_t i = 1; i < 256; ++i)
            t[i] = srgb_decode((static_cast<double>(i) - 0.5) / 255);
        t[256] = 2;
        return t;
    }();
    static const std::array<std::uint8_t, 4097> guess = [] {
        std::array<std::uint8_t, 4097> t{};
        for (std::size_t i = 0; i < t.size(); ++i)
            t[i] = static_cast<std::uint8_t>(255 * srgb_encode(static_cast<double>(i) / 4096));
        return t;
    }();
    const double light = linear > 0 ? std::min(linear, 1.0) : 0; // and dark where it is no number
    std::size_t byte = guess[static_cast<std::size_t>(light * 4096)];
    while (light >= from[byte + 1])
        ++byte;
    while (light < from[byte])
        --byte;
    return static_cast<std::uint8_t>(byte);
}

Rgb to_srgb(const Xyz& xyz) {
    const auto rgb = to_linear_rgb(xyz);
    return {srgb_byte(rgb[0]), srgb_byte(rgb[1]), srgb_byte(rgb[2])};
}

Rgb to_srgb(const Lab& lab) {
    return to_srgb(to_xyz(lab));
}

double chroma(const Lab& lab) {
    return std::hypot(lab.a, lab.b);
}

double hue(const Lab& lab) {
    const double hue_deg = std::atan2(lab.b, lab.a) * 180 / std::numbers::pi;
    return hue_deg < 0 ? hue_deg + 360 : hue_deg;
}

std::string_view colour_name(const Lab& lab) {
    const double l = lab.l;
    const double c = chroma(lab);
    const double h = hue(lab);
    if (c < 7 || (l < 34 && c < 9))
        return l > 68 ? "silver" : l > 42 ? "grey" : l > 31 ? "dark grey" : "black";
    if (h < 20 || h >= 335)
        return l > 45 ? "rose" : "purple";
    if (h < 60)
        return l > 45 ? "orange" : "brown";
    if (h < 105)
        return c < 24 || l > 72 ? "straw" : l > 58 ? "yellow" : "gold";
    if (h < 180)
        return "green";
    if (h < 300)
        return l > 57 ? "light blue" : "blue";
    return "purple";
}

} // namespace finch
