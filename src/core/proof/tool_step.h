// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/recipe.h"

#include <string>
#include <vector>

namespace finch {

/// Rectangle in mm on the sheet, x to the right and y down from its upper left corner.
struct RectMm {
    double x = 0, y = 0, w = 0, h = 0;
    bool operator==(const RectMm&) const = default;
};
struct PointMm {
    double x = 0, y = 0;
    bool operator==(const PointMm&) const = default;
};

/// One thing that the bench does: a rectangle filled with lines, or strokes.
struct ToolStep {
    std::string name; ///< cell name, "fiducial" or "label"
    Recipe recipe;
    std::vector<RectMm> hatch;
    std::vector<std::vector<PointMm>> strokes;
};

} // namespace finch
