// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/predict.h"

#include <string>

namespace finch {

/// How a marked surface looks, whatever marked it.
struct Appearance {
    bool known = false;
    Lab lab;
    double l_spread = 0; ///< of L*, one standard deviation or half of a class
    double haze = 0.5;   ///< how much of it is scattered, 0 mirror .. 1 matt
    std::string words;   ///< "pale, frosted"
    std::string rests_on;
};
[[nodiscard]] Appearance appearance(const Scene& scene, const Recipe& recipe, const Prediction& prediction);

/// The same for the unmarked stock: bare metal, or its coat.
[[nodiscard]] Appearance unmarked(const Scene& scene);

/// And for what a process is meant to leave of a coat, or of a compound; not known for other processes.
[[nodiscard]] Appearance finished(const Scene& scene, const Recipe& recipe);

/// Difference in lightness between mark and surroundings, seen in a room with one lamp at a tilt in degrees.
[[nodiscard]] double contrast_at(const Scene& scene, const Prediction& prediction, const Appearance& mark,
                                 double tilt_deg);

} // namespace finch
