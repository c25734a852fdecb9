// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/svg_shape.h"
#include "formats/svg_tree.h"
#include "piece/region.h"

namespace finch {

/// What the clip path of an element leaves, in mm: the union of the clip path's shapes, each by its clip rule, within
/// the clip path that it has itself. `to_mm`: of the element's own coordinates. Nothing where it has none, or one that
/// is not read, which is told.
struct SvgClipAsk {
    const SvgTree& tree;
    const SvgElement& element;
    std::string_view link; ///< "url(#name)"
    QTransform to_mm;
    SvgView view;
    double font_size = 16, coarser = 1;
    const SvgTell& tell;
};
[[nodiscard]] std::optional<Region> svg_clip(const SvgClipAsk& ask);

/// What of a shape lies in an area, as a shape; its middle lines are gone. Errors: region.failed.
[[nodiscard]] Expected<ArtShape> clipped(ArtShape shape, const Region& to);

} // namespace finch
