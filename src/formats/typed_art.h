// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "piece/place_rules.h"
#include "piece/typed_text.h"
#include "recipe/check.h"

namespace finch {

/// The colour of layers that are typed; told apart from those of a file by it.
inline constexpr const char* typed_colour = "#1d1d1e";

/// Outlines of words as they lie on the page, without a layer. What is to be known of the font goes to `findings`:
/// text.font (another one is taken), text.glyph (it lacks a character). Errors: text.no_fonts, text.blank (nothing to
/// be seen).
[[nodiscard]] Expected<ArtShape> text_shape(const TypedText& text, const std::string& words,
                                            std::vector<ArtFinding>& findings);

/// Whether words show nothing.
[[nodiscard]] bool is_blank(const std::string& words);

/// Adds what is typed to a drawing, as it is on this piece; each text is a layer. Findings: also text.off_page, and
/// text.blank where one that varies says nothing on this piece.
/// Errors: text.layer (the drawing has one that is called so), those of words_on() and text_shape().
[[nodiscard]] Expected<void> add_texts(Artwork& art, const TypedTexts& typed, int piece);

/// A page with nothing but its edge, which is a layer.
[[nodiscard]] Artwork blank_page(double width_mm, double height_mm);

/// A part whose texts differ from piece to piece, for every nest of a tray that has a piece.
struct NumberedPart {
    Job job;
    PlaceRules rules; ///< with as many nests filled as there are pieces
    std::vector<Finding> findings;
};
/// The layers of texts that vary become one for each wording, at the nests that have it. Nothing changes where none
/// varies, or where there is no tray: then the part is the first piece. Errors: those of add_texts() and pieces_on().
[[nodiscard]] Expected<NumberedPart> numbered(Job part, const TypedTexts& typed, const PlaceRules& rules);

} // namespace finch
