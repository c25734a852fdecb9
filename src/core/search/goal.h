// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour_difference.h"

#include <algorithm>

namespace finch {

inline constexpr double no_mark = 99; ///< miss of what is no such mark at all

/// A depth that is wanted, and how far from it still passes.
struct WantedDepth {
    double um = 100, within_um = 10;
    bool operator==(const WantedDepth&) const = default;
};

/// What a search of films is after: a colour, or a darkness.
struct Goal {
    Lab lab{36, 2, -28};
    bool dark = false;
    double within = 2; ///< CIEDE2000, or L* above the wished darkness

    /// How far a colour is off: CIEDE2000; for a darkness the L* above it, and `no_mark` where it is still coloured.
    [[nodiscard]] double miss(const Lab& seen) const {
        constexpr double still_coloured = 10; // chroma
        if (dark)
            return chroma(seen) > still_coloured ? no_mark : std::max(0.0, seen.l - lab.l);
        return delta_e00(seen, lab);
    }
};

} // namespace finch
