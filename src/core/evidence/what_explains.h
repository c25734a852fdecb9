// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "recipe/scene.h"

#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// How much of the difference between the films of a stock goes with one number of their settings.
struct Explaining {
    std::string_view key;  ///< in files, with the unit: "areal_dose_j_mm2"
    std::string_view name; ///< "dose per area"
    bool modelled = false; ///< it is what the heat model makes of all of them, not a number of the settings
    double share = 0; ///< of the squared differences in L* a* b* of places that were left out; below 0: it misleads
    double low = 0, high = 0; ///< nine in ten, over the places
    double range = 1;         ///< largest over smallest among the places
    bool varied = true;       ///< enough to say anything: by a quarter at least
};
struct Explanations {
    std::size_t places = 0, pieces = 0;
    std::vector<Explaining> quantities; ///< what explains most first; what was not varied last
    double surely_first = 0;            ///< chance that the first explains more than the next of the settings' numbers
    std::string words;                  ///< two or three sentences
};
/// Which of dose, pulses per area, pulse energy, peak, fluence, power, line energy, speed and the film of the heat
/// model explains the colours that were read of one stock on one bench. Local lines in the logarithm of the number,
/// whose width is found with it; every place is told from the places of other pieces, or where there are less than
/// three pieces from the other places. Spoiled places are left out: they are no films. Errors: explain.too_few (twelve
/// places are the least), material.unknown.
[[nodiscard]] Expected<Explanations> what_explains(const Materials& materials, const Setup& setup,
                                                   std::span<const Observation> observations);

[[nodiscard]] nlohmann::json to_json(const Explanations& explanations);

} // namespace finch
