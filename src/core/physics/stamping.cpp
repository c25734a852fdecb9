// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/stamping.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

constexpr int lanes = 4;
constexpr int strip_rows = 32;

int padded(int n) {
    return (n + lanes - 1) / lanes * lanes;
}

/// Rows of one stamp. No fused operations, so that every machine gives the same bits; clones only widen the vectors.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__SANITIZE_ADDRESS__)
__attribute__((target_clones("avx2", "default")))
#endif
void subtract(double* __restrict map, std::ptrdiff_t stride, const double* __restrict print, int width, double depth,
              int rows) {
    for (int y = 0; y < rows; ++y) {
        for (int i = 0; i < width; ++i)
            map[i] -= depth * print[i];
        map += stride;
        print += width;
    }
}

} // namespace

StampSheet::StampSheet(int side, double pixel_um, int reach_px, int phases, double rim)
    : side_(side), stride_(padded(side) + lanes), reach_(reach_px), width_(padded(2 * reach_px + 1)), phases_(phases),
      pixel_(pixel_um), rim_(rim), height_(static_cast<std::size_t>(stride_) * static_cast<std::size_t>(side), 0.0) {}

StampSheet::Footprint StampSheet::footprint(const Crater& c, double fx, double fy) const {
    const int side = 2 * reach_ + 1;
    Footprint out;
    out.assign(static_cast<std::size_t>(width_) * static_cast<std::size_t>(side), 0.0);
    if (c.volume_um3 <= 0)
        return out;
    const double rc = c.diameter_um / 2;
    std::vector<double> bowl(static_cast<std::size_t>(side) * static_cast<std::size_t>(side)), ring(bowl.size());
    double bowl_sum = 0, ring_sum = 0;
    const auto at = [side](int i, int j) {
        return static_cast<std::size_t>(j) * static_cast<std::size_t>(side) + static_cast<std::size_t>(i);
    };
    for (int j = 0; j < side; ++j)
        for (int i = 0; i < side; ++i) {
            const double x = (i - reach_ - fx) * pixel_, y = (j - reach_ - fy) * pixel_;
            const double r2 = x * x + y * y;
            // A crater below one pixel goes into the middle one.
            const double least = i == reach_ && j == reach_ ? 1e-12 : 0;
            bowl[at(i, j)] = std::max(0.0, 1 - r2 / (rc * rc)) + least;
            bowl_sum += bowl[at(i, j)];
            const double edge = (std::sqrt(r2) - 1.08 * rc) / (0.16 * rc);
            ring[at(i, j)] = rim_ > 0 ? std::exp(-edge * edge) + least : 0;
            ring_sum += ring[at(i, j)];
        }
    const double volume = c.volume_um3 / (pixel_ * pixel_);
    const double down = volume / ((1 - rim_) * bowl_sum);
    const double up = rim_ > 0 ? rim_ / (1 - rim_) * volume / ring_sum : 0;
    for (int j = 0; j < side; ++j)
        for (int i = 0; i < side; ++i)
            out[static_cast<std::size_t>(j) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(i)] =
                bowl[at(i, j)] * down - ring[at(i, j)] * up;
    return out;
}

const std::vector<StampSheet::Footprint>& StampSheet::prints(int bin, const CraterAt& crater_at) {
    auto it = prints_.find(bin);
    if (it != prints_.end())
        return it->second;
    const Crater c = crater_at(bin);
    std::vector<Footprint> all;
    for (int py = 0; py < phases_; ++py)
        for (int px = 0; px < phases_; ++px)
            all.push_back(footprint(c, (px + 0.5) / phases_ - 0.5, (py + 0.5) / phases_ - 0.5));
    return prints_.emplace(bin, std::move(all)).first->second;
}

void StampSheet::stamp(const std::vector<PulseMark>& marks, int pad, int core, double base_um, double bin_um,
                       const CraterAt& crater_at, Crew& crew) {
    const auto count = static_cast<int>(marks.size());
    stamps_.resize(marks.size());
    bins_.resize(marks.size());
    phase_of_.resize(marks.size());
    const double centre = core / 2.0 - 0.5 + pad;
    constexpr int chunk = 2048;
    crew.run((count + chunk - 1) / chunk, [&](int part) {
        for (int n = part * chunk; n < std::min(count, (part + 1) * chunk); ++n) {
            const auto i = static_cast<std::size_t>(n);
            const double gx = marks[i].x / pixel_ + centre, gy = marks[i].y / pixel_ + centre;
            const int ix = static_cast<int>(std::rint(gx)), iy = static_cast<int>(std::rint(gy));
            const int px = std::min(phases_ - 1, static_cast<int>((gx - ix + 0.5) * phases_));
            const int py = std::min(phases_ - 1, static_cast<int>((gy - iy + 0.5) * phases_));
            const double floor = height_[static_cast<std::size_t>(iy) * static_cast<std::size_t>(stride_) +
                                         static_cast<std::size_t>(ix)];
            bins_[i] = static_cast<int>(std::rint((-floor + base_um) / bin_um));
            phase_of_[i] = py * phases_ + px;
            stamps_[i] = {ix - reach_, iy - reach_, marks[i].depth, nullptr};
        }
    });
    int last_bin = 0;
    const std::vector<Footprint>* last = nullptr;
    for (std::size_t i = 0; i < stamps_.size(); ++i) {
        if (last == nullptr || bins_[i] != last_bin) {
            last = &prints(bins_[i], crater_at);
            last_bin = bins_[i];
        }
        stamps_[i].print = &(*last)[static_cast<std::size_t>(phase_of_[i])];
    }
    // Each strip of rows takes, in the order of the pulses, those that touch it.
    const int strips = (side_ + strip_rows - 1) / strip_rows;
    by_strip_.resize(static_cast<std::size_t>(strips));
    for (auto& strip : by_strip_)
        strip.clear();
    for (const Stamp& s : stamps_)
        for (int strip = s.y / strip_rows; strip <= (s.y + 2 * reach_) / strip_rows; ++strip)
            by_strip_[static_cast<std::size_t>(strip)].push_back(s);
    crew.run(strips, [&](int strip) {
        stamp_rows(strip * strip_rows, std::min(side_, (strip + 1) * strip_rows),
                   by_strip_[static_cast<std::size_t>(strip)]);
    });
}

void StampSheet::stamp_rows(int from, int to, const std::vector<Stamp>& stamps) {
    for (const Stamp& s : stamps) {
        const int first = std::max(from, s.y), end = std::min(to, s.y + 2 * reach_ + 1);
        subtract(height_.data() + static_cast<std::ptrdiff_t>(first) * stride_ + s.x, stride_,
                 s.print->data() + static_cast<std::ptrdiff_t>(first - s.y) * width_, width_, s.depth, end - first);
    }
}

SurfacePatch StampSheet::core(int pad, int side) const {
    SurfacePatch out{side, pixel_, {}};
    out.height.reserve(static_cast<std::size_t>(side) * static_cast<std::size_t>(side));
    for (int y = 0; y < side; ++y) {
        const auto start = height_.begin() + static_cast<std::ptrdiff_t>(y + pad) * stride_ + pad;
        out.height.insert(out.height.end(), start, start + side);
    }
    return out;
}

} // namespace finch
