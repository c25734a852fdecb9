// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <string>

namespace finch {

/// A small sheet that asks whether a lot does what a recipe did elsewhere: five cells of it with less and more dose, by
/// the power, in order of dose. `request` gives number, aim, recipe and the size of the cells.
/// Errors: lot.power when the source has none left, those of plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_lot_check(const SheetRequest& request, const LotCheck& check,
                                                  const Bench& bench, const Recipe& labels);

enum class LotVerdict {
    same,      ///< as it is
    dose,      ///< with another dose
    different, ///< at no dose: another finish, grade or surface
    unsure     ///< the readings are not good enough to tell
};

/// What a read lot check says.
struct LotFinding {
    LotVerdict verdict = LotVerdict::unsure;
    double as_it_is_de = 0;                       ///< CIEDE2000 from what was expected, at the dose of the recipe
    double best_dose = 1;                         ///< factor on the dose that comes nearest
    double best_dose_low = 1, best_dose_high = 1; ///< nine in ten
    double best_de = 0;                           ///< and how near
    double within_de = 0;                         ///< of the readings, nine in ten
    double scatter_de = 0;                        ///< of the cells about a smooth path
    Recipe corrected;                             ///< the recipe with that dose
    std::vector<std::pair<double, Lab>> path;     ///< dose factor and colour, as fitted
    std::string words;                            ///< two sentences
};
/// A square polynomial of the colour in ln(dose) through the cells that were read. Errors: lot.no_check, lot.too_few
/// (four cells are the least).
[[nodiscard]] Expected<LotFinding> judge_lot_check(const ProofSheet& sheet, const SheetReading& reading);

} // namespace finch
