// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/facts.h"
#include "record/logbook.h"

#include <span>
#include <vector>

namespace finch {

/// All that a logbook holds about the scrap bin, newest first. Errors: those of Logbook; an entry that cannot be read
/// is passed over.
[[nodiscard]] Expected<std::vector<ScrapFact>> scrap_facts(const Logbook& logbook);

/// The bin from all that was said of its pieces, in whatever order it comes: pieces by name, marks as they came to be.
/// The first that was found under a name is it; what is gone is out, and nothing brings it back.
[[nodiscard]] std::vector<ScrapPiece> scrap_bin(std::span<const ScrapFact> facts);

} // namespace finch
