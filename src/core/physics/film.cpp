// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/film.h"

#include "physics/quadrature.h"
#include "physics/vector_clones.h"
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

/// Above and below the fraction |(r1 + r2 f) / (1 + r1 r2 f)|^2, in real arithmetic: the complex library call checks
/// for infinities that cannot occur.
struct Share {
    double above, below;
};
[[gnu::always_inline]] inline Share stack(double r1r, double r1i, double r2r, double r2i, double fr, double fi) {
    const double ar = r2r * fr - r2i * fi;
    const double ai = r2r * fi + r2i * fr;
    const double nr = r1r + ar;
    const double ni = r1i + ai;
    const double dr = 1 + r1r * ar - r1i * ai;
    const double di = r1r * ai + r1i * ar;
    return {nr * nr + ni * ni, dr * dr + di * di};
}

/// The wavelengths of one angle, quantity by quantity, so that every loop below is one over plain arrays.
struct Lines {
    Spectrum decay, turn, bare, s01r, s01i, s12r, s12i, p01r, p01i, p12r, p12i;

    /// Mean of both polarisations at phase factor f; one division for the two.
    [[nodiscard, gnu::always_inline]] inline double both(std::size_t i, double fr, double fi) const {
        const Share s = stack(s01r[i], s01i[i], s12r[i], s12i[i], fr, fi);
        const Share p = stack(p01r[i], p01i[i], p12r[i], p12i[i], fr, fi);
        return 0.5 * (s.above * p.below + p.above * s.below) / (s.below * p.below);
    }
};

/// exp(-decay x), cos(turn x) and sin(turn x) in loops of their own: together the compiler would make calls of them.
struct Phase {
    Spectrum size, cosine, sine;
    [[gnu::always_inline]] Phase(const Lines& at, double x) {
        for (std::size_t i = 0; i < spectrum_size; ++i)
            size[i] = std::exp(-at.decay[i] * x);
        for (std::size_t i = 0; i < spectrum_size; ++i)
            cosine[i] = std::cos(at.turn[i] * x);
        for (std::size_t i = 0; i < spectrum_size; ++i)
            sine[i] = std::sin(at.turn[i] * x);
    }
};

/// What the film is where it is seen.
struct FilmState {
    double x, spread, covered, power;
};

/// Reflectance of a film of uneven thickness, patchy and trapping light. The clones only widen the vectors.
FINCH_VECTOR_CLONES void reflect(const Lines& by, const FilmState& film, Spectrum& out) {
    const auto& [x, spread, covered, power] = film;
    const Phase mean(by, x);
    Spectrum br, bi, sum;
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        br[i] = mean.size[i] * mean.cosine[i];
        bi[i] = -mean.size[i] * mean.sine[i];
        sum[i] = hermite_weights[0] * by.both(i, br[i], bi[i]);
    }
    for (std::size_t node = 0; node < hermite_nodes.size(); ++node) {
        // Film thicker and thinner by dx: the phase of the mean film turned forward and back by the same step.
        const double dx = x * spread * hermite_nodes[node], weight = hermite_weights[node + 1];
        const Phase step(by, dx);
        for (std::size_t i = 0; i < spectrum_size; ++i) {
            const double c = step.cosine[i], s = step.sine[i], size = step.size[i];
            sum[i] += weight * by.both(i, size * (br[i] * c + bi[i] * s), size * (bi[i] * c - br[i] * s));
        }
        if (dx < x)
            for (std::size_t i = 0; i < spectrum_size; ++i) {
                const double c = step.cosine[i], s = step.sine[i], size = step.size[i];
                sum[i] += weight * by.both(i, (br[i] * c - bi[i] * s) / size, (bi[i] * c + br[i] * s) / size);
            }
        else // no film thinner than none
            for (std::size_t i = 0; i < spectrum_size; ++i)
                sum[i] += weight * by.both(i, 1, 0);
    }
    for (std::size_t i = 0; i < spectrum_size; ++i)
        out[i] = std::pow(covered * sum[i] + (1 - covered) * by.bare[i], power);
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
    bare_lab_ = to_lab(to_xyz(bare(0)));
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

template <typename Angle>
Lines by_quantity(const Angle& at) {
    Lines out;
    for (std::size_t i = 0; i < spectrum_size; ++i) {
        const auto& line = at[i];
        out.decay[i] = line.decay;
        out.turn[i] = line.turn;
        out.bare[i] = line.bare;
        out.s01r[i] = line.s01.real();
        out.s01i[i] = line.s01.imag();
        out.s12r[i] = line.s12.real();
        out.s12i[i] = line.s12.imag();
        out.p01r[i] = line.p01.real();
        out.p01i[i] = line.p01.imag();
        out.p12r[i] = line.p12.real();
        out.p12i[i] = line.p12.imag();
    }
    return out;
}

Spectrum FilmOptics::film(double x, double angle_deg) const {
    Angle room;
    const Angle& at = lines(angle_deg, room);
    const Lines by = by_quantity(at);
    const Phase f(by, x);
    Spectrum out;
    for (std::size_t i = 0; i < spectrum_size; ++i)
        out[i] = by.both(i, f.size[i] * f.cosine[i], -f.size[i] * f.sine[i]);
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
    reflect(by_quantity(at), {x, spread, covered, power}, out);
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

ViewedColour shifted(const ViewedColour& c, const Lab& by) {
    if (by == Lab())
        return c; // to the last bit
    const Lab lab{std::max(0.0, c.lab.l + by.l), c.lab.a + by.a, c.lab.b + by.b};
    return {c.angle_deg, to_xyz(lab), lab};
}

ViewedColour specular_included(const FilmOptics& film, double x, double haze, double angle_deg, const Spectrum& hemi) {
    return specular_included(film.surface(x, angle_deg), haze, angle_deg, hemi);
}

ViewedColour specular_included(const Spectrum& surface, double haze, double angle_deg, const Spectrum& hemi) {
    return viewed(angle_deg, mix(surface, 1 - haze, hemi, haze));
}

ViewedColour specular_excluded(double haze, const Spectrum& hemi) {
    return viewed(-1, mix(hemi, haze, hemi, 0));
}

ViewedColour room_look(const FilmOptics& film, double x, double haze, double angle_deg, double room_light,
                       double room_lamp_deg, const Spectrum& hemi) {
    return room_look(film.surface(x, angle_deg), haze, angle_deg, room_light, room_lamp_deg, hemi);
}

ViewedColour room_look(const Spectrum& surface, double haze, double angle_deg, double room_light, double room_lamp_deg,
                       const Spectrum& hemi) {
    const double t = angle_deg / room_lamp_deg;
    const double seen = room_light + (1 - room_light) * std::exp(-t * t);
    return viewed(angle_deg, mix(surface, (1 - haze) * seen, hemi, haze));
}

} // namespace finch
