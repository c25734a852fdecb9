// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/sheet.h"
#include "search/burn_order.h"

namespace finch {

inline constexpr double longest_rest_s = 120;

/// What the cells of a sheet leave of their heat where the next ones are burned.
struct SheetHeat {
    std::vector<CellTurn> turns;  ///< in the order of burning
    std::vector<double> warmth_k; ///< nominal rise where each turn is burned, from those before it
    [[nodiscard]] double rests_s() const;
    [[nodiscard]] double warmest_k() const;
};

/// Of a sheet whose turns are told (a burned one) with the rests that it had; else with rests until what is left at the
/// next place is under `rest_below_k`, at most two minutes each; 0: no rests. `heats`: by place. The heat of the
/// lettering is not counted. Nominal, as expected_warmth().
[[nodiscard]] SheetHeat sheet_heat(const ProofSheet& sheet, const Metal& metal, Length thickness,
                                   std::span<const CellHeat> heats);
/// What each place gives to the plate, from its prediction.
[[nodiscard]] std::vector<CellHeat> cell_heats(const SheetForecast& forecast);
/// The sheet as it is burned: with the turns and rests of its plan. To be kept with what was burned.
[[nodiscard]] ProofSheet with_turns(ProofSheet sheet, const Scene& scene);

} // namespace finch
