// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/lot_check.h"

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

namespace finch {

/// What the control sheet of one day said: a lot check on the lot on which the recipe was proven.
struct ControlReading {
    int sheet = 0;
    std::string when_utc; ///< when it was read
    double dose_ln = 0;   ///< what the bench gives against what the recipe was proven with, ln
    double off_de = 0;    ///< how far its colours lie from their path at the dose that comes nearest, CIEDE2000
    double as_it_is_de = 0;
    bool operator==(const ControlReading&) const = default;
};
/// Nothing where the reading is no lot check, or too coarse to tell.
[[nodiscard]] std::optional<ControlReading> control_reading(const ProofSheet& sheet, const SheetReading& reading,
                                                            const std::string& when_utc);
/// Whether two sheets ask the same: one recipe, one expected colour. On one bench and lot they make a course.
[[nodiscard]] bool same_control(const ProofSheet& a, const ProofSheet& b);

struct ControlPoint {
    ControlReading reading;
    bool judged = false;     ///< enough days lie before it
    double usual_low_ln = 0; ///< nine in ten of such days, by the days before, where it is judged
    double usual_high_ln = 0;
    bool alarm = false;
    bool usual = true; ///< it counts for what is usual later
};

enum class ControlVerdict {
    settling, ///< too few days for a judgement
    usual,
    watch, ///< a change collects, but may be chance
    less,  ///< the bench gives less than usual
    more,
    off_path ///< the colours changed in a way that no dose explains
};

/// The course of one control over the days, oldest first.
struct ControlCourse {
    std::vector<ControlPoint> points;
    ControlVerdict verdict = ControlVerdict::settling;
    double spread_ln = 0;       ///< of usual days, one standard deviation; 0 while it settles
    double seen_at_once_ln = 0; ///< change of dose that the next sheet shows nine times in ten
    bool beside = false;        ///< it is the distance from the path, not the dose, that is or may be changing
    std::size_t since = 0;      ///< of the points: where the change of an alarm or a watch began
    double change_ln = 0, change_low_ln = 0, change_high_ln = 0; ///< since then against usual, nine in ten
    std::string words;                                           ///< two or three sentences
};
/// Self-starting cumulative sums (Hawkins 1987): each day is compared with the days before it by their own spread, as a
/// normal score by Student's t, so that the rate of false alarms does not depend on the spread or on how many days
/// there were. Days of an alarm are no part of what is usual; after one, the sum begins at half (Lucas and Crosier
/// 1982). Distances from the path enter by their power of two thirds, which is near to normal (Wilson and Hilferty
/// 1931). Readings in any order; of one sheet the newest.
[[nodiscard]] ControlCourse control_course(std::vector<ControlReading> readings);

[[nodiscard]] nlohmann::json to_json(const ControlCourse& course);

} // namespace finch
