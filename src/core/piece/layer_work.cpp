// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/layer_work.h"

namespace finch {

Expected<LayerWork> layer_work(const Region& region, const Recipe& recipe, bool by_shape) {
    const Setting& s = recipe.setting;
    auto lines = hatch(region, {in_mm(s.hatch_pitch), s.hatch_angle_deg, 0, true, by_shape});
    if (!lines)
        return tl::unexpected(lines.error());
    LayerWork out{std::move(*lines), {}};
    out.load = load_of(out.hatch, in_mm_per_second(s.scan_speed), burned_setting(recipe).passes);
    return out;
}

} // namespace finch
