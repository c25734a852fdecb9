// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/heat_order.h"
#include "piece/job.h"
#include "piece/scan_time.h"
#include "recipe/scene.h"

namespace finch {

/// A job as its plate sees it: the steps of plain order, and each as a task. The plate is the box round all that is
/// drawn, guides included: a rim that is drawn as a guide tells where the part ends.
struct JobHeat {
    HeatPlate plate;
    std::vector<JobStep> steps;
    std::vector<HeatTask> tasks;
};
/// Neighbouring shapes are one task where there would be more than `most_tasks`. What lies over another layer's marks
/// is marked after them. Of the beam stays what the heat model of the recipe says. Errors: job.no_recipe,
/// heat.no_recipe (nothing is marked), heat.not_modelled, those of predict() and hatch().
[[nodiscard]] Expected<JobHeat> job_heat(const Job& job, const Scene& scene, const ScannerTiming& timing,
                                         std::size_t most_tasks = 60);

/// The steps in an order, with its pauses.
[[nodiscard]] std::vector<JobStep> steps_of(const JobHeat& heat, const HeatOrder& order);

} // namespace finch
