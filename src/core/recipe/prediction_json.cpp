// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/predict.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

json colour_json(const ViewedColour& c) {
    const Rgb rgb = to_srgb(c.xyz);
    return {{"angle_deg", c.angle_deg},
            {"lab", {c.lab.l, c.lab.a, c.lab.b}},
            {"srgb", {rgb.r, rgb.g, rgb.b}},
            {"name", colour_name(c.lab)}};
}

template <typename T>
json or_null(const std::optional<T>& value) {
    return value ? json(*value) : json(nullptr);
}

json points_json(const MeasuredPoints& points) {
    json out = json::array();
    for (const MeasuredPoint& p : points.all())
        out.push_back({{"power_w", p.power_w},
                       {"width_ns", p.width_ns},
                       {"frequency_khz", p.frequency_khz},
                       {"speed_mm_s", p.speed_mm_s},
                       {"spot_um", p.spot_um}});
    return out;
}

} // namespace

std::string_view key(MarkWarning warning) {
    switch (warning) {
    case MarkWarning::colour_invalid:
        return "colour_invalid";
    case MarkWarning::scale:
        return "scale";
    case MarkWarning::derated:
        return "derated";
    case MarkWarning::gaps:
        return "gaps";
    case MarkWarning::coated:
        return "coated";
    case MarkWarning::no_colour:
        return "no_colour";
    case MarkWarning::cleaning:
        return "cleaning";
    case MarkWarning::pulse_melt:
        return "pulse_melt";
    case MarkWarning::stripes:
        return "stripes";
    case MarkWarning::warp:
        return "warp";
    case MarkWarning::burn:
        return "burn";
    }
    return "";
}

std::string_view sentence(MarkWarning warning) {
    switch (warning) {
    case MarkWarning::colour_invalid:
        return "The surface is removed or molten, so no colour is predicted.";
    case MarkWarning::scale:
        return "The oxide is beyond the modelled range and may flake.";
    case MarkWarning::derated:
        return "Below the lowest full-power frequency the source gives less power.";
    case MarkWarning::gaps:
        return "Pulses or lines are too far apart for averages to hold.";
    case MarkWarning::coated:
        return "The surface is coated: remove the coating first.";
    case MarkWarning::no_colour:
        return "No interference oxide is modelled for this metal.";
    case MarkWarning::cleaning:
        return "Films and grease come off without a mark.";
    case MarkWarning::pulse_melt:
        return "Each pulse melts a skin thinner than a micrometre, which is normal.";
    case MarkWarning::stripes:
        return "A line structure will be visible.";
    case MarkWarning::warp:
        return "The part is likely to move or warp.";
    case MarkWarning::burn:
        return "The part may burn through.";
    }
    return "";
}

