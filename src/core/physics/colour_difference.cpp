// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/colour_difference.h"

#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double to_radians = std::numbers::pi / 180;

/// Hue of the adjusted colour in degrees, 0..360, 0 for grey.
double adjusted_hue(double a, double b) {
    if (a == 0 && b == 0)
        return 0;
    const double h = std::atan2(b, a) / to_radians;
    return h < 0 ? h + 360 : h;
}

/// sqrt(c^7 / (c^7 + 25^7))
double chroma_weight(double c) {
    const double c7 = std::pow(c, 7);
    return std::sqrt(c7 / (c7 + 6103515625.0));
}

struct Hues {
    double difference, mean;
};

/// Difference and mean of two hues. The hair above 180 keeps exact opposites from flipping branch by rounding, which
/// would change published pairs in the second decimal.
Hues compare_hues(double h1, double h2, bool grey) {
    if (grey)
        return {0, h1 + h2};
    constexpr double half = 180 + 1e-9;
    double difference = h2 - h1;
    if (difference > half)
        difference -= 360;
    else if (difference < -half)
        difference += 360;
    double mean = (h1 + h2) / 2;
    if (std::abs(h1 - h2) > half)
        mean = h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
    return {difference, mean};
}

} // namespace

double delta_e00(const Lab& one, const Lab& two) {
    const double mean_c = (chroma(one) + chroma(two)) / 2;
    const double g = 0.5 * (1 - chroma_weight(mean_c));
    const double a1 = (1 + g) * one.a;
    const double a2 = (1 + g) * two.a;
    const double c1 = std::hypot(a1, one.b);
    const double c2 = std::hypot(a2, two.b);
    const Hues hues = compare_hues(adjusted_hue(a1, one.b), adjusted_hue(a2, two.b), c1 * c2 == 0);
    const double dl = two.l - one.l;
    const double dc = c2 - c1;
    const double dh = 2 * std::sqrt(c1 * c2) * std::sin(hues.difference / 2 * to_radians);
    const double lm = (one.l + two.l) / 2;
    const double cm = (c1 + c2) / 2;
    const double hm = hues.mean;
    const double t = 1 - 0.17 * std::cos((hm - 30) * to_radians) + 0.24 * std::cos(2 * hm * to_radians) +
                     0.32 * std::cos((3 * hm + 6) * to_radians) - 0.20 * std::cos((4 * hm - 63) * to_radians);
    const double turn = 30 * std::exp(-((hm - 275) / 25) * ((hm - 275) / 25));
    const double sl = 1 + 0.015 * (lm - 50) * (lm - 50) / std::sqrt(20 + (lm - 50) * (lm - 50));
    const double sc = 1 + 0.045 * cm;
    const double sh = 1 + 0.015 * cm * t;
    const double rt = -std::sin(2 * turn * to_radians) * 2 * chroma_weight(cm);
    const double l = dl / sl, c = dc / sc, h = dh / sh;
    return std::sqrt(l * l + c * c + h * h + rt * c * h);
}

double delta_e_ab(const Lab& a, const Lab& b) {
    return std::hypot(a.l - b.l, a.a - b.a, a.b - b.b);
}

} // namespace finch
