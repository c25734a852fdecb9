// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "document/csv.h"

#include <algorithm>

namespace finch {
namespace {

constexpr std::string_view utf8_mark = "\xef\xbb\xbf";

char separator_in(std::string_view text) {
    const std::string_view first = text.substr(0, text.find('\n'));
    return std::ranges::count(first, ';') > 0 ? ';' : std::ranges::count(first, '\t') > 0 ? '\t' : ',';
}

std::string without_blanks(const std::string& cell) {
    constexpr const char* blanks = " \t\r\n";
    const auto first = cell.find_first_not_of(blanks);
    return first == std::string::npos ? std::string() : cell.substr(first, cell.find_last_not_of(blanks) - first + 1);
}

} // namespace

CsvRows::CsvRows(std::string_view text)
    : text_(text.starts_with(utf8_mark) ? text.substr(utf8_mark.size()) : text), separator_(separator_in(text_)) {}

std::vector<std::string> CsvRows::next() {
    std::vector<std::string> out(1);
    bool quoted = false;
    row_line_ = line_;
    for (; at_ < text_.size(); ++at_) {
        const char c = text_[at_];
        line_ += c == '\n' ? 1 : 0;
        if (c == '"' && quoted && at_ + 1 < text_.size() && text_[at_ + 1] == '"') {
            out.back() += c;
            ++at_;
        } else if (c == '"')
            quoted = !quoted;
        else if (c == separator_ && !quoted)
            out.emplace_back();
        else if (c == '\n' && !quoted) {
            ++at_;
            break;
        } else
            out.back() += c;
    }
    for (std::string& cell : out)
        cell = without_blanks(cell);
    return out;
}

} // namespace finch
