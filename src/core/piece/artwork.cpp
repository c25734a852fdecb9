// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/artwork.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr int most_chords = 4000; // of one curve: a broken number must not ask for millions

double span(double a, double b) {
    return std::hypot(a, b);
}

/// Chords may leave a curve of this size by this.
double tolerance(double size_mm, double coarser) {
    return coarser * std::clamp(chord_share * size_mm, 1e-9, chord_mm);
}

} // namespace

double length_mm(const Outline& outline) {
    double sum = 0;
    const auto& p = outline.points;
    for (std::size_t i = 1; i < p.size(); ++i)
        sum += span(p[i].x - p[i - 1].x, p[i].y - p[i - 1].y);
    if (outline.closed && p.size() > 1)
        sum += span(p.front().x - p.back().x, p.front().y - p.back().y);
    return sum;
}

ArtFinding coarse_finding() {
    return {
        "coarse",
        {},
        {},
        {},
        false,
        "The drawing has so many curves that they were drawn with coarser chords, off by five micrometres at most."};
}

std::size_t layer_of(Artwork& art, const std::string& name, const std::string& colour) {
    const ArtLayer wanted{name, colour};
    const auto it = std::ranges::find(art.layers, wanted);
    if (it != art.layers.end())
        return static_cast<std::size_t>(it - art.layers.begin());
    art.layers.push_back(wanted);
    return art.layers.size() - 1;
}

void add_cubic(std::vector<PointMm>& points, PointMm one, PointMm two, PointMm end, double coarser) {
    const PointMm start = points.back();
    // The second difference bounds how far a cubic leaves n chords: sqrt(3)/18 of its third is left out, 3/4 of the
    // greatest second difference over n squared is enough (Wang).
    const double bend = std::max(span(start.x - 2 * one.x + two.x, start.y - 2 * one.y + two.y),
                                 span(one.x - 2 * two.x + end.x, one.y - 2 * two.y + end.y));
    const double size = std::max({span(one.x - start.x, one.y - start.y), span(two.x - start.x, two.y - start.y),
                                  span(end.x - start.x, end.y - start.y)});
    const double wanted = std::ceil(std::sqrt(0.75 * bend / tolerance(size, coarser)));
    const int n = wanted < most_chords ? std::max(1, static_cast<int>(wanted)) : most_chords;
    for (int i = 1; i < n; ++i) {
        const double t = static_cast<double>(i) / n, s = 1 - t;
        const double a = s * s * s, b = 3 * s * s * t, c = 3 * s * t * t, d = t * t * t;
        points.push_back(
            {a * start.x + b * one.x + c * two.x + d * end.x, a * start.y + b * one.y + c * two.y + d * end.y});
    }
    points.push_back(end);
}

void add_arc(std::vector<PointMm>& points, PointMm centre, PointMm one, PointMm two, double from, double to,
             double coarser) {
    const double radius = std::max(span(one.x, one.y), span(two.x, two.y));
    if (!(radius > 0) || !std::isfinite(radius + from + to))
        return;
    // Sagitta of a chord over an angle a: r (1 - cos(a/2)).
    const double step = 2 * std::acos(std::max(0.0, 1 - tolerance(2 * radius, coarser) / radius));
    // In whole quarters, so that a full turn touches its box.
    const double quarters = std::max(1.0, std::round(std::abs(to - from) / (0.5 * std::numbers::pi)));
    const double wanted = quarters * std::ceil(std::abs(to - from) / (step * quarters));
    const int n = wanted < most_chords ? std::max(1, static_cast<int>(wanted)) : most_chords;
    for (int i = 1; i <= n; ++i) {
        const double a = from + (to - from) * i / n, c = std::cos(a), s = std::sin(a);
        points.push_back({centre.x + c * one.x + s * two.x, centre.y + c * one.y + s * two.y});
    }
}

} // namespace finch
