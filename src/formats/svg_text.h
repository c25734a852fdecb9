// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFont>
#include <QPainterPath>
#include <QString>
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
/// The first of a list of families, as CSS writes it, that is installed or shipped; nothing where none is.
[[nodiscard]] QString installed_family(const std::string& families);
/// Outlines are asked for at this size and scaled: small ones would be hinted.
inline constexpr int outline_px = 256;
[[nodiscard]] QFont outline_font(const QString& family);
[[nodiscard]] TextOutlines text_outlines(const std::string& text, const TextLook& look);

} // namespace finch
