// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/layout.h"

#include <array>
#include <opencv2/core.hpp>
#include <optional>

namespace finch {

using Light = std::array<double, 3>; ///< linear light of the three primaries

/// The sheet squared up, 8 bit.
struct Squared {
    cv::Mat rgb;
    double scale = 0; ///< pixels per mm

    /// Pixels of a rectangle of the sheet; empty where it lies outside.
    [[nodiscard]] cv::Rect box(const RectMm& r) const;
};

[[nodiscard]] Light linear(const cv::Vec3b& pixel);
[[nodiscard]] bool burned_out(const cv::Vec3b& pixel);
/// Median light of a rectangle; nothing where most of it is burned out or it lies outside.
[[nodiscard]] std::optional<Light> median_light(const Squared& sheet, const RectMm& where);

} // namespace finch
