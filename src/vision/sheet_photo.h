// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "proof/reading.h"

namespace finch {

/// A read photograph: the numbers, and the sheet squared up for showing.
struct ReadPhoto {
    SheetReading reading;
    Picture rectified; ///< squared up, light evened out
    double pixels_per_mm = 0;
};

/// Reads the cells of a proof sheet out of a photograph of any orientation: finds the fiducials, squares the sheet up,
/// evens the light out by the bare metal between the cells, takes white from the reference card, and measures CIELAB,
/// evenness and confidence per cell.
/// Errors: photo.too_small, photo.no_sheet, photo.missing_fiducials (which), photo.wrong_sheet, photo.blurred,
/// photo.over_exposed, photo.under_exposed, photo.no_white, photo.bent.
[[nodiscard]] Expected<ReadPhoto> read_sheet_photo(const Picture& photo, const ProofSheet& sheet);

/// White reference card that is laid on the sheet: matt, L* 95.
[[nodiscard]] inline Lab white_card_lab() {
    return {95, 0, 2};
}

} // namespace finch
