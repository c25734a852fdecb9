// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/parse.h"

#include <functional>
#include <map>
#include <string>

namespace finch {

/// Unit -> its size in the canonical unit of the kind.
using UnitTable = std::map<std::string, double, std::less<>>;
[[nodiscard]] const UnitTable& unit_table(QuantityKind kind);
/// Lines per millimetre of one unit of line density.
[[nodiscard]] const UnitTable& line_table();

} // namespace finch
