// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// A table as spreadsheets write it, one row at a time: comma, semicolon or tab, whichever the first line has. Quotes
/// keep separators and ends of lines; a doubled quote inside them is one. Blanks round a cell are left out, and a mark
/// of UTF-8 at the beginning.
class CsvRows {
public:
    explicit CsvRows(std::string_view text);
    [[nodiscard]] bool done() const { return at_ >= text_.size(); }
    /// Line on which the row that was read last began.
    [[nodiscard]] int line() const { return row_line_; }
    std::vector<std::string> next();

private:
    std::string_view text_;
    char separator_;
    std::size_t at_ = 0;
    int line_ = 1, row_line_ = 1;
};

} // namespace finch
