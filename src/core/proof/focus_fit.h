// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour.h"

#include <vector>

namespace finch {

/// One mark of a focus ladder: what was set, where it lies, and what was read there.
struct LadderMark {
    double offset_mm = 0;      ///< set; + = lens raised
    double x_mm = 0, y_mm = 0; ///< from the middle of the field
    double burned = 0.5;       ///< when: 0 = first, 1 = last
    Lab lab;
};

/// A number and the half width of the interval that holds it in nine of ten cases.
struct WithSpread {
    double value = 0, spread = 0;
};

/// A point of what the mark looks like by its distance from the best focus.
struct LadderPoint {
    double off_mm = 0;
    Lab lab;
    double spread = 0; ///< of each of the three numbers, nine in ten
};

/// Where marks mirror each other: as much above the best focus as below it a mark looks the same, whatever it looks
/// like. Nothing is assumed about the metal, the process or the width of the spot.
struct FocusFit {
    WithSpread best_mm;                ///< offset of the best focus in the middle of the field
    WithSpread tilt_x_mm, tilt_y_mm;   ///< change of it from one side of the field to the other
    WithSpread bow_mm;                 ///< change of it from the middle to the sides of the field
    std::vector<LadderPoint> looks;    ///< by distance, from none on, evenly spaced
    WithSpread holds_mm;               ///< distance up to which the mark stays within `accept_de` of the best
    bool holds_to_the_end = false;     ///< it stays so over the whole ladder: holds_mm is the end
    double scatter_de = 0;             ///< of one mark about the looks
    double change_de = 0;              ///< largest difference of the looks from those at the best focus
    std::vector<std::size_t> doubtful; ///< marks that fit nowhere and were left out
};

/// Share of the way from the middle of a ladder to its ends within which enough marks mirror each other.
inline constexpr double mirror_within = 0.62;

/// Fits the centre of symmetry by a Gaussian process over the growth of the spot, ln sqrt(1 + (u/zR)^2), of which the
/// Rayleigh length sets the scale alone; place by place the light may be a little off. `field_mm`: side of the field.
/// Needs five marks. Source: Rasmussen and Williams, Gaussian Processes for Machine Learning (2006), 2.7 and 5.4.
[[nodiscard]] FocusFit fit_focus(const std::vector<LadderMark>& marks, double rayleigh_mm, double field_mm,
                                 double accept_de);

} // namespace finch
