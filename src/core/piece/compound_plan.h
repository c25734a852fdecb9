// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/compound.h"
#include "recipe/route_cost.h"

#include <optional>
#include <vector>

namespace finch {

/// What is sprayed, burned and washed together.
struct CompoundWork {
    int pieces = 1;
    double coats = 2;
    double mark_s = 0;                    ///< of one piece
    double load_s = 0;                    ///< to load and unload a piece
    double width_mm = 10, height_mm = 10; ///< of the mark
    double fill = 1;                      ///< share of it that is fused
    double bench_rate_h = 0, operator_rate_h = 0;
};

/// A stretch of a step, in minutes from its beginning.
struct StepSpan {
    enum class Kind { hands, wait, beam };
    Kind kind = Kind::hands;
    double minutes = 0;
};
struct StepPlan {
    CompoundStep step;
    std::vector<StepSpan> spans;
    [[nodiscard]] double minutes() const;
    [[nodiscard]] double minutes(StepSpan::Kind kind) const;
};
/// The procedure with its minutes, and what a piece of it costs.
struct CompoundPlan {
    std::vector<StepPlan> steps;
    SprayUse spray;
    double film_g_m2 = 0; ///< dry, as sprayed
    /// Hands that each piece takes, and those that all take together.
    double each_s = 0, once_s = 0;
    double can = 0, wash = 0, bench = 0, hands = 0; ///< money of a piece
    [[nodiscard]] double cost() const { return can + wash + bench + hands; }
    [[nodiscard]] double minutes() const;
    [[nodiscard]] double minutes(StepSpan::Kind kind) const;
};
/// Errors: those of spray_use(); compound.pieces (1 to 1000).
[[nodiscard]] Expected<CompoundPlan> compound_plan(const CompoundConstants& compound, const CompoundWork& work);

/// What was said of a step while it was done.
struct StepEvent {
    enum class Kind { done, skipped, withdrawn };
    CompoundStage stage = CompoundStage::degrease;
    Kind kind = Kind::done;
    double at_min = 0; ///< since the work began
    bool operator==(const StepEvent&) const = default;
};
[[nodiscard]] std::string_view key(StepEvent::Kind kind);

enum class StepState { done, skipped, now, later };
/// A step as it was and will be.
struct LivedStep {
    StepState state = StepState::later;
    double from_min = 0, to_min = 0;
};
/// Where the work stands: what was done lies where it was done, what is left follows from now on. The last word on a
/// step counts; one that is withdrawn is done again, and so is what came after it.
struct CompoundStand {
    std::vector<LivedStep> steps;
    std::optional<std::size_t> now; ///< the first step that is not done; none: all are
    /// Since the coat was sprayed, while it dries.
    std::optional<double> drying_min;
    /// Since it was marked, and until when it can be washed as usual; while it is not washed.
    std::optional<double> unwashed_min, wash_left_min;
    /// The coat was seen dry, or somebody answers for it.
    bool may_mark = false;
    bool marked = false;
};
[[nodiscard]] CompoundStand stand_of(const CompoundPlan& plan, const CompoundConstants& compound,
                                     const std::vector<StepEvent>& events, double now_min);

} // namespace finch
