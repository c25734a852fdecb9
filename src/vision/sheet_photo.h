// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "proof/colour_chart.h"
#include "proof/layout.h"
#include "proof/reading.h"

namespace finch {

/// What is known about how a photograph was taken.
struct PhotoSetting {
    Lab card{95, 0, 2};                               ///< of the white card, as printed on it or measured
    std::optional<CameraColour> camera;               ///< nothing: its colours are taken as they come
    std::optional<std::array<PointMm, 4>> corners_px; ///< put by hand: outer corners of the four markers, in pixels
};

/// A read photograph: the numbers, and the sheet squared up for showing.
struct ReadPhoto {
    SheetReading reading;
    Picture rectified; ///< squared up, light evened out
    double pixels_per_mm = 0;
    std::array<PointMm, 4> corners_px; ///< outer corners of the four markers, where they are in the photograph
    std::vector<std::array<double, 3>>
        seen; ///< light of each cell against perfect white as this camera saw it; zero where not read
};

/// Reads the cells of a proof sheet out of a photograph of any orientation: finds the fiducials, squares the sheet up,
/// evens the light out by the bare metal between the cells, takes white from the reference card, and measures CIELAB,
/// evenness and how far off the colour may be per cell.
/// Errors: photo.too_small, photo.no_sheet, photo.missing_fiducials (which), photo.wrong_sheet, photo.blurred,
/// photo.over_exposed, photo.under_exposed, photo.no_white, photo.bent, photo.corners.
[[nodiscard]] Expected<ReadPhoto> read_sheet_photo(const Picture& photo, const ProofSheet& sheet,
                                                   const PhotoSetting& setting = {});

/// The patches of a photographed colour chart against their measured colours. `values` must hold "paper".
/// Errors: those of read_sheet_photo(), chart.no_paper.
[[nodiscard]] Expected<std::vector<ColourPair>> read_chart_photo(const Picture& photo, const MeasuredColours& values);

/// The cells of a read sheet that an instrument measured as well.
[[nodiscard]] std::vector<ColourPair> measured_pairs(const ReadPhoto& read, const ProofSheet& sheet,
                                                     const MeasuredColours& values);

} // namespace finch
