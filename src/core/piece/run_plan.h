// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "piece/scanner_fit.h"

namespace finch {

/// What a bench is given at once in a run: one pass of one layer, or of some of its shapes, at one place. What is
/// written down before the next one begins.
struct RunPortion {
    std::size_t place = 0, layer = 0;        ///< among places_of(job) and its layers
    int pass = 0, passes = 1;                ///< the first is 0
    std::size_t first_shape = 0, shapes = 0; ///< of a step; no shapes: the layer as it is there
    double pause_s = 0;                      ///< before it
    double cools_s = 0;                      ///< of parts in turn: since the part was marked last, at least
    bool moved_by_hand = false;              ///< somebody moves the part before it
    double likely_s = 0;
    bool operator==(const RunPortion&) const = default;
};

/// A job in the order in which it is marked: the same lines in the same order as its G-code. Errors: job.no_recipe,
/// job.steps, those of layer_at() and pass_hatch(); job.empty where nothing is marked.
[[nodiscard]] Expected<std::vector<RunPortion>> run_plan(const Job& job, const ScannerKnowledge& scanner);

/// Its lines, before they are moved to the place. Errors: those of layer_at() and pass_hatch().
[[nodiscard]] Expected<Hatch> portion_hatch(const Job& job, const RunPortion& portion);

/// Where the parts of a job lie on the bench: one box for each nest, what a tile or strip marks otherwise.
[[nodiscard]] RectMm part_box(const Job& job, const JobPlace& place);

} // namespace finch
