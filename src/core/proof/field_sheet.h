// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/focus_fit.h"
#include "proof/reading.h"

#include <array>
#include <cstdint>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

namespace finch {

/// Cells of one recipe all over the field, with up to 9 % less and more dose, mixed by chance.
/// Errors: field.power when the source has no power left for more dose, those of plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_field_sheet(const SheetRequest& request, const Bench& bench,
                                                    const Recipe& labels, std::uint64_t seed);

enum class FieldVerdict { even, uneven, unsure };

/// What a bench gives at one place of its field.
struct FieldPoint {
    double x_mm = 0, y_mm = 0; ///< from the middle of the field, to the right and down
    WithSpread percent;        ///< dose against the middle; nine in ten
    double de = 0;             ///< CIEDE2000 to the middle's colour that this makes
};

struct FieldFinding {
    /// Nine points of what was marked, row by row: corners, middles of the sides, and the middle itself.
    std::array<FieldPoint, 9> nine;
    struct Cell {
        std::size_t cell = 0;
        double x_mm = 0, y_mm = 0, percent = 0; ///< as this cell alone has it
        Lab lab;
    };
    std::vector<Cell> cells;              ///< that were read
    double width_mm = 0, height_mm = 0;   ///< of what was marked
    double accept_de = 3, scatter_de = 0; ///< CIEDE2000, the second of one cell about the fit
    double even_mm = 0;                   ///< to this distance from the middle the colour stays within what is accepted
    std::size_t worst = 0;                ///< of the nine
    FieldVerdict verdict = FieldVerdict::unsure;
    std::string words;
};

/// What a read field sheet says. Power, spot, focus and tilt over the field all act as dose, and are not told apart.
/// Errors: field.no_sheet, field.too_few (20 cells).
[[nodiscard]] Expected<FieldFinding> judge_field(const ProofSheet& sheet, const SheetReading& reading,
                                                 double accept_de);

[[nodiscard]] nlohmann::json to_json(const FieldFinding& finding, const ProofSheet& sheet);

} // namespace finch
