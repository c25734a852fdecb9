// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "proof/reading.h"

#include <vector>

namespace finch {

/// A read sheet as observations: one for each cell whose colour was read or whose depth was measured. `setup` is that
/// of the moment of burning, `source` the stable id of the reading.
[[nodiscard]] std::vector<Observation> observed(const ProofSheet& sheet, const SheetReading& reading,
                                                const std::shared_ptr<const Setup>& setup, const std::string& when_utc,
                                                const std::string& source);

} // namespace finch
