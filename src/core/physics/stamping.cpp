// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/stamping.h"

#include "physics/vector_clones.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace finch {
namespace {

constexpr int lanes = 4;
constexpr int strip_rows = 32;

int padded(int n) {
    return (n + lanes - 1) / lanes * lanes;
}

/// Rows of one stamp. No fused operations, so that every machine gives the same bits; clones only widen the vectors.
#if !defined(__SANITIZE_ADDRESS__)
FINCH_VECTOR_CLONES
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

int StampSheet::strips() const {
    return (side_ + strip_rows - 1) / strip_rows;
}

void StampSheet::look(const std::vector<PulseMark>& marks, double centre, double base_um, double bin_um,
                      Part& part) const {
    part.stamps.resize(marks.size());
    part.bins.resize(marks.size());
    part.phases.resize(marks.size());
    part.low = std::numeric_limits<int>::max();
    part.high = std::numeric_limits<int>::min();
    for (std::size_t i = 0; i < marks.size(); ++i) {
        const double gx = marks[i].x / pixel_ + centre, gy = marks[i].y / pixel_ + centre;
        const int ix = static_cast<int>(std::rint(gx)), iy = static_cast<int>(std::rint(gy));
        const int px = std::min(phases_ - 1, static_cast<int>((gx - ix + 0.5) * phases_));
        const int py = std::min(phases_ - 1, static_cast<int>((gy - iy + 0.5) * phases_));
        const double floor =
            height_[static_cast<std::size_t>(iy) * static_cast<std::size_t>(stride_) + static_cast<std::size_t>(ix)];
        part.bins[i] = static_cast<int>(std::rint((-floor + base_um) / bin_um));
        part.low = std::min(part.low, part.bins[i]);
        part.high = std::max(part.high, part.bins[i]);
        part.phases[i] = py * phases_ + px;
        part.stamps[i] = {ix - reach_, iy - reach_, marks[i].depth, nullptr};
    }
}

void StampSheet::deal(Part& part, int low, const std::vector<const std::vector<Footprint>*>& table) const {
    part.by_strip.resize(static_cast<std::size_t>(strips()));
    for (auto& strip : part.by_strip)
        strip.clear();
    for (std::size_t i = 0; i < part.stamps.size(); ++i) {
        Stamp& s = part.stamps[i];
        s.print = &(*table[static_cast<std::size_t>(part.bins[i] - low)])[static_cast<std::size_t>(part.phases[i])];
        for (int strip = s.y / strip_rows; strip <= (s.y + 2 * reach_) / strip_rows; ++strip)
            part.by_strip[static_cast<std::size_t>(strip)].push_back(s);
    }
}

void StampSheet::stamp(const Parts& marks, int pad, int core, double base_um, double bin_um, const CraterAt& crater_at,
                       Crew& crew) {
    const auto count = static_cast<int>(marks.size());
    const double centre = core / 2.0 - 0.5 + pad;
    parts_.resize(marks.size());
    crew.run(count, [&](int p) {
        const auto at = static_cast<std::size_t>(p);
        look(marks[at], centre, base_um, bin_um, parts_[at]);
    });
    int low = std::numeric_limits<int>::max(), high = std::numeric_limits<int>::min();
    for (const Part& p : parts_) {
        low = std::min(low, p.low);
        high = std::max(high, p.high);
    }
    if (low > high)
        return;
    // Footprints of all depths at hand; only these few are made by one thread alone.
    std::vector<char> used(static_cast<std::size_t>(high - low) + 1, 0);
    for (const Part& p : parts_)
        for (const int bin : p.bins)
            used[static_cast<std::size_t>(bin - low)] = 1;
    std::vector<const std::vector<Footprint>*> table(used.size(), nullptr);
    for (std::size_t i = 0; i < used.size(); ++i)
        if (used[i] != 0)
            table[i] = &prints(low + static_cast<int>(i), crater_at);
    crew.run(count, [&](int p) { deal(parts_[static_cast<std::size_t>(p)], low, table); });
    // Each strip of rows takes, in the order of the pulses, those that touch it.
    crew.run(strips(), [&](int strip) {
        for (const Part& p : parts_)
            stamp_rows(strip * strip_rows, std::min(side_, (strip + 1) * strip_rows),
                       p.by_strip[static_cast<std::size_t>(strip)]);
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
