// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/plan.h"

#include <functional>

namespace finch {

/// One process judged against an aim, on one bench: a column of the Aim station.
struct Proposal {
    PlanTask task;
    std::string bench;        ///< name
    std::string label;        ///< "In focus", "Ceramic compound"
    std::string school_group; ///< "Anneal: the two schools", empty where there is one
    Plan plan;
    std::size_t chosen = 0; ///< candidate that answers the aim best
    int musts = 0, musts_passed = 0, wishes_passed = 0, wishes = 0;
    std::string sentence;             ///< verdict in one sentence
    std::vector<std::string> as_good; ///< other benches, or ways, that come to much the same and have no column
    std::string risk;                 ///< to a working part
    double focus_tolerance_mm = 0;
    Durability durability;
    std::string rests_on;
    [[nodiscard]] const Candidate& candidate() const { return plan.candidates.at(chosen); }
};

/// What came of weighing everything.
struct Weighing {
    std::vector<Proposal> proposals;                             ///< best first, schools of one process side by side
    std::vector<std::pair<std::string, std::string>> impossible; ///< process and reason
    std::vector<std::string> challenges;
    std::string headline; ///< "No process passes everything. ..."
};

/// Shown each time one more process is judged. Called on any of the threads, never on two at once.
using WeighingSeen = std::function<void(const Weighing& so_far)>;

/// Judges everything that the bench can do to the stock, and compounds on the other benches too. Two ways that come to
/// the same recipe are one column, which says so. On `threads` threads; the result does not depend on their number.
/// Told to stop, it gives back what it has shown.
[[nodiscard]] Weighing weigh(const Scene& scene, const Aim& aim, const std::vector<Bench>& other_benches = {},
                             int threads = 1, const WeighingSeen& seen = {}, const std::stop_token& stop = {});

/// Judges one process; schools of a pair are held at the dose of the first.
[[nodiscard]] Expected<Proposal> propose(const Scene& scene, const Aim& aim, const PlanTask& task,
                                         const std::stop_token& stop = {});

} // namespace finch
