// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/artwork.h"
#include "quantity/error.h"

#include <span>

namespace finch {

/// An area: rings that neither cross nor touch along a line. Outer ones turn to the left, holes to the right. Places
/// lie on a grid of one nanometre.
struct Region {
    std::vector<std::vector<PointMm>> rings;
    [[nodiscard]] bool empty() const { return rings.empty(); }
};

/// All that the shapes cover, each by its own rule. Errors: region.failed where the outlines are beyond untangling.
[[nodiscard]] Expected<Region> region_of(std::span<const ArtShape* const> shapes);
[[nodiscard]] Expected<Region> region_of(const ArtShape& shape);
/// The same of one layer.
[[nodiscard]] Expected<Region> region_of(const Artwork& art, std::size_t layer);

/// All that lies in one of several.
[[nodiscard]] Expected<Region> united(std::span<const Region* const> regions);

[[nodiscard]] double area_mm2(const Region& region);
/// Length of all rings.
[[nodiscard]] double outline_mm(const Region& region);
/// What lies in both.
[[nodiscard]] Expected<Region> common(const Region& one, const Region& other);
/// What of an area lies within a box.
[[nodiscard]] Expected<Region> within(const Region& region, const RectMm& box);
/// Narrower all round, or wider with a negative `by_mm`; outer corners of a wider one are round.
[[nodiscard]] Expected<Region> inset(const Region& region, double by_mm);
/// What is left of it where a disc of this diameter does not fit: walls and strokes narrower than that.
[[nodiscard]] Expected<Region> narrower_than(const Region& region, double width_mm);

} // namespace finch
