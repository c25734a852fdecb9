// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/entry.h"

namespace finch {

/// A value of two entries that differs.
struct Difference {
    std::string group; ///< "Recipe", "Focus", "Stock"
    std::string field; ///< "hatch pitch"
    std::string a, b;  ///< as text with unit; a dash where one has none
};
/// Only what differs between two entries, in people's words: what was set first, then what lay in front of it, then
/// what was looked for and found. Equal values are counted.
struct Comparison {
    std::vector<Difference> differences;
    int equal = 0;
};
[[nodiscard]] Comparison compare(const Entry& a, const Entry& b);

} // namespace finch
