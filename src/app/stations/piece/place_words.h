// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/place_view.h"
#include "app/session/piece_reader.h"

/// What is shown of how a piece lies, from plain values.
namespace finch::app {

/// The picture of a laid piece.
[[nodiscard]] PlacePicture place_picture(const PlacedPiece& piece, const PlaceRules& rules);
/// What it takes, in a sentence or two.
[[nodiscard]] QString place_words(const PlacedPiece& piece, const PlaceRules& rules);
/// "mirrored, 24 in a tray"; nothing where it lies as it is drawn.
[[nodiscard]] QString holding_words(const PlaceRules& rules);

} // namespace finch::app
