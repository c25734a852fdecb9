// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/effect.h"
#include "recipe/recipe.h"
#include "recipe/scene.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

/// One prediction for all marks: one vocabulary, one number for one thing. What no model covers is absent, with the
/// reason.
struct Prediction {
    AnnealResult mark; ///< spot, pulses, heat, film; without meaning where `heat_modelled` is false
    std::optional<RemovalForecast> removal; ///< of bare metal under a pulsed source
    std::optional<CoatForecast> coating;    ///< on stock with a coat that is modelled
    std::optional<BlackFilmOutcome> black;  ///< on clear anodised film
    std::optional<CompoundOutcome> compound;
    Shares shares;
    Effect effect = Effect::not_modelled; ///< the largest share
    std::optional<Lightness> lightness;   ///< over the shares; absent where nothing gives a look
    double share_away = 0;                ///< share in which the old surface is carried away
    double removal_index = 0;             ///< 1 = metal counts as removed
    double melt_index = 0;                ///< 1 = molten between pulses
    double burn_index = 0;                ///< above 1: may burn through
    bool heat_modelled = true;            ///< false under a gas laser or a diode, or on a material without constants
    double film_spread_ln = 0.30;         ///< one standard deviation of ln(thickness)
    double band_ln = 0.4;                 ///< the same of what decides: film, depth, threshold or power
    ShortList<ModelFinding, 3> findings;
    std::string_view reason; ///< why something is absent; empty where nothing is
    Evidence evidence;

    [[nodiscard]] double oxide_nm() const { return mark.oxide.thickness_m * 1e9; }
    [[nodiscard]] const Lab& lab() const { return mark.look.specular_included[0].lab; }
    /// Whether the colour of the oxide film is what one sees.
    [[nodiscard]] bool film_seen() const { return is_film(effect) && mark.oxide.thickness_m > 0; }
    /// Depth over all passes, weighted by the share in which metal goes.
    [[nodiscard]] double depth_um() const { return removal ? removal->told_um() : 0; }
    [[nodiscard]] double share() const { return shares[effect]; }
    bool operator==(const Prediction&) const = default;
};

/// Predicts one recipe on one bench and stock. Pure, no allocation when it succeeds, under 0.3 ms for
/// hundreds of passes. `unseen` leaves out the colours and the lightness: what a search does not ask of its tries.
/// Errors: physics.* when a value lies outside the model's range, compound.* when the compound is unknown.
[[nodiscard]] Expected<Prediction> predict(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                           const ViewingAngles& angles = {});

/// What a thin plate loses through both faces, by how it is held (W/m2K).
[[nodiscard]] double plate_loss_w_m2k(const Stock& stock, const ProcessModel& model);

/// The pulses of a recipe as the source delivers them.
[[nodiscard]] PulseTrain pulse_train(const PulseOutput& pulse);
/// What a recipe on a bench is to the crater model; the metal must have removal constants.
[[nodiscard]] Cutting cutting(const Materials& materials, const Metal& metal, const Bench& bench, const Recipe& recipe);
[[nodiscard]] Cutting cutting(const Materials& materials, const Metal& metal, const Bench& bench, const Recipe& recipe,
                              const PulseOutput& pulse);
[[nodiscard]] DeepWork deep_work(const Recipe& recipe, const Evidence& evidence);
/// What a recipe is to the compound model.
[[nodiscard]] CompoundSetting compound_setting(const Bench& bench, const Recipe& recipe, const PulseOutput& pulse,
                                               const Evidence& evidence);

/// The setting as a measured point: what a band grows with the distance from.
[[nodiscard]] MeasuredPoint measured_point(const AnnealResult& mark);
/// What the craters meet on this stock.
[[nodiscard]] MetSurface met_surface(const Scene& scene);
/// Thickness of the coat, um: as set, or the usual one.
[[nodiscard]] double coat_thickness_um(const Stock& stock, const CoatConstants& coat);
/// A recipe under a gas laser, as a coat meets it.
[[nodiscard]] GasBeam gas_beam(const Bench& bench, const Recipe& recipe);
/// What a coat meets besides the beam.
[[nodiscard]] CoatConditions coat_conditions(const Scene& scene, const CoatConstants& coat, int passes);

/// What the stock is to the physics.
[[nodiscard]] Workpiece workpiece(const Stock& stock, const Evidence& evidence);

/// Colour of the film made thicker by a factor, as it was learned; the metal must have film optics.
[[nodiscard]] Lab film_colour(const Prediction& prediction, const Metal& metal, double factor, double angle_deg);

/// The same at angles a step apart, from straight above on.
[[nodiscard]] std::vector<Lab> tilted_colours(const Prediction& prediction, const Metal& metal, double step_deg,
                                              std::size_t count);

/// Normal-view colours of a film thinner by the spread, as predicted, and thicker, at one viewing angle.
struct ColourBand {
    Lab thinner, middle, thicker;
};
[[nodiscard]] ColourBand colour_band(const Prediction& prediction, const Metal& metal, double angle_deg);

/// Colour from straight above of a film that was predicted without looking at it; the metal must have film optics.
[[nodiscard]] Lab colour_from_above(const Prediction& prediction, const Metal& metal);

/// How the outcome answers to the bench's own errors: focus +-0.3 mm, power +-3 %, stock +-10 %.
struct Robustness {
    double focus_de = 0, power_de = 0, thickness_de = 0;
    double oxide_per_power = 0; ///< d ln(thickness) / d ln(power)
    double de_per_percent_oxide = 0;
    double fragility = 0; ///< root sum of squares of the three
    struct Change {
        const char* what; ///< "focus", "power", "thickness"
        double by;        ///< mm for focus, else a share
        Effect to;
        Regime heat; ///< of the heat model alone
        bool operator==(const Change&) const = default;
    };
    std::vector<Change> effect_changes;
    std::vector<Change> heat_changes; ///< of the heat model's own regime
};
[[nodiscard]] Expected<Robustness> robustness(const Scene& scene, const Recipe& recipe, const Fill& fill);

/// All intermediate and final quantities under keys that carry their unit.
[[nodiscard]] nlohmann::json to_json(const Prediction& prediction);
[[nodiscard]] std::string_view key(MarkWarning warning);
/// One plain sentence.
[[nodiscard]] std::string_view sentence(MarkWarning warning);

/// What a prediction rests on, without the cells behind it: those are in the evidence document.
[[nodiscard]] nlohmann::json to_json(const Evidence& evidence);

} // namespace finch
