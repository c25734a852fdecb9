// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/layout.h"
#include "recipe/predict.h"

#include <cstdint>
#include <vector>

namespace finch::standin {

/// How the simulated bench and its metal differ from what is written about them. Hidden from the program.
struct HiddenTruth {
    double absorptance = 1; ///< factor
    double spot = 1;        ///< factor
    double power = 1;       ///< factor
    double focus_mm = 0;    ///< error of the confirmed focus
    double growth = 1;      ///< factor on the oxide growth constant
    bool operator==(const HiddenTruth&) const = default;
};
/// Offsets drawn from a seed; seed 0 = none.
[[nodiscard]] HiddenTruth hidden_truth(std::uint64_t seed);

/// Evenly distributed number in [0, 1) that depends only on its arguments.
[[nodiscard]] double unit_random(std::uint64_t seed, std::uint64_t index);

/// Something burned on the plate with the colour that it really took.
struct Burn {
    std::string name;
    std::vector<RectMm> hatch;
    std::vector<std::vector<PointMm>> strokes;
    Lab lab;
    double line_mm = 0.06; ///< width of a stroke
    double texture = 0;    ///< unevenness of the surface, share of the light
    double time_s = 0;
};

/// The simulated piece of metal.
struct Plate {
    Lab bare;
    double width_mm = 0, height_mm = 0;
    std::vector<Burn> burns;
};

/// A bare plate of the stock.
[[nodiscard]] Plate bare_plate(const Metal& metal, const Materials& materials, const Stock& stock, double width_mm,
                               double height_mm);

/// Burns one step with the true bench. Errors: those of predict().
[[nodiscard]] Expected<Burn> burn(const ToolStep& step, const Setup& setup, const Materials& materials,
                                  const Metal& metal, const HiddenTruth& truth, std::uint64_t seed);

} // namespace finch::standin
