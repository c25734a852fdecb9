// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour.h"

#include <array>
#include <complex>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// Optical constants of a bare metal, n - ik, on a grid of equal steps in nm.
struct MetalOptics {
    std::string key, source, uncertainty;
    double first_nm = 380;
    double step_nm = 20;
    std::vector<double> n;
    std::vector<double> k;
    bool operator==(const MetalOptics&) const = default;
};

/// Optical constants of an oxide: n = n0 + b/um^2, k = k_base + k_blue exp(-(nm-400)/decay); relative thickness spread
/// from thin to thick films.
struct OxideOptics {
    std::string key, source, uncertainty;
    double n0 = 2.2, n_dispersion_um2 = 0, k_base = 0, k_blue = 0, k_decay_nm = 100;
    double spread_thin = 0, spread_thick = 0;
    bool operator==(const OxideOptics&) const = default;
};

/// Descriptive constants of a real film (thickness scales in m).
struct FilmTexture {
    double cover_scale_m = 12e-9;
    double trapping_reflections = 0.9;
    double trapping_scale_m = 460e-9;
    bool operator==(const FilmTexture&) const = default;
};

/// Reflectance of an oxide film on a metal. Everything that does not depend on the thickness is computed once, for
/// viewing angles of 0, 5 .. 60 degrees and the three of the hemispherical mean; other angles are computed as asked.
/// Source: Born and Wolf, Principles of Optics.
class FilmOptics {
public:
    FilmOptics(const MetalOptics& metal, const std::optional<OxideOptics>& oxide, const FilmTexture& texture);

    /// Smooth film of thickness x (m) seen at an angle in degrees, mean of both polarisations.
    [[nodiscard]] Spectrum film(double x, double angle_deg) const;
    [[nodiscard]] Spectrum bare(double angle_deg) const;
    /// Colour of the bare metal from straight above.
    [[nodiscard]] const Lab& bare_lab() const { return bare_lab_; }
    /// Real surface: thickness spread, patchy cover and light trapping included.
    [[nodiscard]] Spectrum surface(double x, double angle_deg) const;
    /// Mean over the hemisphere, for the light that a rough surface scatters.
    [[nodiscard]] Spectrum hemispherical(double x) const;
    /// Share of the surface under a continuous film.
    [[nodiscard]] double cover(double x) const;
    [[nodiscard]] bool has_oxide() const { return has_oxide_; }

private:
    /// One wavelength at one angle: phase per metre of film and the four interface coefficients.
    struct Line {
        double decay = 0, turn = 0; ///< exp(-decay x) and exp(-i turn x)
        std::complex<double> s01, s12, p01, p12;
        double bare = 0;
    };
    using Angle = std::array<Line, spectrum_size>;

    [[nodiscard]] Angle compute(double angle_deg) const;
    [[nodiscard]] const Angle& lines(double angle_deg, Angle& room) const;
    [[nodiscard]] Spectrum surface(double x, const Angle& lines) const;

    Lab bare_lab_;
    std::array<std::complex<double>, spectrum_size> metal_;
    std::array<std::complex<double>, spectrum_size> oxide_;
    bool has_oxide_ = false;
    double spread_thin_ = 0, spread_thick_ = 0;
    FilmTexture texture_;
    std::array<Angle, 13> stepped_;
    std::array<Angle, 3> hemisphere_;
};

/// A colour at a viewing angle.
struct ViewedColour {
    double angle_deg = 0;
    Xyz xyz;
    Lab lab;
    bool operator==(const ViewedColour&) const = default;
};

/// The same colour moved in L*, a*, b*.
[[nodiscard]] ViewedColour shifted(const ViewedColour& colour, const Lab& by);

/// Colour with the mirror reflection included: what a photograph under diffuse light shows.
[[nodiscard]] ViewedColour specular_included(const FilmOptics& film, double x, double haze, double angle_deg,
                                             const Spectrum& hemispherical);
/// The same where the spectrum of the surface at that angle is known already.
[[nodiscard]] ViewedColour specular_included(const Spectrum& surface, double haze, double angle_deg,
                                             const Spectrum& hemispherical);
/// Colour of the scattered light alone.
[[nodiscard]] ViewedColour specular_excluded(double haze, const Spectrum& hemispherical);
/// Colour in a room with one lamp, the sample tilted out of its mirror direction.
[[nodiscard]] ViewedColour room_look(const FilmOptics& film, double x, double haze, double angle_deg, double room_light,
                                     double room_lamp_deg, const Spectrum& hemispherical);
[[nodiscard]] ViewedColour room_look(const Spectrum& surface, double haze, double angle_deg, double room_light,
                                     double room_lamp_deg, const Spectrum& hemispherical);

} // namespace finch
