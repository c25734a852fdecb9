// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/warmth.h"

namespace finch::standin {

/// What pulses cut out of bare metal.
struct Cut {
    double depth_um = 0;
    double first_um = 0; ///< of the first pass
    double dark = 0;     ///< share of the floor that is dark powder
};

/// Every energy of the beam takes a volume of metal, most at one fluence and less on either side of it; long pulses
/// throw out melt; walls and debris take their part as it gets deep. `narrowest_mm`: width of the cut area.
[[nodiscard]] Cut cut(const World& world, const OwnMetal& metal, double finish, const Strike& strike,
                      const DeepSteps& steps, double narrowest_mm);

} // namespace finch::standin
