// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"
#include "proof/tool_step.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// A cell whose depth was measured.
struct CellDepth {
    std::size_t cell = 0;
    GaugeDepth depth;
};

/// Depths as they are typed, pasted from a spreadsheet or written by a gauge that logs: one a line, "B1; 120",
/// "B1 0.12 mm; 5 um" or only "120", which goes to the sheet's next cell in reading order. Empty lines, lines that
/// begin with # and a first line of headings are passed over. A second value, and what follows ±, is what it lies
/// within. Errors: depth.line, those of depth_from_text() and cell_from_name(), with the line; depth.none.
[[nodiscard]] Expected<std::vector<CellDepth>> depths_from_text(std::string_view text, const ProofSheet& sheet,
                                                                const std::string& file = {});

/// Where a gauge touches cells: the middle of each, in mm on the sheet.
[[nodiscard]] std::vector<PointMm> middles(const ProofSheet& sheet, const std::vector<std::size_t>& cells);

/// A reading of a sheet that was not photographed: no cell has a colour.
[[nodiscard]] SheetReading unphotographed(const ProofSheet& sheet);

/// Writes depths into a reading of the sheet.
void put_depths(SheetReading& reading, const std::vector<CellDepth>& depths);

} // namespace finch
