// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "piece/compound_plan.h"
#include "piece/job.h"
#include "piece/scanner_fit.h"
#include "recipe/quote.h"

namespace finch {

/// What making a piece takes in money, and the procedure that goes with a sprayed film.
struct PieceCost {
    CostRules rules;
    std::string route; ///< "Mallow, ceramic compound"
    const CompoundConstants* compound = nullptr;
    const Recipe* recipe = nullptr; ///< of the layer that is a film
    std::optional<CompoundPlan> plan;
    AfterWork after; ///< that is counted in the handling; of a film its steps are
};
/// What is done to a part afterwards: of its processes, what takes longest. None where nothing is marked.
[[nodiscard]] AfterWork after_work(const Materials& materials, const Job& part);

/// The cost of a job of one part. `mark_s`: of all its layers; `load_s`: to load and unload a part. A job without
/// layers has no film. Refers to the job and the materials. Errors: those of compound_plan(); compound.two (two
/// products at once), compound.unknown.
[[nodiscard]] Expected<PieceCost> piece_cost(const Materials& materials, const Job& part, double mark_s,
                                             const PriceRules& price, double load_s, int together);

/// Seconds that all layers of one part take, pauses of its order too. Errors: those of hatch(), in the layer.
[[nodiscard]] Expected<double> part_mark_s(const Job& job, const ScannerKnowledge& scanner);

/// Of a batch of so many good pieces, some of which are spoiled: as many are started as makes them come out good in 19
/// of 20 batches. Errors: those of job_cost().
[[nodiscard]] Expected<JobCost> batch_cost(const CostRules& rules, int wanted, double spoiled);

/// Two ways to make so many pieces, and how many make them cost the same.
struct RoutesAgainst {
    JobCost first, second;
    BreakEven crossing; ///< by what is once and what each piece adds, at this quantity
};
[[nodiscard]] Expected<RoutesAgainst> routes_against(const CostRules& first, double first_spoiled,
                                                     const CostRules& second, double second_spoiled, int wanted);

} // namespace finch
