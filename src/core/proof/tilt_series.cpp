// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/tilt_series.h"

#include "physics/colour_difference.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

/// Card and camera are the same in both photographs, and what they do to one colour they do to its like.
constexpr double shared = 0.5;

/// Where a change that was seen at some tilts first passes a limit; nothing: nowhere.
std::optional<double> passes(std::span<const std::pair<double, double>> change, double limit) {
    double deg = 0, de = 0;
    for (const auto& [next_deg, next_de] : change) {
        if (next_de > limit)
            return next_de > de ? deg + (next_deg - deg) * std::max(0.0, limit - de) / (next_de - de) : deg;
        deg = next_deg;
        de = next_de;
    }
    return std::nullopt;
}

} // namespace

std::optional<TiltScore> tilt_score(const Lab& from_above, double within_de, std::span<const TiltLook> looks) {
    if (looks.empty())
        return std::nullopt;
    std::vector<std::pair<double, double>> change, less, more;
    TiltScore out;
    for (const TiltLook& l : looks) {
        const double de = delta_e00(from_above, l.lab), off = (1 - shared) * std::hypot(within_de, l.within_de);
        change.emplace_back(l.deg, de);
        less.emplace_back(l.deg, std::max(0.0, de - off));
        more.emplace_back(l.deg, de + off);
        out.most_de = std::max(out.most_de, de);
        out.widest_deg = std::max(out.widest_deg, l.deg);
    }
    const auto at = passes(change, tilt_holds_de);
    out.at_least = !at;
    out.holds_deg = at.value_or(out.widest_deg);
    out.low_deg = passes(more, tilt_holds_de).value_or(out.widest_deg);
    out.high_deg = passes(less, tilt_holds_de).value_or(90);
    return out;
}

Expected<std::size_t> add_tilt(SheetReading& reading, const SheetReading& tilted, double deg) {
    if (!(deg >= tilt_least_deg && deg <= tilt_most_deg))
        return failure("tilt.angle", fmt::format("A tilt of {} degrees cannot be used.", format_number(deg, 3)),
                       "Tilt the sheet by 5 to 70 degrees out of the straight view.");
    if (reading.photos == 0 || !reading.shows_colours())
        return failure("tilt.straight", "The sheet was not photographed from above yet.",
                       "Photograph it from above first: the tilted looks are held against that.");
    std::size_t cells = 0;
    for (std::size_t i = 0; i < std::min(reading.cells.size(), tilted.cells.size()); ++i) {
        const CellReading& seen = tilted.cells[i];
        CellReading& c = reading.cells[i];
        if (c.state != CellState::read || seen.state != CellState::read)
            continue;
        std::erase_if(c.tilted, [&](const TiltLook& l) { return std::abs(l.deg - deg) < 1; });
        if (c.tilted.size() >= most_tilts)
            return failure("tilt.many", fmt::format("Cells have {} tilts at most.", most_tilts),
                           "Photograph one of the angles again instead.");
        c.tilted.push_back({deg, seen.lab, seen.within_de});
        std::ranges::sort(c.tilted, {}, &TiltLook::deg);
        ++cells;
    }
    return cells;
}

std::optional<TiltScore> tilt_score(const CellReading& c) {
    const Photographed above = as_photographed(c);
    return tilt_score(above.lab, above.within_de, c.tilted);
}

std::string tilt_words(const TiltScore& s) {
    return fmt::format("holds {}°{}", format_number(std::round(s.holds_deg), 3), s.at_least ? " and more" : "");
}

} // namespace finch
