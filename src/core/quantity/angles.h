// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <numbers>

namespace finch {

inline constexpr double pi = std::numbers::pi;
inline constexpr double degrees = 180 / pi; ///< in one radian

} // namespace finch
