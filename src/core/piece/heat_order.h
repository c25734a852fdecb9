// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/plate_heat.h"

#include <optional>
#include <string_view>

namespace finch {

/// Something that is marked in one go.
struct HeatTask {
    std::vector<PointMm> points; ///< equal parts of it
    double part_mm = 1;          ///< width of what a point stands for
    double heat_w = 0;           ///< that stays in the plate, on the average over its time
    double seconds = 0;
    std::vector<std::size_t> after; ///< tasks that must be done before
};

/// An order of marking, and how warm it finds what it marks.
struct HeatOrder {
    std::vector<std::size_t> order; ///< tasks
    std::vector<double> pause_s;    ///< before each
    std::vector<double> preheat_k;  ///< mean rise over each when it begins
    double seconds = 0;             ///< of marking and pauses
    double peak_k = 0;              ///< the warmest beginning
    double plate_k = 0;             ///< highest mean rise of the plate
    [[nodiscard]] double paused_s() const;
};

/// What order and pauses can do against the order in which the tasks stand.
struct HeatPlan {
    HeatOrder plain;   ///< as they stand
    HeatOrder cooler;  ///< the coolest beginning first, then bettered by moves; no pause
    HeatOrder paused;  ///< the same with the pauses that bring its warmest beginning under half of plain's
    HeatOrder clamped; ///< as they stand, with the loss of a plate clamped flat on metal
    std::optional<HeatOrder> in_turn; ///< as they stand, each followed by the same on the other parts of a tray
    double wanted_k = 0;              ///< what is aimed at
    enum class Help { none_needed, order, order_and_short_pauses, only_pauses } help = Help::none_needed;
    [[nodiscard]] const HeatOrder& best() const;
};
/// "none needed", "order", "order and short pauses", "only pauses"
[[nodiscard]] std::string_view word(HeatPlan::Help help);
struct HeatRules {
    double harmless_k = 5;     ///< warmer than this nobody sees
    double most_longer = 0.15; ///< share of time that is given for it
    double clamped_loss = 300; ///< W/(m2 K)
    int moves = 3000;          ///< that are tried
    int parts = 1;             ///< that could be marked in turn
};
/// Deterministic. Up to some hundred tasks.
[[nodiscard]] HeatPlan heat_plan(const HeatPlate& plate, const std::vector<HeatTask>& tasks,
                                 const HeatRules& rules = {});

} // namespace finch
