// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "demo_bench.h"
#include "piece/tray.h"

namespace finch::tests {

/// Tags side by side, a few lines in two passes each.
inline Job small_tray(const Setup& setup, int columns = 2) {
    Job job;
    job.name = "tag";
    job.setup = setup;
    job.width_mm = 8, job.height_mm = 6;
    Recipe recipe = DemoBench::blue();
    recipe.setting.hatch_pitch = mm(0.5);
    recipe.setting.passes = 2;
    recipe.turn_per_pass_deg = 31;
    job.layers.push_back({"mark", "#000000", false, recipe, Region{{{{1, 1}, {4, 1}, {4, 3}, {1, 3}}}}});
    Tray tray;
    tray.columns = columns, tray.rows = 1, tray.pitch_x_mm = 10, tray.pitch_y_mm = 8;
    return in_tray(job, tray).value();
}

} // namespace finch::tests
