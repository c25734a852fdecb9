// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/layer_work.h"

#include <cmath>

namespace finch {

double pass_time_s(const ScannerTiming& timing, const Hatch& hatch, double speed_mm_s) {
    double s = timing.pass_s;
    const HatchRun* last = nullptr;
    for (const HatchRun& r : hatch.runs) {
        if (last != nullptr)
            s += jump_time_s(timing, std::hypot(r.from.x - last->to.x, r.from.y - last->to.y));
        s += run_time_s(timing, std::hypot(r.to.x - r.from.x, r.to.y - r.from.y), speed_mm_s);
        last = &r;
    }
    return s;
}

Expected<LayerWork> layer_work(const Region& region, const Recipe& recipe, const ScannerTiming& timing) {
    const Setting& s = recipe.setting;
    auto lines = hatch(region, {in_mm(s.hatch_pitch), s.hatch_angle_deg});
    if (!lines)
        return tl::unexpected(lines.error());
    LayerWork out;
    out.length_mm = lines->length_mm();
    out.pass_s = lines->runs.empty() ? 0 : pass_time_s(timing, *lines, in_mm_per_second(s.scan_speed));
    out.total_s = burned_setting(recipe).passes * out.pass_s;
    out.hatch = std::move(*lines);
    return out;
}

} // namespace finch
