// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/plate.h"

#include <span>

namespace finch::standin {

/// What a gauge showed, and what its sheet says of how near that is.
struct Gauged {
    std::vector<double> depths_um;
    double within_um = 0, within_share = 0; ///< nine in ten: of its foot, and of the depth
};
/// A simulated dial gauge: it touches the floor of what was burned last at each place and is off by a little, otherwise
/// each time. A place that nothing touched is flat.
[[nodiscard]] Gauged gauged(const Plate& plate, std::span<const PointMm> at, std::uint64_t seed);

} // namespace finch::standin
