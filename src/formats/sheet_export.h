// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/colour_chart.h"

#include <QString>
#include <string>
#include <vector>

namespace finch {

using MarkerModules = std::array<std::array<bool, 49>, 4>;

/// SVG in mm with one layer (group with an id) for fiducials, labels, the white card and each cell; the recipe of each
/// layer is in its title.
[[nodiscard]] std::string sheet_svg(const ProofSheet& sheet, const MarkerModules& modules);

/// What is printed, in mm: patches, and their names beside them.
[[nodiscard]] std::string chart_svg(const ColourPrint& print);
/// The same on a page, at true scale. Errors: file.not_written.
[[nodiscard]] Expected<void> write_chart_pdf(const ColourPrint& print, const QString& path);

/// One line per cell with its knobs, place and whether it is left out.
[[nodiscard]] std::string sheet_csv(const ProofSheet& sheet);

/// A page to print at true scale, with the settings beside the sheet. Errors: file.not_written.
[[nodiscard]] Expected<void> write_sheet_pdf(const ProofSheet& sheet, const SheetForecast& forecast, const Setup& setup,
                                             const MarkerModules& modules, const QString& path);

} // namespace finch
