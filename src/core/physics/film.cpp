// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/film.h"

#include "physics/quadrature.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

using Complex = std::complex<double>;

double wavelength_nm(std::size_t i) {
    return 380.0 + 10.0 * static_cast<double>(i);
}

double interpolate(const std::vector<double>& values, double first, double step, double at) {
    const double position = std::clamp((at - first) / step, 0.0, static_cast<double>(values.size() - 1));
    const auto below = std::min(static_cast<std::size_t>(position), values.size() - 2);
    const double share = position - static_cast<double>(below);
    return values[below] + share * (values[below + 1] - values[below]);
}

/// |(r1 + r2 f) / (1 + r1 r2 f)|^2 in real arithmetic: the complex library call checks for infinities that cannot
/// occur.
double stack(const Complex& r1, const Complex& r2, double fr, double fi) {
    const double ar = r2.real() * fr - r2.imag() * fi;
    const double ai = r2.real() * fi + r2.imag() * fr;
    const double nr = r1.real() + ar;
    const double ni = r1.imag() + ai;
    const double dr = 1 + r1.real() * ar - r1.imag() * ai;
    const double di = r1.real() * ai + r1.imag() * ar;
    return (nr * nr + ni * ni) / (dr * dr + di * di);
}

Spectrum mix(const Spectrum& a, double share_a, const Spectrum& b, double share_b) {
    Spectrum out;
    for (std::size_t i = 0; i < spectrum_size; ++i)
        out[i] = share_a * a[i] + share_b * b[i];
    return out;
}

ViewedColour viewed(double angle, const Spectrum& s) {
    const Xyz xyz = to_xyz(s);
    return {angle, xyz, to_lab(xyz)};
}

} // namespace

FilmOptics::FilmOptics(const MetalOptics& metal, const std::optional<OxideOptics>& oxide, const FilmTexture& texture)
    : has_oxide_(oxide.has_value()), texture_(texture) {
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        const double nm = wavelength_nm(i);
        metal_[i] = {interpolate(metal.n, metal.first_nm, metal.step_nm, nm),
                     -interpolate(metal.k, metal.first_nm, metal.step_nm, nm)};
        oxide_[i] = 1;
        if (oxide)
            oxide_[i] = {oxide->n0 + oxide->n_dispersion_um2 / (nm * nm * 1e-6),
                         -(oxide->k_base + oxide->k_blue * std::exp(-(nm - 400) / oxide->k_decay_nm))};
    }
    if (oxide) {
        spread_thin_ = oxide->spread_thin;
        spread_thick_ = oxide->spread_thick;
    }
    for (std::size_t i = 0; i < stepped_.size(); ++i)
        stepped_[i] = compute(5.0 * static_cast<double>(i));
    const GaussRule<3>& rule = gauss_legendre<3>();
    for (std::size_t i = 0; i < 3; ++i)
        hemisphere_[i] = compute(std::asin(std::sqrt(0.5 * (rule.x[i] + 1))) * 180 / pi);
}

FilmOptics::Angle FilmOptics::compute(double angle_deg) const {
    const double s0 = std::sin(angle_deg * pi / 180);
    const double c0 = std::cos(angle_deg * pi / 180);
    Angle out;
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        const Complex n1 = oxide_[i];
        const Complex n2 = metal_[i];
        const Complex c1 = std::sqrt(1.0 - (s0 / n1) * (s0 / n1));
        const Complex c2 = std::sqrt(1.0 - (s0 / n2) * (s0 / n2));
        Line& line = out[i];
        const Complex phase = 4 * pi / (wavelength_nm(i) * 1e-9) * n1 * c1;
        line.decay = -phase.imag();
        line.turn = phase.real();
        line.s01 = (c0 - n1 * c1) / (c0 + n1 * c1);
        line.s12 = (n1 * c1 - n2 * c2) / (n1 * c1 + n2 * c2);
        line.p01 = (n1 * c0 - c1) / (n1 * c0 + c1);
        line.p12 = (n2 * c1 - n1 * c2) / (n2 * c1 + n1 * c2);
        line.bare = 0.5 * (std::norm((c0 - n2 * c2) / (c0 + n2 * c2)) + std::norm((n2 * c0 - c2) / (n2 * c0 + c2)));
    }
    return out;
}

