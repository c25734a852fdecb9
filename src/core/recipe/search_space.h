// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/plan.h"

namespace finch {

/// The knobs of one task that a search may turn: from the unit box to recipes within the bench's limits.
class SearchSpace {
public:
    SearchSpace(const Scene& scene, const Aim& aim, const PlanTask& task);

    [[nodiscard]] std::size_t size() const { return axes_.size(); }
    [[nodiscard]] bool hue_repeats() const { return rules_.hue_repeats; }
    /// A point becomes a recipe; knobs that follow from others (passes to a depth, speed at equal dose, focus steps)
    /// are worked out.
    [[nodiscard]] Recipe recipe(const std::vector<double>& point) const;
    /// Points to start from, coarse but everywhere.
    [[nodiscard]] std::vector<std::vector<double>> seeds() const;
    /// The recipe with sensible digits, still within the limits.
    [[nodiscard]] Recipe rounded(Recipe recipe, int digits = 3) const;

private:
    struct Axis {
        Knob knob = Knob::power;
        double low = 0, high = 1;
        bool by_ratio = true;
        std::vector<double> seeds; ///< shares of the axis, 0 to 1
    };
    void follow(Recipe& recipe) const;

    const Scene& scene_;
    const Aim& aim_;
    PlanTask task_;
    const ProcessRules& rules_;
    Recipe base_;
    std::vector<Axis> axes_;
};

} // namespace finch
