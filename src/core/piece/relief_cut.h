// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "piece/relief.h"
#include "piece/relief_rules.h"
#include "piece/scanner_fit.h"
#include "recipe/check.h"
#include "recipe/scene.h"

namespace finch {

/// Errors: relief.bits, relief.levels, relief.no_rim.
[[nodiscard]] Expected<ReliefMap> relief_map(const HeightMap& picture, const ReliefRules& rules);

/// Three ways that people go. Each says why it is right, and each is, at its own patience.
enum class ReliefSchool { every_grey, few_and_buff, clean_each };
inline constexpr std::array all_relief_schools{ReliefSchool::every_grey, ReliefSchool::few_and_buff,
                                               ReliefSchool::clean_each};
[[nodiscard]] std::string_view key(ReliefSchool school);
[[nodiscard]] std::string_view word(ReliefSchool school);
/// The same relief, cut that way.
[[nodiscard]] ReliefRules as_school(ReliefRules rules, ReliefSchool school, const GreyUse& use);

/// What cutting a relief comes to.
struct ReliefCut {
    int passes_per_layer = 1;
    std::vector<double> depth_um, least_um,
        most_um; ///< of what all layers cut, after 0, 1 .. layers; band as predict()'s
    std::vector<AreaStats> layer;
    std::vector<double> layer_s;  ///< all passes of each layer
    std::vector<double> done_s;   ///< after 0, 1 .. layers, with cleaning and focus moves
    std::vector<double> focus_mm; ///< by how much the focus was lowered when a layer begins
    TimeBand time;                ///< of all that follows but the hand work
    double marking_s = 0, cleaning_s = 0, focus_s = 0, hand_s = 0;
    double hatched_over_counted = 1; ///< by how much layers hatched in full moved the time
    double debris_loss = 0;          ///< share of the depth that debris costs
    double behind_mm = 0;            ///< most that the floor lies under the focus
    double spot_um = 0, smallest_um = 0, taper_deg = 0;
    double terrace_um = 0;       ///< height of a step
    double sa_um = 0, sz_um = 0; ///< of the floor; 0 = not simulated
    double removed_mm3 = 0;
    double wall_um = 0, gap_um = 0; ///< thinnest wall and gap half way down; 0 = none
    int doubled_layers = 0, fitting_layers = 1;
    bool stalls = false; ///< before the depth wanted
    RunStages stages;    ///< in passes
    int deepest = 0;     ///< layers that are cut at the deepest place; fewer than all where darker greys are missing
    [[nodiscard]] double reached_um() const { return depth_um[static_cast<std::size_t>(deepest)]; }
    [[nodiscard]] double reached_least_um() const { return least_um[static_cast<std::size_t>(deepest)]; }
    [[nodiscard]] double reached_most_um() const { return most_um[static_cast<std::size_t>(deepest)]; }
    [[nodiscard]] int passes() const { return passes_per_layer * static_cast<int>(layer.size()); }
};
/// How much of it is worked out.
struct ReliefEffort {
    int hatched = 0;    ///< layers hatched in full for the time
    bool floor = false; ///< whether the floor's roughness is simulated
};
/// Errors: relief.removes_nothing (also on coats and under sources whose removal is not modelled), relief.counts, those
/// of predict().
[[nodiscard]] Expected<ReliefCut> cut_relief(const Scene& scene, const Recipe& recipe, const ReliefRules& rules,
                                             const ReliefMap& map, const ScannerKnowledge& scanner,
                                             const ReliefEffort& effort);

/// What is to be known before it is cut, most important first.
[[nodiscard]] std::vector<Finding> relief_findings(const Scene& scene, const ReliefRules& rules,
                                                   const HeightMap& picture, const GreyUse& use, const ReliefMap& map,
                                                   const ReliefCut& cut);

/// A pass that takes loose debris and no metal: faster, and at a power whose pulses stay under what marks.
[[nodiscard]] Recipe cleaning_recipe(const Scene& scene, const Recipe& recipe);
/// The layers of a relief as those of a job, each with its recipe, its focus and the turn where the one before ended,
/// and its cleaning passes. Errors: bitmap.too_fine.
[[nodiscard]] Expected<Job> relief_job(std::string name, const Scene& scene, const Setup& setup, const Recipe& recipe,
                                       const ReliefRules& rules, const ReliefMap& map, const ReliefCut& cut);

} // namespace finch
