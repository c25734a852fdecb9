// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/artwork.h"
#include "piece/scan_time.h"
#include "quantity/error.h"

namespace finch {

/// The edges of a black and white picture, along its pixels: rings round what is set, holes the other way. The mask's
/// first row lies at y = 0.
/// Errors: bitmap.too_fine where that would be over `most_art_points` corners.
[[nodiscard]] Expected<std::vector<Outline>> pixel_outlines(const AreaMask& mask);

} // namespace finch
