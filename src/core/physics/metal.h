// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/stock.h"
#include "physics/film.h"
#include "physics/join_model.h"
#include "physics/removal.h"
#include "physics/surface_constants.h"
#include "quantity/error.h"

#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// How an oxide grows: x^2 = k t with an Arrhenius constant and a supply ceiling.
struct OxideGrowth {
    double activation_j_mol = 0;
    double prefactor_m2_s = 0;
    double ceiling_m2_s = 1;
    double colour_from_m = 0; ///< tint -> interference colour
    double dark_from_m = 0;   ///< interference colour -> dark anneal
    bool operator==(const OxideGrowth&) const = default;
};

/// Constants of one metal in SI units. "Hot": mean from 300 K to melting; "bulk": 300 to 600 K.
struct Metal {
    std::string key;
    std::string name;
    std::vector<std::string> aliases; ///< other words that people write for it
    std::string alloy_of;             ///< key of the metal that it is an alloy of, or empty
    double absorptance = 0;
    double conductivity_hot = 0, heat_capacity_hot = 0; ///< W/(m K), J/(m3 K)
    double conductivity_bulk = 0, heat_capacity_bulk = 0;
    double melting_k = 0, latent_rise_k = 0, boiling_k = 0;
    double vaporisation_heat = 0; ///< J/m3
    double expansion = 0, yield_strain = 0;
    std::optional<OxideGrowth> oxide;
    std::optional<RemovalConstants> removal;       ///< absent: no removal is predicted
    std::shared_ptr<const FilmOptics> film;        ///< absent: nothing is predicted for the bare surface
    std::map<std::string, ConstantOrigin> origins; ///< by the key in the file

    [[nodiscard]] double diffusivity_hot() const { return conductivity_hot / heat_capacity_hot; }
    [[nodiscard]] double diffusivity_bulk() const { return conductivity_bulk / heat_capacity_bulk; }
};

struct FinishFactors {
    double absorptance_factor = 1;
    double haze = 0.35;
};

/// A look that no model computes: an estimate with its spread.
struct LookEstimate {
    double l = 50, a = 0, b = 0, spread = 10;
    std::string source;
};
struct LookEstimates {
    LookEstimate dark_floor, bleached, coat;
};
/// What is done by hand to a piece once it is marked.
struct AfterWork {
    double minutes = 0;
    std::string words;
};
/// What a piece costs beside the beam.
struct EffortModel {
    double handling_s = 8; ///< load and unload
    double focus_mm_s = 2, focus_settle_s = 0.25;
    double next_cell_s = 0.05;                                ///< of a sheet
    double cleaning_speed = 1.5;                              ///< over that of the main pass
    std::map<std::string, AfterWork, std::less<>> after = {}; ///< by the key of the process
};
/// How far a prediction may be off, before and after measuring.
struct SpreadModel {
    double film_unproven = 0.3; ///< standard deviation of ln(thickness)
    /// Where the film goes with a higher power of the absorbed heat than `steep_from`, each power more adds this much.
    double film_steep = 0.2, steep_from = 4;
    double depth_repeat = 0.04, depth_floor = 0.03;        ///< of ln(depth): coupons of one bench; never known better
    double compound_unproven = 2, compound_learned = 1.15; ///< factors on the power, nine in ten
};
/// What changes at a bench from day to day without anybody's doing.
struct DriftModel {
    double focus_mm = 0.3;
    double power = 0.03, thickness = 0.1;         ///< shares
    double lot_unproven = 0.1, lot_proven = 0.03; ///< shares of film thickness or depth
};

/// Constants that belong to the process rather than to one metal, in SI units.
struct ProcessModel {
    double heat_kept_above_boiling = 0.75;
    double removal_share = 0.08;
    double removal_per_pulse_limit_m = 1.5e-6;
    double removal_net_limit_m = 3e-6;
    double native_oxide_m = 3e-9, tint_from_m = 8e-9, scale_limit_m = 3e-6;
    FilmTexture texture;
    double haze_pulses_per_spot = 1600, haze_most = 0.85, haze_depth_m = 2e-6;
    double room_light = 0.05, room_lamp_deg = 25;
    double surface_loss = 15; ///< W/(m2 K) per face
    double turn_s = 0.5e-3;
    double cleaning_from_j_m2 = 0.3e4;
    double frost_limit_m = 8e-6;                  ///< deeper is engraved
    double clamped_loss = 300, resting_loss = 60; ///< of a thin plate, W/(m2 K)
    RemovalModel removal;
    JoinModel join;
    LookEstimates looks;
    EffortModel effort;
    SpreadModel spread;
    DriftModel drift;
    std::map<Finish, FinishFactors> finishes;
    std::map<Coating, double> growth_factor;
    std::map<std::string, ConstantOrigin> origins;
};

/// All that is known of materials.
struct Materials {
    ProcessModel model;
    std::vector<std::shared_ptr<const Metal>> metals;
    std::vector<CoatConstants> coats;
    CompoundTable compounds;
    std::vector<NonMetal> non_metals;
    std::vector<DurabilityRow> durability_rows;

    /// Constants of a coat, or nothing for one that is not modelled.
    [[nodiscard]] const CoatConstants* coat(Coating coating) const;
    /// Wear and rust classes of a process (by key) on a metal; the row for any metal where there is none of its own.
    [[nodiscard]] Durability durability(std::string_view process, std::string_view metal) const;
    [[nodiscard]] const NonMetal* non_metal(const std::string& key) const;
    /// Errors: material.unknown.
    [[nodiscard]] Expected<std::shared_ptr<const Metal>> find(const std::string& key) const;
};

/// One file of data/materials, as text.
struct MaterialFile {
    std::string name;
    std::string text;
};

/// Builds the table from the files: one finch-process-model, and any number of finch-metal, finch-metal-optics,
/// finch-oxide-optics, finch-coatings, finch-compounds and finch-non-metals. Errors name file, field and fix.
[[nodiscard]] Expected<Materials> materials_from_files(const std::vector<MaterialFile>& files);

} // namespace finch
