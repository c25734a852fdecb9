// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "recipe/effect.h"
#include "recipe/recipe.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

enum class Severity { note, warning, blocking };

/// One thing to know about a recipe on a bench, with the remedy.
struct Finding {
    std::string code; ///< "recipe.derated"
    Severity severity = Severity::note;
    std::optional<Knob> knob;
    std::string message;
    std::string remedy;

    bool operator==(const Finding&) const = default;
};

/// Distances of pulses and lines as shares of the spot, and the most that a process takes without a finding: averages
/// and films need half a spot, craters reach further.
struct Gaps {
    double along = 0, across = 0;
    double most = 0.5;
};
/// 0 along under a beam that is not pulsed.
[[nodiscard]] Gaps gaps(const Recipe& recipe, const Bench& bench);

/// Limits, slips and habits: values that the bench cannot set, derating, pitch against the spot, turns that repeat,
/// surface not checked for a coating. Never throws; an empty list means nothing to say.
[[nodiscard]] std::vector<Finding> check(const Recipe& recipe, const Bench& bench, const Stock& stock);

/// What the models themselves have to say before any number.
[[nodiscard]] Finding finding_of(ModelFinding finding);

/// Distinct hatch directions before the turn repeats; 0 if it does not within 180 passes.
[[nodiscard]] int distinct_directions(double turn_per_pass_deg);

/// A typed value that is about ten times or a tenth of the one before: a decimal may have slipped.
[[nodiscard]] std::optional<Finding> slip(Knob knob, double before, double after);

/// Something that was tried on this stock before, and went wrong.
struct BadTry {
    Recipe recipe;
    std::string title; ///< of the record
};
/// Warns when a recipe lies within a tenth of one that went wrong on this stock.
[[nodiscard]] std::optional<Finding> bad_history(const Recipe& recipe, const std::vector<BadTry>& tries);

/// True if any finding keeps the recipe from being burned.
[[nodiscard]] bool blocked(const std::vector<Finding>& findings);

} // namespace finch
