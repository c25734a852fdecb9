// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/svg_style.h"
#include "piece/artwork.h"

#include <functional>
#include <QPainterPath>
#include <QTransform>

namespace finch {

/// How a path's edge is drawn, in the path's own units.
struct StrokeLook {
    double width = 1;
    Qt::PenCapStyle cap = Qt::FlatCap;
    Qt::PenJoinStyle join = Qt::SvgMiterJoin;
    double miter_limit = 4;
    std::vector<double> dashes; ///< lengths of marks and gaps in turn; empty = drawn through
    double dash_offset = 0;
};
/// What the declarations say of it. What is not understood goes to `unread`.
[[nodiscard]] StrokeLook stroke_look(const SvgDeclarations& d, double diagonal, double font_size,
                                     const std::function<void(const std::string&)>& unread);

/// Chords of a path, put into place.
[[nodiscard]] std::vector<Outline> chords(const QPainterPath& path, const QTransform& to_mm, double coarser = 1);

/// The area that a stroke covers, and its middle lines. `fine` is false where its dashes are too many to be cut; then
/// it is drawn through. Nothing where the transform squeezes it flat.
struct StrokeArea {
    std::vector<Outline> outlines, lines;
    double narrowest_mm = 0;
    bool fine = true;
};
[[nodiscard]] StrokeArea stroke_area(const QPainterPath& path, const StrokeLook& look, const QTransform& to_mm,
                                     double coarser = 1);

} // namespace finch