json to_json(const Prediction& p) {
    const AnnealResult& m = p.mark;
    json views = json::array();
    json room = json::array();
    for (std::size_t i = 0; i < m.look.angles; ++i) {
        views.push_back(colour_json(m.look.specular_included[i]));
        room.push_back(colour_json(m.look.room[i]));
    }
    json shares = json::object();
    for (const EffectShare& s : p.shares.told(0.001))
        shares[std::string(word(s.effect))] = s.share;
    json warnings = json::array();
    for (const MarkWarning w : m.warnings)
        warnings.push_back(key(w));
    const Lab& lab = p.lab();
    json out{{"format", "finch-prediction"},
             {"version", 2},
             {"effect", word(p.effect)},
             {"shares", shares},
             {"absent_because", p.reason.empty() ? json(nullptr) : json(p.reason)},
             {"average_power_w", m.pulse.average_power_w},
             {"derating", m.pulse.derating},
             {"frequency_full_power_khz", m.pulse.frequency_min_hz / 1e3},
             {"pulse_width_ns", m.pulse.pulse_width_s * 1e9},
             {"pulse_energy_mj", m.pulse.pulse_energy_j * 1e3},
             {"peak_power_kw", m.pulse.peak_power_w / 1e3},
             {"spot_um", m.pattern.spot_m * 1e6},
             {"spot_at_focus_um", m.pattern.spot_at_focus_m * 1e6},
             {"rayleigh_mm", m.pattern.rayleigh_m * 1e3},
             {"peak_fluence_j_cm2", m.pattern.peak_fluence_j_m2 / 1e4},
             {"pulse_pitch_um", m.pattern.pulse_pitch_m * 1e6},
             {"pulse_overlap", m.pattern.pulse_overlap},
             {"line_overlap", m.pattern.line_overlap},
             {"pulses_per_mm2", m.pattern.pulses_per_m2 / 1e6},
             {"pulses_per_spot", m.pattern.pulses_per_spot},
             {"areal_dose_j_mm2", m.pattern.areal_dose_j_m2 / 1e6},
             {"line_ripple", m.pattern.line_ripple},
             {"time_s", m.pattern.time_s},
             {"absorptance", m.heat.absorptance},
             {"heat_kept", m.heat.heat_kept},
             {"pulse_rise_k", m.heat.pulse_rise},
             {"moving_rise_k", m.heat.moving_rise},
             {"peclet", m.heat.peclet},
             {"lines_rise_k", m.heat.lines_rise},
             {"passes_rise_k", m.heat.passes_rise},
             {"between_pulses_k", m.heat.between},
             {"peak_k", m.heat.peak},
             {"part_rise_k", m.heat.lines_rise + m.heat.passes_rise},
             {"oxide_nm", p.heat_modelled && p.mark.oxide.thickness_m > 0 && !p.coating && !p.black ? json(p.oxide_nm())
                                                                                                    : json(nullptr)},
             {"oxide_spread_ln", p.film_spread_ln},
             {"hot_time_s", m.oxide.hot_s},
             {"boiling_ratio", m.removal.ratio},
             {"haze", m.look.haze},
             {"blackness", m.look.blackness},
             {"film_seen", p.film_seen()},
             {"l_star", p.lightness ? json(p.lightness->l) : json(nullptr)},
             {"l_star_spread", p.lightness ? json(p.lightness->spread) : json(nullptr)},
             {"views", views},
             {"room_views", room},
             {"melt_index", p.melt_index},
             {"share_away", p.share_away},
             {"removal_index", p.removal_index},
             {"warp_index", m.plate.warp},
             {"burn_index", p.burn_index},
             {"warnings", warnings},
             {"rests_on", to_json(p.evidence)}};
    out["band_ln"] = p.band_ln;
    if (p.removal) {
        const RemovalForecast& r = *p.removal;
        out["removal"] = {{"depth_um", r.told_um()},
                          {"depth_least_um", r.told_least_um()},
                          {"depth_most_um", r.told_most_um()},
                          {"boils_off", r.boils_off()},
                          {"depth_if_um", r.depth_if_um},
                          {"depth_spread_ln", r.spread_ln},
                          {"first_pass_um", r.first_um},
                          {"passes_done", r.passes},
                          {"crater_um", r.pass.crater.diameter_um},
                          {"threshold_j_cm2", r.pass.crater.threshold_j_cm2},
                          {"floor", word(r.floor)},
                          {"dark_from_pass", or_null(r.stages.dark_from)},
                          {"emerges_at_pass", or_null(r.stages.emerges_at)},
                          {"clear_at_pass", or_null(r.stages.clear_at)},
                          {"rate_mm3_min", r.rate_mm3_min},
                          {"plate_rise_k", r.plate_rise_k},
                          {"taper_deg", r.taper_deg}};
    }
    if (p.coating && p.coating->gas) {
        const GasCoatOutcome& g = *p.coating->gas;
        out["coating"] = {{"dose_j_mm2", g.dose_j_mm2},
                          {"first_dose_j_mm2", g.first_j_mm2},
                          {"dose_to_finish_j_mm2", g.finish_j_mm2},
                          {"tint", g.tint},
                          {"passes_to_strip", g.passes},
                          {"depth_per_pass_um", or_null(g.depth_um)}};
    } else if (p.coating) {
        const CoatingOutcome& c = p.coating->pulsed;
        out["coating"] = {{"coat_margin", c.coat_margin},
                          {"metal_margin", c.metal_margin},
                          {"tint", c.tint},
                          {"passes_to_strip", c.passes},
                          {"depth_per_pass_um", c.depth_um},
                          {"threshold_spread_ln", p.coating->spread_ln}};
    }
    if (p.black)
        out["film_mark"] = {{"fluence_j_cm2", p.black->fluence_j_cm2},
                            {"darkens_from_j_cm2", p.black->low_j_cm2},
                            {"breaks_from_j_cm2", p.black->high_j_cm2},
                            {"pulses_per_spot", p.black->pulses_per_spot}};
    if (p.compound)
        out["compound"] = {{"fate", word(p.compound->fate)},    {"interface_c", p.compound->interface_c},
                           {"position", p.compound->position},  {"adhesion", p.compound->adhesion},
                           {"ladder_level", p.compound->level}, {"suitability", p.compound->grade}};
    // A colour of a removed or molten surface has no meaning and is not printed.
    const bool seen = p.film_seen() || (p.effect == Effect::none && m.look.angles > 0);
    out["lab"] = seen ? json{lab.l, lab.a, lab.b} : json(nullptr);
    out["colour_name"] = seen ? json(colour_name(lab)) : json(nullptr);
    return out;
}

json to_json(const Evidence& e) {
    return {{"growth_gain", e.growth_gain},
            {"growth_fit_ln", e.growth_fit_ln},
            {"film_points", points_json(e.film_points)},
            {"depth_gain", e.depth_gain},
            {"depth_fit_ln", e.depth_fit_ln},
            {"depth_points", points_json(e.depth_points)},
            {"coat_gain", e.coat_gain},
            {"coat_work", e.coat_work},
            {"coat_fit_ln", e.coat_fit_ln},
            {"coat_points", points_json(e.coat_points)},
            {"coat_sheets", e.coat_sheets},
            {"depth_coupons", e.depth_coupons},
            {"compound_coupling", e.compound_coupling},
            {"compound", e.compound},
            {"power_ladders", e.power_ladders},
            {"sheets", e.sheets},
            {"cells", e.cells}};
}

} // namespace finch
