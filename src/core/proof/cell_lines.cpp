// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/cell_lines.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace finch {
namespace {

bool decimal_digit(char c) {
    return c >= '0' && c <= '9';
}
bool latin_letter(char c) {
    return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z');
}

/// Letters and digits at the front are a cell's name; nothing where the line begins with a number.
std::string cell_at_front(std::string_view& line) {
    std::size_t i = 0;
    while (i < line.size() && latin_letter(line[i]))
        ++i;
    const std::size_t letters = i;
    while (i < line.size() && decimal_digit(line[i]))
        ++i;
    if (letters == 0 || i == letters)
        return {};
    std::string name(line.substr(0, i));
    std::ranges::transform(name, name.begin(), [](char c) { return static_cast<char>(c >= 'a' ? c - 'a' + 'A' : c); });
    line = without_separators(line.substr(i));
    return name;
}

} // namespace

std::string_view without_separators(std::string_view s) {
    constexpr std::string_view blank = " \t\r;,:=\"";
    const auto first = s.find_first_not_of(blank);
    return first == std::string_view::npos ? std::string_view()
                                           : s.substr(first, s.find_last_not_of(blank) - first + 1);
}

Expected<std::vector<CellLine>> cell_lines(std::string_view text, const ProofSheet& sheet, const std::string& file,
                                           const ListWords& words) {
    const std::string code = words.code;
    std::vector<CellLine> out;
    std::vector<bool> named(sheet.cells(), false);
    std::size_t next = 0;
    int number = 0;
    bool first = true;
    if (text.starts_with("\xEF\xBB\xBF"))
        text.remove_prefix(3);
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        std::string_view line = without_separators(text.substr(at, end - at));
        at = end + 1;
        ++number;
        if (line.empty() || line.front() == '#')
            continue;
        const bool heading = std::exchange(first, false) && std::ranges::none_of(line, decimal_digit);
        if (heading)
            continue;
        const Place place{file, number, {}};
        const std::string name = cell_at_front(line);
        std::size_t cell = next;
        if (!name.empty()) {
            const auto found = cell_from_name(sheet, name);
            if (!found)
                return failure(found.error().code, found.error().message, found.error().fix, place);
            cell = *found;
        } else
            while (cell < sheet.cells() &&
                   (!sheet.holds(cell) || (cell < sheet.left_out.size() && sheet.left_out[cell])))
                ++cell;
        if (cell >= sheet.cells() || !sheet.holds(cell))
            return failure(code + ".line",
                           name.empty() ? fmt::format("There are more {}s than cells.", words.what)
                                        : fmt::format("Cell {} is not one of this sheet's.", name),
                           fmt::format("Begin each line with the name of its cell: \"{}\".", words.example), place);
        if (named[cell])
            return failure(code + ".line",
                           fmt::format("The {} of cell {} is said twice.", words.what, cell_name(sheet, cell)),
                           "Keep one line for each cell.", place);
        named[cell] = true;
        out.push_back({cell, line, place});
        next = cell + 1;
    }
    if (out.empty())
        return failure(code + ".none", fmt::format("There is no {} in it.", words.what),
                       fmt::format("Write one a line: \"{}\".", words.example), {file, 0, {}});
    return out;
}

} // namespace finch
