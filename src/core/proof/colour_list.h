// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// A cell whose colour an instrument measured.
struct CellColour {
    std::size_t cell = 0;
    Lab lab;
    double within_de = 0.5; ///< CIEDE2000 within which it truly lies in nine of ten cases
};

/// The numbers of one such line, however they are parted; nothing where something else stands among them.
[[nodiscard]] std::optional<std::vector<double>> colour_numbers(std::string_view text);
/// Colours as a colour instrument shows or logs them, one cell a line: "B1; 36.2; 1.9; -28.4", with what it lies within
/// as a fourth number where that is known. L* a* b* under D65 for the 2 degree observer. A comma is a decimal sign
/// where the numbers are parted by something else. Errors: colour.line, colour.numbers (three or four, L* 0 to 100, a*
/// and b* -150 to 150), with the line; colour.none.
[[nodiscard]] Expected<std::vector<CellColour>> colours_from_text(std::string_view text, const ProofSheet& sheet,
                                                                  const std::string& file = {});

} // namespace finch
