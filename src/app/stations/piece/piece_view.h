// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/drawing_view.h"
#include "app/instruments/parts_bar.h"
#include "app/session/piece_reader.h"

/// What the Piece station shows, from plain values.
namespace finch::app {

/// How a layer of a drawing is drawn, in mm, y up.
struct LayerPath {
    QPainterPath area;
    QPainterPath middle; ///< lines of its strokes, where it has nothing else: so a guide is drawn
};
[[nodiscard]] std::vector<LayerPath> layer_paths(const ReadPiece& piece);

struct LayerRowView {
    QString name, recipe, area, time;
    int texture = 0;
    bool guide = false, settled = false, chosen = false;
};
struct FindingRowView {
    State state = State::unknown;
    QString text;
    bool placed = false, chosen = false;
};

/// `paths` of the drawing's layers by their index; `finding` of the drawing.
[[nodiscard]] DrawingPicture drawing_picture(const PieceReader& reader, const Bench& bench,
                                             const std::vector<LayerPath>& paths, std::optional<std::size_t> layer,
                                             std::optional<std::size_t> finding);
[[nodiscard]] std::vector<LayerRowView> layer_rows(const PieceReader& reader, std::optional<std::size_t> layer);
[[nodiscard]] std::vector<FindingRowView> finding_rows(const std::vector<ArtFinding>& findings,
                                                       std::optional<std::size_t> finding);
/// At a finding, else in the middle of the chosen layer.
[[nodiscard]] std::optional<LensPicture> lens_picture(const PieceReader& reader, const Bench& bench,
                                                      const std::vector<LayerPath>& paths,
                                                      std::optional<std::size_t> layer,
                                                      std::optional<std::size_t> finding);
/// How the time is shared among the layers.
[[nodiscard]] std::vector<PartsBar::Part> layer_parts(const std::vector<PieceLayer>& layers);
/// "12 min 40 (11 min 58 to 13 min 20) for 2 of 4 layers; hour accents takes 80 % of it, most of that turning." and
/// what that rests on.
[[nodiscard]] QString time_words(const PieceReader& reader);
/// What these timed runs say of a scanner, which of them does not fit, and what the piece at hand takes with them.
[[nodiscard]] QString scanner_words(const Scanner& scanner, const PieceReader& reader);

} // namespace finch::app
