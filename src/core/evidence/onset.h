// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <span>

namespace finch {

/// One place: how far along the axis it lies, and whether it has what is looked for there.
struct SeenAlong {
    double at = 0;
    bool has = false;
};

/// Where something begins along an axis on which more of it makes it likelier.
struct Onset {
    enum class Found {
        within, ///< between the places that were looked at
        below,  ///< those that lie lowest have it already
        above,  ///< those that lie highest do not have it
        unclear ///< some have it and some have not, over more than `widest`
    };
    Found found = Found::unclear;
    double at = 0;            ///< half of the places have it
    double low = 0, high = 0; ///< nine in ten
    double spared = 0;        ///< at most a tenth of the places has it below this, nineteen in twenty
};

/// A normal threshold with a fiftieth of slips, by its whole posterior on a grid; nothing is assumed of where it lies
/// or how sharp it is. At least one place; `widest` is the widest interval that is an answer, in the axis's own unit.
[[nodiscard]] Onset onset_of(std::span<const SeenAlong> seen, double widest);

} // namespace finch
