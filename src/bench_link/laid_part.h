// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"

#include <optional>
#include <vector>

namespace finch {

/// Where a part is said to lie on a bench: the box of its pocket in mm, y up.
struct LaidPart {
    int nest = 1;
    RectMm box;
    bool operator==(const LaidPart&) const = default;
};
/// What is found on a part afterwards. Lengths and places from the part's own lower left corner, as under a loupe.
struct MarkedPart {
    int nest = 1;
    double marked_mm = 0;           ///< of lines
    std::optional<RectMm> box = {}; ///< of them; nothing where nothing is marked
    bool operator==(const MarkedPart&) const = default;
};
struct RanJob {
    double time_s = 0;
    double beside_mm = 0; ///< marked where no part lies
    std::vector<MarkedPart> parts;
};

} // namespace finch
