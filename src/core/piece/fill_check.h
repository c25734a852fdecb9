// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "recipe/check.h"
#include "recipe/predict.h"

namespace finch {

/// What a layer's recipe does to it, as on a square of its area: the models know no outline. Errors: those of
/// predict().
[[nodiscard]] Expected<Prediction> predict_layer(const Scene& scene, const JobLayer& layer);

/// What a fill does that one may not want: contours that show on a film, crossing that doubles the dose, turns that
/// come back, marks that are wider than they are drawn by half of a spot.
[[nodiscard]] std::vector<Finding> fill_findings(const Recipe& recipe, const LayerFill& fill, double spot_mm);

/// Where walls that lean by `taper_deg` meet before a groove is as deep as is wanted: "closing_wall".
[[nodiscard]] Expected<std::vector<ArtFinding>> closing_walls(const Region& region, std::size_t layer, double depth_um,
                                                              double taper_deg);
/// The same at the depth and lean that are predicted for it; none where no metal goes.
[[nodiscard]] Expected<std::vector<ArtFinding>> closing_walls(const Scene& scene, const JobLayer& layer,
                                                              std::size_t index);

} // namespace finch
