// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/dialog.h"
#include "bench/focus.h"
#include "bench/lens.h"
#include "bench/source.h"
#include "bench/stock.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

/// What carries the lens: heights of its face over the table.
struct Column {
    Length lowest = mm(60), highest = mm(420);
    bool operator==(const Column&) const = default;
};

/// What turns round parts.
struct Rotary {
    Length centre_height = mm(75);
    Length chuck_top = mm(110);
    double motor_steps = 200, microsteps = 16, gear = 1;
    bool operator==(const Rotary&) const = default;
};

/// A marking bench: the source, the scanner, the lenses it owns and the one that is on it.
struct Bench {
    std::string name;
    std::string origin; ///< where the numbers come from
    Source source;
    Scanner scanner;
    std::vector<Lens> lenses; ///< at least one
    std::size_t lens_index = 0;
    Column column;
    std::optional<Rotary> rotary;
    MachineDialog dialog;
    double rate_per_hour = 40; ///< machine and operator together, in the shop's currency

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
