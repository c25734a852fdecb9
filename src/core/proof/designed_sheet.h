// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "proof/reading.h"
#include "search/next_cells.h"

#include <optional>
#include <span>
#include <string>

namespace finch {

/// A cell that was burned already and how surely it is what is wanted.
struct BelievedCell {
    Recipe recipe;
    double belief = 0; ///< chance that its true colour meets the target
    double most = 1;   ///< what could be believed of a cell that was read as surely, and like the target
};

/// A sheet of free cells that was designed for a target, and what it may be expected to do.
struct DesignedSheet {
    ProofSheet sheet;
    std::size_t for_target = 0, to_learn = 0; ///< cells
    double promise = 0;                       ///< chance that one of its cells meets the target, on the safe side
    double expected_damage = 0;               ///< spoiled cells
    double seconds = 0;                       ///< of marking the cells
    std::optional<BelievedCell> best;         ///< of what was burned before
    bool out_of_reach = false;                ///< nothing promises it, at any risk
    std::string reason;                       ///< two sentences, with the numbers
};

/// Cells of a later round at most: what was seen is worth more than many at once. Of films, and of depths.
inline constexpr std::size_t later_films = 4, later_depths = 2;

/// What a search may spend on a sheet.
struct DesignLimits {
    std::size_t cells = 10;
    double minutes = 30;
    double risk = 0.25;
};

/// Designs the first or next sheet for a target from what is known. `request` gives number, aim, base and the size of
/// the cells; `seen`: cells that were burned before, 0 = the first sheet.
/// Errors: search.no_cells when nothing near the base can be set, those of plan_free_sheet().
[[nodiscard]] Expected<DesignedSheet> design_sheet(const Scene& scene, const Target& target,
                                                   const SheetRequest& request, const FilmPosterior& known,
                                                   const DesignLimits& limits, const Recipe& labels, int threads = 1);

/// The same for a depth: cells of one recipe at more and fewer passes. `seen`: depths measured before; those of another
/// bench, lens or lot are not looked at. Where no dark letters can be annealed, the recipe letters the sheet.
/// Errors: search.no_depth when the recipe takes nothing away, search.too_deep when this stock or recipe does not reach
/// it, search.no_cells, those of plan_free_sheet().
[[nodiscard]] Expected<DesignedSheet> design_depth_sheet(const Scene& scene, const Setup& setup, const Target& target,
                                                         const SheetRequest& request, std::span<const Observation> seen,
                                                         const DesignLimits& limits);

/// Either, as the target asks for it, from everything that was burned and measured before. `request.base` says which
/// process it is to be, where it is not a depth. Where nothing was burned yet and the recipe in hand promises little,
/// the cells begin from a planned one instead, which is said: nobody need know a recipe to begin. Errors: those of
/// film_posterior(), label_recipe() and the two designs.
[[nodiscard]] Expected<DesignedSheet> design_next(const Scene& scene, const Setup& setup, const Target& target,
                                                  const SheetRequest& request, std::span<const Observation> seen,
                                                  const DesignLimits& limits, int threads = 1);

/// A target as a search of films takes it.
[[nodiscard]] Goal goal_of(const Target& target);

} // namespace finch
