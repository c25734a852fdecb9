// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/convert.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

/// How the machine's own window shows settings. A maximum makes a field speak in percent of it; none, in absolute
/// values. Steps are the smallest change of each field.
struct MachineDialog {
    std::optional<double> speed_max_mm_s, power_max_w, frequency_max_khz;
    double speed_step = 1, power_step = 1, frequency_step = 1;
    std::string pitch_unit = "mm"; ///< mm, lpi, l/cm, l/mm or dpi
    double pitch_step = 0.001;
    std::vector<double> pitch_list; ///< allowed entries, if the window offers a list
    PercentTable power_table;       ///< measured percent -> W
    bool operator==(const MachineDialog&) const = default;
};

} // namespace finch
