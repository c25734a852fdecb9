// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"

namespace finch {

/// What is marked in one go at a place: some passes of a layer as it lies there, or of some of its shapes.
struct MarkingStretch {
    std::size_t place = 0, layer = 0;        ///< among places_of(job) and its layers
    std::size_t first_shape = 0, shapes = 0; ///< of a step; no shapes: the layer as it is there
    int first_pass = 0, passes = 1;
    double pause_s = 0;         ///< before it
    double cools_s = 0;         ///< since the part was marked last, at least; of parts in turn
    bool moved_by_hand = false; ///< somebody moves the part before it
};

/// Whether every part gets one pass, or one step of an order against heat, before any gets the next: each cools while
/// the others are marked. Of parts that are moved for it there is no such order.
[[nodiscard]] bool marked_in_turn(const Job& job);

/// A job in the order in which it is marked; what run, G-code and times go by. Of parts in turn, only as much of a
/// pause is left as the marking of the others does not fill: counted as if the beam had no jumps and no delays to make,
/// so that no part gets less than its pause on any bench. Errors: those of pass_hatch().
[[nodiscard]] Expected<std::vector<MarkingStretch>> marking_order(const Job& job);

/// Pauses of all places together. Errors: those of marking_order().
[[nodiscard]] Expected<double> pauses_s(const Job& job);
/// From part to part and back, where they are marked in turn, in mm: jumps that the passes themselves do not have.
[[nodiscard]] std::vector<double> turn_jumps_mm(const Job& job);

} // namespace finch
