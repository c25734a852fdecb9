// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "app/session/relief_reader.h"
#include "piece/piece_cost.h"

namespace finch::app {

/// What the piece at hand costs to make, with all that this refers to.
struct CostedPiece {
    Job part;            ///< of a relief only its set-up: its layers are no film
    double mark_s = 0;   ///< of one part, with the turning of a rotary
    double handle_s = 0; ///< to load and unload it, to move it from tile to tile, and to buff a relief
    PieceCost cost;      ///< refers to the materials, and to `part`
};
/// Errors: those of PieceReader::part() and piece_cost(); piece.being_read while it is worked out, place.* where it
/// cannot lie as it was laid.
[[nodiscard]] Expected<std::shared_ptr<const CostedPiece>>
costed_piece(const Workbench& workbench, const PieceReader& drawing, const PriceRules& price);
[[nodiscard]] Expected<std::shared_ptr<const CostedPiece>>
costed_relief(const Workbench& workbench, const ReliefReader& relief, const PriceRules& price);

} // namespace finch::app
