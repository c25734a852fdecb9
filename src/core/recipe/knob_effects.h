// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/appearance.h"

#include <string>
#include <vector>

namespace finch {

/// What one knob does when it is turned by a small step. Changes are shares, but lightness in L*, time in s.
struct KnobEffect {
    Knob knob = Knob::power;
    double from = 0, to = 0;
    double dose = 0, pulse_energy = 0, peak_power = 0, pulses_per_area = 0, average_power = 0;
    double time = 0; ///< share
    double seconds = 0, lightness = 0, film = 0, depth = 0;
    bool darkness_known = false;
    Effect effect = Effect::none; ///< what it becomes
    bool changes = false;         ///< which is something else than it was
    std::string words;            ///< one plain sentence with the numbers
};
/// The effect of setting a knob to another value. Errors: physics.*.
[[nodiscard]] Expected<KnobEffect> knob_effect(const Scene& scene, const Recipe& recipe, const Fill& fill, Knob knob,
                                               double to);

/// Knobs to turn for more (or less) heat by about a tenth, the gentlest on time first, each with its side effect.
[[nodiscard]] std::vector<KnobEffect> heat_advice(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                                  bool more);

/// The four things that a change of pulse frequency does at the same percent of power, apart: most quarrels over it
/// come from mixing them.
struct FrequencyEffects {
    double average_power = 1, pulse_energy = 1, peak_power = 1, pulses_per_area = 1; ///< new over old
    std::string words;
};
[[nodiscard]] FrequencyEffects frequency_effects(const Scene& scene, const Recipe& recipe, double factor);

} // namespace finch
