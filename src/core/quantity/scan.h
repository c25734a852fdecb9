// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace finch {

/// A decimal number with a point, whatever the locale; nothing if any of the text is left over or it is not finite.
[[nodiscard]] std::optional<double> plain_number(std::string_view text);

/// At most `most` bytes of UTF-8 without cutting a character in two.
[[nodiscard]] std::string shortened(std::string_view utf8, std::size_t most);

/// Without what cannot be seen at either end.
[[nodiscard]] std::string_view trimmed(std::string_view text);

[[nodiscard]] bool is_digit(char c);
[[nodiscard]] bool is_letter(char c);
[[nodiscard]] bool is_blank(char c);

/// Reads a text from left to right, each character once: what people type and paste may be of any length.
class Scan {
public:
    explicit Scan(std::string_view text, std::size_t at = 0) : text_(text), at_(at) {}

    [[nodiscard]] bool done() const { return at_ >= text_.size(); }
    [[nodiscard]] char peek() const { return done() ? '\0' : text_[at_]; }
    [[nodiscard]] std::size_t at() const { return at_; }
    [[nodiscard]] std::string_view rest() const { return text_.substr(at_); }
    /// Everything read since a place.
    [[nodiscard]] std::string_view since(std::size_t from) const { return text_.substr(from, at_ - from); }
    char take() { return text_[at_++]; }
    /// Steps over one of these characters, if it is the next.
    bool any_of(std::string_view characters);
    /// Steps over this very text, if it comes next.
    bool exactly(std::string_view text);
    /// Each steps over as many as there are, and says how many.
    std::size_t digits();
    std::size_t blanks();
    std::size_t letters();
    std::size_t all_of(std::string_view characters);
    /// An exponent such as e-3, if a whole one comes next.
    bool exponent();

private:
    std::string_view text_;
    std::size_t at_;
};

} // namespace finch
