// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/layout.h"

#include <array>

namespace finch {

/// The 49 modules of one marker identity, row by row, true = dark.
[[nodiscard]] std::array<bool, 49> fiducial_modules(int id);

/// Modules of the four fiducials of a layout.
[[nodiscard]] std::array<std::array<bool, 49>, 4> fiducial_modules(const SheetLayout& layout);

} // namespace finch
