// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

/// What a reading teaches.
struct Lesson {
    Evidence evidence;                  ///< growth gain for this lot on this bench, with its spread
    double thickness_ratio = 1;         ///< measured film over the film predicted before, median of the cells
    double before_de = 0, after_de = 0; ///< median CIEDE2000 of prediction to reading, before and after
    std::size_t cells = 0;              ///< cells that were used
};

/// Fits the growth gain to a reading: the gain that makes the predicted colours meet the measured ones best, over all
/// cells whose colour is valid. The hue repeats with the film order, so the gain is searched between 0.25 and 4 rather
/// than followed downhill. Cells of low confidence and outliers count little.
/// Errors: proof.nothing_to_learn (fewer than three usable cells).
[[nodiscard]] Expected<Lesson> learn(const ProofSheet& sheet, const SheetReading& reading, const Materials& materials,
                                     const Metal& metal, const Bench& bench, const Stock& stock,
                                     const Evidence& before);

/// Oxide thickness (nm) that shows a colour best near a predicted one; used to say how far a cell is off.
[[nodiscard]] double thickness_from_colour(const Metal& metal, const Lab& lab, double haze, double near_nm);

/// The next sheet and why.
struct NextSheet {
    SheetRequest request;
    std::string reason;      ///< one or two sentences, with the numbers
    double hoped_de = 0;     ///< best predicted difference to the target on that sheet
    double hoped_spread = 0; ///< how far it may be off, from the spread of what was learned
};

/// A narrower sheet round a chosen cell: each axis spans a step and a half either side, moved outward when the cell
/// lies on the rim, and centred on where the calibrated model expects the target.
/// Errors: those of predict().
[[nodiscard]] Expected<NextSheet> next_sheet(const ProofSheet& sheet, const SheetReading& reading, const Target& target,
                                             std::size_t chosen, const Materials& materials, const Metal& metal,
                                             const Bench& bench, const Stock& stock, const Evidence& evidence);

/// An opening sheet for a target: the base recipe scaled so that the model expects the target in the middle, and both
/// axes a factor wide that follows from how sure the model is.
[[nodiscard]] Expected<NextSheet> opening_sheet(const Target& target, const Recipe& base, Knob across, Knob down,
                                                const Materials& materials, const Metal& metal, const Bench& bench,
                                                const Stock& stock, const Evidence& evidence);

} // namespace finch
