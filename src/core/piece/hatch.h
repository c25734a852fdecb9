// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/region.h"

#include <optional>
#include <span>
#include <vector>

namespace finch {

/// Parallel lines through an area. Valid: pitch 0.0005 to 100 mm, any angle.
struct HatchRules {
    double pitch_mm = 0.05;
    double angle_deg = 0;   ///< of the lines, to the left from x
    double shift = 0;       ///< share of the pitch by which the lines are moved, for a later pass
    bool to_and_fro = true; ///< every second line runs back
    /// The same lines, one connected shape after the other as shapes_of() has them: mostly fewer jumps, and
    /// neighbouring lines follow each other sooner.
    bool by_shape = false;
    /// Where across itself a line would lie, from the page's corner: so the lines of parts that are marked one after
    /// the other meet. Nothing: the lines lie evenly in the middle of the area.
    std::optional<double> anchor_mm = {};
};

using HatchRun = LineMm;
/// What one pass marks, line by line. `line` of a run tells which runs lie on one line.
struct Hatch {
    std::vector<HatchRun> runs;
    std::vector<std::size_t> line_start; ///< index of the first run of each line that has any, and of each shape
    [[nodiscard]] double length_mm() const;
};

/// The lines lie evenly in the area's width across them, so that turning drawing and angle together changes nothing.
/// No run leaves the area. Cost grows with lines and edges. Errors: hatch.pitch, hatch.too_many (over 5 million
/// lines or 10 million runs).
[[nodiscard]] Expected<Hatch> hatch(const Region& region, const HatchRules& rules);
/// Some of its shapes alone, each as indices of rings, one after the other; on the lines of the whole.
[[nodiscard]] Expected<Hatch> hatch(const Region& region, const HatchRules& rules,
                                    std::span<const std::vector<std::size_t>> shapes);

} // namespace finch
