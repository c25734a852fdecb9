// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <array>
#include <optional>
#include <vector>

namespace finch {

/// A grey height map; white is high and stays uncut. Rows from the top.
struct HeightMap {
    int width = 0, height = 0;
    int bits = 8; ///< 8 or 16
    std::vector<unsigned short> grey;
    [[nodiscard]] double white() const { return bits == 8 ? 255 : 65535; }
};

/// How greys become layers.
struct LevelRules {
    int layers = 64; ///< 1 to 4096
    double black = 0, white = 1, gamma = 1;
    bool invert = false;
    double sharpen = 0, sharpen_px = 1.5; ///< unsharp amount and radius
    bool operator==(const LevelRules&) const = default;
};
inline constexpr int most_relief_layers = 4096;
/// Layers to cut per pixel, 0 to `layers`; layer k from 0 cuts pixels with more than k. Errors: relief.bits,
/// relief.levels.
[[nodiscard]] Expected<std::vector<int>> layer_counts(const HeightMap& map, const LevelRules& rules);

/// An ellipse along the pixel axes, in pixels from the upper left corner.
struct Rim {
    double x = 0, y = 0, radius_x = 0, radius_y = 0;
};
/// The ellipse that fits what differs from the grey of the picture's border; nothing where the border is not even or
/// nothing differs.
[[nodiscard]] std::optional<Rim> found_rim(const HeightMap& map);
/// Nothing is cut outside of it.
void crop(std::vector<int>& counts, int width, const Rim& rim);

/// How a map uses its greys.
struct GreyUse {
    static constexpr int bins = 128;
    std::array<double, bins> share{}; ///< of the pixels, from black to white
    double darkest = 0, lightest = 1; ///< between which all but a thousandth at either end lie
    int greys = 0;                    ///< different ones
};
[[nodiscard]] GreyUse grey_use(const HeightMap& map);
/// Layers that cut the same as the layer above them, because no pixel lies between: they deepen a step instead of
/// shaping a slope.
[[nodiscard]] int doubled_layers(const std::vector<int>& counts, int layers);

/// The thinnest wall left standing by a layer, and the thinnest gap that it cuts, in pixels along rows, columns and
/// diagonals; a thousandth of the pixels may be thinner. 0 where there is none.
struct Thinnest {
    double wall_px = 0, gap_px = 0;
};
[[nodiscard]] Thinnest thinnest(const std::vector<int>& counts, int width, int layer);

} // namespace finch
