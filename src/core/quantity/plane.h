// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace finch {

/// A place on a sheet or a drawing. Which way y runs is said by who holds it.
struct PointMm {
    double x = 0, y = 0;
    bool operator==(const PointMm&) const = default;
};
/// From one place to another.
struct LineMm {
    PointMm from, to;
};
struct RectMm {
    double x = 0, y = 0, w = 0, h = 0;
    bool operator==(const RectMm&) const = default;
};

} // namespace finch
