// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/bare_metal.h"

#include <algorithm>
#include <cmath>

namespace finch {

std::size_t BareMetal::add(const Squared& squared, const RectMm& where) {
    strips_.push_back({where, median_light(squared, where)});
    return strips_.size() - 1;
}

BareMetal::BareMetal(const Squared& squared, const ProofSheet& sheet, const SheetLayout& at) {
    const double gap = in_mm(sheet.gap), t = std::min(0.5 * gap, 1.0);
    const std::size_t columns = sheet.columns(), rows = sheet.rows();
    of_cell_.resize(at.cells.size());
    for (std::size_t i = 0; i < at.cells.size(); ++i) {
        const RectMm& c = at.cells[i];
        const std::size_t right = add(squared, {c.x + c.w + gap / 2 - t / 2, c.y + 0.2 * c.h, t, 0.6 * c.h});
        const std::size_t below = add(squared, {c.x + 0.2 * c.w, c.y + c.h + gap / 2 - t / 2, 0.6 * c.w, t});
        of_cell_[i][1] = right;
        of_cell_[i][3] = below;
        if (i % columns + 1 < columns)
            of_cell_[i + 1][0] = right;
        if (i / columns + 1 < rows)
            of_cell_[i + columns][2] = below;
        // Beside the labels of rows and columns there is less room.
        if (i % columns == 0)
            of_cell_[i][0] = add(squared, {c.x - gap / 2 - t / 2 + 0.1, c.y + 0.1 * c.h, t, 0.3 * c.h});
        if (i / columns == 0)
            of_cell_[i][2] = add(squared, {c.x + 0.15 * c.w, c.y - 0.62, 0.7 * c.w, 0.42});
        // A place of a frame may be another round's.
        if (!sheet.frame && i < sheet.left_out.size() && sheet.left_out[i])
            add(squared, {c.x + 0.2 * c.w, c.y + 0.2 * c.h, 0.6 * c.w, 0.6 * c.h});
    }
    for (const Fiducial& f : at.fiducials) {
        add(squared, {f.box.x + 1, f.box.y - 1.4, f.box.w - 2, 0.8});
        add(squared, {f.box.x + 1, f.box.y + f.box.w + 0.5, f.box.w - 2, 0.7});
    }
    std::vector<BareSample> samples;
    for (const Strip& s : strips_)
        if (s.light)
            samples.push_back({s.where.x + s.where.w / 2, s.where.y + s.where.h / 2, *s.light});
    seen_ = samples.size();
    field_ = std::make_unique<LightField>(samples, at.width_mm, at.height_mm);
}

LocalLight BareMetal::round_cell(std::size_t cell) const {
    LocalLight out;
    std::vector<Light> rests; // ln of each strip's light over the field
    for (const std::size_t index : of_cell_[cell]) {
        const Strip& s = strips_[index];
        if (!s.light)
            continue;
        const Light field = field_->at(s.where.x + s.where.w / 2, s.where.y + s.where.h / 2);
        Light rest{};
        for (std::size_t c = 0; c < 3; ++c)
            rest[c] = std::log(std::max((*s.light)[c], 1e-5) / field[c]);
        rests.push_back(rest);
    }
    if (rests.empty())
        return out;
    std::sort(rests.begin(), rests.end(), [](const Light& a, const Light& b) { return a[1] < b[1]; });
    const double middle = 0.5 * (rests[(rests.size() - 1) / 2][1] + rests[rests.size() / 2][1]);
    // A strip that is far from the others carries a stroke of a label, a speck, or glare of its own.
    constexpr double stray = 0.3;
    std::vector<Light> good;
    std::copy_if(rests.begin(), rests.end(), std::back_inserter(good),
                 [&](const Light& r) { return std::abs(r[1] - middle) < stray; });
    out.good = static_cast<int>(good.size());
    if (good.empty())
        return out;
    for (std::size_t c = 0; c < 3; ++c) {
        double sum = 0;
        for (const Light& r : good)
            sum += r[c] / static_cast<double>(good.size());
        out.factor[c] = std::exp(sum);
    }
    out.apart_ln = good.back()[1] - good.front()[1];
    // Bare metal mirrors a lamp better than it scatters light: what is brighter there may lie on the cell as a veil.
    // The channel that gained least tells how much of it is white.
    double added = 0;
    for (const Light& r : rests)
        added = std::max(added, std::exp(*std::min_element(r.begin(), r.end())) - 1);
    out.veil = added;
    out.shade = std::max(0.0, 1 - std::exp(good.front()[1]));
    return out;
}

} // namespace finch
