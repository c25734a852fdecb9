// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/nature.h"

#include <cstdint>
#include <optional>
#include <string_view>

namespace finch::standin {

/// How far the simulated bench is from what is written about it, and how much goes wrong on it.
enum class Grade { friendly, honest, hard };
[[nodiscard]] std::string_view word(Grade grade);
[[nodiscard]] std::optional<Grade> grade_from_word(std::string_view word);

/// Everything about one bench and one lot of metal that the program cannot know. Factors unless a unit is named.
struct World {
    Grade grade = Grade::honest;
    std::uint64_t seed = 1;

    // The metal, apart from its table.
    double absorptance = 1, conductivity = 1, capacity = 1, fusion = 1, boiling = 1;
    double growth = 1, activation = 1, ceiling = 1;
    double crowding = 1;       ///< exponent with which the supply of oxygen sets in
    double straight_nm = 0;    ///< film up to which growth is straight rather than square
    double film_absorbs = 0;   ///< by how much a film raises the absorptance
    double film_scale_nm = 80; ///< thickness on which that happens
    double oxide_index = 1, oxide_absorbs = 1, film_spread = 1, haze = 0;
    double melts_at = 1, tears_at = 1; ///< borders
    double vapour_lost = 0.3;          ///< share of the heat above boiling that leaves with the vapour
    double cut = 1, cut_at = 1, cut_wall = 1, coat = 1;

    // The beam.
    double power = 1, spot = 1, edge = 1; ///< edge: exponent of the profile; 1 = Gaussian, more = flat
    double ring = 0, ellipse = 1;
    double quality_rise = 0; ///< of M2 from no power to full power
    double focus_mm = 0, astigmatism_mm = 0;
    double field_power = 0, field_focus_mm = 0; ///< lost at the edge of the field
    double tilt_x_mm = 0, tilt_y_mm = 0;        ///< of the table, from side to side of the field
    double warm_up = 0, warm_up_s = 150;        ///< power missing when the work begins
    double ageing = 0;                          ///< power missing for good: hours, haze on the lens

    // The plate and its surroundings.
    double scatter = 0;    ///< of the film from cell to cell
    double patches = 0;    ///< of the absorptance over the plate
    double neighbours = 0; ///< share of the heat of earlier marks that stays in the plate
};

/// A bench of a grade. Seed 0: exactly the stand-in's own tables, with a clean beam.
[[nodiscard]] World draw_world(Grade grade, std::uint64_t seed);

} // namespace finch::standin
