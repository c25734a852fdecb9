// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/aim.h"
#include "recipe/recipe.h"
#include "recipe/scene.h"

#include <span>
#include <vector>

namespace finch {

struct Prediction;

/// Ways of doing the same process between which practitioners differ.
enum class School {
    single,         ///< no dispute
    in_focus,       ///< anneal: low power, high frequency, fine pitch
    out_of_focus,   ///< anneal: high power, low frequency, coarser pitch, wider spot
    speed_by_pitch, ///< colour: pulses per mm2 at fixed power and width
    width_by_power  ///< colour: pulse width and power at fixed speed and pitch
};

/// How far a recipe is from doing what its process is for: 0 = does it. The sentence names the largest miss.
struct Miss {
    double size = 0;
    std::string why;
};

/// What the ends of a search axis are measured in.
enum class Per { knob_unit, spot, rayleigh_length };
/// A knob that a search may turn. Cut to what the bench can set.
struct SearchAxis {
    Knob knob = Knob::power;
    double low = 0, high = 1;
    std::vector<double> seeds; ///< shares of the axis, 0 to 1, where looking begins
    Per per = Per::knob_unit;
    bool by_ratio = true;
    bool pulsed_only = false; ///< left alone under a continuous source
};
/// What the first proof sheet varies: knobs, and how far to either side of the recipe's value, as a factor.
struct SheetRule {
    Knob across = Knob::scan_speed, down = Knob::hatch_pitch;
    double reach = 1.6;
};
struct SchoolRules {
    School school = School::single;
    std::string_view label; ///< empty: that of the process
    bool turns_pulse_width; ///< means nothing on a source whose width is fixed
    std::vector<SearchAxis> search;
    SheetRule sheet;
};

/// Everything that the planner does differently for one process. Together with its ProcessTraits, this is what a new
/// process adds beside its physics.
struct ProcessRules {
    Process process = Process::anneal;
    std::vector<SchoolRules> schools; ///< at least one; the first is the usual one
    bool look_decides = true;         ///< a search needs the colour of each try
    bool hue_repeats = false;         ///< with the order of a film, so that a search looks in several places
    /// Sets the knobs that the search leaves alone; null: none.
    void (*start)(const Scene&, Recipe&) = nullptr;
    /// Works out the knobs that follow from others, such as passes to a depth; null: none.
    void (*follow)(const Scene&, const Aim&, Recipe&) = nullptr;
    Miss (*miss)(const Scene&, const Aim&, const Recipe&, const Prediction&) = nullptr;
    /// ln distance to the nearest effect that would spoil it.
    double (*margin)(const Prediction&) = nullptr;
};
[[nodiscard]] const ProcessRules& rules(Process process);
/// Those of the usual school where the process does not know the one asked for.
[[nodiscard]] const SchoolRules& rules(Process process, School school);

} // namespace finch
