// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/warmth.h"

namespace finch::standin {

/// What heating did to bare metal, as it lies there afterwards.
struct Heated {
    double film_nm = 0;       ///< oxide
    double molten = 0;        ///< share of the surface that ran
    double torn = 0;          ///< share of the film that pulses took with them
    double evaporated_um = 0; ///< in all passes
    double crowd = 0;         ///< pulses on a place
};

/// Follows places of an area through every pulse that reaches them: a film that grows slows its own growth and raises
/// what is absorbed. `shades` of the film from place to place are not in it.
[[nodiscard]] Heated heated(const World& world, const OwnMetal& metal, double finish, double thickness_m,
                            const Strike& strike);

} // namespace finch::standin
