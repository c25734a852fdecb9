// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief_rules.h"

#include "document/json_fields.h"

#include <nlohmann/json.hpp>

namespace finch {

nlohmann::json to_json(const ReliefRules& r) {
    return {{"width_mm", r.width_mm},       {"depth_um", r.depth_um},      {"layers", r.levels.layers},
            {"black", r.levels.black},      {"white", r.levels.white},     {"gamma", r.levels.gamma},
            {"invert", r.levels.invert},    {"sharpen", r.levels.sharpen}, {"sharpen_px", r.levels.sharpen_px},
            {"crop_to_rim", r.crop_to_rim}, {"follow", r.follow},          {"follow_most_mm", r.follow_most_mm},
            {"clean_every", r.clean_every}, {"buff_min", r.buff_min}};
}

ReliefRules read_relief_rules(JsonFields& f) {
    ReliefRules r;
    r.width_mm = f.number_or("width_mm", r.width_mm, 0.1, 1000);
    r.depth_um = f.number_or("depth_um", r.depth_um, 0, 100'000);
    r.levels.layers = f.whole_or("layers", r.levels.layers, 1, most_relief_layers);
    r.levels.black = f.number_or("black", 0, 0, 1);
    r.levels.white = f.number_or("white", 1, 0, 1);
    if (!(r.levels.black < r.levels.white))
        f.fault("white", "The white point must lie above the black point.", "Move the points apart.");
    r.levels.gamma = f.number_or("gamma", 1, 0.05, 20);
    r.levels.invert = f.flag_or("invert", false);
    r.levels.sharpen = f.number_or("sharpen", 0, 0, 5);
    r.levels.sharpen_px = f.number_or("sharpen_px", r.levels.sharpen_px, 0.1, 50);
    r.crop_to_rim = f.flag_or("crop_to_rim", false);
    r.follow = f.flag_or("follow", true);
    r.follow_most_mm = f.number_or("follow_most_mm", r.follow_most_mm, 0, 100);
    r.clean_every = f.whole_or("clean_every", 0, 0, most_relief_layers);
    r.buff_min = f.number_or("buff_min", 0, 0, 600);
    return r;
}

} // namespace finch
