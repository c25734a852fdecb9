// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"
#include "standin/world.h"

#include <span>

namespace finch::standin {

/// The mirrors of this bench, which are not like the program's model of mirrors: lines reach
/// their speed softly, the wait after a jump grows with its length in another way, sharp turns cost more, cold mirrors
/// wait longer, every vector ends on a tick of the clock, and the lines of a long pass take time to be sent.
struct Galvo {
    double jump_mm_s = 4000, push_mm_s2 = 6e6, draw_mm_s2 = 9e6;
    double wait_us = 380, wait_over_mm = 12, shortest_us = 160;
    double on_us = 60, off_us = 90, turn_us = 60;
    double cold = 0.12, warm_after_s = 25;
    double tick_us = 10;
    double pass_s = 0.15, send_us = 4; ///< per pass, and per vector of it
};
[[nodiscard]] Galvo draw_galvo(Grade grade, std::uint64_t seed);

/// Seconds from start to end of so many passes over these lines, in their order.
[[nodiscard]] double driven_s(const Galvo& galvo, std::span<const LineMm> runs, double speed_mm_s, int passes);

} // namespace finch::standin
