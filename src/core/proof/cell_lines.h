// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/sheet.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// One line of a list of measured cells: whose it is, and what follows the name.
struct CellLine {
    std::size_t cell = 0;
    std::string_view value; ///< of the text that was read, without separators at its ends
    Place place;
};
/// How a list is called in its errors.
struct ListWords {
    const char* code;    ///< "depth": errors are depth.line and depth.none
    const char* what;    ///< "depth"
    const char* example; ///< "B1; 120"
};

/// Lists as they are typed, pasted from a spreadsheet or written by an instrument that logs, one cell a line. A line
/// that begins with no name goes to the sheet's next cell in reading order. Empty lines, lines that begin with # and a
/// first line of headings are passed over. The lines refer to `text`. Errors: CODE.line, those of cell_from_name(),
/// with the line; CODE.none.
[[nodiscard]] Expected<std::vector<CellLine>> cell_lines(std::string_view text, const ProofSheet& sheet,
                                                         const std::string& file, const ListWords& words);

/// Without blanks, commas and other separators at its ends.
[[nodiscard]] std::string_view without_separators(std::string_view text);

} // namespace finch
