// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/hatch.h"

#include "piece/shapes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <fmt/format.h>
#include <numbers>
#include <numeric>

namespace finch {
namespace {

constexpr double least_pitch = 5e-4, most_pitch = 100;
constexpr std::size_t most_lines = 5'000'000, most_runs = 10'000'000;
constexpr double shortest_mm = 1e-6; // shorter runs are corners that were only touched

/// Along and across the lines.
struct Turn {
    double c, s;
    [[nodiscard]] PointMm in(const PointMm& p) const { return {p.x * c + p.y * s, p.y * c - p.x * s}; }
    [[nodiscard]] PointMm out(double along, double across) const {
        return {along * c - across * s, along * s + across * c};
    }
};

Turn turn(double angle_deg) {
    // Whole quarters exactly: a drawing along its axes must stay on them.
    const double quarters = angle_deg / 90;
    if (std::abs(quarters) < 1e6 && quarters == std::round(quarters)) {
        constexpr std::array<double, 4> cosines{1, 0, -1, 0};
        const auto q = static_cast<std::size_t>(((static_cast<long long>(quarters) % 4) + 4) % 4);
        return {cosines[q], cosines[(q + 3) % 4]};
    }
    const double a = angle_deg * std::numbers::pi / 180;
    return {std::cos(a), std::sin(a)};
}

/// Where the lines lie across their direction.
struct Grid {
    double first = 0, pitch = 1;
    std::size_t lines = 0;
    [[nodiscard]] double level(std::size_t k) const { return first + pitch * static_cast<double>(k); }
};

using Rings = std::vector<std::vector<PointMm>>;

tl::unexpected<Error> too_many_runs(std::size_t runs) {
    return failure("hatch.too_many", fmt::format("{} runs are more than can be hatched.", runs),
                   "Take a wider pitch, or fewer shapes at once.", {{}, 0, "pitch_mm"});
}

/// The lines of some of the rings, in turned places.
Expected<Hatch> scanned(const Rings& rings, const std::vector<std::size_t>& which, const Grid& grid, const Turn& t,
                        bool to_and_fro) {
    Hatch out;
    // The first line at or above each corner, worked out once: an edge crosses the lines from that of its lower corner
    // to that of its upper one, so that a corner is crossed by both of its edges alike or by neither.
    std::vector<std::vector<std::uint32_t>> line_of;
    std::uint32_t lowest = static_cast<std::uint32_t>(grid.lines), highest = 0;
    for (const std::size_t r : which) {
        std::vector<std::uint32_t>& to = line_of.emplace_back();
        to.reserve(rings[r].size());
        for (const PointMm& p : rings[r]) {
            to.push_back(static_cast<std::uint32_t>(
                std::clamp(std::ceil((p.y - grid.first) / grid.pitch), 0.0, static_cast<double>(grid.lines))));
            lowest = std::min(lowest, to.back());
            highest = std::max(highest, to.back());
        }
    }
    if (lowest >= highest)
        return out;
    const std::size_t lines = highest - lowest;
    // Counted first and then filled: two walks, no list per line.
    const auto each_edge = [&](auto&& found) {
        for (std::size_t w = 0; w < which.size(); ++w) {
            const auto& ring = rings[which[w]];
            const auto& line = line_of[w];
            for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
                if (line[i] != line[k]) {
                    const bool up = line[k] < line[i];
                    found(ring[up ? k : i], ring[up ? i : k], line[up ? k : i] - lowest, line[up ? i : k] - lowest);
                }
        }
    };
    std::vector<std::size_t> start(lines + 1, 0);
    std::size_t crossings = 0;
    each_edge([&](const PointMm&, const PointMm&, std::uint32_t from, std::uint32_t to) {
        for (std::uint32_t l = from; l < to; ++l)
            ++start[l + 1];
        crossings += to - from;
    });
    if (crossings > 2 * most_runs)
        return too_many_runs(crossings / 2);
    for (std::size_t l = 0; l < lines; ++l)
        start[l + 1] += start[l];
    const auto level = [&](std::size_t l) { return grid.level(lowest + l); };
    std::vector<double> x(crossings);
    std::vector<std::size_t> next(start.begin(), start.end() - 1);
    each_edge([&](const PointMm& a, const PointMm& b, std::uint32_t from, std::uint32_t to) {
        const double slope = (b.x - a.x) / (b.y - a.y), left = std::min(a.x, b.x), right = std::max(a.x, b.x);
        for (std::uint32_t l = from; l < to; ++l)
            x[next[l]++] = std::clamp(a.x + slope * (level(l) - a.y), left, right);
    });

    out.runs.reserve(crossings / 2);
    bool back = false;
    for (std::size_t l = 0; l < lines; ++l) {
        const auto from = x.begin() + static_cast<long>(start[l]), to = x.begin() + static_cast<long>(start[l + 1]);
        std::sort(from, to);
        const std::size_t before = out.runs.size();
        for (auto it = from; it != to && it + 1 != to; it += 2)
            if (it[1] - it[0] > shortest_mm)
                out.runs.push_back({t.out(it[0], level(l)), t.out(it[1], level(l))});
        if (out.runs.size() == before)
            continue;
        out.line_start.push_back(before);
        if (back && to_and_fro) {
            std::reverse(out.runs.begin() + static_cast<long>(before), out.runs.end());
            for (std::size_t i = before; i < out.runs.size(); ++i)
                std::swap(out.runs[i].from, out.runs[i].to);
        }
        back = !back;
    }
    return out;
}

} // namespace

double Hatch::length_mm() const {
    double sum = 0;
    for (const HatchRun& r : runs)
        sum += std::hypot(r.to.x - r.from.x, r.to.y - r.from.y);
    return sum;
}

Expected<Hatch> hatch(const Region& region, const HatchRules& rules) {
    if (rules.by_shape)
        return hatch(region, rules, shapes_of(region));
    std::vector<std::size_t> all(region.rings.size());
    std::iota(all.begin(), all.end(), std::size_t(0));
    return hatch(region, rules, {&all, 1});
}

Expected<Hatch> hatch(const Region& region, const HatchRules& rules, std::span<const std::vector<std::size_t>> shapes) {
    if (!(rules.pitch_mm >= least_pitch && rules.pitch_mm <= most_pitch) || !std::isfinite(rules.angle_deg) ||
        !std::isfinite(rules.shift))
        return failure(
            "hatch.pitch",
            fmt::format("A pitch of {:g} mm at {:g} degrees cannot be hatched.", rules.pitch_mm, rules.angle_deg),
            "The pitch must be 0.0005 to 100 mm.", {{}, 0, "pitch_mm"});
    Hatch out;
    if (region.empty())
        return out;
    const Turn t = turn(rules.angle_deg);
    Rings rings;
    double low = 1e300, high = -1e300;
    for (const auto& ring : region.rings) {
        std::vector<PointMm>& to = rings.emplace_back();
        to.reserve(ring.size());
        for (const PointMm& p : ring) {
            to.push_back(t.in(p));
            low = std::min(low, to.back().y);
            high = std::max(high, to.back().y);
        }
    }
    const double pitch = rules.pitch_mm, span = high - low;
    if (!(span / pitch < static_cast<double>(most_lines)))
        return failure("hatch.too_many", fmt::format("{:.3g} lines are more than can be hatched.", span / pitch),
                       "Take a wider pitch, or check the unit of the drawing.", {{}, 0, "pitch_mm"});
    // As many lines as pitches fit, evenly in the middle; at least one.
    const double shift = rules.shift - std::floor(rules.shift);
    const auto count = static_cast<std::size_t>(std::max(1.0, std::floor(span / pitch + 0.5)));
    Grid grid{0.5 * (low + high) - 0.5 * static_cast<double>(count - 1) * pitch + shift * pitch -
                  (shift > 0 ? pitch : 0),
              pitch, count + (shift > 0 ? 1 : 0)};
    if (rules.anchor_mm) {
        const double at = *rules.anchor_mm + shift * pitch;
        grid.first = at + pitch * std::ceil((low - at) / pitch);
        grid.lines = grid.first > high ? 0 : static_cast<std::size_t>((high - grid.first) / pitch) + 1;
    }
    for (const auto& shape : shapes) {
        auto part = scanned(rings, shape, grid, t, rules.to_and_fro);
        if (!part)
            return tl::unexpected(part.error());
        if (shapes.size() == 1)
            return part;
        if (out.runs.size() + part->runs.size() > most_runs)
            return too_many_runs(out.runs.size() + part->runs.size());
        for (const std::size_t start : part->line_start)
            out.line_start.push_back(out.runs.size() + start);
        out.runs.insert(out.runs.end(), part->runs.begin(), part->runs.end());
    }
    return out;
}

} // namespace finch
