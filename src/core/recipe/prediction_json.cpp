// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "document/json_fields.h"
#include "recipe/predict.h"

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
    json neighbours = json::object();
    for (const Neighbour& n : m.neighbours)
        neighbours[std::string(word(n.regime))] = n.distance;
    json warnings = json::array();
    for (const MarkWarning w : m.warnings)
        warnings.push_back(key(w));
    const Lab& lab = p.lab();
    json out{{"format", "finch-prediction"},
             {"version", 1},
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
             {"oxide_nm", p.oxide_nm()},
             {"oxide_spread", p.oxide_spread},
             {"hot_time_s", m.oxide.hot_s},
             {"boiling_ratio", m.removal.ratio},
             {"removed_per_pulse_um", m.removal.per_pulse_m * 1e6},
             {"removed_um", m.removal.net_m * 1e6},
             {"haze", m.look.haze},
             {"blackness", m.look.blackness},
             {"colour_valid", m.look.valid},
             {"views", views},
             {"room_views", room},
             {"regime", word(m.regime)},
             {"neighbours", neighbours},
             {"melt_index", m.melt_index},
             {"removal_index", m.removal.index},
             {"warp_index", m.plate.warp},
             {"burn_index", m.plate.burn},
             {"warnings", warnings},
             {"rests_on", to_json(p.evidence)}};
    out["effect"] = word(p.effect);
    out["band_factor"] = p.band;
    for (const EffectNeighbour& n : p.neighbours)
        out["margins_ln"][std::string(word(n.effect))] = n.distance;
    if (p.removal) {
        const RemovalForecast& r = *p.removal;
        out["removal"] = {{"depth_um", r.depth_um},
                          {"depth_least_um", r.least_um},
                          {"depth_most_um", r.most_um},
                          {"depth_per_pass_um", r.pass.depth_um},
                          {"passes_done", r.passes},
                          {"crater_um", r.pass.crater.diameter_um},
                          {"threshold_j_cm2", r.pass.crater.threshold_j_cm2},
                          {"floor", word(r.pass.look)},
                          {"rate_mm3_min", r.pass.rate_mm3_min},
                          {"taper_deg", r.taper_deg},
                          {"burn_index", r.burn_index}};
    }
    if (p.coating)
        out["coating"] = {{"fate", word(p.coating->fate)},           {"coat_margin", p.coating->coat_margin},
                          {"metal_margin", p.coating->metal_margin}, {"tint", p.coating->tint},
                          {"passes_to_strip", p.coating->passes},    {"depth_per_pass_um", p.coating->depth_um}};
    if (p.compound)
        out["compound"] = {{"fate", word(p.compound->fate)},    {"interface_c", p.compound->interface_c},
                           {"position", p.compound->position},  {"adhesion", p.compound->adhesion},
                           {"ladder_level", p.compound->level}, {"suitability", p.compound->grade}};
    // A colour of a removed or molten surface has no meaning and is not printed.
    out["lab"] = m.look.valid ? json{lab.l, lab.a, lab.b} : json(nullptr);
    out["colour_name"] = m.look.valid ? json(colour_name(lab)) : json(nullptr);
    return out;
}

json to_json(const Evidence& e) {
    return {{"growth_gain", e.growth_gain},
            {"gain_spread_ln", e.gain_spread_ln},
            {"depth_gain", e.depth_gain},
            {"depth_coupons", e.depth_coupons},
            {"compound_coupling", e.compound_coupling},
            {"power_ladders", e.power_ladders},
            {"sheets", e.sheets},
            {"cells", e.cells}};
}

Expected<Evidence> evidence_from_json(const json& document, const std::string& file) {
    std::vector<Error> faults;
    JsonFields f(document, "evidence", faults);
    Evidence e;
    e.growth_gain = f.number_or("growth_gain", 1, 0.001, 1000);
    e.gain_spread_ln = f.number_or("gain_spread_ln", 0, 0, 100);
    e.depth_gain = f.number_or("depth_gain", 1, 0.001, 1000);
    e.depth_coupons = f.whole_or("depth_coupons", 0, 0, 1000000);
    e.compound_coupling = f.number_or("compound_coupling", 0.25, 0.0001, 1);
    e.power_ladders = f.whole_or("power_ladders", 0, 0, 1000000);
    e.sheets = f.whole_or("sheets", 0, 0, 1000000);
    e.cells = f.whole_or("cells", 0, 0, 100000000);
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return e;
}

} // namespace finch
