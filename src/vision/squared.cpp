// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/squared.h"

#include "physics/colour.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace finch {
namespace {

constexpr int full_white = 252;
// Cameras make dark tones darker and light ones lighter, because it pleases: what they usually do is taken out. On the
// pixels as they are, since the curve knows nothing of cards and lamps.
constexpr double usual_contrast = 0.035;

double pleased(double e) {
    return e - usual_contrast * 2 * e * (1 - e) * (2 * e - 1);
}

const std::array<float, 256>& linear_table() {
    static const std::array<float, 256> table = [] {
        std::array<float, 256> t{};
        for (std::size_t i = 0; i < t.size(); ++i)
            t[i] = static_cast<float>(srgb_decode(pleased(static_cast<double>(i) / 255)));
        return t;
    }();
    return table;
}

} // namespace

cv::Rect Squared::box(const RectMm& r) const {
    const auto p = [this](double v) { return static_cast<int>(std::lround(v * scale)); };
    return cv::Rect(p(r.x), p(r.y), std::max(1, p(r.w)), std::max(1, p(r.h))) & cv::Rect(0, 0, rgb.cols, rgb.rows);
}

Light linear(const cv::Vec3b& v) {
    const auto& t = linear_table();
    return {t[v[0]], t[v[1]], t[v[2]]};
}

bool burned_out(const cv::Vec3b& v) {
    return v[0] >= full_white || v[1] >= full_white || v[2] >= full_white;
}

std::optional<Light> median_light(const Squared& s, const RectMm& where) {
    const cv::Rect box = s.box(where);
    std::array<std::vector<double>, 3> values;
    int bright = 0;
    for (int y = box.y; y < box.y + box.height; ++y)
        for (int x = box.x; x < box.x + box.width; ++x) {
            const auto& v = s.rgb.at<cv::Vec3b>(y, x);
            bright += burned_out(v) ? 1 : 0;
            const Light l = linear(v);
            for (std::size_t c = 0; c < 3; ++c)
                values[c].push_back(l[c]);
        }
    if (values[0].empty() || bright * 4 > box.area())
        return std::nullopt;
    Light out{};
    for (std::size_t c = 0; c < 3; ++c) {
        const auto middle = values[c].begin() + static_cast<long>(values[c].size() / 2);
        std::nth_element(values[c].begin(), middle, values[c].end());
        out[c] = *middle;
    }
    return out;
}

} // namespace finch
