// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/scene.h"

#include <span>
#include <vector>

namespace finch {

struct Prediction;

struct CellPlace {
    double x_mm = 0, y_mm = 0; ///< centre
};

/// Columns of a grid of cells that is as near to a square as four columns or more allow.
[[nodiscard]] std::size_t grid_columns(std::size_t count);
/// Cells of a plain grid, row by row, 6 x 5 mm apart.
[[nodiscard]] std::vector<CellPlace> cell_grid(std::size_t count);
/// An order that keeps cells burned one after another apart: far from the last four, one by one.
[[nodiscard]] std::vector<std::size_t> burn_order(std::span<const CellPlace> places);
/// The same with pairs swapped as long as that leaves less heat where the next cells are burned: one by one the last
/// few are left beside each other. Equal cells of a few seconds are assumed.
[[nodiscard]] std::vector<std::size_t> cool_order(std::span<const CellPlace> places);

/// What a cell gives to the plate.
struct CellHeat {
    double absorbed_w = 0, seconds = 0;
};
/// Of a predicted cell; where heat is not modelled it gives none.
[[nodiscard]] CellHeat cell_heat(const Prediction& cell);
/// Nominal rise (K) at each cell, in burning order, from those burned before it: point sources on a plate that loses
/// its heat to the table. `pause_s`: rest before each cell; empty: none.
[[nodiscard]] std::vector<double> expected_warmth(const Metal& metal, Length thickness,
                                                  std::span<const CellPlace> places, std::span<const CellHeat> cells,
                                                  std::span<const double> pause_s = {});

/// Rests (s) before each cell so that the rise of expected_warmth() at none is over `below_k`, each the shortest of
/// whole seconds and no longer than `longest_s`.
[[nodiscard]] std::vector<double> rests_below(double below_k, double longest_s, const Metal& metal, Length thickness,
                                              std::span<const CellPlace> places, std::span<const CellHeat> cells);

} // namespace finch
