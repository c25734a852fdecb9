// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/depth_list.h"

#include "proof/layout.h"

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

std::string_view without_separators(std::string_view s) {
    constexpr std::string_view blank = " \t\r;,:=\"";
    const auto first = s.find_first_not_of(blank);
    return first == std::string_view::npos ? std::string_view()
                                           : s.substr(first, s.find_last_not_of(blank) - first + 1);
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
    std::vector<CellDepth> out;
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
            return failure("depth.line",
                           name.empty() ? std::string("There are more depths than cells.")
                                        : fmt::format("Cell {} is not one of this sheet's.", name),
                           "Begin each line with the name of its cell: \"B1; 120\".", place);
        if (named[cell])
            return failure("depth.line", fmt::format("The depth of cell {} is said twice.", cell_name(sheet, cell)),
                           "Keep one line for each cell.", place);
        const auto depth = depth_from_text(with_spread(line));
        if (!depth)
            return failure(depth.error().code, depth.error().message, depth.error().fix, place);
        named[cell] = true;
        out.push_back({cell, *depth});
        next = cell + 1;
    }
    if (out.empty())
        return failure("depth.no_depths", "There is no depth in it.", "Write one a line: \"B1; 120\".", {file, 0, {}});
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
