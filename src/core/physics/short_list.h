// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstddef>

namespace finch {

/// At most N things, without allocation.
template <typename T, std::size_t N>
struct ShortList {
    std::array<T, N> items{};
    std::size_t count = 0;
    void add(const T& item) { items.at(count++) = item; }
    [[nodiscard]] const T* begin() const { return items.data(); }
    [[nodiscard]] const T* end() const { return items.data() + count; }
    [[nodiscard]] bool empty() const { return count == 0; }
    bool operator==(const ShortList&) const = default;
};

} // namespace finch
