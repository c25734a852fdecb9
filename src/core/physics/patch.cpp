// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/patch.h"

#include "physics/crew.h"
#include "physics/stamping.h"
#include "quantity/angles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>

namespace finch {
namespace {

constexpr double radians = pi / 180;

std::optional<Error> patch_fault(const PatchJob& j) {
    if (!(j.size_mm >= 0.05 && j.size_mm <= 5 && j.pixel_um >= 0.5 && j.pixel_um <= 20))
        return Error{"patch.size",
                     "The patch is outside 0.05 to 5 mm, or its pixel outside 0.5 to 20 um.",
                     "Choose a smaller patch or a coarser pixel.",
                     {}};
    if (j.passes < 1 || j.passes > 2000 || !(j.rim >= 0 && j.rim < 0.6))
        return Error{"patch.passes",
                     "The passes are outside 1 to 2000, or the rim outside 0 to 0.6.",
                     "Simulate fewer passes.",
                     {}};
    return std::nullopt;
}

struct Hatch {
    int pass = 0, which = 0;
    double angle = 0, step_um = 1, pitch_um = 1, reach_um = 1;
};

/// Centres and depth factors of the pulses of lines [from, to) of one hatch, in the order of the lines.
void place(const PatchJob& job, const Hatch& h, int from, int to, int most_lines, std::vector<PulseMark>& out) {
    const double half = job.size_mm * 500 + h.reach_um;
    const double c = std::cos(h.angle * radians), s = std::sin(h.angle * radians);
    const int across = static_cast<int>(std::floor(half * std::numbers::sqrt2 / h.step_um)) + 2;
    double v0 = 1e3 * (job.pivot_y_mm * c - job.pivot_x_mm * s) + job.shift * h.pass * h.pitch_um;
    v0 -= std::floor(v0 / h.pitch_um) * h.pitch_um;
    for (int k = from; k < to; ++k) {
        const auto line = static_cast<std::uint64_t>(2 * (k + most_lines) + h.which);
        const auto pass = static_cast<std::uint64_t>(h.pass);
        const double phase = hash01(pass, line, 0);
        const double sign = (k & 1) == 0 ? 1 : -1;
        const double middle = v0 + k * h.pitch_um;
        // Where the line can lie inside the square at all, with room for jitter; the exact test follows.
        double low = -across, high = across;
        const double slack = 2 * job.jitter_um + 2 * h.step_um;
        const auto clip = [&](double slope, double start) {
            if (std::abs(slope) < 1e-9)
                return;
            const double a = (-half - slack - start) / slope, b = (half + slack - start) / slope;
            low = std::max(low, std::min(a, b) / h.step_um - 2);
            high = std::min(high, std::max(a, b) / h.step_um + 2);
        };
        clip(c * sign, -middle * s);
        clip(s * sign, middle * c);
        const int first = static_cast<int>(std::ceil(low)), last = static_cast<int>(std::floor(high));
        for (int i = std::max(first, -across); i <= std::min(last, across); ++i) {
            const auto j = static_cast<std::uint64_t>(3 * (i + across) + 1);
            const double v = middle + job.jitter_um * (2 * hash01(pass, line, j) - 1);
            const double u = (i + phase) * h.step_um * sign + job.jitter_um * (2 * hash01(pass, line, j + 1) - 1);
            const double x = u * c - v * s, y = u * s + v * c;
            if (std::abs(x) < half && std::abs(y) < half)
                out.push_back({x, y, 1 + job.noise * (2 * hash01(pass, line, j + 2) - 1)});
        }
    }
}

/// The marks of one hatch, line by line in parts that two or more threads may take.
void place_all(const PatchJob& job, const Hatch& h, Crew& crew, StampSheet::Parts& marks) {
    const double half = job.size_mm * 500 + h.reach_um;
    const int lines = static_cast<int>(std::floor(half * std::numbers::sqrt2 / h.pitch_um)) + 2;
    const int all = 2 * lines + 1;
    const int parts = static_cast<int>(marks.size());
    crew.run(parts, [&](int p) {
        auto& found = marks.at(static_cast<std::size_t>(p));
        found.clear();
        place(job, h, -lines + all * p / parts, -lines + all * (p + 1) / parts, lines, found);
    });
}

Raster crossed(const Cutting& cut, const PatchJob& job) {
    return {cut.raster.speed, cut.raster.pitch / (job.cross ? 2.0 : 1.0)};
}

PassOutcome pass_at(const Cutting& cut, const PatchJob& job, double offset_mm) {
    return one_pass(cut.metal, cut.model, cut.train, cut.beam, crossed(cut, job), mm(offset_mm));
}

} // namespace

double hash01(std::uint64_t a, std::uint64_t b, std::uint64_t c) {
    std::uint64_t x = a * 0x9E3779B97F4A7C15ULL + b * 0xC2B2AE3D27D4EB4FULL + c * 0x165667B19E3779F9ULL + 1;
    x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ULL;
    x = (x ^ (x >> 27)) * 0x94D049BB133111EBULL;
    return static_cast<double>((x ^ (x >> 31)) >> 11) / 9007199254740992.0;
}

PatchReport measure(const SurfacePatch& s, long pulses) {
    PatchReport out;
    out.pulses = pulses;
    double sum = 0;
    double low = s.height.front(), high = low;
    for (const double h : s.height) {
        sum += h;
        low = std::min(low, h);
        high = std::max(high, h);
    }
    const auto count = static_cast<double>(s.height.size());
    const double mean = sum / count;
    double rough = 0, xx = 0, yy = 0, xy = 0;
    const int n = s.side;
    const auto slope = [&](double before, double after, int span) { return (after - before) / (span * s.pixel_um); };
    for (int y = 0; y < n; ++y)
        for (int x = 0; x < n; ++x) {
            rough += std::abs(s.at(x, y) - mean);
            const int left = std::max(0, x - 1), right = std::min(n - 1, x + 1);
            const int down = std::max(0, y - 1), up = std::min(n - 1, y + 1);
            const double gx = slope(s.at(left, y), s.at(right, y), right - left);
            const double gy = slope(s.at(x, down), s.at(x, up), up - down);
            xx += gx * gx;
            yy += gy * gy;
            xy += gx * gy;
        }
    out.mean_depth_um = -mean;
    out.sa_um = rough / count;
    out.sz_um = high - low;
    out.anisotropy = xx + yy > 0 ? std::hypot(xx - yy, 2 * xy) / (xx + yy) : 0;
    return out;
}

Expected<PatchResult> simulate_patch(const Cutting& cut, const PatchJob& job, int threads,
                                     const PatchProgress& progress) {
    if (auto fault = patch_fault(job))
        return tl::unexpected(*fault);
    const int n = static_cast<int>(std::lrint(job.size_mm * 1000 / job.pixel_um));
    Hatch hatch;
    hatch.step_um = in_mm_per_second(cut.raster.speed) / in_kilohertz(cut.train.frequency);
    hatch.pitch_um = in_micrometres(cut.raster.pitch);
    hatch.reach_um = 0.8 * pass_at(cut, job, job.focus_offset_mm).crater.diameter_um + 2 * job.pixel_um;
    const int reach = static_cast<int>(std::ceil(hatch.reach_um / job.pixel_um));
    const int pad = 2 * reach + 1;
    StampSheet sheet(n + 2 * pad, job.pixel_um, reach, job.phases, job.rim);
    const double bin_um = 0.02 * in_mm(cut.beam.rayleigh) * 1e3;
    std::map<int, Crater> craters;
    long count = 0;
    Crew crew(threads);
    StampSheet::Parts marks(16);
    for (int pass = 0; pass < job.passes; ++pass) {
        for (int which = 0; which < (job.cross ? 2 : 1); ++which) {
            hatch.pass = pass;
            hatch.which = which;
            hatch.angle = job.angle_deg + pass * job.turn_deg + 90.0 * which;
            place_all(job, hatch, crew, marks);
            for (const auto& part : marks)
                count += static_cast<long>(part.size());
            const double base = job.focus_offset_mm * 1e3 - pass * job.focus_step_um;
            sheet.stamp(
                marks, pad, n, base, bin_um,
                [&](int bin) {
                    const auto it = craters.find(bin);
                    return it != craters.end()
                               ? it->second
                               : craters.emplace(bin, pass_at(cut, job, bin * bin_um * 1e-3).crater).first->second;
                },
                crew);
        }
        if (progress && !progress(pass + 1))
            break;
    }
    PatchResult out{sheet.core(pad, n), {}};
    out.report = measure(out.surface, count);
    return out;
}

Expected<PatchResult> groove_patch(const Cutting& cut, const PatchJob& job, const PatchProgress& progress) {
    if (auto fault = patch_fault(job))
        return tl::unexpected(*fault);
    constexpr int entries = 512;
    const int n = static_cast<int>(std::lrint(job.size_mm * 1000 / job.pixel_um));
    const double pitch = in_micrometres(cut.raster.pitch);
    const double step = in_mm_per_second(cut.raster.speed) / in_kilohertz(cut.train.frequency);
    PatchResult out;
    out.surface = {n, job.pixel_um, std::vector<double>(static_cast<std::size_t>(n) * static_cast<std::size_t>(n), 0)};
    std::vector<double>& height = out.surface.height;
    std::vector<double> table(entries);
    const auto place = [&](int i) { return (i + 0.5 - n / 2.0) * job.pixel_um; };
    for (int pass = 0; pass < job.passes; ++pass) {
        for (int which = 0; which < (job.cross ? 2 : 1); ++which) {
            double mean = 0;
            for (const double h : height)
                mean += h;
            mean /= static_cast<double>(height.size());
            const Crater c =
                pass_at(cut, job, job.focus_offset_mm - mean * 1e-3 - pass * job.focus_step_um * 1e-3).crater;
            if (c.volume_um3 <= 0)
                continue;
            const double rc = c.diameter_um / 2;
            const int reach = static_cast<int>(std::ceil(rc / pitch)) + 1;
            for (int i = 0; i < entries; ++i) {
                const double v = i / static_cast<double>(entries) * pitch;
                double sum = 0;
                for (int j = -reach; j < reach + 2; ++j)
                    sum += std::pow(std::max(0.0, rc * rc - (v - j * pitch) * (v - j * pitch)), 1.5);
                table[static_cast<std::size_t>(i)] = sum * c.volume_um3 * 8 / (3 * pi * rc * rc * rc * rc) / step;
            }
            const double a = (job.angle_deg + pass * job.turn_deg + 90.0 * which) * radians;
            const double cosine = std::cos(a), sine = std::sin(a);
            const double v0 = 1e3 * (job.pivot_y_mm * cosine - job.pivot_x_mm * sine) + job.shift * pass * pitch;
            for (int y = 0; y < n; ++y)
                for (int x = 0; x < n; ++x) {
                    const double w = (place(y) * cosine - place(x) * sine - v0) / pitch;
                    const auto at = static_cast<std::size_t>((w - std::floor(w)) * entries);
                    height[static_cast<std::size_t>(y) * static_cast<std::size_t>(n) + static_cast<std::size_t>(x)] -=
                        table[std::min<std::size_t>(entries - 1, at)];
                }
        }
        if (progress && !progress(pass + 1))
            break;
    }
    out.report = measure(out.surface);
    return out;
}

} // namespace finch
