// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/number_text.h"

#include "quantity/scan.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace finch {
namespace {

double to_double(std::string_view typed) {
    std::string text(typed);
    std::replace(text.begin(), text.end(), ',', '.');
    return plain_number(text).value_or(std::nan(""));
}

std::string without(std::string text, char c) {
    std::erase(text, c);
    return text;
}

/// Drops a blank or apostrophe that stands between a digit and a group of exactly three digits.
std::string join_groups(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool separator = text[i] == ' ' || text[i] == '\'';
        const bool group = i > 0 && is_digit(text[i - 1]) && i + 3 < text.size() && is_digit(text[i + 1]) &&
                           is_digit(text[i + 2]) && is_digit(text[i + 3]) &&
                           (i + 4 == text.size() || !is_digit(text[i + 4]));
        if (!(separator && group))
            out += text[i];
    }
    return out;
}

std::vector<double> only(double value) {
    return std::isfinite(value) ? std::vector<double>{value} : std::vector<double>{};
}

/// Steps over 1,234,567: one to three digits, then groups of three behind a sign. Says how many groups.
std::size_t grouped(Scan& scan, char sign) {
    const std::size_t first = scan.digits();
    if (first < 1 || first > 3)
        return 0;
    std::size_t groups = 0;
    while (scan.any_of(std::string_view(&sign, 1))) {
        if (scan.digits() != 3)
            return 0;
        ++groups;
    }
    return groups;
}

/// Both signs present: the last one is the decimal sign and the other must group by three.
std::vector<double> both_signs(const std::string& text, double sign) {
    const bool comma_last = text.rfind(',') > text.rfind('.');
    Scan scan(text);
    if (grouped(scan, comma_last ? '.' : ',') == 0 || !scan.any_of(comma_last ? "," : "."))
        return {};
    scan.digits();
    if (!scan.done())
        return {};
    return only(sign * to_double(without(text, comma_last ? '.' : ',')));
}

/// Digits with one decimal sign somewhere, and perhaps an exponent.
bool is_decimal(std::string_view text) {
    Scan scan(text);
    const std::size_t before = scan.digits();
    if (!scan.any_of(".,"))
        return false;
    if (scan.digits() + before == 0)
        return false;
    scan.exponent();
    return scan.done();
}

bool may_be_thousands(std::string_view text) {
    Scan scan(text);
    if (text.empty() || text[0] == '0')
        return false;
    const std::size_t before = scan.digits();
    return before >= 1 && before <= 3 && scan.any_of(".,") && scan.digits() == 3 && scan.done();
}

std::vector<double> one_sign(const std::string& text, double sign, DecimalSign decimal) {
    if (!is_decimal(text))
        return {};
    const double as_decimal = sign * to_double(text);
    if (!may_be_thousands(text))
        return only(as_decimal);
    const bool comma = text.find(',') != std::string::npos;
    const double as_thousands = sign * to_double(without(text, comma ? ',' : '.'));
    if (decimal == DecimalSign::automatic)
        return comma ? std::vector<double>{as_decimal, as_thousands} : only(as_decimal);
    return only((decimal == DecimalSign::comma) == comma ? as_decimal : as_thousands);
}

/// "3/4" or "1 1/2"; nothing if it is neither.
std::optional<double> fraction(std::string_view text) {
    Scan scan(text);
    const auto number = [&] {
        const std::size_t from = scan.at();
        return scan.digits() > 0 ? std::optional(to_double(scan.since(from))) : std::nullopt;
    };
    auto whole = std::optional(0.0);
    auto top = number();
    if (!top)
        return std::nullopt;
    if (scan.blanks() > 0 && is_digit(scan.peek())) {
        whole = top;
        top = number();
        scan.blanks();
    }
    if (!scan.any_of("/"))
        return std::nullopt;
    scan.blanks();
    const auto bottom = number();
    return bottom && scan.done() ? std::optional(*whole + *top / *bottom) : std::nullopt;
}

/// Recursive descent over + - * / ( ).
class Calculator {
public:
    explicit Calculator(std::string_view text) : text_(text) {}

