// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "search/film_posterior.h"

#include <algorithm>
#include <span>

namespace finch {

/// CIEDE2000 of nine readings in ten as the deviation of one coordinate: three coordinates, of which the chroma of
/// strong colours counts less.
inline constexpr double within_per_sd = 2.3;
/// Deviation of each of L*, a*, b* of a reading that lies within so much in nine of ten cases.
[[nodiscard]] inline double read_sd_of(double within_de) {
    return std::max(0.63, within_de / within_per_sd);
}
/// A reading that is no surer than this teaches nothing of the film.
inline constexpr double teaches_within_de = unread_sd * within_per_sd;

/// What the burned cells of one stock on one bench teach a search about its films and where it spoils metal. A fold
/// like learn(): the newest reading of each place counts, observations of other set-ups than `setup`'s key are ignored.
/// Errors: material.unknown, search.no_film when the metal's film has no colours.
[[nodiscard]] Expected<FilmPosterior> film_posterior(const Materials& materials, const Setup& setup,
                                                     std::span<const Observation> observations, int threads = 1);

} // namespace finch
