// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/stock.h"
#include "proof/sheet.h"
#include "proof/tool_step.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace finch {

inline constexpr std::array scrap_faces{"A", "B"};
inline constexpr double scrap_least_mm = 5, scrap_most_mm = 2000; ///< sides of a piece
inline constexpr std::size_t scrap_most_marks = 200;

/// What a face of a piece carries already: millimetres from its upper left corner as it is laid.
struct ScrapMark {
    std::size_t face = 0; ///< of scrap_faces
    RectMm where;
    std::string what;    ///< for people
    int sheet = 0;       ///< number of the sheet; 0: something else
    bool turned = false; ///< how that sheet lies
    bool operator==(const ScrapMark&) const = default;
};

/// A reject or offcut that is kept as test metal. Of another shape: the largest rectangle in it.
struct ScrapPiece {
    std::string name; ///< "S3": it is written on it
    Stock stock;
    double width_mm = 0, height_mm = 0;
    std::string note;
    std::vector<ScrapMark> marks;
    bool operator==(const ScrapPiece&) const = default;
};

/// Where a sheet lies on a piece: its upper left corner from the piece's.
struct ScrapPlace {
    std::string piece;
    std::size_t face = 0;
    double x_mm = 0, y_mm = 0;
    bool turned = false; ///< a quarter, so that the sheet's top lies along the piece's left edge
    bool operator==(const ScrapPlace&) const = default;
};

/// Whether a piece tells the same as this stock: of the same metal, finish, thickness, coat and lot.
[[nodiscard]] bool same_scrap(const Stock& piece, const Stock& wanted);

/// Free area of a face in mm2, without the rim and what lies too close to a mark.
[[nodiscard]] double scrap_free_mm2(const ScrapPiece& piece, std::size_t face);
/// The largest bare rectangle of a face; of no width where there is none.
[[nodiscard]] RectMm scrap_largest_free(const ScrapPiece& piece, std::size_t face);

/// What a sheet of this size covers at a place.
[[nodiscard]] RectMm scrap_covers(const ScrapPlace& place, double width_mm, double height_mm);
/// Whether it lies within the piece and on no mark, with the distances that are kept.
[[nodiscard]] bool scrap_bare(const ScrapPiece& piece, std::size_t face, const RectMm& where);

/// The place nearest to a corner of either face where a rectangle of this size lies bare; none: it has no room. Brushed
/// metal is not turned: a photograph would see its grain the other way.
[[nodiscard]] std::optional<ScrapPlace> scrap_place(const ScrapPiece& piece, double width_mm, double height_mm);

struct ScrapFit {
    ScrapPlace place;
    ProofSheet sheet; ///< as it lies there: a frame takes the number of columns that fits
};
/// The place of a sheet in a bin: on pieces of its own stock, in the shape that takes least metal, and of equals on the
/// piece with the least bare metal left, so that the large ones stay large. None: nothing fits, or its plate is begun.
[[nodiscard]] std::optional<ScrapFit> fit_in_bin(const ProofSheet& sheet, std::span<const ScrapPiece> bin,
                                                 const Stock& stock);

/// "S3, face A: 12 mm from the left, 3.5 mm from the top, turned by a quarter".
[[nodiscard]] std::string scrap_words(const ScrapPlace& place);

} // namespace finch
