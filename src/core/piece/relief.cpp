// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief.h"

#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace finch {
namespace {

/// Gaussian blur with the edge repeated, rows then columns of the kernel.
std::vector<double> blurred(const std::vector<double>& v, int width, int height, double sigma) {
    const int r = static_cast<int>(std::ceil(3 * sigma));
    std::vector<double> kernel;
    for (int i = -r; i <= r; ++i)
        kernel.push_back(std::exp(-0.5 * (i / sigma) * (i / sigma)));
    const double sum = std::accumulate(kernel.begin(), kernel.end(), 0.0);
    const auto along = [&](const std::vector<double>& in, bool rows) {
        std::vector<double> out(in.size(), 0);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                double s = 0;
                for (int i = -r; i <= r; ++i) {
                    const int px = rows ? std::clamp(x + i, 0, width - 1) : x;
                    const int py = rows ? y : std::clamp(y + i, 0, height - 1);
                    s += kernel[static_cast<std::size_t>(i + r)] / sum *
                         in[static_cast<std::size_t>(py) * static_cast<std::size_t>(width) +
                            static_cast<std::size_t>(px)];
                }
                out[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] = s;
            }
        return out;
    };
    return along(along(v, true), false);
}

} // namespace

Expected<std::vector<int>> layer_counts(const HeightMap& map, const LevelRules& r) {
    if ((map.bits != 8 && map.bits != 16) || r.layers < 1 || r.layers > 4096)
        return failure("relief.bits", "A height map has 8 or 16 bits, and a relief 1 to 4096 layers.",
                       "Save the picture with 8 or 16 bits of grey.");
    if (!(r.black < r.white && r.gamma > 0))
        return failure("relief.levels", "The black point must lie below the white point, and gamma above 0.",
                       "Move the points apart.");
    const double full = map.bits == 8 ? 255 : 65535;
    const auto count = [&](double x) {
        const double level = std::pow(std::clamp((x - r.black) / (r.white - r.black), 0.0, 1.0), r.gamma);
        return static_cast<int>(std::floor((r.invert ? level : 1 - level) * r.layers + 0.5));
    };
    std::vector<int> out;
    out.reserve(map.grey.size());
    if (r.sharpen == 0 || !(r.sharpen_px > 0)) {
        // There are fewer greys than pixels.
        std::vector<int> of_grey;
        for (int g = 0; g <= static_cast<int>(full); ++g)
            of_grey.push_back(count(g / full));
        for (const unsigned short g : map.grey)
            out.push_back(of_grey[std::min<std::size_t>(g, of_grey.size() - 1)]);
        return out;
    }
    std::vector<double> v;
    v.reserve(map.grey.size());
    for (const unsigned short g : map.grey)
        v.push_back(g / full);
    const auto soft = blurred(v, map.width, map.height, r.sharpen_px);
    for (std::size_t i = 0; i < v.size(); ++i)
        out.push_back(count(v[i] + r.sharpen * (v[i] - soft[i])));
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

Expected<ReliefPlan> plan_relief(const Cutting& cut, DeepWork work, const ScannerTiming& timing,
                                 const std::vector<int>& counts, int width, double pixel, int layers, double outline,
                                 double turn_deg, int exact_every) {
    work.passes = layers;
    ReliefPlan out;
    out.depth_um = depth_by_pass(cut, work);
    out.depth_um.resize(static_cast<std::size_t>(layers) + 1, out.depth_um.back());
    out.emerges_s = std::numeric_limits<double>::infinity();
    const double speed = in_mm_per_second(cut.raster.speed), pitch = in_mm(cut.raster.pitch);
    auto layer = layer_stats(counts, width, pixel, layers, pitch);
    if (!layer)
        return tl::unexpected(layer.error());
    out.layer = std::move(*layer);
    double ratio = 1;
    AreaMask mask{width, static_cast<int>(counts.size()) / width, pixel, {}};
    for (int k = 0; k < layers; ++k) {
        const AreaStats& stats = out.layer[static_cast<std::size_t>(k)];
        const double fast = pass_time_s(timing, stats.area_mm2, outline, stats.runs, speed, pitch);
        if (exact_every > 0 && k % exact_every == 0 && stats.area_mm2 > 0) {
            mask.set.clear();
            for (const int c : counts)
                mask.set.push_back(c > k ? 1 : 0);
            ratio = pass_time_s(timing, hatch_runs(mask, pitch, k * turn_deg), speed, pitch) / fast;
        }
        double s = fast * ratio;
        if (work.focus_every > 0 && (k + 1) % work.focus_every == 0 && k + 1 < layers)
            s += focus_time_s(timing, work.focus_step_mm);
        out.layer_s.push_back(s);
        out.total_s += s;
        if (!std::isfinite(out.emerges_s) && out.depth_um[static_cast<std::size_t>(k) + 1] >= cut.model.emerge_um)
            out.emerges_s = out.total_s;
    }
    const Crater c = one_pass(cut.metal, cut.model, cut.train, cut.beam, cut.raster, mm(work.focus_offset_mm)).crater;
    out.terrace_um = out.depth_um[static_cast<std::size_t>(layers)] / layers;
    out.smallest_feature_um = c.diameter_um;
    out.taper_deg = taper_deg(c, cut.model);
    const double cut_area = static_cast<double>(std::accumulate(counts.begin(), counts.end(), 0L)) * pixel * pixel;
    out.coverage = cut_area / (layers * outline);
    return out;
}

} // namespace finch
