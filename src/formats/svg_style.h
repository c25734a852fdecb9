// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// An element of a drawing, as far as rules and references ask for it.
struct SvgElement {
    std::string name;     ///< without its prefix
    bool foreign = false; ///< of another vocabulary than SVG
    int line = 0;
    std::map<std::string, std::string> attributes; ///< without prefixes
    std::vector<SvgElement> children;
    std::string text; ///< its own, or of a text node, whose name is empty

    [[nodiscard]] std::string_view get(const std::string& attribute) const {
        const auto it = attributes.find(attribute);
        return it == attributes.end() ? std::string_view{} : std::string_view(it->second);
    }
    [[nodiscard]] bool has(const std::string& attribute) const { return attributes.contains(attribute); }
};

using SvgDeclarations = std::map<std::string, std::string>;
/// "fill: red; stroke: none". Later ones win, and important ones over all.
void add_declarations(SvgDeclarations& to, std::string_view text);

/// The rules of a drawing's style elements: by kind, class, id, and what they lie in.
class SvgRules {
public:
    /// Adds the rules of a style element. Those that are not understood are put into `unread`.
    void add(std::string_view css);
    /// What applies to an element: its own attributes, then rules by weight, then its style. `within` are the elements
    /// that it lies in, outermost first.
    [[nodiscard]] SvgDeclarations of(const SvgElement& element, const std::vector<const SvgElement*>& within) const;

    std::vector<std::string> unread;

private:
    struct Simple {
        std::string name, id;
        std::vector<std::string> classes;
        bool child = false; ///< lies directly in the one before
    };
    struct Rule {
        std::vector<Simple> chain; ///< outermost first
        int weight = 0;
        std::string body;
    };
    static bool fits(const Simple& simple, const SvgElement& element);
    static bool fits(const Rule& rule, std::size_t link, const SvgElement& element,
                     const std::vector<const SvgElement*>& within, std::size_t depth);
    static std::optional<Rule> rule(std::string_view selector);
    std::vector<Rule> rules_;
};

/// A paint as "#rrggbb"; what cannot be seen is "none". Nothing where it is not understood. `current`: of currentColor.
struct SvgPaint {
    std::string colour = "none";
    std::string server; ///< id of a gradient or pattern
};
[[nodiscard]] std::optional<SvgPaint> svg_paint(std::string_view text, const std::string& current);

/// A length in user units of 1/96 inch. `percent_of`: what 100 % are; `font_size`: of em and ex.
[[nodiscard]] std::optional<double> svg_length(std::string_view text, double percent_of, double font_size = 16);

} // namespace finch
