// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/offset_text.h"

#include "quantity/format.h"
#include "quantity/scan.h"

#include <algorithm>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr int most_nests = 1000;
constexpr int digits = 9; // nothing that was measured is lost by being shown

std::optional<std::pair<int, PointMm>> one_offset(std::string_view t) {
    const std::size_t is = t.find('='), comma = t.find(',');
    if (is == std::string_view::npos || comma == std::string_view::npos || is > comma)
        return std::nullopt;
    const auto nest = plain_number(t.substr(0, is)), x = plain_number(t.substr(is + 1, comma - is - 1)),
               y = plain_number(t.substr(comma + 1));
    if (!nest || !x || !y || *nest < 1 || *nest > most_nests || *nest != static_cast<int>(*nest))
        return std::nullopt;
    return std::pair{static_cast<int>(*nest), PointMm{*x, *y}};
}

} // namespace

Expected<NestOffsets> offsets_from_text(std::string_view text) {
    constexpr std::string_view between = " \t\r\n;";
    NestOffsets out;
    while (true) {
        text.remove_prefix(std::min(text.find_first_not_of(between), text.size()));
        if (text.empty())
            return out;
        const std::string_view word = text.substr(0, text.find_first_of(between));
        text.remove_prefix(word.size());
        const auto offset = one_offset(word);
        const bool twice = offset && std::ranges::any_of(out, [&](const auto& o) { return o.first == offset->first; });
        if (!offset || twice)
            return failure("tray.offset_text",
                           twice ? fmt::format("Nest {} is named twice.", offset->first)
                                 : fmt::format("\"{}\" is no offset of a nest.", shortened(word, 40)),
                           "Write NEST=X,Y in mm: 7=0.1,-0.05.");
        out.push_back(*offset);
    }
}

std::string offsets_text(const NestOffsets& offsets) {
    std::string out;
    for (const auto& [nest, by] : offsets)
        out += fmt::format("{}{}={},{}", out.empty() ? "" : " ", nest, format_number(by.x, digits),
                           format_number(by.y, digits));
    return out;
}

} // namespace finch
