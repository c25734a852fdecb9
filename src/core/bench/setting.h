// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/units.h"

namespace finch {

/// The knobs that the physics sees.
struct Setting {
    double power_percent = 50; ///< of the rated power, above 0 to 100
    Frequency frequency = kilohertz(80);
    Time pulse_width = nanoseconds(120); ///< ignored by a source of fixed pulse width
    Speed scan_speed = mm_per_second(800);
    Length hatch_pitch = mm(0.03);
    double hatch_angle_deg = 0;
    int passes = 1;
    Length focus_offset = mm(0); ///< + = part farther from the lens

    bool operator==(const Setting&) const = default;
};

/// The rectangle that is filled.
struct Fill {
    Length line_length = mm(10); ///< side along hatch angle 0
    double area_mm2 = 100;

    bool operator==(const Fill&) const = default;
};

} // namespace finch
