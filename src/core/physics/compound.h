// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"

#include <string>
#include <vector>

namespace finch {

/// Which beam meets the coat: its absorption differs.
enum class CompoundBeam { gas, fibre };

/// Why a compound takes less well, or not at all.
enum class CompoundReason {
    not_on_aluminium,
    metal_unsuitable,
    conducts_heat_away,
    strip_coating_first,
    remove_polish_residue,
    mirror_prevents_bonding,
    direct_mark_usually_better,
    plating_may_lift
};
[[nodiscard]] std::string_view sentence(CompoundReason reason);

/// How the surface is met by a compound: the stock's finish and coating in one word.
enum class CompoundSurface { raw, brushed, blasted, mirror, clear_coated, painted, waxed, anodised, plated };
[[nodiscard]] CompoundSurface compound_surface(Finish finish, Coating coating);

struct Suitability {
    int grade = 0; ///< 0 no, 1 poor, 2 fair, 3 good
    std::vector<CompoundReason> reasons;
    bool operator==(const Suitability&) const = default;
};
/// Errors: compound.anodised_metal when an anodised surface is asked of a metal that has none.
[[nodiscard]] Expected<Suitability> suitability(const CompoundConstants& compound, const CompoundMetal& metal,
                                                CompoundSurface surface);

/// What is burned: power in W, speed in mm/s, spot and pitch in mm, coats above 0.
struct CompoundSetting {
    CompoundBeam beam = CompoundBeam::gas;
    double power_w = 20, speed_mm_s = 200, spot_mm = 0.15, pitch_mm = 0.05;
    double coats = 2;
    int passes = 1;
    double coupling = 0.25; ///< share of the absorbed heat that reaches the metal; set by one power ladder
};

/// Peak of a moving Gaussian spot over a standing one, 0 to 1; kappa in mm2/s. Fit within 0.6 %.
[[nodiscard]] double moving_factor(double speed_mm_s, double spot_mm, double diffusivity_mm2_s);
/// Share of the light that coat and metal together take.
[[nodiscard]] double absorbed_fraction(const CompoundConstants& compound, CompoundBeam beam, double coats);
/// Temperature in degC where coat and metal meet, and the power in W that makes it.
[[nodiscard]] double compound_temperature(const CompoundConstants& c, const CompoundMetal& m, const CompoundSetting& s,
                                          double start_c = 20);
[[nodiscard]] double compound_power_for(const CompoundConstants& c, const CompoundMetal& m, const CompoundSetting& s,
                                        double temperature_c, double start_c = 20);
/// Coupling from the first power of a ladder whose patch survives the wash. Errors: compound.power_too_low.
[[nodiscard]] Expected<double> calibrate_coupling(const CompoundConstants& c, const CompoundMetal& m, CompoundSetting s,
                                                  double first_bonding_power_w);

/// Powers (W) at which the coat bonds, is best, and burns or the metal melts.
struct CompoundWindow {
    double low_w = 0, aim_w = 0, high_w = 0;
    [[nodiscard]] double ratio() const { return high_w / low_w; }
};
inline constexpr double workable_window = 1.15;
/// Errors: compound.no_window when the metal melts before the compound bonds.
[[nodiscard]] Expected<CompoundWindow> compound_window(const CompoundConstants& c, const CompoundMetal& m,
                                                       const CompoundSetting& s);

enum class CompoundFate { no_bond, under_fused, bonded, over_burnt };
[[nodiscard]] std::string_view word(CompoundFate fate);

struct CompoundOutcome {
    CompoundFate fate = CompoundFate::no_bond;
    double interface_c = 20;
    double position = 0; ///< 0 at bonding, 1 at burning
    double adhesion = 0; ///< 0 to 1
    int level = 0;       ///< steps of the scratch ladder expected to be survived, 0 to 7
    int grade = 0;       ///< suitability
    double line_energy_j_mm = 0, areal_dose_j_mm2 = 0;
    bool operator==(const CompoundOutcome&) const = default;
};
/// Start at 20 degC. Errors as suitability().
[[nodiscard]] Expected<CompoundOutcome> compound_outcome(const CompoundTable& table, const CompoundConstants& c,
                                                         const CompoundMetal& m, CompoundSurface surface,
                                                         const CompoundSetting& s);

/// Result of a scratch ladder: grades in test order, 1 untouched, 0.5 lightened, 0 removed (ends the test).
struct LadderScore {
    int level = 0;
    std::string survives; ///< the hardest tool survived, or "nothing"
    double score = 0;     ///< 0 to 100
};
/// Errors: compound.grades.
[[nodiscard]] Expected<LadderScore> ladder_score(const CompoundTable& table, const std::vector<double>& grades);

enum class WashAgent { water, alcohol, pumice };
enum class WashAdvice { good, use_water, set_use_pumice, use_alcohol_or_pumice };
[[nodiscard]] std::string_view sentence(WashAdvice advice);
/// Whether an agent takes the excess off so many minutes after marking.
[[nodiscard]] WashAdvice wash_advice(const CompoundConstants& c, WashAgent agent, double minutes_since_mark);

} // namespace finch
