// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"
#include "quantity/plane.h"

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

class JsonFields;

/// Which end of a text is where it was put.
enum class TextEnd { first, middle, last };

/// Words that are typed onto a drawing; a layer of its own. `{n}` stands for the number of the piece, `{column}` for
/// its cell in a table, and `{{` for a brace.
struct TypedText {
    std::string name = "text"; ///< of its layer; no two are called alike
    std::string words;
    std::string font = "IBM Plex Sans";
    bool bold = false;
    double height_mm = 3; ///< of its capitals
    PointMm at;           ///< of that end of its base line; of a text on an arc, the middle of the circle
    TextEnd end = TextEnd::middle;
    double turn_deg = 0;   ///< to the left, about `at`; unturned, a text on an arc is upright at that end
    double radius_mm = 0;  ///< of an arc: the words stand on it, or hang in it where it is negative; 0 = straight
    bool mirrored = false; ///< left for right, about `at`
    bool operator==(const TypedText&) const = default;
};

/// A table with a row for each piece.
struct PieceTable {
    std::string file; ///< that it is from
    std::vector<std::string> columns;
    std::vector<std::vector<std::string>> rows;
    bool operator==(const PieceTable&) const = default;
};
/// As spreadsheets write it, the first line names the columns. Errors: rows.empty, rows.ragged (with the line),
/// rows.too_long, rows.column (one without a name, or two alike), rows.not_utf8.
[[nodiscard]] Expected<PieceTable> piece_table(std::string_view csv, const std::string& file);

/// How the pieces are told apart, and which of them lie on the tray.
struct Series {
    int first = 1, step = 1, digits = 4; ///< of the number: zeros before it fill up to so many digits
    std::vector<int> pieces;             ///< counted from 1, nest by nest; empty: from the first on
    std::shared_ptr<const PieceTable> table;
    [[nodiscard]] bool operator==(const Series& other) const;
};
/// What is typed on a drawing.
struct TypedTexts {
    std::vector<TypedText> texts;
    Series series;
    bool operator==(const TypedTexts&) const = default;
};
inline constexpr std::size_t most_texts = 50, most_words = 500, most_table_rows = 5000, most_table_bytes = 1'000'000;

/// Whether it says something else on every piece.
[[nodiscard]] bool varies(const TypedText& text);
/// What it says on a piece, counted from 1. Errors: text.field (names the columns that there are), text.row (the table
/// ends before), text.brace (one is not closed), text.number (beyond what is counted).
[[nodiscard]] Expected<std::string> words_on(const TypedText& text, const Series& series, int piece);
/// The pieces on a tray of so many nests; no more than the table has rows, where a text names a column. Without texts
/// that vary, those that were listed, or as many as there are nests. Errors: text.pieces (more are listed than nests).
[[nodiscard]] Expected<std::vector<int>> pieces_on(const TypedTexts& typed, int nests);
/// The series once this tray is done: as many pieces again, from the one after the last. Nothing where the table ends.
[[nodiscard]] std::vector<int> pieces_after(const TypedTexts& typed, int nests);

/// "25-48, 51" as it is typed; nothing typed is none. Errors: text.pieces.
[[nodiscard]] Expected<std::vector<int>> pieces_from_text(std::string_view text);
[[nodiscard]] std::string pieces_text(const std::vector<int>& pieces);

/// A `finch-texts` document.
[[nodiscard]] nlohmann::json to_json(const TypedTexts& typed);
[[nodiscard]] Expected<TypedTexts> texts_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch
