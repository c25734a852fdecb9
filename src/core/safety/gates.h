// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/focus.h"
#include "piece/run_plan.h"
#include "recipe/check.h"
#include "recipe/scene.h"
#include "safety/safety_table.h"

#include <optional>
#include <span>

namespace finch {

/// How a gate before a run is passed: the program knows, somebody says yes, chooses, signs, or has the frame shown.
enum class GateKind { known, tick, choice, initials, frame };
/// One thing that must be so before a run begins, and why for this very job.
struct Gate {
    std::string key; ///< "eyewear"
    GateKind kind = GateKind::tick;
    std::string title, why;
    GateVerdict known = GateVerdict::fine; ///< of what the program knows
    std::vector<UnderChoice> choices = {};
    bool of_the_part = false; ///< its answer falls when lens, part or focus are moved
};

/// What somebody said at a gate. A fact of the run that it opens.
struct GateAnswer {
    std::string key, choice; ///< the choice's key; initials of who stays; empty where a tick was set
    std::string by, when_utc;
    std::string asked = {}; ///< in words, as it stood there
    bool operator==(const GateAnswer&) const = default;
};

/// What is so at the bench, apart from the job.
struct Circumstances {
    bool focus_confirmed = false;
    std::string focus_words;                ///< when and how, or why it is not
    bool as_made_for = true;                ///< bench, lens and stock are those of the job
    std::vector<Finding> lies = {};         ///< what was found of how the job lies
    std::vector<std::string> elsewhere;     ///< layers whose recipe was taken on another bench, lens or stock
    std::optional<bool> enclosure_open;     ///< nothing: the bench does not tell
    bool simulated = false;                 ///< the bench
    std::optional<std::string> film_drying; ///< why a sprayed film may not be marked yet
    bool operator==(const Circumstances&) const = default;
};

/// What the models say of all that is marked.
struct JobRisks {
    double volume_mm3 = 0; ///< that is removed
    double rise_k = 0;     ///< of a part, by the end
    double beam_w = 0, lasts_s = 0;
    int passes = 0;
    bool film = false; ///< a sprayed one is marked
};
[[nodiscard]] JobRisks risks_of(const Job& job, std::span<const RunPortion> plan, const Scene& scene);

/// The gates of a job, from its own risks: what the program knows first, then what it asks. `metal`: of the job's
/// stock. Reasons are told in numbers where a model has them.
[[nodiscard]] std::vector<Gate> gates_of(const Job& job, const JobRisks& risks, const Metal& metal,
                                         const SafetyTable& table, const Circumstances& now);

/// What stands at a gate with the answers at hand; nothing: it is not answered.
[[nodiscard]] std::optional<GateVerdict> verdict_at(const Gate& gate, std::span<const GateAnswer> answers);
/// Titles of the gates that keep the run from beginning: refused, or not answered.
[[nodiscard]] std::vector<std::string> locked_by(std::span<const Gate> gates, std::span<const GateAnswer> answers);

/// The box round everything that is marked, as it lies on the bench; an empty one where nothing is.
[[nodiscard]] RectMm marked_box(const Job& job);

} // namespace finch
