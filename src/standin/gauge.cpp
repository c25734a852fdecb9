// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/gauge.h"

#include "standin/chance.h"

#include <algorithm>

namespace finch::standin {

Gauged gauged(const Plate& plate, std::span<const PointMm> at, std::uint64_t seed) {
    constexpr double foot_um = 1.0, floor_share = 0.012; // standard deviations
    Gauged out{{}, 1.645 * foot_um, 1.645 * floor_share};
    Chance chance{seed};
    for (const PointMm& p : at) {
        double um = 0;
        for (const Burn& b : plate.burns)
            for (const RectMm& r : b.hatch)
                if (p.x >= r.x && p.x <= r.x + r.w && p.y >= r.y && p.y <= r.y + r.h)
                    um = b.surface.depth_um;
        const double roughness = chance.bell(floor_share), foot = chance.bell(foot_um);
        out.depths_um.push_back(std::max(0.0, um * (1 + roughness) + foot));
    }
    return out;
}

} // namespace finch::standin
