// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/over_field.h"

#include "proof/layout.h"
#include "search/draws.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace finch {
namespace {

constexpr double of_the_field = 0.9; ///< that a sheet over the field takes
constexpr double widest_gap_mm = 20;
constexpr int shuffles = 400;

} // namespace

std::vector<std::size_t> scattered(std::size_t places, std::size_t columns, std::size_t steps, std::uint64_t seed) {
    const std::size_t rows = (places + columns - 1) / columns;
    std::vector<std::size_t> step(places), taken;
    for (std::size_t i = 0; i < places; ++i)
        step[i] = i * steps / places;
    Draws chance(seed);
    double least = std::numeric_limits<double>::max();
    for (int k = 0; k < shuffles; ++k) {
        for (std::size_t i = places - 1; i > 0; --i)
            std::swap(step[i], step[chance.below(i + 1)]);
        std::vector<std::array<double, 3>> sums(steps);
        for (std::size_t i = 0; i < places; ++i) {
            const std::size_t column = i % columns, row = i / columns;
            const double x = 2 * static_cast<double>(column) / static_cast<double>(columns - 1) - 1;
            const double y = rows > 1 ? 2 * static_cast<double>(row) / static_cast<double>(rows - 1) - 1 : 0;
            sums[step[i]][0] += x;
            sums[step[i]][1] += y;
            sums[step[i]][2] += x * x + y * y - 0.75;
        }
        double uneven = 0;
        for (const auto& s : sums)
            uneven += s[0] * s[0] + s[1] * s[1] + 0.5 * s[2] * s[2];
        if (uneven < least) {
            least = uneven;
            taken = step;
        }
    }
    return taken;
}

ProofSheet over_field(ProofSheet sheet, const Bench& bench) {
    const SheetLayout tight = layout(sheet);
    const auto [first, last] = std::minmax_element(tight.cells.begin(), tight.cells.end(),
                                                   [](const RectMm& a, const RectMm& b) { return a.x < b.x; });
    const auto columns = static_cast<double>(sheet.columns());
    const double frame = tight.width_mm - (last->x + last->w - first->x);
    const double room = of_the_field * in_mm(bench.lens().field) - frame - columns * in_mm(sheet.cell_width);
    sheet.gap = mm(std::clamp(std::floor(10 * room / (columns - 1)) / 10, in_mm(sheet.gap), widest_gap_mm));
    return sheet;
}

std::vector<PointMm> from_middle(const ProofSheet& sheet) {
    const SheetLayout at = layout(sheet);
    std::vector<PointMm> out;
    for (const RectMm& box : at.cells)
        out.push_back({box.x + box.w / 2 - at.width_mm / 2, box.y + box.h / 2 - at.height_mm / 2});
    return out;
}

} // namespace finch
