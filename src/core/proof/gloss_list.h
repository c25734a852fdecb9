// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// How a gloss meter read a cell.
struct CellGloss {
    std::size_t cell = 0;
    double units = 0; ///< gloss units, of whatever geometry the meter has: 0 to 2000
};

/// Gloss as it is typed, pasted or logged, one cell a line: "B1; 212". Errors: those of cell_lines(), gloss.units with
/// the line.
[[nodiscard]] Expected<std::vector<CellGloss>> gloss_from_text(std::string_view text, const ProofSheet& sheet,
                                                               const std::string& file = {});

/// Writes them into a reading of the sheet.
void put_gloss(SheetReading& reading, const std::vector<CellGloss>& gloss);

} // namespace finch
