// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/colour_list.h"

#include "physics/colour_difference.h"
#include "proof/cell_lines.h"
#include "quantity/number_text.h"
#include "quantity/scan.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

std::vector<std::string_view> parts_of(std::string_view text, std::string_view separators) {
    std::vector<std::string_view> out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find_first_of(separators, at), text.size());
        if (const auto part = without_separators(text.substr(at, end - at)); !part.empty())
            out.push_back(part);
        at = end + 1;
    }
    return out;
}

} // namespace

std::optional<std::vector<double>> colour_numbers(std::string_view text) {
    auto parts = parts_of(text, "; \t");
    const bool by_comma = parts.size() < 3;
    if (by_comma)
        parts = parts_of(text, ",; \t");
    std::vector<double> out;
    for (const std::string_view part : parts) {
        std::string number = plain_ascii(part);
        std::ranges::replace(number, ',', '.');
        const auto value = plain_number(number);
        if (!value)
            return std::nullopt;
        out.push_back(*value);
    }
    return out;
}

Expected<std::vector<CellColour>> colours_from_text(std::string_view text, const ProofSheet& sheet,
                                                    const std::string& file) {
    const auto lines = cell_lines(text, sheet, file, {"colour", "colour", "B1; 36.2; 1.9; -28.4"});
    if (!lines)
        return tl::unexpected(lines.error());
    std::vector<CellColour> out;
    for (const CellLine& line : *lines) {
        const auto v = colour_numbers(line.value);
        const bool three = v && (v->size() == 3 || v->size() == 4);
        if (!three || !((*v)[0] >= 0 && (*v)[0] <= 100 && std::abs((*v)[1]) <= 150 && std::abs((*v)[2]) <= 150) ||
            (v->size() == 4 && !((*v)[3] > 0 && (*v)[3] <= 20)))
            return failure("colour.numbers",
                           "\"" + shortened(line.value, 40) + "\" is no colour as L* a* b*, with what it lies within.",
                           "Write three numbers, L* from 0 to 100, and where it is known what they lie within, up to "
                           "20: \"B1; 36.2; 1.9; -28.4; 0.5\".",
                           line.place);
        CellColour c{line.cell, {(*v)[0], (*v)[1], (*v)[2]}};
        if (v->size() == 4)
            c.within_de = (*v)[3];
        out.push_back(c);
    }
    return out;
}

} // namespace finch
