// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief.h"

#include "quantity/angles.h"

#include <algorithm>
#include <cmath>

namespace finch {

AreaMask ReliefMap::mask(int layer) const {
    AreaMask out{width, height(), pixel_mm, {}};
    out.set.reserve(counts.size());
    const auto w = static_cast<std::size_t>(width);
    for (std::size_t y = counts.size() / w; y-- > 0;)
        for (std::size_t x = 0; x < w; ++x)
            out.set.push_back(counts[y * w + x] > layer ? 1 : 0);
    return out;
}

Expected<std::vector<AreaStats>> layer_stats(const std::vector<int>& counts, int width, double pixel, int layers,
                                             double pitch) {
    if (counts.empty() || width < 1 || counts.size() % static_cast<std::size_t>(width) != 0 ||
        std::ranges::any_of(counts, [&](int c) { return c < 0 || c > layers; }))
        return failure("relief.counts", "The map asks for more layers than there are.", "Raise the layers.");
    // A pixel is cut in the layers below its count, and an edge between two counts stands in the layers between them:
    // both are told by where they begin and end.
    const auto n = static_cast<std::size_t>(layers);
    std::vector<long> pixels(n + 1, 0), edges(n + 1, 0);
    const auto edge = [&](int a, int b) {
        ++edges[static_cast<std::size_t>(std::min(a, b))];
        --edges[static_cast<std::size_t>(std::max(a, b))];
    };
    const auto w = static_cast<std::size_t>(width), h = counts.size() / w;
    for (std::size_t y = 0; y < h; ++y)
        for (std::size_t x = 0; x < w; ++x) {
            const int here = counts[y * w + x];
            ++pixels[static_cast<std::size_t>(here)];
            edge(here, x > 0 ? counts[y * w + x - 1] : 0);
            edge(here, y > 0 ? counts[(y - 1) * w + x] : 0);
            if (x + 1 == w)
                edge(here, 0);
            if (y + 1 == h)
                edge(here, 0);
        }
    std::vector<AreaStats> out;
    long cut = static_cast<long>(counts.size()), standing = 0;
    for (std::size_t k = 0; k < n; ++k) {
        cut -= pixels[k];
        standing += edges[k];
        const double perimeter = pi / 4 * static_cast<double>(standing) * pixel;
        out.push_back({static_cast<double>(cut) * pixel * pixel, perimeter / (pi * pitch)});
    }
    return out;
}

ScanLoad load_of(const AreaStats& layer, double outline, double speed, double pitch) {
    ScanLoad out{speed, {}, {}, 1};
    if (layer.area_mm2 <= 0 || layer.runs <= 0)
        return out;
    const double lines = std::min(layer.runs, std::sqrt(std::max(outline, layer.area_mm2)) / pitch);
    const double gaps = layer.runs - lines;
    out.lines.push_back({layer.area_mm2 / pitch / layer.runs, layer.runs});
    out.jumps.push_back({pitch, lines});
    if (gaps > 0)
        out.jumps.push_back(
            {std::min(std::max(0.0, outline - layer.area_mm2) / pitch / gaps, 0.6 * std::sqrt(outline)), gaps});
    return out;
}

double hatched_over_counted(const ReliefMap& map, const std::vector<AreaStats>& layers, const ScannerTiming& timing,
                            double speed, double pitch, double angle_deg, double turn, int samples) {
    double hatched = 0, counted = 0;
    const int n = static_cast<int>(layers.size());
    for (int i = 0; i < std::min(samples, n); ++i) {
        const int k = (2 * i + 1) * n / (2 * std::min(samples, n));
        const AreaStats& layer = layers[static_cast<std::size_t>(k)];
        if (layer.area_mm2 <= 0)
            continue;
        hatched += pass_time_s(timing, hatch_runs(map.mask(k), pitch, angle_deg + k * turn), speed, pitch);
        counted += time_parts(timing, load_of(layer, map.outline_mm2(), speed, pitch)).total();
    }
    return counted > 0 ? hatched / counted : 1;
}

} // namespace finch
