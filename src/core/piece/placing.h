// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/scanner_fit.h"
#include "piece/tray.h"
#include "recipe/check.h"

namespace finch {

/// One way to divide a turned part into strips: whole steps of the rotary and whole lines each.
struct StripChoice {
    int strips = 1;
    double steps_each = 0; ///< of the motor, a whole number
    int lines_each = 1;
    double pitch_mm = 0, pitch_change = 0; ///< that makes the lines whole, and by which share it moved
    double strip_mm = 0, strip_deg = 0, sag_mm = 0;
    double room_mm = 0;  ///< that the sag and the taper take, either way from the focus
    int seams_cut = 0;   ///< seams that go through a mark, at the best shift
    double shift_mm = 0; ///< of the first seam
    bool in_focus = true;
};
/// A turned part, as its marks are laid round it.
struct RoundPlan {
    double diameter_mm = 0;        ///< at the drawing's middle
    double from_mm = 0, to_mm = 0; ///< diameters at the drawing's lower and upper edge
    double wrap_mm = 0, stretch = 1;
    double half_angle_deg = 0, taper_mm = 0; ///< of the cone, and the height that it takes either way
    double half_depth_mm = 0;
    double steps_per_turn = 0;
    std::vector<StripChoice> choices; ///< the fewest first
    std::size_t taken = 0;
};
/// A job laid on the work, and what is to be known of that.
struct Placed {
    Job job;
    std::vector<Finding> findings;
    std::optional<RoundPlan> round;
    std::optional<Batch> batch;          ///< of a tray, once it is known what a tray takes
    double move_s = 0;                   ///< of the work from one place to the next, and of loading
    std::optional<double> pauses_s = {}; ///< of all places, where they were worked out for parts in turn
};
/// Turns, mirrors and lays out a job of one part. Errors: those of in_tray(); place.field (does not fit), place.tiles
/// (over 1000), place.no_rotary, round.*, setup.*.
[[nodiscard]] Expected<Placed> placed(const Job& part, const PlaceRules& rules);

/// The turn that makes a page fit the field, 0 or 45 degrees; nothing where none does.
[[nodiscard]] std::optional<double> turn_to_fit(double width_mm, double height_mm, double field_mm);

/// Marking and moving, all places. The batch of a tray is worked out with it.
struct PlacedTime {
    TimeBand marking;
    double moving_s = 0;
};
/// `handling_s` to load and unload a part, where the rules do not say.
[[nodiscard]] Expected<PlacedTime> time_of(const ScannerKnowledge& scanner, Placed& placed, const PlaceRules& rules,
                                           double handling_s);

} // namespace finch
