// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/surface_constants.h"
#include "proof/reading.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// A cell that was scratched with the tools of a ladder, softest first.
struct CellScratch {
    std::size_t cell = 0;
    int steps = 0; ///< tools that it survived; 0: not even the softest
};

/// Scratch tests as they are typed or pasted, one cell a line: how many tools of the ladder it survived, or the hardest
/// of them by name: "B1; 4", "B1; aluminium", "B1; nothing". Errors: those of cell_lines(), scratch.steps with the
/// line.
[[nodiscard]] Expected<std::vector<CellScratch>> scratches_from_text(std::string_view text, const ProofSheet& sheet,
                                                                     const std::vector<LadderStep>& ladder,
                                                                     const std::string& file = {});

/// Writes them into a reading of the sheet.
void put_scratches(SheetReading& reading, const std::vector<CellScratch>& scratches);

} // namespace finch
