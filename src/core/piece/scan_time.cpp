// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/scan_time.h"

#include "quantity/angles.h"
#include <algorithm>
#include <cmath>
#include <optional>

namespace finch {

double settle_time_s(const ScannerTiming& t, double x) {
    return std::min(t.settle_us + t.settle_us_per_mm * x, t.settle_most_us) * 1e-6;
}

double jump_time_s(const ScannerTiming& t, double x) {
    const double ramp = t.jump_mm_s / t.acceleration_mm_s2;
    // Short jumps never reach full speed.
    const double move = x > t.jump_mm_s * ramp ? x / t.jump_mm_s + ramp : 2 * std::sqrt(x / t.acceleration_mm_s2);
    return move + settle_time_s(t, x);
}

double run_time_s(const ScannerTiming& t, double length, double speed) {
    return length / speed + speed / t.line_acceleration_mm_s2 + (t.on_us + t.off_us) * 1e-6;
}

double focus_time_s(const ScannerTiming& t, double distance) {
    return distance != 0 ? std::abs(distance) / t.focus_mm_s + t.focus_settle_s : 0;
}

AreaStats area_stats(const AreaMask& m, double pitch) {
    long edges = 0, count = 0;
    for (int y = 0; y <= m.height; ++y)
        for (int x = 0; x <= m.width; ++x) {
            const bool here = m.at(x, y);
            count += here ? 1 : 0;
            edges += (here != m.at(x - 1, y) ? 1 : 0) + (here != m.at(x, y - 1) ? 1 : 0);
        }
    const double perimeter = pi / 4 * static_cast<double>(edges) * m.pixel_mm;
    return {static_cast<double>(count) * m.pixel_mm * m.pixel_mm, perimeter / (pi * pitch)};
}

double pass_time_s(const ScannerTiming& t, double area, double outline, double runs, double speed, double pitch) {
    if (area == 0 || runs <= 0)
        return t.pass_s;
    const double lines = std::min(runs, std::sqrt(std::max(outline, area)) / pitch);
    const double gaps = runs - lines;
    double s = t.pass_s + area / pitch / speed + runs * run_time_s(t, 0, speed) + lines * jump_time_s(t, pitch);
    if (gaps > 0)
        s += gaps * jump_time_s(t, std::min(std::max(0.0, outline - area) / pitch / gaps, 0.6 * std::sqrt(outline)));
    return s;
}

std::vector<LineRuns> hatch_runs(const AreaMask& m, double pitch, double angle_deg) {
    const double c = std::cos(angle_deg * pi / 180), s = std::sin(angle_deg * pi / 180);
    const double half = 0.5 * m.pixel_mm * std::hypot(m.width, m.height);
    const double step = 0.5 * m.pixel_mm;
    const int most = static_cast<int>(std::floor(half / pitch));
    const int samples = static_cast<int>(2 * half / step) + 1;
    std::vector<LineRuns> out;
    for (int k = -most; k <= most; ++k) {
        LineRuns runs;
        int begun = -1; // sample at which the run began
        const double v = k * pitch;
        for (int i = 0; i <= samples; ++i) {
            bool set = false;
            if (i < samples) {
                const double u = (i + 0.5) * step - half;
                set = m.at(static_cast<int>(std::floor((u * c - v * s) / m.pixel_mm + m.width / 2.0)),
                           static_cast<int>(std::floor((u * s + v * c) / m.pixel_mm + m.height / 2.0)));
            }
            if (set && begun < 0)
                begun = i;
            if (!set && begun >= 0) {
                runs.emplace_back(begun * step - half, i * step - half);
                begun = -1;
            }
        }
        out.push_back(std::move(runs));
    }
    return out;
}

double pass_time_s(const ScannerTiming& t, const std::vector<LineRuns>& lines, double speed, double pitch) {
    double s = t.pass_s;
    bool forward = true;
    std::optional<std::pair<double, std::size_t>> last;
    for (std::size_t k = 0; k < lines.size(); ++k) {
        if (lines[k].empty())
            continue;
        LineRuns runs = lines[k];
        if (!forward) {
            std::reverse(runs.begin(), runs.end());
            for (auto& run : runs)
                std::swap(run.first, run.second);
        }
        for (const auto& [from, to] : runs) {
            if (last)
                s += jump_time_s(t, std::hypot(from - last->first, static_cast<double>(k - last->second) * pitch));
            s += run_time_s(t, std::abs(to - from), speed);
            last = {to, k};
        }
        forward = !forward;
    }
    return s;
}

} // namespace finch
