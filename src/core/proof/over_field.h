// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/sheet.h"
#include "proof/tool_step.h"

#include <cstdint>
#include <vector>

namespace finch {

/// Which of so many steps each place gets, row by row: drawn by chance, many times; the draw in which the steps lie
/// most evenly about the middle is taken.
[[nodiscard]] std::vector<std::size_t> scattered(std::size_t places, std::size_t columns, std::size_t steps,
                                                 std::uint64_t seed);

/// The same sheet with its cells apart, so that it takes nine tenths of the field, as far as gaps of 20 mm go.
[[nodiscard]] ProofSheet over_field(ProofSheet sheet, const Bench& bench);

/// Middle of each cell from the middle of the sheet, which lies in the middle of the field.
[[nodiscard]] std::vector<PointMm> from_middle(const ProofSheet& sheet);

} // namespace finch
