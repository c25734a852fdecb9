// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/learn.h"
#include "recipe/plan.h"

#include <map>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

namespace finch::app {

/// One proof sheet of the work at hand, from the plan to what it taught.
struct Round {
    ProofSheet sheet;
    std::string reason; ///< why this sheet: shown before the arrow
    double hoped_de = 0, hoped_spread = 0;
    Evidence before; ///< what was known when it was planned
    bool burned = false;
    std::optional<SheetReading> reading;
    double thickness_ratio = 1;         ///< measured over predicted film
    double before_de = 0, after_de = 0; ///< median error of the prediction, before and after learning
    std::size_t learned_cells = 0;
    long long sheet_entry = 0, reading_entry = 0; ///< in the logbook; 0 = not written
    bool operator==(const Round&) const = default;
};

/// Everything that the operator is working on: what undo steps through and autosave keeps.
struct Draft {
    Setup setup;
    Recipe recipe;
    std::optional<Recipe> saved; ///< the last saved recipe: the ghost needle
    Fill fill{mm(10), 100};      ///< one square centimetre
    Aim aim;
    School school = School::single; ///< of the recipe taken from the Aim station
    Target target;
    SheetRequest request;
    std::vector<Round> rounds;
    int shown_round = -1;
    std::optional<std::size_t> cell;          ///< chosen on the shown sheet
    std::map<std::string, Evidence> evidence; ///< by evidence_key()
    int next_sheet = 1;
    std::string operator_initials = "OD";

    [[nodiscard]] const Round* round() const;
    bool operator==(const Draft&) const = default;
};

/// A lesson holds for one bench, lens, metal, finish and lot, and is never carried to another silently.
[[nodiscard]] std::string evidence_key(const Setup& setup);

[[nodiscard]] nlohmann::json to_json(const Draft& draft);
/// Reads a `finch-draft` document. Errors name the field.
[[nodiscard]] Expected<Draft> draft_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch::app
