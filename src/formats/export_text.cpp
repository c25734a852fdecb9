// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/export_text.h"

#include "quantity/format.h"

#include <fmt/format.h>

namespace finch {

std::string escaped(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        // Nor have the two code points at the end of the plane that are no characters.
        if (text.compare(i, 3, "\xef\xbf\xbe") == 0 || text.compare(i, 3, "\xef\xbf\xbf") == 0) {
            i += 2;
            continue;
        }
        // Control characters have no place in XML, not even escaped.
        if (static_cast<unsigned char>(c) >= 0x20 || c == '\n' || c == '\t')
            out += c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '&' ? "&amp;" : c == '"' ? "&quot;" : std::string(1, c);
    }
    return out;
}

std::string recipe_words(const Recipe& recipe) {
    std::string out;
    for (const Knob knob : all_knobs) {
        const KnobTraits& t = traits(knob);
        out += fmt::format("{}{} {}{}{}", out.empty() ? "" : ", ", t.label, format_number(knob_value(recipe, knob), 5),
                           t.unit.empty() ? "" : " ", t.unit);
    }
    return out;
}

std::string marking_words(const JobLayer& l) {
    return recipe_words(*l.recipe) + (l.recipe->cross_hatch ? ", crossed" : "") + (l.one_way ? ", one way" : "") +
           (l.by_shape ? ", shape by shape" : "") +
           (l.contours > 0 ? fmt::format(", contours {}", l.contours) : std::string());
}

} // namespace finch
