// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/film_table.h"
#include "search/damage.h"
#include "search/draws.h"
#include "search/trial.h"

#include <memory>
#include <span>
#include <vector>

namespace finch {

/// A cell that was burned and looked at.
struct SeenCell {
    Trial trial;
    Lab lab;
    double read_sd = 0.7; ///< of each of L*, a*, b*; from `unread_sd` on the colour is not used
    bool spoiled = false; ///< molten, torn or flaked: it has no film's colour, and teaches where the metal gives way
};
inline constexpr double unread_sd = 2.1;

/// What was chosen or assumed about how far a bench may be off. Source: docs/search.md.
struct FilmPrior {
    BenchOffsets mean{0, 0, 0, 0, 0.3};
    BenchOffsets sd{0.30, 0.12, 0.06, 0.15, 0.20};
    std::array<double, 2> widths{1.0, 2.0};                  ///< of the first four, chosen by evidence
    std::array<double, 3> rest_amplitudes{0.02, 0.05, 0.12}; ///< of what no offset explains, in ln thickness
    double far_rest = 0.3, far_length = 2;                   ///< of what grows with the distance from all that was seen
    double law_rest = 0.15, law_length = 0.6; ///< of a bench's own law of growth, which goes with the thickness itself
    std::array<double, 3> cell_sds{0.015, 0.03, 0.06}; ///< of ln thickness from cell to cell; chosen by evidence
    /// How far the film's optics and the camera may be off, in multiples of 0.6 of L*, a*, b*; chosen by evidence.
    std::array<double, 3> colour_scales{1, 2.5, 5};
    /// How much of the colour shift may pass for thickness: cells of one photograph are off together, and where the
    /// colour hardly goes with the thickness a little is many nanometres. 0: each cell by itself.
    double shift_as_thickness = 1;
    /// How far the colour of a film may be off by the oxide's own optics, in CIELAB for each nm up to the most: an
    /// order that was not seen yet is told by a table.
    double optics_per_nm = 0.05, optics_most = 8, optics_length = 0.3;
    DamagePrior damage;
};

/// Film thickness, haze, colour and damage of one lot on one bench, from everything burned so far. A mixture of at most
/// three modes, as hue repeats with the order of the film. A value: copies share what was fitted.
class FilmPosterior {
public:
    /// In one regression: the first, so that callers put the newest first.
    static constexpr std::size_t most_cells = 100;

    /// Fits; without a readable cell it is the prior. `cells` in any order.
    FilmPosterior(std::shared_ptr<const FilmTable> table, std::vector<SeenCell> cells, const FilmPrior& prior = {});

    /// What one mode says of a setting.
    struct Told {
        double ln_nm = 0, variance = 0;
        double haze = 0.35, haze_sd = 0.08;
        Lab shift; ///< of the film's colour, from optics and camera
        double shift_sd = 1.2;
    };
    struct Mode {
        double weight = 1;
        BenchOffsets offsets{};
        double haze_shift = 0;
        double width = 1, rest_amplitude = 0.05; ///< chosen by evidence
        double cell_sd = 0.015;
        double colour_scale = 1;
        double calm = 1; ///< factor on every stated deviation, from how well each cell is told by the others
    };

    [[nodiscard]] const FilmTable& table() const { return *table_; }
    [[nodiscard]] const std::vector<SeenCell>& cells() const { return cells_; }
    /// Likeliest first as fitted; empty: nothing was learned of the film.
    [[nodiscard]] std::vector<Mode> modes() const;
    /// Number of the likeliest mode.
    [[nodiscard]] std::size_t likeliest() const;
    [[nodiscard]] std::vector<Told> told(std::span<const Trial> trials, std::size_t mode) const;
    [[nodiscard]] const DamagePosterior& damage() const { return damage_; }

    /// Colours of possible worlds at settings, world by world, jointly over the settings.
    [[nodiscard]] std::vector<std::vector<Lab>> worlds(std::span<const Trial> trials, std::size_t count,
                                                       Draws& draws) const;
    /// ln thickness covariance of settings in the likeliest mode, row by row.
    [[nodiscard]] std::vector<double> covariance(std::span<const Trial> trials) const;
    /// Colour that the likeliest mode gives each readable cell after the fit; nothing where the cell was not used.
    [[nodiscard]] std::vector<std::optional<Lab>> fitted() const;
    /// Standard deviation of ln thickness that is stated of a setting: that of the likeliest mode `film`, widened by
    /// what the other orders of the film say, and no narrower than the refractive index is known. Of nothing learned:
    /// the prior's.
    [[nodiscard]] double stated_ln(const Trial& trial, const Told& film) const;
    /// A later reading's distance to what was stated before it, in stated deviations with its own (the root of the
    /// profile likelihood ratio, signed): nothing where a film has no colour to be seen (under 10 nm, over 1000), where
    /// it is spoiled or not read.
    [[nodiscard]] std::optional<double> surprise(const SeenCell& cell) const;

    struct Fit; ///< one fitted mode, in film_fit.h

private:
    std::shared_ptr<const FilmTable> table_;
    std::vector<SeenCell> cells_;
    FilmPrior prior_;
    std::vector<std::size_t> used_;
    std::vector<std::shared_ptr<const Fit>> fits_;
    DamagePosterior damage_;
};

} // namespace finch
