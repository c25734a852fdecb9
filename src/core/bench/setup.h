// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/focus.h"
#include "bench/lens.h"
#include "bench/source.h"
#include "bench/stock.h"

#include <string>
#include <vector>

namespace finch {

/// A marking bench: the source, the scanner, the lenses it owns and the one that is on it.
struct Bench {
    std::string name;
    std::string origin; ///< where the numbers come from
    Source source;
    Scanner scanner;
    std::vector<Lens> lenses; ///< at least one
    std::size_t lens_index = 0;

    [[nodiscard]] const Lens& lens() const { return lenses.at(lens_index); }
    bool operator==(const Bench&) const = default;
};

/// Everything that lies in front of the operator: what a record keeps as the whole bench state.
struct Setup {
    Bench bench;
    Stock stock;
    Focus focus;
    bool operator==(const Setup&) const = default;
};

} // namespace finch
