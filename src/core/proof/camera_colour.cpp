// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/camera_colour.h"

#include "document/json_fields.h"
#include "physics/colour_difference.h"

#include <algorithm>
#include <cmath>
#include <Eigen/Dense>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

std::array<double, 3> curved(const std::array<double, 3>& seen, double curve) {
    std::array<double, 3> out{};
    for (std::size_t c = 0; c < 3; ++c)
        out[c] = std::pow(std::max(seen[c], 1e-6), curve);
    return out;
}

/// Matrix for one curve: least squares in light, each place weighted so that dark ones count as they look.
CameraColour matrix_for(std::span<const ColourPair> pairs, std::size_t left_out, double curve) {
    Eigen::Matrix3d normal = Eigen::Matrix3d::Zero(), right = Eigen::Matrix3d::Zero();
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        if (i == left_out)
            continue;
        const auto seen = curved(pairs[i].seen, curve);
        const auto known = to_linear_rgb(to_xyz(pairs[i].measured));
        const double weight = 1 / std::pow(0.03 + std::max(0.0, to_xyz(pairs[i].measured).y), 4.0 / 3);
        for (int r = 0; r < 3; ++r)
            for (int c = 0; c < 3; ++c) {
                normal(r, c) += weight * seen[static_cast<std::size_t>(r)] * seen[static_cast<std::size_t>(c)];
                right(r, c) += weight * seen[static_cast<std::size_t>(r)] * known[static_cast<std::size_t>(c)];
            }
    }
    // Held a little to doing nothing: a handful of places cannot carry nine numbers.
    const double hold = 0.02 / static_cast<double>(pairs.size()) * normal.trace();
    const Eigen::Matrix3d m =
        (normal + hold * Eigen::Matrix3d::Identity()).ldlt().solve(right + hold * Eigen::Matrix3d::Identity());
    CameraColour out;
    out.curve = curve;
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c)
            out.matrix[static_cast<std::size_t>(3 * r + c)] = m(c, r);
    return out;
}

double left_out_error(std::span<const ColourPair> pairs, double curve) {
    double sum = 0;
    for (std::size_t i = 0; i < pairs.size(); ++i)
        sum += delta_e00(corrected(matrix_for(pairs, i, curve), pairs[i].seen), pairs[i].measured);
    return sum / static_cast<double>(pairs.size());
}

} // namespace

Lab corrected(const CameraColour& camera, const std::array<double, 3>& seen) {
    const auto light = curved(seen, camera.curve);
    std::array<double, 3> rgb{};
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c)
            rgb[r] += camera.matrix[3 * r + c] * light[c];
    return to_lab(from_linear_rgb(rgb));
}

Expected<CameraColour> fit_camera_colour(std::span<const ColourPair> pairs) {
    if (pairs.size() < fewest_colour_pairs)
        return failure("camera.too_few",
                       fmt::format("{} places of known colour are too few to set a camera right.", pairs.size()),
                       fmt::format("Measure at least {}, of different colours.", fewest_colour_pairs));
    const auto [darkest, lightest] =
        std::minmax_element(pairs.begin(), pairs.end(),
                            [](const ColourPair& a, const ColourPair& b) { return a.measured.l < b.measured.l; });
    double most_chroma = 0;
    for (const ColourPair& p : pairs)
        most_chroma = std::max(most_chroma, chroma(p.measured));
    if (lightest->measured.l - darkest->measured.l < 15 || most_chroma < 8)
        return failure("camera.no_range", "The known colours are too much alike.",
                       "Take light and dark ones, and some that are clearly coloured.");
    double best_curve = 1, lowest = 1e9;
    for (int i = 0; i <= 30; ++i) {
        const double curve = 0.85 + 0.01 * i;
        if (const double error = left_out_error(pairs, curve); error < lowest) {
            lowest = error;
            best_curve = curve;
        }
    }
    CameraColour out = matrix_for(pairs, pairs.size(), best_curve);
    out.residual_de = lowest;
    out.places = static_cast<int>(pairs.size());
    if (lowest > 6)
        return failure("camera.bad_fit",
                       fmt::format("Set right as well as can be, the colours are still {:.1f} CIEDE2000 off.", lowest),
                       "Look whether each value belongs to its place, and whether a lamp was mirrored in the chart.");
    return out;
}

json to_json(const CameraColour& c) {
    return {{"format", "finch-camera"},
            {"version", 1},
            {"camera", c.camera},
            {"when_utc", c.when_utc},
            {"curve", tidy(c.curve)},
            {"matrix", c.matrix},
            {"residual_de00", tidy(c.residual_de)},
            {"places", c.places}};
}

Expected<CameraColour> camera_colour_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    return document ? camera_colour_from_json(*document, file) : tl::unexpected(document.error());
}

Expected<CameraColour> camera_colour_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-camera", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    CameraColour c;
    c.camera = f.text_or("camera", "");
    c.when_utc = f.text_or("when_utc", "");
    c.curve = f.number("curve", 0.3, 3);
    const auto m = f.numbers("matrix", 9, -10, 10);
    std::copy_n(m.begin(), std::min<std::size_t>(9, m.size()), c.matrix.begin());
    c.residual_de = f.number("residual_de00", 0, 100);
    c.places = f.whole("places", 0, 10000);
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return c;
}

} // namespace finch
