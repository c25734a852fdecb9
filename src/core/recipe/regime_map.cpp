// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/regime_map.h"

#include "physics/crew.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace finch {
namespace {

MapCell cell_of(const Scene& s, const Recipe& r, const Fill& fill) {
    MapCell c;
    const auto p = predict(s, r, fill, straight);
    if (!p)
        return c;
    c.effect = p->effect;
    c.share = static_cast<float>(p->share());
    const EffectShare next = p->shares.next();
    c.next = next.effect;
    c.next_share = static_cast<float>(next.share);
    c.has_film = p->mark.oxide.thickness_m > 0;
    if (c.has_film)
        c.lab = p->lab();
    c.dose_j_mm2 = static_cast<float>(p->mark.pattern.areal_dose_j_m2 / 1e6);
    c.pulses_per_mm2 = static_cast<float>(p->mark.pattern.pulses_per_m2 / 1e6);
    c.depth_um = static_cast<float>(p->depth_um());
    return c;
}

double field_of(const MapCell& c, MapField field) {
    return field == MapField::dose ? c.dose_j_mm2 : field == MapField::pulses ? c.pulses_per_mm2 : c.depth_um;
}

} // namespace

double MapAxis::value(double share) const {
    return by_ratio ? low * std::pow(high / low, share) : low + share * (high - low);
}

double MapAxis::share(double v) const {
    return by_ratio ? std::log(v / low) / std::log(high / low) : (v - low) / (high - low);
}

MapAxis map_axis(const Bench& bench, const Recipe& recipe, Knob knob, double reach) {
    const KnobLimits limits = knob_limits(bench, knob);
    const double now = knob_value(recipe, knob);
    const bool ratio = traits(knob).positive && now > 0;
    MapAxis a{knob, limits.low, limits.high, ratio};
    if (ratio) {
        a.low = std::max(limits.low, now / reach);
        a.high = std::min(limits.high, now * reach);
    } else if (knob == Knob::focus_offset) {
        const double span = 3 * in_mm(waist(bench.lens(), bench.source.wavelength).rayleigh);
        a.low = std::max(limits.low, now - span);
        a.high = std::min(limits.high, now + span);
    }
    if (a.high <= a.low)
        a.high = a.low * 1.01 + 1e-6;
    return a;
}

Recipe RegimeMap::recipe(const Recipe& base, double x, double y) const {
    return with_knob(with_knob(base, across.knob, across.value(x)), down.knob, down.value(y));
}

void compute_map(const Scene& scene, const Recipe& recipe, const Fill& fill, RegimeMap& map, int threads,
                 const std::function<bool(const RegimeMap&)>& seen) {
    const int n = map.side;
    map.cells.assign(static_cast<std::size_t>(n) * static_cast<std::size_t>(n), {});
    Crew crew(threads);
    const int coarsest = 8;
    for (int step = coarsest; step >= 1; step /= 2) {
        const int lines = (n + step - 1) / step;
        crew.run(lines, [&](int line) {
            const int y = line * step;
            for (int x = 0; x < n; x += step) {
                // Already there from a coarser look.
                if (step < coarsest && x % (2 * step) == 0 && y % (2 * step) == 0)
                    continue;
                // The same middle whatever the fineness, or coarse cells would stay behind as specks.
                const double sx = (x + 0.5) / n, sy = (y + 0.5) / n;
                map.cells[static_cast<std::size_t>(y) * static_cast<std::size_t>(n) + static_cast<std::size_t>(x)] =
                    cell_of(scene, map.recipe(recipe, sx, sy), fill);
            }
        });
        for (int y = 0; y < n; ++y)
            for (int x = 0; x < n; ++x)
                if (x % step != 0 || y % step != 0)
                    map.cells[static_cast<std::size_t>(y) * static_cast<std::size_t>(n) + static_cast<std::size_t>(x)] =
                        map.at(x - x % step, y - y % step);
        map.block = step;
        if (seen && !seen(map))
            return;
    }
}

std::vector<MapLine> equal_lines(const RegimeMap& map, MapField field, int count) {
    double low = 1e300, high = 0;
    for (const MapCell& c : map.cells)
        if (const double v = field_of(c, field); v > 0) {
            low = std::min(low, v);
            high = std::max(high, v);
        }
    std::vector<MapLine> out;
    if (!(high > low * 1.001))
        return out;
    std::vector<double> levels;
    for (double decade = std::pow(10, std::floor(std::log10(low))); decade <= high; decade *= 10)
        for (const double lead : {1.0, 2.0, 5.0})
            if (decade * lead > low * 1.05 && decade * lead < high / 1.05)
                levels.push_back(decade * lead);
    while (static_cast<int>(levels.size()) > count) {
        std::vector<double> fewer;
        for (std::size_t i = levels.size() % 2 == 0 ? 1 : 0; i < levels.size(); i += 2)
            fewer.push_back(levels[i]);
        if (fewer.size() == levels.size())
            break;
        levels = fewer;
    }
    const int n = map.side;
    const auto place = [n](double i) { return (i + 0.5) / n; };
    for (const double level : levels) {
        MapLine line{level, {}};
        const double target = std::log(level);
        for (int y = 0; y + 1 < n; ++y)
            for (int x = 0; x + 1 < n; ++x) {
                const std::array<std::pair<int, int>, 4> corner{{{x, y}, {x + 1, y}, {x + 1, y + 1}, {x, y + 1}}};
                std::vector<MapPoint> cuts;
                for (std::size_t k = 0; k < 4; ++k) {
                    const auto [ax, ay] = corner.at(k);
                    const auto [bx, by] = corner.at((k + 1) % 4);
                    const double a = std::log(std::max(field_of(map.at(ax, ay), field), 1e-12)) - target;
                    const double b = std::log(std::max(field_of(map.at(bx, by), field), 1e-12)) - target;
                    if ((a < 0) == (b < 0))
                        continue;
                    const double t = a / (a - b);
                    cuts.push_back({place(ax + t * (bx - ax)), place(ay + t * (by - ay))});
                }
                if (cuts.size() == 2)
                    line.pieces.emplace_back(cuts[0], cuts[1]);
            }
        out.push_back(std::move(line));
    }
    return out;
}

} // namespace finch
