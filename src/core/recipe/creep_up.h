// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/plan.h"

#include <string>
#include <vector>

namespace finch {

/// One pass of a climb on scrap.
struct ClimbStep {
    int pass = 1;
    double power_percent = 0;
    double dose_j_mm2 = 0; ///< of this pass
    double dose_so_far_j_mm2 = 0;
};

/// Where to start by hand, how to climb and when to stop, for materials that nothing is predicted for.
struct Climb {
    Recipe start;
    std::vector<ClimbStep> steps;
    std::string look, stop_when, caution, rests_on;
};
/// By the darkness of the pigment (L* 0 to 100, dark starts lower). The last step stays below the most that is safe to
/// try. Errors: plan.not_listed for a material without an entry.
[[nodiscard]] Expected<Climb> creep_up(const Scene& scene, double pigment_l);

/// A candidate that claims nothing: the start of a climb, or a first broad sheet of a diode, which is decorative.
[[nodiscard]] Expected<Plan> plan_by_hand(const Scene& scene, const Aim& aim, const PlanTask& task);

} // namespace finch
