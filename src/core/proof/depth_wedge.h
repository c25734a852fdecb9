// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"
#include "recipe/scene.h"

#include <string>

namespace finch {

struct WedgeRequest {
    int most_passes = 32;
    std::size_t steps = 6; ///< pass counts from 1 up, 3 to 12
    std::size_t times = 2; ///< cells of each, 1 to 4
    bool operator==(const WedgeRequest&) const = default;
};

/// A step wedge: one recipe at more and more passes, each at places drawn by chance. `request` gives number, aim,
/// recipe and the size of the cells. Errors: wedge.no_depth when the recipe takes nothing away, wedge.passes, those of
/// plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_wedge(const SheetRequest& request, const WedgeRequest& wanted,
                                              const Scene& scene, const Recipe& labels, std::uint64_t seed);

/// What the depths of a wedge say.
struct WedgeFinding {
    struct Step {
        int passes = 1;
        double um = 0, within_um = 0; ///< mean of its cells
    };
    std::vector<Step> steps;                                  ///< fewest passes first
    double first_um = 0, first_low = 0, first_high = 0;       ///< of the first pass, nine in ten
    double doubling = 2, doubling_low = 2, doubling_high = 2; ///< depth at twice the passes over that at once; 2: even
    std::optional<double> passes, passes_low, passes_high;    ///< that the wanted depth takes
    double beyond = 1; ///< of these passes over the most that were measured, where more: the law is carried on so far
    std::optional<double> s_per_cm2; ///< of them
    std::string words;
};
/// A power of the passes through the depths, each by what its gauge lies within and by how much cells of one count
/// differ. `wanted`: a depth that is to be reached. Errors: wedge.none, wedge.too_few (three counts with a depth are
/// the least), wedge.no_depth when what was measured is no depth.
[[nodiscard]] Expected<WedgeFinding> judge_wedge(const ProofSheet& sheet, const SheetReading& reading,
                                                 const Scene& scene, const std::optional<WantedDepth>& wanted);

[[nodiscard]] nlohmann::json to_json(const WedgeFinding& finding);

} // namespace finch
