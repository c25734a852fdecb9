// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/colour_list.h"

#include <optional>
#include <vector>

namespace finch {

/// Writes colours of an instrument into a reading of the sheet: they count before what a photograph says of these
/// cells, and set right what it says of the others.
void put_colours(SheetReading& reading, const std::vector<CellColour>& colours);

/// What the operator said of a cell stays true when the sheet is photographed once more: ticks, depths, scratch tests
/// and the colours of an instrument go over, and set the new photograph right.
void keep_what_was_said(SheetReading& newer, const SheetReading& older);

/// Sets the photographed cells and the ground right by the cells that both photograph and instrument read: what the
/// photograph was off by there it is off by elsewhere too, the surer the more alike the colours are (decision 45). What
/// it said by itself is kept beside; without such cells that is what counts. Doing it twice changes nothing.
void set_right_by_measured(SheetReading& reading);

/// How far the photograph lay from the instrument, CIEDE2000, median of the cells that both read.
struct PhotographOff {
    double de = 0;
    std::size_t cells = 0;
};
/// Nothing where no cell was read by both.
[[nodiscard]] std::optional<PhotographOff> photograph_off(const SheetReading& reading);

} // namespace finch
