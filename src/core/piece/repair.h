// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/region.h"

namespace finch {

struct RepairRules {
    double close_mm = 0.05; ///< gaps up to this are closed
    double spot_mm = 0.05;  ///< what is narrower cannot be marked as drawn
    /// Faults that stay as they were drawn, by the places at which their mending was told.
    std::vector<PointMm> as_drawn = {};
};
/// Whether a fault is one that was mended, or left so on request: then it can be done the other way.
[[nodiscard]] bool can_be_left(const ArtFinding& finding);
/// A part that is narrower than a width, where, and how wide it is. Sharp corners, which end so, are none.
struct NarrowPart {
    PointMm at;
    double width_mm = 0;
};
[[nodiscard]] Expected<std::vector<NarrowPart>> narrow_parts(const Region& region, double width_mm);

/// A drawing that can be worked with: mended, and what each of its layers covers.
struct MendedArt {
    Artwork art;
    std::vector<Region> regions; ///< of its layers
};
/// The drawing with gaps closed and lines that lie twice kept once, and every fault as a finding: open outlines with
/// their gap, doubled lines, outlines that cross themselves, specks, walls narrower than the spot.
/// What was asked to stay as drawn does, and is told. Errors: region.failed.
[[nodiscard]] Expected<MendedArt> mended(Artwork art, const RepairRules& rules);

/// The first place where a closed outline crosses itself; loops no longer than `hair_mm` are the corner of a joint.
/// Gives up on outlines too tangled to be looked through.
[[nodiscard]] std::optional<PointMm> self_crossing(const Outline& outline, double hair_mm = 0);

} // namespace finch
