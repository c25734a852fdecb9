// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"

#include <array>
#include <map>
#include <string>
#include <vector>

namespace finch {

/// L*, a*, b* of places by their names.
using LabByName = std::map<std::string, std::array<double, 3>>;

/// Something that is printed on white paper. In mm, x to the right and y down from its upper left corner.
struct ColourPrint {
    struct Patch {
        std::string name; ///< none: nobody measures it
        std::array<double, 3> asked_lab{};
        std::vector<RectMm> where;
    };
    double width_mm = 0, height_mm = 0;
    std::vector<Patch> patches;
};
inline constexpr std::size_t most_printed = 1000; ///< patches of one print

} // namespace finch
