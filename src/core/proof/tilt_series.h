// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <optional>
#include <span>
#include <string>

namespace finch {

inline constexpr double tilt_least_deg = 5, tilt_most_deg = 70;
/// A colour that changes by more CIEDE2000 does not hold at a tilt: it is called by another name from there on.
inline constexpr double tilt_holds_de = 5;

/// Up to which tilt a mark was seen to hold its colour.
struct TiltScore {
    double holds_deg = 0;  ///< between the photographs the change is taken to grow evenly
    double low_deg = 0;    ///< nine in ten, from how surely the looks were read
    double high_deg = 0;   ///< the same; `at_least`: of no meaning
    bool at_least = false; ///< it held at the widest tilt that was photographed
    double widest_deg = 0; ///< that
    double most_de = 0;    ///< largest change that was seen
};
/// Nothing where no tilt was read. `from_above`: the look from above, and what it lies within.
[[nodiscard]] std::optional<TiltScore> tilt_score(const Lab& from_above, double within_de,
                                                  std::span<const TiltLook> looks);
/// The same of a cell that was read: photographs against the photograph from above, whatever an instrument said since.
[[nodiscard]] std::optional<TiltScore> tilt_score(const CellReading& cell);

/// What a photograph of the tilted sheet shows becomes part of its reading: one look of each cell that was read in
/// both, in place of one within a degree of it. Returns in how many cells.
/// Errors: tilt.angle (5 to 70 degrees), tilt.straight when the sheet was not photographed from above first.
[[nodiscard]] Expected<std::size_t> add_tilt(SheetReading& reading, const SheetReading& tilted, double deg);

/// "holds 38°", "holds 60° and more".
[[nodiscard]] std::string tilt_words(const TiltScore& score);

} // namespace finch
