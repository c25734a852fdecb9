// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/requests.h"

#include "bench_link/protocol.h"
#include "document/json_fields.h"

#include <nlohmann/json.hpp>

namespace finch::standin {

Expected<Shot> read_shot(const nlohmann::json& request, std::uint64_t seed) {
    std::vector<Error> faults;
    JsonFields f(request, "", faults);
    Shot shot;
    shot.seed = f.has("seed") ? static_cast<std::uint64_t>(f.number("seed", 0, 9e15)) : seed;
    shot.disturbed = f.flag_or("disturbed", true);
    shot.quarter_turns = f.number_or("quarter_turns", 0, -4, 4);
    shot.blur_px = f.number_or("blur_px", 0.8, 0, 20);
    shot.exposure = f.number_or("exposure", 1, 0.05, 20);
    shot.glares = f.whole_or("glares", -1, -1, 20);
    shot.tilt_deg = f.number_or("tilt_deg", 0, 0, 75);
    for (auto [key, to] : {std::pair{"white_card_mm", &shot.white_card}, {"covered_mm", &shot.covered}}) {
        if (!f.has(key))
            continue;
        if (const auto rect = protocol::rect_from_json(f.raw(key)))
            *to = *rect;
        else
            f.fault(key, rect.error().message, rect.error().fix);
    }
    if (auto fault = first_fault(faults, "request"))
        return tl::unexpected(*fault);
    return shot;
}

} // namespace finch::standin
