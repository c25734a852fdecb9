// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/designed_sheet.h"

#include <string>
#include <vector>

namespace finch {

/// One way to begin, ready to be burned, with what it costs and what may be expected of it.
struct OpeningPlan {
    std::string key;  ///< "designed", "speed-pitch" ...
    std::string name; ///< "Speed by pitch, 8 × 8"
    std::string idea; ///< one sentence: how those who work so go on
    ProofSheet sheet;
    std::size_t cells = 0;
    double promise = 0;         ///< chance that one of its cells meets the target, on the safe side
    double expected_damage = 0; ///< spoiled cells
    double seconds = 0;         ///< of burning, with markers and lettering
    double plate_mm2 = 0;
};

/// The designed cells and the schools of the trade round the same recipe, all judged by what is known of this bench and
/// lot. The designed one first, then by promise. A school that this bench cannot burn is not among them.
/// Errors: those of design_next().
[[nodiscard]] Expected<std::vector<OpeningPlan>> opening_plans(const Scene& scene, const Setup& setup,
                                                               const Target& target, const SheetRequest& request,
                                                               std::span<const Observation> seen,
                                                               const DesignLimits& limits, int threads = 1);

/// A `finch-openings` document: each with its sheet.
[[nodiscard]] nlohmann::json to_json(const std::vector<OpeningPlan>& plans, const Target& target);

} // namespace finch
