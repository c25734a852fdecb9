// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"

namespace finch::app {

/// Puts what is said of the scrap bin into the record.
class ScrapKeeper final : public QObject {
    Q_OBJECT
public:
    ScrapKeeper(Workbench& workbench, Recorder& recorder, QObject* parent = nullptr);
};

/// The bin with the places that planned sheets are to take, so that no two get the same; `except`: a sheet that is to
/// be laid anew.
[[nodiscard]] std::vector<ScrapPiece> bin_with_plans(const Draft& draft, const Ledger& ledger, int except = 0);

/// A piece of what lies on the bench goes into the bin, under the next name, which is given back.
std::string put_in_bin(Workbench& workbench, double width_mm, double height_mm, const std::string& note);
/// A part of a piece carries something. Errors: scrap.no_piece, scrap.outside.
[[nodiscard]] Expected<void> mark_used(Workbench& workbench, const std::string& piece, ScrapMark mark);
/// It is thrown away. Errors: scrap.no_piece.
[[nodiscard]] Expected<void> take_out_of_bin(Workbench& workbench, const std::string& piece);

/// Lays a planned sheet on a piece of the bin; the stock on the bench becomes the piece's. A choice: undo takes it
/// back. Errors: scrap.no_sheet when none is shown that is planned and not burned, or it continues a frame;
/// scrap.no_piece; scrap.no_room.
[[nodiscard]] Expected<void> lay_on_scrap(Workbench& workbench, const std::string& piece);
/// Burns it on fresh stock instead. Errors: scrap.no_sheet.
[[nodiscard]] Expected<void> lay_on_fresh(Workbench& workbench);

/// Why a sheet cannot be burned where it is to lie; nothing: it can.
[[nodiscard]] std::optional<QString> scrap_obstacle(const Round& round, const Ledger& ledger);

} // namespace finch::app
