// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "standin/plate.h"

#include <optional>

namespace finch::standin {

/// One photograph of a plate, with everything that spoils it. All of it follows from the seed.
struct Shot {
    std::uint64_t seed = 1;
    int width_px = 1800, height_px = 1350;
    std::optional<RectMm> white_card; ///< where the operator laid it
    bool disturbed = true;            ///< turned, tilted, uneven light, a lamp mirrored in the metal
    double quarter_turns = 0;         ///< further turns by 90 degrees
    double blur_px = 0.8;
    double exposure = 1;           ///< 2 = twice too bright
    int glares = -1;               ///< mirrored lamps; -1 = one or two if disturbed
    std::optional<RectMm> covered; ///< a hand or clamp over part of the plate
};

/// Takes the photograph. The same plate and shot give the same bytes.
[[nodiscard]] Picture photograph(const Plate& plate, const Shot& shot);

} // namespace finch::standin
