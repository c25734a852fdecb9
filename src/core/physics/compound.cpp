// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/compound.h"

#include "quantity/angles.h"
#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double rounded_gas_constant = 8.314;
/// Bare absorptance at 10.6 um and at 1064 nm.
constexpr double bare_gas = 0.08, bare_fibre = 0.35;

double upper_limit(const CompoundConstants& c, const CompoundMetal& m) {
    return std::min(c.burn_c, m.melting_c - 20);
}

/// K per watt that reaches the interface.
double rise_per_watt(const CompoundMetal& m, const CompoundSetting& s) {
    return s.coupling * moving_factor(s.speed_mm_s, s.spot_mm, m.diffusivity_mm2_s) /
           (std::sqrt(2 * pi) * m.conductivity_w_mk * 1e-3 * s.spot_mm / 2);
}

double coat_heat(const CompoundConstants& c, const CompoundSetting& s) {
    return s.coats * c.heat_j_mm2 * s.speed_mm_s * s.spot_mm;
}

double film_factor(double coats) {
    return coats <= 2 ? 1.0 : coats <= 3 ? 0.9 : 0.75;
}

} // namespace

std::string_view sentence(CompoundReason reason) {
    switch (reason) {
    case CompoundReason::not_on_aluminium:
        return "The dry molybdenum film does not take on aluminium.";
    case CompoundReason::metal_unsuitable:
        return "This metal melts or conducts too early for a bond.";
    case CompoundReason::conducts_heat_away:
        return "The metal carries the heat away before the coat fuses.";
    case CompoundReason::strip_coating_first:
        return "The compound needs bare metal: strip the coating first.";
    case CompoundReason::remove_polish_residue:
        return "Polish or wax keeps the compound off: degrease first.";
    case CompoundReason::mirror_prevents_bonding:
        return "A mirror finish gives no hold: roughen it first.";
    case CompoundReason::direct_mark_usually_better:
        return "On an anodised film a direct mark usually does better.";
    case CompoundReason::plating_may_lift:
        return "The plating may lift with the mark.";
    }
    return "";
}

CompoundSurface compound_surface(Finish finish, Coating coating) {
    switch (coating) {
    case Coating::nickel:
        return CompoundSurface::plated;
    case Coating::clear:
        return CompoundSurface::clear_coated;
    case Coating::powder_coat:
    case Coating::paint:
        return CompoundSurface::painted;
    case Coating::anodised:
    case Coating::anodised_natural:
        return CompoundSurface::anodised;
    case Coating::polish_residue:
        return CompoundSurface::waxed;
    case Coating::unknown:
    case Coating::none:
        break;
    }
    switch (finish) {
    case Finish::mirror:
        return CompoundSurface::mirror;
    case Finish::mill:
        return CompoundSurface::raw;
    case Finish::brushed:
        return CompoundSurface::brushed;
    case Finish::blasted:
        return CompoundSurface::blasted;
    }
    return CompoundSurface::raw;
}

Expected<Suitability> suitability(const CompoundConstants& c, const CompoundMetal& m, CompoundSurface surface) {
    Suitability out;
    const auto grade = m.grades.find(c.key);
    out.grade = grade != m.grades.end() ? grade->second : 0;
    if (m.is(c.not_on) && out.grade == 0)
        out.reasons.push_back(CompoundReason::not_on_aluminium);
    else if (out.grade == 0)
        out.reasons.push_back(CompoundReason::metal_unsuitable);
    else if (out.grade == 1)
        out.reasons.push_back(CompoundReason::conducts_heat_away);
    switch (surface) {
    case CompoundSurface::clear_coated:
    case CompoundSurface::painted:
        out.grade = 0;
        out.reasons.push_back(CompoundReason::strip_coating_first);
        break;
    case CompoundSurface::waxed:
        out.grade = 0;
        out.reasons.push_back(CompoundReason::remove_polish_residue);
        break;
    case CompoundSurface::mirror:
        out.grade = std::max(0, out.grade - 2);
        out.reasons.push_back(CompoundReason::mirror_prevents_bonding);
        break;
    case CompoundSurface::anodised:
        if (!m.can_be_anodised)
            return failure("compound.anodised_metal", "Only aluminium and titanium carry an anodised film.",
                           "Correct the coating on the Bench station.");
        out.grade = std::min(out.grade, 2);
        out.reasons.push_back(CompoundReason::direct_mark_usually_better);
        break;
    case CompoundSurface::plated:
        out.grade = std::min(out.grade, 1);
        out.reasons.push_back(CompoundReason::plating_may_lift);
        break;
    case CompoundSurface::raw:
    case CompoundSurface::brushed:
    case CompoundSurface::blasted:
        break;
    }
    return out;
}

double moving_factor(double speed, double spot, double diffusivity) {
    constexpr double a = 2.12, m = 0.982;
    const double peclet = speed * spot / (2 * std::numbers::sqrt2) / (4 * diffusivity);
    return std::pow(1 + a * std::pow(peclet, m), -0.5 / m);
}

double absorbed_fraction(const CompoundConstants& c, CompoundBeam beam, double coats) {
    const bool gas = beam == CompoundBeam::gas;
    const double bare = gas ? bare_gas : bare_fibre;
    return 1 - (1 - bare) * std::exp(-(gas ? c.optical_gas : c.optical_fibre) * coats);
}

double compound_temperature(const CompoundConstants& c, const CompoundMetal& m, const CompoundSetting& s,
                            double start_c) {
    const double heat = std::max(0.0, absorbed_fraction(c, s.beam, s.coats) * s.power_w - coat_heat(c, s));
    return start_c + heat * rise_per_watt(m, s);
}

