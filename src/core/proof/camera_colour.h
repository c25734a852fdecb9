// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour.h"
#include "quantity/error.h"

#include <array>
#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>

namespace finch {

/// A place that a camera saw and an instrument measured.
struct ColourPair {
    std::array<double, 3> seen{}; ///< linear light of the picture's primaries, 1 = perfect white
    Lab measured;
    std::string place = {}; ///< its name, where it has one
};

/// How one camera's colours are put right: a curve that is the same for all three channels, then a matrix. Found from
/// places of known colour; kept with the day and with what it leaves unexplained.
struct CameraColour {
    std::string camera;
    std::string when_utc;
    double curve = 1; ///< exponent on the linear light
    std::array<double, 9> matrix{1, 0, 0, 0, 1, 0, 0, 0, 1};
    double residual_de = 0; ///< CIEDE2000, mean over places that each were left out of the fit in turn
    int places = 0;
    bool operator==(const CameraColour&) const = default;
};

/// Colour of light as this camera saw it.
[[nodiscard]] Lab corrected(const CameraColour& camera, const std::array<double, 3>& seen);

inline constexpr std::size_t fewest_colour_pairs = 6;
/// Fits curve and matrix. With fewer than ten places the matrix is held nearer to doing nothing.
/// Errors: camera.too_few (under 6), camera.no_range (all alike), camera.bad_fit (residual over 6).
[[nodiscard]] Expected<CameraColour> fit_camera_colour(std::span<const ColourPair> pairs);

[[nodiscard]] nlohmann::json to_json(const CameraColour& camera);
/// Reads a `finch-camera` document.
[[nodiscard]] Expected<CameraColour> camera_colour_from_json(const nlohmann::json& document, const std::string& file);
[[nodiscard]] Expected<CameraColour> camera_colour_from_text(std::string_view text, const std::string& file);

} // namespace finch
