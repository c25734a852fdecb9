// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "search/film_posterior.h"

#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// A colour that was read on this bench and lot, and what it takes to make it again.
struct PaletteColour {
    std::string name;         ///< in words
    std::string piece, place; ///< where it was read, as the observation has it
    Lab lab;                  ///< mean of what was read of this setting
    double within_de = 2;     ///< CIEDE2000 of one reading, nine in ten
    Recipe recipe;
    Fill fill;
    double film_nm = 0; ///< as learned
    /// At 0, 5 .. 60 degrees: the film's, moved to what was read from above and, where it was, at a tilt.
    std::vector<Lab> tilt;
    int holds_deg = 0;       ///< widest of them up to which it stays within CIEDE2000 5 of the straight view
    double tilt_read_to = 0; ///< widest tilt in degrees that was photographed; 0: the film's alone
    double repeat_de = 0;    ///< CIEDE2000 by which two marks of this setting differ, in the middle
    int repeats =
        1; ///< marks behind `lab`; from two on `repeat_de` was measured, else it follows from the film's scatter
    double seconds_per_cm2 = 0;
};

struct WantedColour {
    std::string name;
    Lab lab;
    bool operator==(const WantedColour&) const = default;
};

/// A colour as it is asked for: one of the named targets, or L* a* b* or #RRGGBB.
/// Errors: target.not_a_colour.
[[nodiscard]] Expected<WantedColour> wanted_from_text(std::string_view text);

/// What comes nearest to a wanted colour.
struct WantedMatch {
    WantedColour wanted;
    std::optional<std::size_t> read; ///< among the colours; none: nothing was read yet
    double read_de = 0;
    /// The best setting that the bench could burn and has not: predicted, with the share of benches like this one on
    /// which it would meet the wanted colour.
    struct Between {
        Recipe recipe;
        Lab lab;
        double de = 0, film_nm = 0, chance = 0;
    };
    std::optional<Between> between;
};

/// Film colour over thickness.
struct PathPoint {
    double nm = 0;
    Lab lab;
    bool reached = false; ///< by a setting of this bench that spoils nothing, more likely than not
};

/// Colours that this bench makes on this lot.
struct Palette {
    std::vector<PaletteColour> colours; ///< every setting that was read and not spoiled, thin films first
    std::vector<std::size_t> named;     ///< one of each name: what repeats best and holds at a tilt
    std::vector<PathPoint> path;
    std::vector<WantedMatch> wanted;
    std::size_t cells = 0, spoiled = 0; ///< readings behind it, and those left out as spoiled
};

/// The colour that was read nearest to one, among the palette's, and the CIEDE2000 between them; none: nothing was
/// read.
[[nodiscard]] std::optional<std::pair<std::size_t, double>> nearest_read(std::span<const PaletteColour> colours,
                                                                         const Lab& lab);

/// What a palette accepts.
struct PaletteLimits {
    double de = 3;      ///< CIEDE2000 to a wanted colour
    double risk = 0.25; ///< chance of damage of a setting that was not burned
};

/// Palette of the readings of one bench and lot. `base`: recipe that settings which were not burned are looked for
/// round. Observations of other set-ups than the scene's key are ignored.
/// Errors: search.no_film when the metal's film has no colours.
[[nodiscard]] Expected<Palette> palette(const Scene& scene, const FilmPosterior& known,
                                        std::span<const Observation> observations, std::span<const WantedColour> wanted,
                                        const Recipe& base, const PaletteLimits& limits = {}, int threads = 1);

[[nodiscard]] nlohmann::json to_json(const Palette& palette);

} // namespace finch
