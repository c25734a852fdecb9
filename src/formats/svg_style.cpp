// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_style.h"

#include "formats/svg_path.h"
#include "quantity/scan.h"

#include <algorithm>
#include <cmath>
#include <QColor>

namespace finch {
namespace {

std::string lower(std::string_view s) {
    std::string out(s);
    for (char& c : out)
        if (c >= 'A' && c <= 'Z')
            c = static_cast<char>(c - 'A' + 'a');
    return out;
}

std::string without_comments(std::string_view css) {
    std::string out;
    for (std::size_t i = 0; i < css.size();) {
        if (css.substr(i, 2) == "/*") {
            const std::size_t end = css.find("*/", i + 2);
            i = end == std::string_view::npos ? css.size() : end + 2;
            out += ' ';
        } else
            out += css[i++];
    }
    return out;
}

bool name_letter(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '-' || c == '_' ||
           static_cast<unsigned char>(c) >= 0x80;
}

std::string_view take_name(std::string_view& s) {
    std::size_t n = 0;
    while (n < s.size() && name_letter(s[n]))
        ++n;
    const std::string_view out = s.substr(0, n);
    s.remove_prefix(n);
    return out;
}

std::string hex(double r, double g, double b) {
    const auto part = [](double v) { return static_cast<int>(std::lround(std::clamp(v, 0.0, 255.0))); };
    return QColor(part(r), part(g), part(b)).name().toStdString();
}

/// "#rgb", "#rgba", "#rrggbb" and "#rrggbbaa".
std::optional<std::string> hex_colour(std::string_view s) {
    s.remove_prefix(1);
    if ((s.size() != 3 && s.size() != 4 && s.size() != 6 && s.size() != 8) ||
        !std::ranges::all_of(s, [](unsigned char c) { return std::isxdigit(c) != 0; }))
        return std::nullopt;
    std::string wide;
    for (const char c : lower(s))
        wide.append(s.size() < 6 ? 2 : 1, c);
    if (wide.size() == 8 && wide.substr(6) == "00")
        return "none";
    return "#" + wide.substr(0, 6);
}

/// rgb(), rgba(), hsl() and hsla().
std::optional<std::string> colour_function(std::string_view s) {
    SvgScan scan(s);
    const std::string name = lower(scan.word());
    if (scan.take() != '(')
        return std::nullopt;
    std::vector<std::pair<double, bool>> v; // value, of a hundred
    for (scan.skip_separator(); scan.peek() != ')' && !scan.at_end(); scan.skip_separator()) {
        if (scan.peek() == '/') {
            scan.take();
            continue;
        }
        const auto n = scan.number();
        if (!n || v.size() == 4)
            return std::nullopt;
        const bool percent = scan.peek() == '%';
        if (percent)
            scan.take();
        else if (scan.word() == "rad")
            return std::nullopt;
        v.emplace_back(*n, percent);
    }
    if (v.size() < 3)
        return std::nullopt;
    if (v.size() == 4 && v[3].first <= 0)
        return "none";
    if (name == "rgb" || name == "rgba") {
        const auto part = [](std::pair<double, bool> p) { return p.second ? 2.55 * p.first : p.first; };
        return hex(part(v[0]), part(v[1]), part(v[2]));
    }
    if (name != "hsl" && name != "hsla")
        return std::nullopt;
    const double hue = v[0].first - 360 * std::floor(v[0].first / 360), sat = std::clamp(v[1].first / 100, 0.0, 1.0),
                 light = std::clamp(v[2].first / 100, 0.0, 1.0);
    const auto part = [&](double n) {
        const double k = std::fmod(n + hue / 30, 12), a = sat * std::min(light, 1 - light);
        return 255 * (light - a * std::max(-1.0, std::min({k - 3, 9 - k, 1.0})));
    };
    return hex(part(0), part(8), part(4));
}

constexpr std::string_view presentation[] = {"fill",
                                             "fill-rule",
                                             "fill-opacity",
                                             "stroke",
                                             "stroke-width",
                                             "stroke-linecap",
                                             "stroke-linejoin",
                                             "stroke-miterlimit",
                                             "stroke-dasharray",
                                             "stroke-dashoffset",
                                             "stroke-opacity",
                                             "display",
                                             "visibility",
                                             "opacity",
                                             "color",
                                             "font-family",
                                             "font-size",
                                             "font-weight",
                                             "font-style",
                                             "text-anchor",
                                             "clip-path",
                                             "clip-rule",
                                             "mask",
                                             "filter",
                                             "marker-start",
                                             "marker-mid",
                                             "marker-end",
                                             "letter-spacing",
                                             "vector-effect"};

} // namespace

void add_declarations(SvgDeclarations& to, std::string_view text) {
    SvgDeclarations important;
    while (!text.empty()) {
        // A semicolon inside of quotes or of url() does not end a declaration.
        std::size_t end = 0;
        char quote = '\0';
        int deep = 0;
        for (; end < text.size(); ++end) {
            const char c = text[end];
            if (quote != '\0')
                quote = c == quote ? '\0' : quote;
            else if (c == '"' || c == '\'')
                quote = c;
            else if (c == '(')
                ++deep;
            else if (c == ')')
                --deep;
            else if (c == ';' && deep <= 0)
                break;
        }
        const std::string_view one = text.substr(0, end);
        text.remove_prefix(std::min(text.size(), end + 1));
        const std::size_t colon = one.find(':');
        if (colon == std::string_view::npos)
            continue;
        const std::string name = lower(trimmed(one.substr(0, colon)));
        std::string_view value = trimmed(one.substr(colon + 1));
        const std::size_t mark = value.rfind('!');
        if (mark != std::string_view::npos && lower(trimmed(value.substr(mark + 1))) == "important")
            important[name] = std::string(trimmed(value.substr(0, mark)));
        else if (!name.empty())
            to[name] = std::string(value);
    }
    for (auto& [name, value] : important)
        to[name] = std::move(value);
}

std::optional<SvgRules::Rule> SvgRules::rule(std::string_view selector) {
    Rule out;
    std::string_view s = trimmed(selector);
    bool child = false;
    while (!s.empty()) {
        Simple one;
        one.child = child;
        if (s.front() == '*')
            s.remove_prefix(1);
        else {
            one.name = std::string(take_name(s));
            out.weight += one.name.empty() ? 0 : 1;
        }
        while (!s.empty() && (s.front() == '.' || s.front() == '#')) {
            const bool id = s.front() == '#';
            s.remove_prefix(1);
            const std::string name(take_name(s));
            if (name.empty())
                return std::nullopt;
            if (id)
                one.id = name;
            else
                one.classes.push_back(name);
            out.weight += id ? 10000 : 100;
        }
        out.chain.push_back(std::move(one));
        const std::string_view before = s;
        s = trimmed(s);
        child = !s.empty() && s.front() == '>';
        if (child)
            s = trimmed(s.substr(1));
        else if (!s.empty() && s.size() == before.size())
            return std::nullopt; // :hover, [attribute], a + b
    }
    if (out.chain.empty())
        return std::nullopt;
    return out;
}

void SvgRules::add(std::string_view css) {
    const std::string text = without_comments(css);
    std::string_view s = text;
    while (true) {
        s = trimmed(s);
        if (s.empty())
            return;
        const std::size_t open = s.find('{'), stop = s.find(';');
        if (s.front() == '@' && stop < open) { // @import, @charset
            unread.emplace_back(trimmed(s.substr(0, stop)));
            s.remove_prefix(stop + 1);
            continue;
        }
        if (open == std::string_view::npos) {
            unread.emplace_back(s.substr(0, 40));
            return;
        }
        std::size_t end = open + 1;
        for (int deep = 1; end < s.size() && deep > 0; ++end)
            deep += s[end] == '{' ? 1 : s[end] == '}' ? -1 : 0;
        const std::string_view head = trimmed(s.substr(0, open));
        const std::string_view body = s.substr(open + 1, end - open - (end > open + 1 && s[end - 1] == '}' ? 2 : 1));
        if (head.starts_with("@"))
            unread.emplace_back(head.substr(0, 40));
        else
            for (std::string_view rest = head; !rest.empty();) {
                const std::size_t comma = rest.find(',');
                if (auto one = rule(rest.substr(0, comma))) {
                    one->body = std::string(body);
                    rules_.push_back(std::move(*one));
                } else
                    unread.emplace_back(trimmed(rest.substr(0, std::min<std::size_t>(comma, 40))));
                rest = comma == std::string_view::npos ? std::string_view{} : rest.substr(comma + 1);
            }
        s.remove_prefix(end);
    }
}

bool SvgRules::fits(const Simple& simple, const SvgElement& element) {
    if ((!simple.name.empty() && simple.name != element.name) || (!simple.id.empty() && simple.id != element.get("id")))
        return false;
    return std::ranges::all_of(simple.classes, [&](const std::string& wanted) {
        std::string_view s = element.get("class");
        while (!(s = trimmed(s)).empty()) {
            std::size_t n = 0;
            while (n < s.size() && static_cast<unsigned char>(s[n]) > ' ')
                ++n;
            if (s.substr(0, n) == wanted)
                return true;
            s.remove_prefix(n);
        }
        return false;
    });
}

bool SvgRules::fits(const Rule& rule, std::size_t link, const SvgElement& element,
                    const std::vector<const SvgElement*>& within, std::size_t depth) {
    if (!fits(rule.chain[link], element))
        return false;
    if (link == 0)
        return true;
    for (std::size_t up = depth; up-- > 0;) {
        if (fits(rule, link - 1, *within[up], within, up))
            return true;
        if (rule.chain[link].child)
            return false;
    }
    return false;
}

SvgDeclarations SvgRules::of(const SvgElement& element, const std::vector<const SvgElement*>& within) const {
    SvgDeclarations out;
    for (const std::string_view name : presentation)
        if (const auto it = element.attributes.find(std::string(name)); it != element.attributes.end())
            out[it->first] = std::string(trimmed(it->second));
    std::vector<const Rule*> fitting;
    for (const Rule& r : rules_)
        if (fits(r, r.chain.size() - 1, element, within, within.size()))
            fitting.push_back(&r);
    std::ranges::stable_sort(fitting, {}, &Rule::weight);
    for (const Rule* r : fitting)
        add_declarations(out, r->body);
    add_declarations(out, element.get("style"));
    return out;
}

std::optional<SvgPaint> svg_paint(std::string_view text, const std::string& current) {
    const std::string_view s = trimmed(text);
    const std::string name = lower(s);
    if (name == "none" || name == "transparent")
        return SvgPaint{};
    if (name == "currentcolor")
        return SvgPaint{current, {}};
    if (name.starts_with("url(")) {
        const std::size_t hash = s.find('#'), end = s.find_first_of(")\"'", hash == std::string_view::npos ? 0 : hash);
        if (hash == std::string_view::npos || end == std::string_view::npos)
            return std::nullopt;
        return SvgPaint{"#000000", std::string(s.substr(hash + 1, end - hash - 1))};
    }
    std::optional<std::string> colour;
    if (s.starts_with("#"))
        colour = hex_colour(s);
    else if (s.find('(') != std::string_view::npos)
        colour = colour_function(s);
    else if (QColor::isValidColor(QString::fromStdString(name)))
        colour = QColor(QString::fromStdString(name)).name().toStdString();
    if (!colour)
        return std::nullopt;
    return SvgPaint{*colour, {}};
}

std::optional<double> svg_length(std::string_view text, double percent_of, double font_size) {
    SvgScan scan(text);
    scan.skip_space();
    const auto n = scan.number();
    if (!n)
        return std::nullopt;
    const std::string unit = lower(trimmed(scan.rest()));
    if (unit == "%")
        return *n * percent_of / 100;
    struct Unit {
        std::string_view name;
        double px;
    };
    constexpr double inch = 96;
    for (const Unit& u : {Unit{"", 1},
                          {"px", 1},
                          {"mm", inch / 25.4},
                          {"cm", inch / 2.54},
                          {"in", inch},
                          {"pt", inch / 72},
                          {"pc", inch / 6},
                          {"q", inch / 101.6}})
        if (unit == u.name)
            return *n * u.px;
    if (unit == "em" || unit == "rem")
        return *n * font_size;
    if (unit == "ex" || unit == "ch")
        return *n * font_size / 2;
    return std::nullopt;
}

} // namespace finch
