// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour.h"

namespace finch {

/// CIEDE2000 with unit weights (Sharma, Wu and Dalal 2005).
[[nodiscard]] double delta_e00(const Lab& a, const Lab& b);

/// Plain distance in CIELAB.
[[nodiscard]] double delta_e_ab(const Lab& a, const Lab& b);

} // namespace finch
