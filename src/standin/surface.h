// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/reflectance.h"
#include "standin/strike.h"

#include <functional>

namespace finch::standin {

/// What lies there after a mark.
struct Surface {
    Reflectance reflects{};
    std::function<Reflectance(double tilt_deg)> tilted = {}; ///< of the tilted piece; none: it looks the same
    double film_nm = 0;
    double depth_um = 0;
    bool whole = true;      ///< neither molten nor torn nor cut
    double texture = 0.01;  ///< unevenness, share of the light
    double scatters = 0.35; ///< share of the light that does not go the mirror way
    double spot_mm = 0.05;
};

/// What a surface sends back with the piece tilted out of the straight view.
[[nodiscard]] inline Reflectance seen_at(const Surface& surface, double tilt_deg) {
    return tilt_deg > 0 && surface.tilted ? surface.tilted(tilt_deg) : surface.reflects;
}

/// The stock before anything is burned.
[[nodiscard]] Surface untouched(const World& world, const Nature& nature, const Stock& stock);

/// What a recipe leaves on an area. `metal` of the stock must be in the table.
/// Errors: standin.out_of_range (field), standin.unknown_metal, standin.unknown_compound, standin.cannot.
[[nodiscard]] Expected<Surface> marked(const World& world, const Nature& nature, const Setup& setup,
                                       const Recipe& recipe, const RectMm& area, const Moment& moment);

} // namespace finch::standin
