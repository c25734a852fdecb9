// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/region.h"

#include <QPainterPath>

namespace finch {

/// An area for painting, in its own mm.
[[nodiscard]] inline QPainterPath region_path(const Region& region) {
    QPainterPath out;
    for (const auto& ring : region.rings) {
        QPolygonF polygon;
        polygon.reserve(static_cast<qsizetype>(ring.size()));
        for (const PointMm& p : ring)
            polygon << QPointF(p.x, p.y);
        out.addPolygon(polygon);
        out.closeSubpath();
    }
    return out;
}

} // namespace finch
