// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"
#include "recipe/recipe.h"

#include <string>
#include <vector>

namespace finch {

/// One thing that the bench does: a rectangle filled with lines, or strokes. On the sheet: x to the right and y down
/// from its upper left corner.
struct ToolStep {
    std::string name; ///< cell name, "fiducial" or "label"
    Recipe recipe;
    std::vector<RectMm> hatch;
    std::vector<std::vector<PointMm>> strokes;
    double rest_s = 0; ///< before it
};

} // namespace finch
