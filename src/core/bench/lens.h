// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/units.h"

#include <optional>
#include <string>

namespace finch {

/// An f-theta lens with the beam that enters it.
struct Lens {
    std::string name;
    std::string correction_set;
    Length focal_length = mm(163);
    Length field = mm(110); ///< side of the square field
    Length working_distance = mm(185);
    Length beam_at_lens = mm(7); ///< 1/e2 diameter
    double beam_quality_m2 = 1.4;
    std::optional<Length> measured_spot; ///< 1/e2 diameter at focus, if it was ever measured

    bool operator==(const Lens&) const = default;
};

/// Spot and depth of focus of a beam. Diameters are 1/e2.
struct BeamWaist {
    Length spot;     ///< at focus
    Length rayleigh; ///< offset at which the spot area doubles
    bool operator==(const BeamWaist&) const = default;
};

/// Focal spot 4 M2 lambda F / (pi D) and Rayleigh length (Gaussian beam optics).
[[nodiscard]] BeamWaist computed_waist(const Lens& lens, Length wavelength);

/// As computed_waist, but with the beam quality that makes a measured spot come out.
[[nodiscard]] BeamWaist waist(const Lens& lens, Length wavelength);

/// Beam quality in use: the given one, or the one implied by the measured spot.
[[nodiscard]] double effective_m2(const Lens& lens, Length wavelength);

/// Spot diameter at a focus offset of either sign.
[[nodiscard]] Length spot_at(const BeamWaist& waist, Length offset);

/// Offset at which the spot has grown by `growth` (1.1 = ten percent); 0 for growth <= 1.
[[nodiscard]] Length depth_for_growth(const BeamWaist& waist, double growth);

/// The least change of a focus offset, up or down, that makes the spot larger or smaller by `growth`: depth of focus
/// where the beam is used out of focus as well.
[[nodiscard]] Length depth_about(const BeamWaist& waist, Length offset, double growth);

/// Longest bar of this width that fits the square field when turned, and the turn in degrees that it needs.
struct LongestPart {
    Length length;
    double turn_deg;
    bool operator==(const LongestPart&) const = default;
};
/// Field must exceed the width. Source: concavity of the bounding side in the turn; its maximum is at 0 or 45 degrees.
[[nodiscard]] LongestPart longest_part(Length field, Length width);

} // namespace finch
