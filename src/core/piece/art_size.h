// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/artwork.h"
#include "quantity/error.h"

#include <nlohmann/json_fwd.hpp>
#include <string_view>

namespace finch {

class JsonFields;

/// What says how large a drawing becomes; its proportions stay.
enum class SizeBy {
    as_drawn,
    factor,
    width,  ///< of all that is drawn
    height, ///< of all that is drawn
    stock   ///< as large as fits a piece of stock with a margin, in its middle; the page becomes that piece
};
inline constexpr double least_size_factor = 0.01, most_size_factor = 100;

struct ArtSize {
    SizeBy by = SizeBy::as_drawn;
    double value = 1; ///< the factor, or mm of the width or height
    double stock_w_mm = 50, stock_h_mm = 50, margin_mm = 3;
    bool operator==(const ArtSize&) const = default;
};
/// With the numbers alone that its kind looks at.
[[nodiscard]] ArtSize plain(const ArtSize& size);

/// A drawing as its file has it: the page, and the box of all that is drawn.
struct ArtExtent {
    double page_w_mm = 0, page_h_mm = 0;
    RectMm drawn;
};
/// Nothing where nothing is drawn.
[[nodiscard]] std::optional<ArtExtent> extent_of(const Artwork& art);

/// Where the places of a drawing come to lie: times the factor, then shifted.
struct ArtSizing {
    double factor = 1;
    PointMm shift;
    double page_w_mm = 0, page_h_mm = 0;
};
/// Errors: size.nothing (no width or height is drawn that could be asked for), size.factor (outside of 0.01 to 100),
/// size.margin (leaves no room), size.too_far (beyond farthest_mm).
[[nodiscard]] Expected<ArtSizing> sizing_of(const ArtExtent& extent, const ArtSize& size);
/// Strokes become as much wider as the rest.
[[nodiscard]] Artwork sized(Artwork art, const ArtSizing& sizing);
/// Where a place of the drawing at one size lies at another.
[[nodiscard]] PointMm resized(PointMm place, const ArtSizing& from, const ArtSizing& to);

[[nodiscard]] nlohmann::json to_json(const ArtSize& size);
/// Faults go to the fields' list.
[[nodiscard]] ArtSize read_art_size(JsonFields& fields);

} // namespace finch
