// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/stock.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// Where a constant comes from, for the "why" of a number.
struct ConstantOrigin {
    std::string uncertainty;
    std::string source;
    bool operator==(const ConstantOrigin&) const = default;
};

/// A coat as a gas laser of 10.6 um meets it.
struct GasCoat {
    double depth_um = 25;      ///< 1/e absorption length
    double absorbed = 0.9;     ///< not reflected
    double start_rise_k = 380; ///< above 20 degC: it decomposes or bleaches
    double heat_capacity_j_mm3k = 2e-3;
    double volume_j_mm3 = 0; ///< heat that takes a volume; 0 = the film stays
};

/// A coat that a laser takes off or bleaches.
struct CoatConstants {
    Coating coating = Coating::powder_coat;
    std::string name;
    double threshold_j_cm2 = 0; ///< at 100 ns
    double width_exponent = 0;  ///< threshold ~ (pulse width / 100 ns)^exponent
    double incubation = 1;
    double penetration_um = 0; ///< per pulse and unit of ln(fluence / threshold)
    double usual_thickness_um = 0;
    double bleach_j_cm2 = 0;     ///< 0: does not bleach
    double threshold_spread = 2; ///< factor between products
    double gives_way_k = 673;    ///< the coat decomposes, or its ground lets go
    std::optional<GasCoat> gas;
    std::map<std::string, ConstantOrigin> origins;
};

/// What is done at one step of work with a sprayed film.
enum class CompoundStage { degrease, mask, spray, dry, mark, cool, wash, finish, ladder };
inline constexpr std::size_t compound_stage_count = 9;
[[nodiscard]] std::string_view key(CompoundStage stage);
[[nodiscard]] std::optional<CompoundStage> compound_stage(std::string_view key);

/// One step of the procedure of a product.
struct CompoundStep {
    CompoundStage stage = CompoundStage::mark;
    std::string title, text, caution;
    std::string look;                                           ///< by which its end is known
    double hands_each_s = 0;                                    ///< of each piece; of each coat where it sprays
    double hands_once_s = 0;                                    ///< of all together
    double wait_min = 0, wait_least_min = 0, wait_most_min = 0; ///< without hands; between coats where it sprays
};

/// A sprayed film that a laser fuses to bare metal.
struct CompoundConstants {
    std::string key, name;
    double bond_c = 0, burn_c = 0;
    double optical_gas = 0, optical_fibre = 0; ///< optical thickness of one coat
    double heat_j_mm2 = 0;                     ///< to bring one dry coat to fusion
    double dry_g_m2 = 0;                       ///< mass of one coat
    std::string wash;                          ///< "water" or "alcohol"
    double wash_within_min = 0;                ///< 0: no hurry
    std::string not_on;                        ///< metal on which it never takes
    double usual_l = 0, l_spread = 0;          ///< lightness of a good mark
    double handling_s = 0;                     ///< coat, dry, wash, per piece in a small batch
    double can_price = 0, can_g = 0, solids = 0, transfer = 0, wash_cost = 0;
    std::string steps_safety;        ///< what its fume and solvent ask for
    std::vector<CompoundStep> steps; ///< spray, dry, mark and wash once each, in this order
    std::map<std::string, ConstantOrigin> origins;
};

/// A metal as a compound sees it: averages over 20 to 800 degC.
struct CompoundMetal {
    std::string key, name, alloy_of;
    double conductivity_w_mk = 0, diffusivity_mm2_s = 0, melting_c = 0;
    bool can_be_anodised = false;
    std::map<std::string, int> grades; ///< by compound: 0 no .. 3 good, on raw or brushed metal

    [[nodiscard]] bool is(const std::string& metal) const {
        return !metal.empty() && (metal == key || metal == alloy_of);
    }
};

/// One tool of the scratch ladder, softest first.
struct LadderStep {
    std::string tool;
    double weight = 0;
    double survived_from = 0; ///< adhesion at which it is expected to be survived
};

struct CompoundTable {
    std::vector<CompoundConstants> compounds;
    std::vector<CompoundMetal> metals;
    std::vector<LadderStep> ladder;
    std::array<double, 9> surface_factor{}; ///< by CompoundSurface

    [[nodiscard]] const CompoundConstants* compound(const std::string& key) const;
    [[nodiscard]] const CompoundMetal* metal(const std::string& key) const;
};

/// A material for which no prediction is claimed: only where to start, how to climb and when to stop.
struct NonMetal {
    std::string key, name;
    double start_dose_dark_j_mm2 = 0, start_dose_pale_j_mm2 = 0; ///< by darkness of the pigment
    double most_dose_j_mm2 = 0;                                  ///< stop before this
    double frequency_khz = 0, speed_mm_s = 0, pitch_mm = 0;
    double climb = 0.1; ///< share added per pass
    std::string look, stop_when, caution;
    std::string source;
};

/// How a mark stands wear and rust: classes 0 (gone at once) to 4 (outlasts the part), good to one class until the
/// named test has been made.
struct Durability {
    double abrasion = 2, corrosion = 2;
    std::string note, test;
};
struct DurabilityRow {
    std::string process;
    std::vector<std::string> metals; ///< empty: any
    Durability stands;
    std::string source;
};

} // namespace finch
