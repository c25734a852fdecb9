// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "search/film_posterior.h"
#include "search/goal.h"

#include <cstdint>
#include <limits>

namespace finch {

/// Settings that a search chooses from: lines of speed through a recipe, through it at other powers, and through
/// recipes near it, within what the bench can set. A dark goal needs gentler ways too: on a bench that spoils early the
/// planned recipe has no dark at any speed.
[[nodiscard]] std::vector<Recipe> candidates(const Recipe& base, const Bench& bench, bool dark, std::uint64_t seed = 0);

/// What may be spent on the next cells.
struct CellBudget {
    std::size_t most = 12; ///< cells
    double seconds = std::numeric_limits<double>::infinity();
    double risk = 0.25; ///< highest chance of damage of a cell; more only where nothing else promises anything
};

/// Cells that teach most and reach the goal in most of the worlds that are still possible.
struct NextCells {
    std::vector<std::size_t> cells; ///< among the candidates; those for the goal first, then those that teach
    std::size_t for_goal = 0;
    double promise = 0;         ///< share of possible worlds in which one of them meets the goal, told on the safe side
    double risk = 0.25;         ///< highest chance of damage that had to be allowed
    double expected_damage = 0; ///< spoiled cells among them
    double seconds = 0;         ///< of marking
};

/// The next cells by greedy cover: possible worlds are drawn, and the cell is added that reaches the goal in most
/// worlds not yet reached, until that no longer pays. `round`: 0 for the first cells, of which four fifths of a
/// colour's lie on the lines of the first candidate (decision 46). No candidate: no cell.
[[nodiscard]] NextCells next_cells(const Goal& goal, std::span<const Trial> candidates, const FilmPosterior& known,
                                   int round, const CellBudget& budget, std::uint64_t seed);

/// What any cells may be expected to do together, as next_cells() tells it of those that it chose.
struct CellsChance {
    double promise = 0;         ///< share of possible worlds in which one of them meets the goal, on the safe side
    double expected_damage = 0; ///< spoiled cells
};
[[nodiscard]] CellsChance chance_of(const Goal& goal, std::span<const Trial> cells, const FilmPosterior& known,
                                    std::uint64_t seed);

/// For every burned cell the chance that its true colour meets the goal, from reading and model together; -1 where it
/// is spoiled or was not read. A reading that the model cannot understand is taken as misread: it is not chosen until
/// it is repeated. What a reading may be off beyond its noise lies in the camera and its light, is the same for all
/// cells of a photograph, and is in the model too that was fitted to them: the model makes it no smaller (decision 45).
[[nodiscard]] std::vector<double> beliefs(const FilmPosterior& known, const Goal& goal, std::uint64_t seed);
/// What beliefs() would say of a cell that reads like the goal itself: no cell that is read so can be believed more. 1
/// for a darkness, which a cell may exceed.
[[nodiscard]] double most_believable(const SeenCell& cell, const Goal& goal);

/// In a possible world a cell counts as meeting the goal within this share of it: a promise is told on the safe side.
inline constexpr double met_within = 0.8;
/// A cell must reach the goal in so large a share of the worlds not yet reached, and more for each minute.
inline constexpr double cover_pays = 0.012, cover_per_minute = 0.010;

inline constexpr double believed = 0.90;   ///< where a search may stop
inline constexpr double no_promise = 0.03; ///< twice in a row below: out of reach on this bench

/// Worth of a cell that misses by so much: 1 within four fifths of the goal, a little for coming near.
[[nodiscard]] double worth(const Goal& goal, double miss);
/// The cover alone: `value` world by world, `cost` of each cell. Goes on from what is `chosen`; stops when the best
/// gain is below `pay`.
[[nodiscard]] std::vector<std::size_t> greedy_cover(const std::vector<std::vector<double>>& value,
                                                    std::span<const double> cost, std::size_t most, double pay,
                                                    std::vector<std::size_t> chosen = {});

} // namespace finch
