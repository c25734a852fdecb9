// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <vector>

namespace finch {

/// A picture in memory: 8 bit sRGB, three bytes a pixel, rows without padding.
struct Picture {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgb;
    [[nodiscard]] bool empty() const { return rgb.empty(); }
    bool operator==(const Picture&) const = default;
};

} // namespace finch
