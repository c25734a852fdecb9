// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <optional>
#include <string>

namespace finch {

/// The next sheet and why.
struct NextSheet {
    SheetRequest request;
    std::string reason; ///< one or two sentences, with the numbers
    std::optional<double>
        hoped_de;            ///< best predicted difference to the target there; none where no colour is predicted
    double hoped_spread = 0; ///< how far it may be off, from the spread of what was learned
};

/// A narrower sheet round a chosen cell: each axis spans a step and a half either side, moved outward when the cell
/// lies on the rim, and centred on where the calibrated model expects the target.
/// Errors: those of predict().
[[nodiscard]] Expected<NextSheet> next_sheet(const ProofSheet& sheet, const SheetReading& reading, const Target& target,
                                             std::size_t chosen, const Scene& scene);

/// An opening sheet for a target: the base recipe scaled so that the model expects the target in the middle, and both
/// axes a factor wide that follows from how sure the model is.
[[nodiscard]] Expected<NextSheet> opening_sheet(const Target& target, const Recipe& base, Knob across, Knob down,
                                                const Scene& scene);

} // namespace finch
