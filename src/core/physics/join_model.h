// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>

namespace finch {

class ConstantsReader;

/// Constants that join heat, film, crater, coat and plate into one answer. All are engineering estimates; their reasons
/// and uncertainties stand in data/materials/process-model.json. "Spread" is one standard deviation of a natural
/// logarithm unless it says otherwise.
struct JoinModel {
    // Shares on bare metal.
    double boil_spread = 0.25;                      ///< fluence at which one pulse boils or tears
    double torn_spread = 0.50;                      ///< crater depth over film thickness
    double heat_spread = 0.42;                      ///< removal index of the heat model
    double melt_spread = 0.20;                      ///< melt index
    double dark_spread = 0.40;                      ///< areal energy that darkens a floor
    double frost_spread = 0.20;                     ///< of the log ratio itself
    double seen_from = 0.30, seen_spread = 0.15;    ///< log ratio from which a crater is seen
    double merge_from = 0.50, merge_spread = 0.15;  ///< overlap from which craters merge
    double frost_apart = 0.70, frost_merged = 1.50; ///< log ratio that frosts
    double tarnish_spread = 0.25;                   ///< rise that tarnishes a metal without film model
    double lift_clear_nm = 300;                     ///< what a pulse must lift at once under a clear coat
    // Net removal.
    double recast_short = 0.30, recast_long = 0.80, recast_width_ns = 60, recast_decay = 2;
    double recast_pass = 0.70, recast_pulses = 60;
    double groove = 1;                                 ///< loss to the walls of a groove cut in one pass
    double width_low_ns = 4, width_high_ns = 500;      ///< range of the crater and coat models
    double clamped_spread = 0.50;                      ///< added per ln unit of a clamped input
    double vapour_spread = 1.1;                        ///< of the depth that a liquid surface boils off
    double plate_share = 0.75;                         ///< of the stock, that the upper end of the depth may take
    double film_l_spread = 3;                          ///< of L* of a film: optical constants, haze
    double polished_spread = 6, pale_floor_spread = 8; ///< of L*
    // Bands.
    double gain_floor = 0.10;                                        ///< a gain is never known better
    double gain_alone = 0.30;                                        ///< from fewer than three cells
    std::array<double, 5> film_slopes{0.15, 0.10, 0.15, 0.10, 0.25}; ///< spread per ln of power, width, frequency,
                                                                     ///< speed, spot
    std::array<double, 5> depth_slopes{0.20, 0.25, 0.20, 0.10, 0.30};
    std::array<double, 5> coat_slopes{0.15, 0.20, 0.15, 0.10, 0.20};
    // Coats.
    double coat_spread = 0.42, mark_spread = 0.25, done_spread = 0.50, tint_spread = 0.25;
    double gas_spread = 0.42, gas_metal = 0.08; ///< absorptance of bare metal at 10.6 um
    double gas_bleach = 10;                     ///< dye bleaches at this multiple of the dose that heats the skin
    double black_low_j_cm2 = 0.9, black_high_j_cm2 = 5, black_width_power = 0.2, black_spread = 0.42;
    double black_width_ns = 25, black_width_spread = 0.35, black_pulses = 150, black_pulses_spread = 0.70;
    double black_l_from = 82, black_l_drop = 47;
    double powder_j_cm2 = 1.2, powder_width_power = 0.3, powder_incubation = 0.94, powder_spread = 0.55;
    // Transfer to another bench: rise of the peak fluence that an anneal or a compound forgives.
    double fluence_free = 1.2, fluence_close = 2;
};

/// Reads all of them; each must be there.
[[nodiscard]] JoinModel read_join_model(ConstantsReader& constants);

} // namespace finch
