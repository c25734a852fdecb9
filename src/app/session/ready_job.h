// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/laid_part.h"
#include "piece/placing.h"
#include "safety/gates.h"

#include <memory>
#include <QString>

namespace finch::app {

/// A job as it is handed over to be run: whole, apart from what is chosen afterwards. Never changes.
struct ReadyJob {
    Job job;
    PlaceRules rules;
    std::string code;
    std::vector<RunPortion> plan;
    JobRisks risks;
    std::vector<LaidPart> laid;         ///< where the jig was drawn to hold each part; by place
    std::vector<std::string> elsewhere; ///< layers whose recipe was taken on another bench, lens or stock
    std::vector<Finding> findings;      ///< of how it lies
};
/// Works out what a run of it takes. `scene`: of its set-up. Errors: those of run_plan().
[[nodiscard]] Expected<std::shared_ptr<const ReadyJob>> ready_job(Placed placed, const PlaceRules& rules,
                                                                  const Scene& scene, const ScannerKnowledge& scanner,
                                                                  std::vector<std::string> elsewhere);

/// "nest 3, numerals, pass 118 of 314".
[[nodiscard]] QString portion_words(const ReadyJob& job, const RunPortion& portion);
/// "nest", "tile" or "strip".
[[nodiscard]] QString place_word(const JobPlace& place);

} // namespace finch::app
