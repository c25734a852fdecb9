// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/sheet.h"
#include "proof/tool_step.h"
#include "search/burn_order.h"

#include <array>
#include <string>
#include <vector>

namespace finch {

/// Square marker of 7 x 7 modules; its identity carries the corner and the code of the sheet.
struct Fiducial {
    int id = 0;
    RectMm box;
    const char* corner = "";
};

struct LabelText {
    std::string text;
    PointMm at; ///< lower left of the text
    double height_mm = 1.6;
};

/// Where everything of a sheet lies.
struct SheetLayout {
    double width_mm = 0, height_mm = 0;
    std::array<Fiducial, 4> fiducials; ///< upper left, upper right, lower right, lower left
    std::vector<RectMm> cells;         ///< row by row
    std::vector<LabelText> labels;
    RectMm white_card; ///< where the white reference is laid before the photograph
};

inline constexpr int sheet_codes = 250;
[[nodiscard]] inline int sheet_code(int number) {
    return number % sheet_codes;
}
[[nodiscard]] SheetLayout layout(const ProofSheet& sheet);

/// Polylines of a text in a font of single strokes, for burning. Unknown characters are left blank.
[[nodiscard]] std::vector<std::vector<PointMm>> stroke_text(const LabelText& label);
/// Width of a text in mm.
[[nodiscard]] double stroke_text_width(const LabelText& label);

/// The cells that are not left out, in the order in which they are to be burned: so that none preheats the next and
/// what drifts meanwhile does not pass for an effect; pairs as chance had it, ladders as the head moves.
[[nodiscard]] std::vector<std::size_t> planned_order(const ProofSheet& sheet, const SheetLayout& layout);
/// The same of a sheet that was burned, by its turns. Where it tells none it was burned before there were turns: maps
/// row by row then.
[[nodiscard]] std::vector<std::size_t> burning_order(const ProofSheet& sheet, const SheetLayout& layout);
/// Seconds of rest that a burned sheet had before a cell.
[[nodiscard]] double rest_before(const ProofSheet& sheet, std::size_t cell);
[[nodiscard]] CellPlace centre_of(const RectMm& cell);
/// Steps in the order of burning: fiducials and labels first (so that an aborted sheet can still be read), then the
/// cells, with the rests of their turns. `modules` maps a marker identity to its 49 modules, true = burned.
[[nodiscard]] std::vector<ToolStep> tool_steps(const ProofSheet& sheet, const SheetLayout& layout,
                                               const std::array<std::array<bool, 49>, 4>& modules);

} // namespace finch
