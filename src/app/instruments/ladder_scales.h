// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/ladder.h"
#include "recipe/predict.h"

namespace finch::app {

/// The dose ladder: what happens when the scan speed alone is changed, sampled with the model itself. `prediction` is
/// that of the recipe; `ghost` is another to compare with, or null.
[[nodiscard]] LadderView dose_ladder(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                     const Prediction& prediction, const Recipe* ghost);
/// The fluence ladder: what happens when the power alone is changed, also beyond what the source has. As dose_ladder().
[[nodiscard]] LadderView fluence_ladder(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                        const Prediction& prediction, const Recipe* ghost);

} // namespace finch::app
