// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "standin/plate.h"

#include <optional>

namespace finch::standin {

/// A camera as it was built: what it sees of the spectrum and how it turns that into a picture.
struct CameraBody {
    Grade grade = Grade::honest;
    std::array<Reflectance, 3> curves{};           ///< of its red, green and blue pixels
    std::array<std::array<double, 3>, 3> matrix{}; ///< from its pixels to the primaries of its pictures
    bool wide = false;                             ///< pictures in a wider space than sRGB, with its profile
    double contrast = 0;                           ///< of its tone curve; 0 = none
    double barrel = 0, dark_corners = 0;
    double noise = 1;
    int jpeg_quality = 0; ///< 0 = kept without loss
    std::array<double, 3> card{95, 0,
                               2}; ///< L*, a*, b* of the white card that lies in its shop: never quite as printed
};
[[nodiscard]] CameraBody draw_camera(Grade grade, std::uint64_t seed);

/// One photograph of a plate, with everything that spoils it. All of it follows from the seed.
struct Shot {
    std::uint64_t seed = 1;
    int width_px = 1800, height_px = 1350;
    std::optional<RectMm> white_card; ///< where the operator laid it
    bool disturbed = true;            ///< turned, tilted, uneven light, lamps mirrored in the metal, shadows
    double quarter_turns = 0;         ///< further turns by 90 degrees
    double blur_px = 0.8;
    double exposure = 1;           ///< 2 = twice too bright
    int glares = -1;               ///< mirrored lamps; -1 = as it happens
    double tilt_deg = 0;           ///< of the sheet, out of the straight view, about the line from left to right
    std::optional<RectMm> covered; ///< a hand or clamp over part of the plate
};

/// A picture as the camera hands it over.
struct Photograph {
    Picture picture; ///< in the primaries of `wide`
    bool wide = false;
    int jpeg_quality = 0;
};
/// Takes the photograph. The same plate, camera and shot give the same bytes.
[[nodiscard]] Photograph photograph(const Plate& plate, const CameraBody& body, const Shot& shot);

} // namespace finch::standin
