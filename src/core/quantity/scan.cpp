// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/scan.h"

#include <charconv>
#include <cmath>

namespace finch {

std::optional<double> plain_number(std::string_view text) {
    double value = 0;
    const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (fault != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

std::string_view trimmed(std::string_view text) {
    const auto unseen = [](char c) { return static_cast<unsigned char>(c) <= ' '; };
    while (!text.empty() && unseen(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && unseen(text.back()))
        text.remove_suffix(1);
    return text;
}

std::string shortened(std::string_view utf8, std::size_t most) {
    if (utf8.size() <= most)
        return std::string(utf8);
    // Bytes 10xxxxxx belong to the character before.
    while (most > 0 && (static_cast<unsigned char>(utf8[most]) & 0xc0U) == 0x80U)
        --most;
    return std::string(utf8.substr(0, most));
}

bool is_digit(char c) {
    return c >= '0' && c <= '9';
}

bool is_letter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}

bool is_blank(char c) {
    return c == ' ' || (c >= '\t' && c <= '\r');
}

bool Scan::any_of(std::string_view characters) {
    if (done() || characters.find(text_[at_]) == std::string_view::npos)
        return false;
    ++at_;
    return true;
}

bool Scan::exactly(std::string_view text) {
    if (!rest().starts_with(text))
        return false;
    at_ += text.size();
    return true;
}

std::size_t Scan::digits() {
    const std::size_t from = at_;
    while (!done() && is_digit(text_[at_]))
        ++at_;
    return at_ - from;
}

std::size_t Scan::blanks() {
    const std::size_t from = at_;
    while (!done() && is_blank(text_[at_]))
        ++at_;
    return at_ - from;
}

std::size_t Scan::letters() {
    const std::size_t from = at_;
    while (!done() && is_letter(text_[at_]))
        ++at_;
    return at_ - from;
}

std::size_t Scan::all_of(std::string_view characters) {
    const std::size_t from = at_;
    while (any_of(characters)) {
    }
    return at_ - from;
}

bool Scan::exponent() {
    Scan ahead = *this;
    if (!ahead.any_of("eE"))
        return false;
    ahead.any_of("+-");
    if (ahead.digits() == 0)
        return false;
    *this = ahead;
    return true;
}

} // namespace finch
