// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "recipe/scene.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

/// A factor of the model that cells of threshold sheets taught.
struct TaughtFactor {
    double factor = 1;                 ///< half of the cells that the model calls even with it are done
    double fit_ln = 0;                 ///< standard error of its logarithm
    std::vector<MeasuredPoint> points; ///< where it was learned
    int pieces = 0;
    bool of_work = false; ///< of a coat: it is of the work to take it off, not of its threshold
    std::string compound; ///< of a coupling: what it is of
};

/// Of a coat that a gas laser takes off, measured over predicted work; of pulses and of a film that is bleached,
/// measured over predicted threshold: each cell whose coat is gone or bleached, or is not,
/// says on which side of it the factor lies, and all together where. What merely shows teaches nothing: a coat that is
/// thinner looks as it did. `places` as newest_of_each() gives them; only those that tell whether they are done, and of
/// the first one's stock, count. Of both, the one that
/// more cells tell of. Nothing where fewer than eight do, where all of them are or none, or where this coat
/// has no modelled threshold.
[[nodiscard]] std::optional<TaughtFactor> taught_coat(const Materials& materials,
                                                      const std::vector<const Observation*>& places);

/// Share of the heat that reaches the metal under a compound, in the same way: a cell whose mark is dark after the
/// wash has bonded. Of several compounds the one that was burned last.
[[nodiscard]] std::optional<TaughtFactor> taught_coupling(const Materials& materials,
                                                          const std::vector<const Observation*>& places);

} // namespace finch
