// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"
#include "recipe/plan.h"

namespace finch {

/// The first sheet for a planned recipe: the two knobs that decide for its process and school, in ranges round it.
[[nodiscard]] SheetRequest first_sheet(const Recipe& recipe, School school, const Bench& bench);

/// What a sheet of this recipe is judged by when it is photographed: the wished colour or darkness, else the look that
/// is predicted.
[[nodiscard]] Target sheet_target(const Aim& aim, const Candidate& candidate);

} // namespace finch
