// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/format.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace finch {

double with_digits(double v, int digits) {
    if (v == 0)
        return 0;
    const double scale = std::pow(10, digits - 1 - std::floor(std::log10(std::abs(v))));
    return std::round(v * scale) / scale;
}

int band_digits(double low, double high) {
    return high > 1.3 * low ? 2 : 3;
}

std::string format_number(double value, int digits) {
    if (!std::isfinite(value))
        return "?";
    if (value == 0)
        return "0";
    const int magnitude = static_cast<int>(std::floor(std::log10(std::abs(value)))) + 1;
    const double step = std::pow(10.0, magnitude - digits);
    const double rounded = std::round(value / step) * step;
    std::string text = fmt::format("{:.{}f}", rounded, std::max(0, digits - magnitude));
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.')
            text.pop_back();
    }
    return text;
}

std::string format_for_screen(double value, int digits) {
    const std::string plain = format_number(value, digits);
    const std::size_t start = plain[0] == '-' ? 1 : 0;
    const std::size_t point = std::min(plain.find('.'), plain.size());
    std::string out = start == 1 ? "\u2212" : "";
    for (std::size_t i = start; i < plain.size(); ++i) {
        if (i > start && i < point && (point - i) % 3 == 0 && point - start > 4)
            out += "\u2009";
        out += plain[i];
    }
    return out;
}

std::string format_exact(double value) {
    char buffer[32];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
    return {buffer, end};
}

std::string format_duration(double seconds) {
    if (!std::isfinite(seconds))
        return "?";
    if (seconds < 10)
        return format_number(seconds, 2) + " s";
    const long total = std::lround(seconds);
    if (total < 100)
        return fmt::format("{} s", total);
    if (total < 3600)
        return fmt::format("{} min {:02}", total / 60, total % 60);
    const long minutes = std::lround(seconds / 60);
    return fmt::format("{} h {:02}", minutes / 60, minutes % 60);
}

} // namespace finch
