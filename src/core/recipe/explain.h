// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/predict.h"

#include <string>
#include <vector>

namespace finch {

/// Numbers that can say where they come from.
enum class Quantity {
    outcome,
    spot,
    pulse_energy,
    peak_power,
    peak_fluence,
    pulses_per_area,
    areal_dose,
    overlap,
    oxide,
    colour,
    time,
    removed,
    part_rise,
    warp,
    burn,
    melt_margin,
    haze
};

/// Why a number is what it is.
struct Explanation {
    std::string name;     ///< "Areal dose"
    std::string result;   ///< "1.43 J/mm2"
    std::string formula;  ///< "power / (scan speed x hatch pitch) x passes"
    std::string put_in;   ///< the same with the values put in
    std::string rests_on; ///< where constants come from, and how sure they are
};

[[nodiscard]] Explanation explain(Quantity quantity, const Scene& scene, const Recipe& recipe, const Fill& fill,
                                  const Prediction& prediction);

/// "no reading on this lot" or "2 sheets, 84 cells on this lot".
[[nodiscard]] std::string rests_on_words(const Evidence& evidence);

} // namespace finch
