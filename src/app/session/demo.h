// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/draft.h"
#include "formats/data_folder.h"

namespace finch::app {

/// The opening state of the demo workshop: bench Wren, 316 stock for the sundial, a blue recipe and a first plan.
/// Errors: those of reading the data folder.
[[nodiscard]] Expected<Draft> demo_draft(const DataFolders& folders);

/// The state of a new workshop: the first bench of the data folder and plain stock, nothing confirmed.
[[nodiscard]] Expected<Draft> blank_draft(const DataFolders& folders);

} // namespace finch::app
