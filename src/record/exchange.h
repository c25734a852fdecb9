// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/logbook.h"

#include <functional>

class QIODevice;

namespace finch {

/// Asked after each entry with how many are done and how many there are; false stops the work.
using Going = std::function<bool(std::size_t done, std::size_t all)>;

/// Writes the matching entries whole into a new folder: entries.jsonl, one entry a line, oldest first, and the pictures
/// as files beside it. At any size, one entry in memory at a time. The folder appears when it is complete.
/// Errors: file.exists, file.not_written, work.cancelled, record.*. Returns how many were written.
[[nodiscard]] Expected<std::size_t> export_folder(const Logbook& logbook, const EntryFilter& filter,
                                                  const QString& folder, const Going& going = {});

/// Adds the entries of an exported folder, or of a finch-logbook document of any version, that are not there yet: all
/// of them or none. Errors: document.*, file.*, work.cancelled, record.*. Returns how many were added.
[[nodiscard]] Expected<int> import_entries(Logbook& logbook, const QString& path, const Going& going = {});

/// The matching entries as one finch-logbook document, without pictures; for few.
[[nodiscard]] Expected<nlohmann::json> entries_document(const Logbook& logbook, const EntryFilter& filter);

/// One line per read cell with all knobs, the colour and the lot; sheets without a reading give no line. No cell of it
/// is a formula to a spreadsheet. Errors: file.not_written, work.cancelled, record.*. Returns the number of readings.
[[nodiscard]] Expected<std::size_t> export_cells_csv(const Logbook& logbook, const EntryFilter& filter, QIODevice& out,
                                                     const Going& going = {});

} // namespace finch