const FilmOptics::Angle& FilmOptics::lines(double angle_deg, Angle& room) const {
    const double step = angle_deg / 5;
    if (step >= 0 && step < static_cast<double>(stepped_.size()) && step == std::floor(step))
        return stepped_[static_cast<std::size_t>(step)];
    room = compute(angle_deg);
    return room;
}

Spectrum FilmOptics::film(double x, double angle_deg) const {
    Angle room;
    const Angle& at = lines(angle_deg, room);
    Spectrum out;
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        const double size = std::exp(-at[i].decay * x);
        const double fr = size * std::cos(at[i].turn * x);
        const double fi = -size * std::sin(at[i].turn * x);
        out[i] = 0.5 * (stack(at[i].s01, at[i].s12, fr, fi) + stack(at[i].p01, at[i].p12, fr, fi));
    }
    return out;
}

Spectrum FilmOptics::bare(double angle_deg) const {
    Angle room;
    const Angle& at = lines(angle_deg, room);
    Spectrum out;
    for (std::size_t i = 0; i < spectrum_size; ++i)
        out[i] = at[i].bare;
    return out;
}

double FilmOptics::cover(double x) const {
    return 1 - std::exp(-(x / texture_.cover_scale_m) * (x / texture_.cover_scale_m));
}

Spectrum FilmOptics::surface(double x, const Angle& at) const {
    Spectrum out;
    if (!has_oxide_ || x <= 0) {
        for (std::size_t i = 0; i < spectrum_size; ++i)
            out[i] = at[i].bare;
        return out;
    }
    const double spread = spread_thin_ + spread_thick_ * (1 - std::exp(-x / 300e-9));
    const double covered = cover(x);
    const double t = x / texture_.trapping_scale_m;
    const double power = 1 + texture_.trapping_reflections * (1 - std::exp(-t * t));
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        const Line& line = at[i];
        const auto both = [&line](double fr, double fi) {
            return 0.5 * (stack(line.s01, line.s12, fr, fi) + stack(line.p01, line.p12, fr, fi));
        };
        const double size = std::exp(-line.decay * x);
        const double br = size * std::cos(line.turn * x);
        const double bi = -size * std::sin(line.turn * x);
        double sum = hermite_weights[0] * both(br, bi);
        for (std::size_t node = 0; node < hermite_nodes.size(); ++node) {
            // Film thicker and thinner by dx: the phase of the mean film turned forward and back by the same step.
            const double dx = x * spread * hermite_nodes[node];
            const double step = std::exp(-line.decay * dx);
            const double c = std::cos(line.turn * dx);
            const double s = std::sin(line.turn * dx);
            const double thicker = both(step * (br * c + bi * s), step * (bi * c - br * s));
            const double thinner = dx < x ? both((br * c - bi * s) / step, (bi * c + br * s) / step) : both(1, 0);
            sum += hermite_weights[node + 1] * (thicker + thinner);
        }
        out[i] = std::pow(covered * sum + (1 - covered) * line.bare, power);
    }
    return out;
}

Spectrum FilmOptics::surface(double x, double angle_deg) const {
    Angle room;
    return surface(x, lines(angle_deg, room));
}

Spectrum FilmOptics::hemispherical(double x) const {
    const GaussRule<3>& rule = gauss_legendre<3>();
    Spectrum sum{};
    for (std::size_t i = 0; i < 3; ++i)
        sum = mix(sum, 1, surface(x, hemisphere_[i]), 0.5 * rule.w[i]);
    return sum;
}

ViewedColour specular_included(const FilmOptics& film, double x, double haze, double angle_deg, const Spectrum& hemi) {
    return viewed(angle_deg, mix(film.surface(x, angle_deg), 1 - haze, hemi, haze));
}

ViewedColour specular_excluded(double haze, const Spectrum& hemi) {
    return viewed(-1, mix(hemi, haze, hemi, 0));
}

ViewedColour room_look(const FilmOptics& film, double x, double haze, double angle_deg, double room_light,
                       double room_lamp_deg, const Spectrum& hemi) {
    const double t = angle_deg / room_lamp_deg;
    const double seen = room_light + (1 - room_light) * std::exp(-t * t);
    return viewed(angle_deg, mix(film.surface(x, angle_deg), (1 - haze) * seen, hemi, haze));
}

} // namespace finch
