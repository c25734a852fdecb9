// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <optional>
#include <string>

namespace finch {

/// What the reading of a sheet that asks one question says, or why it says nothing; nothing for a sheet that searches.
[[nodiscard]] std::optional<std::string> answer(const ProofSheet& sheet, const SheetReading& reading,
                                                const Scene& scene, const Target& target);

/// What the cells of a sheet are held against: the target, or what its own question asks of them.
[[nodiscard]] Target held_against(const ProofSheet& sheet, const SheetReading* reading, const Target& target);

} // namespace finch
