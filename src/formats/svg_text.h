// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPainterPath>
#include <string>

namespace finch {

struct TextLook {
    std::string family = "sans-serif"; ///< as in CSS: a list, the first that is installed counts
    double size = 16;                  ///< height of an em
    bool bold = false, italic = false;
    double spacing = 0; ///< between letters
};
/// Outlines of a line of text from its base line's beginning on, y down.
struct TextOutlines {
    QPainterPath path;
    double width = 0;
    std::string used;   ///< the font that was taken
    bool wanted = true; ///< whether it is one that was asked for
};
/// Whether fonts can be asked at all: a Qt application runs.
[[nodiscard]] bool has_fonts();
[[nodiscard]] TextOutlines text_outlines(const std::string& text, const TextLook& look);

} // namespace finch
