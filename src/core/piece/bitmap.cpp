// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/bitmap.h"

#include <array>

namespace finch {

Expected<std::vector<Outline>> pixel_outlines(const AreaMask& mask) {
    // Edges with what is set on their left: 0 to the right, 1 up, 2 to the left, 3 down; a bit each for every corner.
    constexpr std::array<int, 4> dx{1, 0, -1, 0}, dy{0, 1, 0, -1};
    const int columns = mask.width + 1;
    std::vector<unsigned char> edges(static_cast<std::size_t>(columns) * static_cast<std::size_t>(mask.height + 1), 0);
    const auto corner = [&](int x, int y) -> unsigned char& {
        return edges[static_cast<std::size_t>(y) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(x)];
    };
    for (int y = 0; y < mask.height; ++y)
        for (int x = 0; x < mask.width; ++x) {
            if (!mask.at(x, y))
                continue;
            if (!mask.at(x, y - 1))
                corner(x, y) |= 1;
            if (!mask.at(x + 1, y))
                corner(x + 1, y) |= 2;
            if (!mask.at(x, y + 1))
                corner(x + 1, y + 1) |= 4;
            if (!mask.at(x - 1, y))
                corner(x, y + 1) |= 8;
        }
    std::vector<Outline> out;
    std::size_t corners = 0;
    for (int y = 0; y <= mask.height; ++y)
        for (int x = 0; x <= mask.width; ++x)
            while (corner(x, y) != 0) {
                Outline ring;
                ring.closed = true;
                int cx = x, cy = y, last = -1, direction = 0;
                while ((corner(x, y) & (1 << direction)) == 0)
                    ++direction;
                do {
                    corner(cx, cy) &= static_cast<unsigned char>(~(1 << direction));
                    if (direction != last && ++corners > most_art_points)
                        return failure("bitmap.too_fine", "The picture is too finely grained to be outlined.",
                                       "Soften it, or save it with fewer dots; a picture of greys is a height map.");
                    if (direction != last)
                        ring.points.push_back({cx * mask.pixel_mm, cy * mask.pixel_mm});
                    last = direction;
                    cx += dx[static_cast<std::size_t>(direction)];
                    cy += dy[static_cast<std::size_t>(direction)];
                    // Round the same pixel where two touch at a corner.
                    for (const int turn : {1, 0, 3})
                        if ((corner(cx, cy) & (1 << ((last + turn) % 4))) != 0) {
                            direction = (last + turn) % 4;
                            break;
                        }
                } while (cx != x || cy != y);
                out.push_back(std::move(ring));
            }
    return out;
}

} // namespace finch
