// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/job_outlines.h"

#include "formats/region_path.h"

#include <algorithm>

namespace finch {
namespace {

/// Of a drawing that is marked in tiles or strips every layer is drawn once, crosses included.
bool differs_by_nest(const Job& job, const JobLayer& layer) {
    return !layer.only_at.empty() &&
           std::ranges::none_of(job.places, [](const JobPlace& p) { return p.only.has_value(); });
}

} // namespace

JobOutlines job_outlines(const Job& job) {
    constexpr std::size_t most_points = 100'000;
    JobOutlines out;
    std::size_t points = 0;
    for (const JobLayer& l : job.layers) {
        if (differs_by_nest(job, l))
            continue;
        for (const auto& ring : l.region.rings)
            points += ring.size();
        if (points > most_points && !out.marks.isEmpty())
            break;
        (l.guide ? out.guides : out.marks).addPath(region_path(l.region));
    }
    out.marks.setFillRule(Qt::WindingFill);
    return out;
}

QPainterPath own_outlines(const Job& job, const JobPlace& place) {
    QPainterPath out;
    for (const JobLayer& l : job.layers)
        if (differs_by_nest(job, l) && is_at(l, place))
            out.addPath(region_path(l.region));
    out.setFillRule(Qt::WindingFill);
    return out;
}

} // namespace finch
