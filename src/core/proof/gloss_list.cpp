// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/gloss_list.h"

#include "proof/cell_lines.h"
#include "quantity/number_text.h"
#include "quantity/scan.h"

namespace finch {

Expected<std::vector<CellGloss>> gloss_from_text(std::string_view text, const ProofSheet& sheet,
                                                 const std::string& file) {
    const auto lines = cell_lines(text, sheet, file, {"gloss", "gloss", "B1; 212"});
    if (!lines)
        return tl::unexpected(lines.error());
    std::vector<CellGloss> out;
    for (const CellLine& line : *lines) {
        const auto units = plain_number(std::string(line.value));
        if (!units || *units < 0 || *units > 2000)
            return failure("gloss.units", "\"" + shortened(line.value, 40) + "\" is no gloss.",
                           "Write gloss units, 0 to 2000, as the meter shows them.", line.place);
        out.push_back({line.cell, *units});
    }
    return out;
}

void put_gloss(SheetReading& reading, const std::vector<CellGloss>& gloss) {
    for (const CellGloss& g : gloss)
        reading.cells.at(g.cell).gloss = g.units;
}

} // namespace finch
