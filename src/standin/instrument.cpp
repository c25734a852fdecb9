// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/instrument.h"

#include <cmath>

namespace finch::standin {
namespace {

// CIE 015: 1931 observer and illuminant D65, every 10 nm.
constexpr Reflectance red{0.0014, 0.0042, 0.0143, 0.0435, 0.1344, 0.2839, 0.3483, 0.3362, 0.2908, 0.1954, 0.0956,
                          0.0320, 0.0049, 0.0093, 0.0633, 0.1655, 0.2904, 0.4334, 0.5945, 0.7621, 0.9163, 1.0263,
                          1.0622, 1.0026, 0.8544, 0.6424, 0.4479, 0.2835, 0.1649, 0.0874, 0.0468, 0.0227, 0.0114,
                          0.0058, 0.0029, 0.0014, 0.0007, 0.0003, 0.0002, 0.0001, 0.0000};
constexpr Reflectance green{0.0000, 0.0001, 0.0004, 0.0012, 0.0040, 0.0116, 0.0230, 0.0380, 0.0600, 0.0910, 0.1390,
                            0.2080, 0.3230, 0.5030, 0.7100, 0.8620, 0.9540, 0.9950, 0.9950, 0.9520, 0.8700, 0.7570,
                            0.6310, 0.5030, 0.3810, 0.2650, 0.1750, 0.1070, 0.0610, 0.0320, 0.0170, 0.0082, 0.0041,
                            0.0021, 0.0010, 0.0005, 0.0002, 0.0001, 0.0001, 0.0000, 0.0000};
constexpr Reflectance blue{0.0065, 0.0201, 0.0679, 0.2074, 0.6456, 1.3856, 1.7471, 1.7721, 1.6692, 1.2876, 0.8130,
                           0.4652, 0.2720, 0.1582, 0.0782, 0.0422, 0.0203, 0.0087, 0.0039, 0.0021, 0.0017, 0.0011,
                           0.0008, 0.0003, 0.0002, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000,
                           0.0000, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000, 0.0000};
constexpr Reflectance d65{49.98,  54.65,  82.75,  91.49,  93.43,  86.68,  104.86, 117.01, 117.81, 114.86, 115.92,
                          108.81, 109.35, 107.80, 104.79, 107.69, 104.41, 104.05, 100.00, 96.33,  95.79,  88.69,
                          90.01,  89.60,  87.70,  83.29,  83.70,  80.03,  80.21,  82.28,  78.28,  69.72,  71.61,
                          74.35,  61.60,  69.89,  75.09,  63.59,  46.42,  66.81,  63.38};

double bent(double t) {
    return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116;
}

} // namespace

const Reflectance& daylight() {
    return d65;
}

std::array<double, 3> tristimulus(const Reflectance& light, const Reflectance& white) {
    std::array<double, 3> sum{};
    double y = 0;
    for (std::size_t i = 0; i < bands; ++i) {
        sum[0] += light[i] * red[i];
        sum[1] += light[i] * green[i];
        sum[2] += light[i] * blue[i];
        y += white[i] * green[i];
    }
    for (double& s : sum)
        s /= y;
    return sum;
}

std::array<double, 3> instrument_lab(const Reflectance& surface) {
    Reflectance seen = d65;
    for (std::size_t i = 0; i < bands; ++i)
        seen[i] *= surface[i];
    const auto s = tristimulus(seen, d65), w = tristimulus(d65, d65);
    const double x = bent(s[0] / w[0]), y = bent(s[1] / w[1]), z = bent(s[2] / w[2]);
    return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

Reflectance card_of(const std::array<double, 3>& lab) {
    // A level at three wavelengths, corrected until the instrument agrees.
    std::array<double, 3> at{0.5, 0.5, 0.5};
    for (int i = 0; i < 60; ++i) {
        const auto is = instrument_lab(plain_reflectance(at));
        const double l = 0.02 * (lab[0] - is[0]), a = 0.006 * (lab[1] - is[1]), b = 0.006 * (lab[2] - is[2]);
        at[0] *= std::exp(l - b);
        at[1] *= std::exp(l - a + 0.3 * b);
        at[2] *= std::exp(l + a + 0.3 * b);
    }
    return plain_reflectance(at);
}

} // namespace finch::standin
