// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/data_folder.h"
#include "record/logbook.h"

namespace finch::history {

/// Writes nine days of the demo workshop into an empty logbook: focus, sheets, readings, recipes and failures, made by
/// the honest stand-in from a fixed seed, with the troubles that a workshop runs into. The same bytes of every document
/// on every run. Errors: those of what is used.
[[nodiscard]] Expected<void> write_nine_days(Logbook& logbook, const DataFolders& folders);

/// One line an entry, oldest first: what a person would be told of these days.
[[nodiscard]] Expected<std::string> told(const Logbook& logbook);

} // namespace finch::history
