// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/region.h"

namespace finch {

inline constexpr std::size_t most_told_apart = 20'000; ///< outlines of which connected shapes are told

/// The connected shapes of an area, as indices of its rings, each outer one with its holes. From the lowest at the left
/// on, each time the nearest that is left, middle to middle; of more than 5000 in rows. All in one where there are more
/// outlines than can be told apart. Which ring is a hole is told by how deep it lies, not by the way it turns: a job
/// may come from elsewhere.
[[nodiscard]] std::vector<std::vector<std::size_t>> shapes_of(const Region& region);

} // namespace finch
