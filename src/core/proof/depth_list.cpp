// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/depth_list.h"

#include "proof/cell_lines.h"
#include "proof/layout.h"

namespace finch {
namespace {

/// "120; 5" and "120<tab>5" say the spread in a column of its own.
std::string with_spread(std::string_view value) {
    const auto at = value.find_first_of(";\t");
    if (at == std::string_view::npos)
        return std::string(value);
    const std::string_view spread = without_separators(value.substr(at));
    return std::string(without_separators(value.substr(0, at))) + (spread.empty() ? "" : " +- " + std::string(spread));
}

} // namespace

Expected<std::vector<CellDepth>> depths_from_text(std::string_view text, const ProofSheet& sheet,
                                                  const std::string& file) {
    const auto lines = cell_lines(text, sheet, file, {"depth", "depth", "B1; 120"});
    if (!lines)
        return tl::unexpected(lines.error());
    std::vector<CellDepth> out;
    for (const CellLine& line : *lines) {
        const auto depth = depth_from_text(with_spread(line.value));
        if (!depth)
            return failure(depth.error().code, depth.error().message, depth.error().fix, line.place);
        out.push_back({line.cell, *depth});
    }
    return out;
}

std::vector<PointMm> middles(const ProofSheet& sheet, const std::vector<std::size_t>& cells) {
    const SheetLayout at = layout(sheet);
    std::vector<PointMm> out;
    for (const std::size_t i : cells) {
        const RectMm& r = at.cells.at(i);
        out.push_back({r.x + r.w / 2, r.y + r.h / 2});
    }
    return out;
}

SheetReading unphotographed(const ProofSheet& sheet) {
    SheetReading r;
    r.sheet_number = sheet.number;
    r.photos = 0;
    r.markers = 0;
    r.cells.resize(sheet.cells());
    for (const std::size_t i : burned_cells(sheet))
        r.cells[i].state = CellState::hidden;
    return r;
}

void put_depths(SheetReading& reading, const std::vector<CellDepth>& depths) {
    for (const CellDepth& d : depths) {
        reading.cells.at(d.cell).depth_um = d.depth.um;
        reading.cells.at(d.cell).depth_within_um = d.depth.within_um;
    }
}

} // namespace finch