    double value() {
        const double v = sum();
        skip();
        return at_ == text_.size() ? v : std::nan("");
    }

private:
    double sum() {
        double v = product();
        for (char c = peek(); c == '+' || c == '-'; c = peek()) {
            ++at_;
            const double right = product();
            v = c == '+' ? v + right : v - right;
        }
        return v;
    }
    double product() {
        double v = factor();
        for (char c = peek(); c == '*' || c == '/'; c = peek()) {
            ++at_;
            const double right = factor();
            v = c == '*' ? v * right : v / right;
        }
        return v;
    }
    double factor() {
        const char c = peek();
        if ((c == '-' || c == '+') && ++depth_ < 64) {
            ++at_;
            return c == '-' ? -factor() : factor();
        }
        if (c != '(')
            return number();
        ++at_;
        const double v = ++depth_ < 64 ? sum() : std::nan("");
        return peek() == ')' ? (++at_, v) : std::nan("");
    }
    double number() {
        const std::size_t start = at_;
        while (at_ < text_.size() && (is_digit(text_[at_]) || text_[at_] == '.' || text_[at_] == ','))
            ++at_;
        return to_double(text_.substr(start, at_ - start));
    }
    void skip() {
        while (at_ < text_.size() && text_[at_] == ' ')
            ++at_;
    }
    char peek() {
        skip();
        return at_ < text_.size() ? text_[at_] : '\0';
    }

    std::string_view text_;
    std::size_t at_ = 0;
    int depth_ = 0;
};

} // namespace

std::string plain_ascii(std::string_view utf8) {
    static constexpr std::array<std::pair<std::string_view, std::string_view>, 17> table{{
        {"\u00b5", "u"},
        {"\u03bc", "u"},
        {"\u00a0", " "},
        {"\u202f", " "},
        {"\u2009", " "},
        {"\u2212", "-"},
        {"\u2013", "-"},
        {"\u2033", "\""},
        {"\u201d", "\""},
        {"\u00b2", "2"},
        {"\u00b0", "deg"},
        {"\u00d7", "*"},
        {"\u00f7", "/"},
        {"\u2019", "'"},
        {"\u00bd", " 1/2"},
        {"\u00bc", " 1/4"},
        {"\t", " "},
    }};
    std::string out;
    for (std::size_t i = 0; i < utf8.size();) {
        const auto* const hit = std::find_if(table.begin(), table.end(), [&](const auto& entry) {
            return utf8.substr(i, entry.first.size()) == entry.first;
        });
        out += hit != table.end() ? std::string(hit->second) : std::string(1, utf8[i]);
        i += hit != table.end() ? hit->first.size() : 1;
    }
    return out;
}

std::vector<double> number_readings(std::string text, DecimalSign decimal) {
    text = join_groups(text);
    if (const auto value = fraction(text))
        return only(*value);
    double sign = 1;
    if (!text.empty() && (text[0] == '+' || text[0] == '-')) {
        sign = text[0] == '-' ? -1 : 1;
        text.erase(0, 1);
        text.erase(0, text.find_first_not_of(' '));
    }
    Scan whole(text);
    if (whole.digits() > 0 && (whole.exponent(), whole.done()))
        return only(sign * to_double(text));
    const auto commas = std::count(text.begin(), text.end(), ',');
    const auto points = std::count(text.begin(), text.end(), '.');
    if (commas > 0 && points > 0)
        return both_signs(text, sign);
    if (commas + points > 1) {
        Scan groups(text);
        const bool good = grouped(groups, commas > 0 ? ',' : '.') > 0 && groups.done();
        return good ? only(sign * to_double(without(without(text, ','), '.'))) : std::vector<double>{};
    }
    return one_sign(text, sign, decimal);
}

bool is_expression(std::string_view text) {
    if (text.find_first_of("*()") != std::string_view::npos)
        return true;
    Scan scan(text);
    scan.blanks();
    scan.any_of("+-");
    scan.blanks();
    std::string_view number = scan.rest();
    while (!number.empty() && is_blank(number.back()))
        number.remove_suffix(1);
    if (fraction(number))
        return false;
    // A plain number holds no sign but that of its exponent.
    const std::size_t sign = number.find_first_of("+-/");
    if (sign == std::string_view::npos)
        return false;
    Scan exponent(number, sign > 0 ? sign - 1 : sign);
    return !(exponent.exponent() && exponent.done());
}

Expected<double> evaluate(std::string_view text) {
    const double v = Calculator(text).value();
    if (!std::isfinite(v))
        return failure("quantity.not_a_number",
                       "\"" + std::string(text) + "\" is not arithmetic this field can work out.",
                       "Use numbers with + - * / and brackets.");
    return v;
}

} // namespace finch
