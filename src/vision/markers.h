// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "proof/layout.h"
#include "quantity/error.h"

#include <array>
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

namespace finch {

/// A marker as it was found: corners in pixels of the photograph, from its upper left one round with the clock.
struct FoundMarker {
    int id = 0;
    std::array<cv::Point2f, 4> corners;
};

/// Finds markers, dark on bright and bright on dark, on smaller copies of the picture first: a marker of a hundred
/// pixels is found more surely, and far sooner, than one of four hundred.
[[nodiscard]] std::vector<FoundMarker> find_markers(const cv::Mat& grey, int code);

/// Where the sheet lies in the photograph.
struct FoundSheet {
    cv::Mat to_sheet;         ///< 3 x 3, from pixels to mm
    double pixels_per_mm = 0; ///< mean over the markers
    double edge_mm = 0;       ///< width over which the edges of the markers are smeared
    double off_mm = 0;        ///< largest distance of a marker's corner from the plane of all
    int markers = 0;          ///< of four; 0: by hand
};

/// The sheet by its markers: three will do, and a second print of it or a thumb on a marker is seen through, because
/// only the set that lies in one plane counts. `by_hand`: the outer corners of the four markers where the operator put
/// them, in the order of the layout.
/// Errors: photo.no_sheet, photo.over_exposed, photo.under_exposed, photo.blurred, photo.wrong_sheet,
/// photo.missing_fiducials, photo.bent, photo.too_small.
[[nodiscard]] Expected<FoundSheet> find_sheet(const cv::Mat& grey, const SheetLayout& at, int sheet_number,
                                              const std::optional<std::array<PointMm, 4>>& by_hand);

} // namespace finch
