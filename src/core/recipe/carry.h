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

/// What a carried recipe does there, against what it did here, both predicted with the physics alone: what was learned
/// on one bench says nothing on another.
struct CarriedOutcome {
    Prediction before, after;
    FluenceRise fluence;
    TransferVerdict verdict = TransferVerdict::equivalent; ///< the worst of settings, pulses and outcome
    std::vector<std::string> reasons;                      ///< why it is not better; sentences
};
/// Where the carried recipe would show nothing, `carried` is first moved to the scan speed that grows the same film.
/// Errors: as predict().
[[nodiscard]] Expected<CarriedOutcome> carried_outcome(const Scene& here, const Recipe& recipe, const Bench& to,
                                                       Carried& carried, const Fill& fill);

/// Why a bench cannot run a recipe as it is; empty if it can.
[[nodiscard]] std::vector<std::string> cannot_run(const Bench& bench, const Recipe& recipe);

} // namespace finch