double compound_power_for(const CompoundConstants& c, const CompoundMetal& m, const CompoundSetting& s,
                          double temperature_c, double start_c) {
    return ((temperature_c - start_c) / rise_per_watt(m, s) + coat_heat(c, s)) / absorbed_fraction(c, s.beam, s.coats);
}

Expected<double> calibrate_coupling(const CompoundConstants& c, const CompoundMetal& m, CompoundSetting s,
                                    double first_bonding_power_w) {
    constexpr double start = 20;
    s.coupling = 1;
    s.power_w = first_bonding_power_w;
    const double t = compound_temperature(c, m, s, start);
    if (t <= start)
        return failure("compound.power_too_low", "That power does not even heat the coat itself.",
                       "Check the power of the first patch that survived the wash.");
    return (c.bond_c - start) / (t - start);
}

Expected<CompoundWindow> compound_window(const CompoundConstants& c, const CompoundMetal& m, const CompoundSetting& s) {
    const double high = upper_limit(c, m);
    if (high <= c.bond_c)
        return failure("compound.no_window", "The metal melts before the compound bonds.",
                       "Use another compound or another process.");
    CompoundWindow w;
    w.low_w = compound_power_for(c, m, s, c.bond_c);
    w.high_w = compound_power_for(c, m, s, high);
    w.aim_w = std::sqrt(w.low_w * w.high_w);
    return w;
}

std::string_view word(CompoundFate fate) {
    switch (fate) {
    case CompoundFate::no_bond:
        return "does not bond";
    case CompoundFate::under_fused:
        return "under-fused";
    case CompoundFate::bonded:
        return "bonded";
    case CompoundFate::over_burnt:
        return "over-burnt";
    }
    return "";
}

Expected<CompoundOutcome> compound_outcome(const CompoundTable& table, const CompoundConstants& c,
                                           const CompoundMetal& m, CompoundSurface surface, const CompoundSetting& s) {
    const auto suits = suitability(c, m, surface);
    if (!suits)
        return tl::unexpected(suits.error());
    CompoundOutcome o;
    o.grade = suits->grade;
    o.interface_c = compound_temperature(c, m, s);
    const double high = upper_limit(c, m);
    const double hot_s = s.spot_mm / s.speed_mm_s * std::max(1.0, s.spot_mm / s.pitch_mm);
    const double rate = 2000 * std::exp(110e3 / rounded_gas_constant * (1 / 1000.0 - 1 / (o.interface_c + 273.15)));
    // A later pass counts half: the fused film absorbs less.
    const double fused = 1 - std::exp(-rate * hot_s * (1 + 0.5 * (s.passes - 1)));
    double factor = table.surface_factor.at(static_cast<std::size_t>(surface)) * film_factor(s.coats);
    if (o.interface_c > high)
        factor *= std::exp(-3 * (o.interface_c - high) / high);
    o.adhesion = o.grade == 0 ? 0 : std::min(1.0, fused * factor);
    o.position = (o.interface_c - c.bond_c) / (high - c.bond_c);
    o.fate = o.grade == 0                                                      ? CompoundFate::no_bond
             : o.position > 1                                                  ? CompoundFate::over_burnt
             : o.position < 0 || o.adhesion < table.ladder.at(2).survived_from ? CompoundFate::under_fused
                                                                               : CompoundFate::bonded;
    if (o.fate != CompoundFate::no_bond)
        o.level = static_cast<int>(std::count_if(table.ladder.begin(), table.ladder.end(),
                                                 [&](const LadderStep& l) { return o.adhesion >= l.survived_from; }));
    o.line_energy_j_mm = s.power_w / s.speed_mm_s;
    o.areal_dose_j_mm2 = s.power_w * s.passes / (s.speed_mm_s * s.pitch_mm);
    return o;
}

Expected<LadderScore> ladder_score(const CompoundTable& table, const std::vector<double>& grades) {
    const bool known = std::all_of(grades.begin(), grades.end(), [](double g) { return g == 0 || g == 0.5 || g == 1; });
    if (grades.size() > table.ladder.size() || !known)
        return failure("compound.grades", "A ladder has at most seven grades of 0, 0.5 or 1.",
                       "1 untouched, 0.5 lightened, 0 removed.");
    LadderScore out;
    double sum = 0, all = 0;
    for (const LadderStep& step : table.ladder)
        all += step.weight;
    for (std::size_t i = 0; i < grades.size() && grades[i] > 0; ++i) {
        sum += grades[i] * table.ladder[i].weight;
        ++out.level;
    }
    out.survives = out.level > 0 ? table.ladder[static_cast<std::size_t>(out.level) - 1].tool : "nothing";
    out.score = 100 * sum / all;
    return out;
}

std::string_view sentence(WashAdvice advice) {
    switch (advice) {
    case WashAdvice::good:
        return "This takes the excess off.";
    case WashAdvice::use_water:
        return "Use water and a soft brush.";
    case WashAdvice::set_use_pumice:
        return "The film has set: use pumice hand cleaner.";
    case WashAdvice::use_alcohol_or_pumice:
        return "Use alcohol at once, or pumice hand cleaner when it has set.";
    }
    return "";
}

WashAdvice wash_advice(const CompoundConstants& c, WashAgent agent, double minutes) {
    if (c.wash == "water")
        return agent == WashAgent::water ? WashAdvice::good : WashAdvice::use_water;
    if (agent == WashAgent::pumice)
        return WashAdvice::good;
    if (agent == WashAgent::alcohol)
        return minutes <= c.wash_within_min ? WashAdvice::good : WashAdvice::set_use_pumice;
    return WashAdvice::use_alcohol_or_pumice;
}

} // namespace finch
