// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/colour_text.h"

#include "quantity/number_text.h"
#include "quantity/scan.h"

#include <array>
#include <charconv>
#include <cmath>

namespace finch {
namespace {

std::optional<Lab> from_hex(std::string_view digits) {
    unsigned value = 0;
    const auto [end, fault] = std::from_chars(digits.data(), digits.data() + digits.size(), value, 16);
    if (digits.size() != 6 || fault != std::errc() || end != digits.data() + digits.size())
        return std::nullopt;
    const auto part = [value](unsigned shift) { return srgb_decode(((value >> shift) & 0xffU) / 255.0); };
    return to_lab(from_linear_rgb({part(16), part(8), part(0)}));
}

std::optional<Lab> from_numbers(std::string_view text) {
    std::array<double, 3> v{};
    Scan scan(text);
    const auto between = [&scan] { return scan.all_of(" \t;,"); };
    between();
    for (double& part : v) {
        const std::size_t from = scan.at();
        scan.any_of("-");
        scan.all_of("0123456789.");
        const auto number = plain_number(scan.since(from));
        if (!number)
            return std::nullopt;
        part = *number;
        between();
    }
    if (!scan.done() || v[0] < 0 || v[0] > 100 || std::abs(v[1]) > 128 || std::abs(v[2]) > 128)
        return std::nullopt;
    return Lab{v[0], v[1], v[2]};
}

} // namespace

Expected<Lab> lab_from_text(std::string_view typed) {
    const std::string text = plain_ascii(shortened(typed, 100));
    const std::size_t first = std::min(text.find_first_not_of(' '), text.size());
    const std::string_view trimmed = std::string_view(text).substr(first, text.find_last_not_of(' ') + 1 - first);
    const auto lab = trimmed.starts_with('#') ? from_hex(trimmed.substr(1)) : from_numbers(trimmed);
    if (lab)
        return *lab;
    return failure("target.not_a_colour", "\"" + shortened(typed, 40) + "\" is no colour.",
                   "Type L* a* b* such as 35 3 -33, or a value such as #1F5A96.");
}

} // namespace finch
