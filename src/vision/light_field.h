// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <vector>

namespace finch {

/// One patch of bare metal: position in mm and linear light of the three channels.
struct BareSample {
    double x = 0, y = 0;
    std::array<double, 3> light{};
};

/// The light over a sheet, as a smooth surface through the bare metal: a square polynomial of ln(light) per channel,
/// fitted robustly, so that glare and burned marks between the cells do not pull it. It is kept this stiff on purpose:
/// a livelier one follows a broad mirrored lamp, which then passes for light.
class LightField {
public:
    LightField(const std::vector<BareSample>& samples, double width_mm, double height_mm);

    [[nodiscard]] std::array<double, 3> at(double x, double y) const;
    /// How far the bare metal near a point departs from the surface, as a share (0.05 = 5 %): glare by its brightest
    /// spot, a shadow once a quarter of the metal lies in it.
    [[nodiscard]] double departure(double x, double y, double reach_mm) const;
    /// Brightest over darkest light among the samples that the surface follows.
    [[nodiscard]] double range() const { return range_; }

private:
    static constexpr int terms = 6;
    [[nodiscard]] std::array<double, terms> basis(double x, double y) const;

    double width_, height_;
    std::array<std::array<double, terms>, 3> coefficients_{};
    std::vector<BareSample> samples_;
    double range_ = 1;
};

} // namespace finch
