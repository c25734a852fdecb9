// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "recipe/predict.h"

namespace finch {

/// What a layer should look like part-way, so that nobody stops a good run.
struct PartWay {
    std::string look;                  ///< "pale, frosted"; empty where nothing is predicted of it
    std::optional<double> l, l_spread; ///< L*
    double depth_um = 0, least_um = 0, most_um = 0;
    std::string stage; ///< what is normal now, and until when; empty where nothing special is
};
/// After so many of its passes. Errors: those of predict().
[[nodiscard]] Expected<PartWay> part_way(const Scene& scene, const JobLayer& layer, int passes_done);

} // namespace finch
