// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/effect.h"
#include "recipe/recipe.h"
#include "recipe/scene.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

/// One prediction for all marks. `effect` is the verdict; the parts beside it say how it came about.
struct Prediction {
    AnnealResult mark; ///< spot, pulses, heat, oxide, look; without meaning where `heat_modelled` is false
    std::optional<RemovalForecast> removal; ///< absent where the crater model has no constants or does not reach
    std::optional<CoatingOutcome> coating;  ///< on stock with a coat that is modelled
    std::optional<CompoundOutcome> compound;
    Effect effect = Effect::none;
    ShortList<EffectNeighbour, 6> neighbours;
    double removal_index = 0;   ///< 1 = metal counts as removed
    bool heat_modelled = true;  ///< false under a gas laser or a diode, or on a material without constants
    double oxide_spread = 0.30; ///< one standard deviation of the thickness, as a share of it
    double band = 1.5;          ///< factor either way of what decides: film, depth, threshold or power
    Evidence evidence;

    [[nodiscard]] double oxide_nm() const { return mark.oxide.thickness_m * 1e9; }
    [[nodiscard]] const Lab& lab() const { return mark.look.specular_included[0].lab; }
    /// Whether the colour of the oxide film is what one sees.
    [[nodiscard]] bool film_seen() const {
        return mark.look.valid && (effect == Effect::tint || effect == Effect::colour || effect == Effect::dark);
    }
    [[nodiscard]] double depth_um() const { return removal ? removal->depth_um : 0; }
    bool operator==(const Prediction&) const = default;
};

/// Predicts one recipe on one bench and stock. Pure, no allocation when it succeeds, under 0.3 ms. `unseen` leaves out
/// the colours, and the band of a depth: what a search does not ask of its tries.
/// Errors: physics.* when a value lies outside the model's range, compound.* when the compound is unknown.
[[nodiscard]] Expected<Prediction> predict(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                           const ViewingAngles& angles = {});

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

/// What the stock is to the physics.
[[nodiscard]] Workpiece workpiece(const Stock& stock, const Evidence& evidence);

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
        Regime to;
        bool operator==(const Change&) const = default;
    };
    std::vector<Change> regime_changes;
};
[[nodiscard]] Expected<Robustness> robustness(const Scene& scene, const Recipe& recipe, const Fill& fill);

/// All intermediate and final quantities under keys that carry their unit.
[[nodiscard]] nlohmann::json to_json(const Prediction& prediction);
[[nodiscard]] std::string_view key(MarkWarning warning);
/// One plain sentence.
[[nodiscard]] std::string_view sentence(MarkWarning warning);

[[nodiscard]] nlohmann::json to_json(const Evidence& evidence);
/// Errors: document.* with the field.
[[nodiscard]] Expected<Evidence> evidence_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch
