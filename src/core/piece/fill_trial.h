// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/fill_check.h"
#include "piece/scanner_fit.h"
#include "recipe/predict.h"

namespace finch {

/// What a layer would be, filled in some way.
struct FillTrial {
    JobLayer layer;
    std::vector<Hatch> passes; ///< from the first to the one that is looked at, `most_passes_drawn` at most
    int passes_in_all = 1;
    TimeBand time;
    std::string effect; ///< of the fill, and its depth, in words
    std::vector<Finding> findings;
};
inline constexpr int most_passes_drawn = 6;
/// `layer` as it is drawn, with the recipe that is tried. Errors: those of filled() and pass_hatch().
[[nodiscard]] Expected<FillTrial> fill_trial(const JobLayer& layer, const LayerFill& fill, int passes_shown,
                                             const Scene& scene, const ScannerKnowledge& scanner);

} // namespace finch
