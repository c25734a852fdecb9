// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/scratch_list.h"

#include "proof/cell_lines.h"
#include "quantity/number_text.h"
#include "quantity/scan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace finch {
namespace {

std::optional<int> steps_of(std::string_view said, const std::vector<LadderStep>& ladder) {
    if (said == "nothing")
        return 0;
    for (std::size_t i = 0; i < ladder.size(); ++i)
        if (said == ladder[i].tool)
            return static_cast<int>(i) + 1;
    const auto number = plain_number(std::string(said));
    if (!number || *number != std::floor(*number) || *number < 0 || *number > static_cast<double>(ladder.size()))
        return std::nullopt;
    return static_cast<int>(*number);
}

} // namespace

Expected<std::vector<CellScratch>> scratches_from_text(std::string_view text, const ProofSheet& sheet,
                                                       const std::vector<LadderStep>& ladder, const std::string& file) {
    const auto lines = cell_lines(text, sheet, file, {"scratch", "scratch test", "B1; 4"});
    if (!lines)
        return tl::unexpected(lines.error());
    std::vector<CellScratch> out;
    for (const CellLine& line : *lines) {
        const auto steps = steps_of(line.value, ladder);
        if (!steps) {
            std::string tools;
            for (const LadderStep& s : ladder)
                tools += (tools.empty() ? "" : ", ") + s.tool;
            return failure(
                "scratch.steps", "\"" + shortened(line.value, 40) + "\" is no count of tools and none of their names.",
                fmt::format("Write how many were survived, 0 to {}, or the hardest of them: {}.", ladder.size(), tools),
                line.place);
        }
        out.push_back({line.cell, *steps});
    }
    return out;
}

void put_scratches(SheetReading& reading, const std::vector<CellScratch>& scratches) {
    for (const CellScratch& s : scratches)
        reading.cells.at(s.cell).scratch_steps = s.steps;
}

} // namespace finch
