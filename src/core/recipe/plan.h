// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/judge.h"
#include "recipe/process_rules.h"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace finch {

/// What to plan.
struct PlanTask {
    Process process = Process::anneal;
    School school = School::single;
    std::string compound;             ///< key, for compound work
    std::optional<double> dose_j_mm2; ///< held equal to another school's
    bool operator==(const PlanTask&) const = default;
};
[[nodiscard]] std::string label(const PlanTask& task, const Materials& materials);

/// Whether this bench and stock can do a process at all, with the reason if not.
[[nodiscard]] Expected<void> possible(const Scene& scene, const PlanTask& task);
/// Everything that this bench can do to this stock, both schools where there are two.
[[nodiscard]] std::vector<PlanTask> possible_tasks(const Scene& scene);

enum class CandidateKind { fastest, safest, most_robust, cheapest };
[[nodiscard]] std::string_view word(CandidateKind kind);

/// One recipe that does the job, and how well.
struct Candidate {
    std::vector<CandidateKind> kinds; ///< what it is best at
    Recipe recipe;
    Prediction prediction;
    Appearance look;
    Effort effort;
    OutcomeSpread spread;
    std::vector<Verdict> verdicts;
    double margin = 0;       ///< as safety_margin()
    bool meets = false;      ///< does what the process is for, as the aim wants it
    std::string why_not;     ///< one sentence if it does not
    std::string sensitivity; ///< the error that matters most, and what it does
};
struct Plan {
    PlanTask task;
    std::vector<Candidate> candidates; ///< at least one; different recipes only
};

/// Bounded search over the knobs within the bench's limits. Every candidate lies inside them; each says itself whether
/// it meets the aim. Deterministic. Gives up within a few predictions once it is told to stop.
/// Errors: plan.impossible with the reason, work.cancelled, physics.*.
[[nodiscard]] Expected<Plan> plan(const Scene& scene, const Aim& aim, const PlanTask& task, std::stop_token stop = {});

/// Depth that an engraving is planned for, um: the middle of the wish, or what is usual.
[[nodiscard]] double wanted_depth_um(const Aim& aim, Process process);

/// How far a recipe is from doing what its process is for, and whether the source can carry it.
[[nodiscard]] Miss miss(const Scene& scene, const Aim& aim, const Recipe& recipe, const Prediction& prediction);
/// How surely it does what it is for: for films and coats minus ln of the share that does something else, for cuts the
/// ln distance to the threshold and to burning through.
[[nodiscard]] double safety_margin(const Recipe& recipe, const Prediction& prediction);

/// What "safest" and "most robust" make small. An operator would not wait ten times as long for a hair: time counts a
/// little in both.
[[nodiscard]] double unease(double safety_margin, double seconds);
[[nodiscard]] double unsteadiness(const OutcomeSpread& spread, double seconds);
/// Whether nobody would call two recipes different proposals: same pulse width within a tenth, and no other knob that
/// matters a quarter apart.
[[nodiscard]] bool alike(const Recipe& a, const Recipe& b);

} // namespace finch
