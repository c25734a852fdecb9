// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/camera_colour.h"
#include "proof/colour_print.h"
#include "proof/layout.h"

#include <map>

namespace finch {

/// A chart to print, by which a camera's colours are set right: patches on white paper between four fiducials. Printers
/// differ, so the colours that come out are measured, or taken from who printed it, and typed or imported.
struct ColourChart {
    ProofSheet grid;        ///< only its geometry and number
    SheetLayout layout;     ///< without labels and card: the paper is the white
    std::vector<Lab> asked; ///< what the printer is asked for, patch by patch
};
[[nodiscard]] const ColourChart& colour_chart();
/// What is to be printed: the patches, and the fiducials of its layout by their modules.
[[nodiscard]] ColourPrint chart_print(const std::array<std::array<bool, 49>, 4>& modules);

/// Measured colours by the name of the patch or cell; "paper" is the white between the patches of the chart.
using MeasuredColours = std::map<std::string, Lab>;
/// Reads them as colours_from_text() does, and a line of "paper" beside. `grid`: what has the patches. Errors: those of
/// colours_from_text().
[[nodiscard]] Expected<MeasuredColours> measured_colours_from_text(std::string_view text, const ProofSheet& grid,
                                                                   const std::string& file);

} // namespace finch
