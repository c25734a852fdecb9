// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/appearance.h"
#include "recipe/transfer.h"

#include <string>
#include <vector>

namespace finch {

/// A recipe on a bench in what reaches the part, and what a bench can do.
[[nodiscard]] MachineSettings machine_settings(const Bench& bench, const Recipe& recipe);
[[nodiscard]] MachineLimits machine_limits(const Bench& bench, double wanted_pulse_ns);
/// Settings as a recipe of a bench: percent of its power, the raised lens that makes the spot. The rest is kept.
[[nodiscard]] Recipe recipe_on(const Bench& bench, const MachineSettings& settings, Recipe base);

/// A recipe carried to another bench, with the report.
struct Carried {
    Recipe recipe;
    TransferResult result;
    DialogTransfer typed; ///< what to type into that bench's own window
};
/// Many passes are carried as one, and the number of passes makes up for what the dose lost. Errors: transfer.*.
[[nodiscard]] Expected<Carried> carry(const Bench& from, const Recipe& recipe, const Bench& to);

/// Why a bench cannot run a recipe as it is; empty if it can.
[[nodiscard]] std::vector<std::string> cannot_run(const Bench& bench, const Recipe& recipe);

} // namespace finch
