// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/number_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <regex>
#include <utility>

namespace finch {
namespace {

bool digit(char c) {
    return std::isdigit(static_cast<unsigned char>(c)) != 0;
}

double to_double(std::string text) {
    std::replace(text.begin(), text.end(), ',', '.');
    double value = std::nan("");
    const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), value);
    return fault == std::errc() && end == text.data() + text.size() ? value : std::nan("");
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
        const bool group = i > 0 && digit(text[i - 1]) && i + 3 < text.size() && digit(text[i + 1]) &&
                           digit(text[i + 2]) && digit(text[i + 3]) && (i + 4 == text.size() || !digit(text[i + 4]));
        if (!(separator && group))
            out += text[i];
    }
    return out;
}

std::vector<double> only(double value) {
    return std::isfinite(value) ? std::vector<double>{value} : std::vector<double>{};
}

/// Both signs present: the last one is the decimal sign and the other must group by three.
std::vector<double> both_signs(const std::string& text, double sign) {
    const bool comma_last = text.rfind(',') > text.rfind('.');
    static const std::regex point(R"(\d{1,3}(,\d{3})+\.\d*)");
    static const std::regex comma(R"(\d{1,3}(\.\d{3})+,\d*)");
    if (!std::regex_match(text, comma_last ? comma : point))
        return {};
    return only(sign * to_double(without(text, comma_last ? '.' : ',')));
}

std::vector<double> one_sign(const std::string& text, double sign, DecimalSign decimal) {
    static const std::regex number(R"((\d+[.,]\d*|[.,]\d+)([eE][+-]?\d+)?)");
    static const std::regex grouped(R"([1-9]\d{0,2}[.,]\d{3})");
    if (!std::regex_match(text, number))
        return {};
    const double as_decimal = sign * to_double(text);
    if (!std::regex_match(text, grouped))
        return only(as_decimal);
    const bool comma = text.find(',') != std::string::npos;
    const double as_thousands = sign * to_double(without(text, comma ? ',' : '.'));
    if (decimal == DecimalSign::automatic)
        return comma ? std::vector<double>{as_decimal, as_thousands} : only(as_decimal);
    return only((decimal == DecimalSign::comma) == comma ? as_decimal : as_thousands);
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
        while (at_ < text_.size() && (digit(text_[at_]) || text_[at_] == '.' || text_[at_] == ','))
            ++at_;
        return to_double(std::string(text_.substr(start, at_ - start)));
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
    static const std::regex fraction(R"((?:(\d+)\s+)?(\d+)\s*/\s*(\d+))");
    if (std::smatch m; std::regex_match(text, m, fraction))
        return only((m[1].matched ? to_double(m[1]) : 0.0) + to_double(m[2]) / to_double(m[3]));
    double sign = 1;
    if (!text.empty() && (text[0] == '+' || text[0] == '-')) {
        sign = text[0] == '-' ? -1 : 1;
        text.erase(0, 1);
        text.erase(0, text.find_first_not_of(' '));
    }
    static const std::regex whole(R"(\d+([eE][+-]?\d+)?)");
    if (std::regex_match(text, whole))
        return only(sign * to_double(text));
    const auto commas = std::count(text.begin(), text.end(), ',');
    const auto points = std::count(text.begin(), text.end(), '.');
    if (commas > 0 && points > 0)
        return both_signs(text, sign);
    if (commas + points > 1) {
        static const std::regex groups(R"(\d{1,3}(,\d{3})+|\d{1,3}(\.\d{3})+)");
        return std::regex_match(text, groups) ? only(sign * to_double(without(without(text, ','), '.')))
                                              : std::vector<double>{};
    }
    return one_sign(text, sign, decimal);
}

bool is_expression(std::string_view text) {
    if (text.find_first_of("*()") != std::string_view::npos)
        return true;
    static const std::regex fraction(R"(\s*[+-]?\s*(\d+\s+)?\d+\s*/\s*\d+\s*)");
    static const std::regex plain(R"(\s*[+-]?[^+\-/]*([eE][+-]?\d+)?\s*)");
    const std::string copy(text);
    return !std::regex_match(copy, fraction) && !std::regex_match(copy, plain);
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
