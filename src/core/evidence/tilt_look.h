// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour.h"

namespace finch {

/// How a mark was read with the sheet tilted out of the straight view.
struct TiltLook {
    double deg = 0;
    Lab lab;
    double within_de = 2; ///< CIEDE2000 within which it lies in nine of ten cases
    bool operator==(const TiltLook&) const = default;
};

} // namespace finch
