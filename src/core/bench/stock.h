// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/units.h"

#include <string>

namespace finch {

enum class Finish { mirror, mill, brushed, blasted };
enum class Coating { unknown, none, nickel, clear, powder_coat, paint, anodised, polish_residue, anodised_natural };

/// The metal in front of the operator.
struct Stock {
    std::string metal = "stainless-304"; ///< key of a metal in data/materials
    Finish finish = Finish::mill;
    Length thickness = mm(2);
    Coating coating = Coating::unknown; ///< `none` is said only after a check
    Length coating_thickness = mm(0);   ///< 0 = usual for that coating
    std::string lot;
    std::string under_it; ///< what lies below the part
    std::string held_by;
    double start_temperature_c = 20;

    bool operator==(const Stock&) const = default;
};

} // namespace finch
