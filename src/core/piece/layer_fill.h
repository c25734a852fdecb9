// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace finch {

/// How a layer is filled, beside what its recipe says.
struct LayerFill {
    bool by_shape = false; ///< one connected shape after the other
    bool one_way = false;  ///< every line in one direction
    double inset_mm = 0;   ///< kept free along the edges: with half the spot nothing is wider than it is drawn
    int contours = 0;      ///< times round the outlines after every pass, each a pitch further in
    bool operator==(const LayerFill&) const = default;
};
inline constexpr double most_inset_mm = 5;
inline constexpr int most_contours = 20;

} // namespace finch
