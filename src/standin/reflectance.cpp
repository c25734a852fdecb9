// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/reflectance.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

namespace finch::standin {
namespace {

using Index = std::complex<double>;

struct Layers {
    Index metal, oxide;
    double oxide_m = 0;
};

/// Mean of both polarisations under an angle in air.
double reflects(const Layers& l, double lambda_m, double sine) {
    const double air = std::sqrt(1 - sine * sine);
    const auto inside = [&](const Index& n) { return std::sqrt(1.0 - sine * sine / (n * n)); };
    const Index oxide = inside(l.oxide), metal = inside(l.metal);
    const Index phase = 2 * std::numbers::pi * l.oxide_m / lambda_m * l.oxide * oxide;
    const Index c = std::cos(phase), is = Index(0, 1) * std::sin(phase);
    const auto of = [&](double front, const Index& layer, const Index& back) {
        const Index b = c + is * back / layer, h = is * layer + c * back;
        return std::norm((front * b - h) / (front * b + h));
    };
    return 0.5 * (of(air, l.oxide * oxide, l.metal * metal) + of(1 / air, l.oxide / oxide, l.metal / metal));
}

} // namespace

double through(const std::array<double, 3>& v, double nm) {
    const double t = (std::clamp(nm, 380.0, 740.0) - 550) / 150;
    return v[1] + 0.5 * t * (v[2] - v[0]) + 0.5 * t * t * (v[2] - 2 * v[1] + v[0]);
}

Reflectance film_reflectance(const World& w, const OwnMetal& m, double film_nm, double haze, double tilt_deg) {
    constexpr double straight = 0.1; // a camera over the plate still sees it a little from the side
    const double seen = std::clamp(std::sin(tilt_deg * std::numbers::pi / 180), straight, 0.98);
    // Thickness differs within the width of a spot: five of them, weighted like a bell.
    constexpr std::array<double, 5> away{-1.6, -0.8, 0, 0.8, 1.6}, weight{0.11, 0.237, 0.306, 0.237, 0.11};
    const double cover = 1 - std::exp(-film_nm / 10);
    // Rough thick films send light round twice.
    const double twice = 0.9 * (1 - std::exp(-std::pow(film_nm / 420, 1.4)));
    Reflectance out{};
    for (std::size_t i = 0; i < bands; ++i) {
        const double nm = band_nm(i), lambda = nm * 1e-9;
        Layers l;
        l.metal = {std::max(0.05, through(m.n, nm)), -std::max(0.05, through(m.k, nm))};
        l.oxide = 1;
        const double bare = reflects(l, lambda, seen), bare_wide = reflects(l, lambda, 0.77);
        double mirror = bare, wide = bare_wide;
        if (m.oxide) {
            const OwnOxide& o = *m.oxide;
            const double blue = std::clamp((700 - nm) / 300, 0.0, 1.2);
            l.oxide = {w.oxide_index * (o.index_red + (o.index_blue - o.index_red) * blue * blue),
                       -w.oxide_absorbs * (o.absorbs_red + (o.absorbs_blue - o.absorbs_red) * blue * blue * blue)};
            mirror = (1 - cover) * bare;
            wide = (1 - cover) * bare_wide;
            for (std::size_t a = 0; a < away.size(); ++a) {
                l.oxide_m = 1e-9 * film_nm * std::max(0.05, 1 + away[a] * o.spread * w.film_spread);
                mirror += cover * weight[a] * reflects(l, lambda, seen);
                wide += cover * weight[a] * reflects(l, lambda, 0.77);
            }
        }
        out[i] = (1 - haze) * std::pow(mirror, 1 + twice) + haze * std::pow(wide, 1 + twice);
    }
    return out;
}

Reflectance molten_reflectance(double deep) {
    Reflectance out{};
    for (std::size_t i = 0; i < bands; ++i)
        out[i] = (0.16 - 0.08 * deep) * (1 + 0.28 * (band_nm(i) - 560) / 200);
    return out;
}

Reflectance plain_reflectance(const std::array<double, 3>& at) {
    Reflectance out{};
    for (std::size_t i = 0; i < bands; ++i)
        out[i] = std::clamp(through(at, band_nm(i)), 0.002, 1.0);
    return out;
}

Reflectance mixed(const Reflectance& a, const Reflectance& b, double share) {
    Reflectance out{};
    for (std::size_t i = 0; i < bands; ++i)
        out[i] = (1 - share) * a[i] + share * b[i];
    return out;
}

Reflectance scaled(Reflectance r, double factor) {
    for (double& v : r)
        v = std::clamp(v * factor, 0.001, 1.0);
    return r;
}

} // namespace finch::standin
