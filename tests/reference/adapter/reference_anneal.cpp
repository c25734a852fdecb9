// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/adapter/reference_models.h"

#include "recipe/predict.h"

#include <array>
#include <cmath>
#include <map>
#include <nlohmann/json.hpp>

// The vectors document has its own vocabulary. This file is the only place that knows it.
namespace finch {
using json = nlohmann::json;
namespace {

const std::map<std::string, std::string> metal_keys{
    {"ss304", "stainless-304"}, {"ss316", "stainless-316"}, {"ss430", "stainless-430"},
    {"mild", "mild-steel"},     {"tool", "tool-steel"},     {"ti2", "titanium-2"},
    {"al", "aluminium"},        {"brass", "brass"},         {"cu", "copper"}};
std::string text(const json& object, const char* key, const std::string& otherwise) {
    const auto it = object.find(key);
    return it != object.end() && it->is_string() ? it->get<std::string>() : otherwise;
}

Source read_source(const json& s) {
    Source out;
    const bool fixed = text(s, "kind", "") == "fixed";
    out.kind = fixed ? SourceKind::fixed_pulse_width : SourceKind::variable_pulse_width;
    out.rated_power = watts(number(s, "p_nom_w", 0));
    out.largest_pulse = millijoules(number(s, "e_cap_mj", 0));
    out.frequency_max = kilohertz(number(s, "f_max_khz", 1000));
    out.peak_power_limit = kilowatts(number(s, "p_peak_max_kw", 12));
    out.pulse_width_min = nanoseconds(fixed ? number(s, "tau_fixed_ns", 120) : 1);
    out.pulse_width_max = nanoseconds(fixed ? number(s, "tau_fixed_ns", 120) : 1000);
    if (const auto table = s.find("e_table"); table != s.end() && table->is_array())
        for (const json& row : *table)
            out.energy_limits.push_back({nanoseconds(row.at(0)), millijoules(row.at(1))});
    return out;
}

} // namespace

std::string refusal_code(InputFault fault) {
    constexpr std::array codes{"E_NOT_FINITE", "E_SOURCE", "E_MATERIAL", "E_OPTICS", "E_POWER",  "E_FREQ",
                               "E_PULSE",      "E_DUTY",   "E_SPEED",    "E_HATCH",  "E_PASSES", "E_FOCUS",
                               "E_THICKNESS",  "E_AREA",   "E_TSTART",   "E_GAIN",   "E_ANGLE"};
    return codes.at(static_cast<std::size_t>(fault));
}

std::string warning_code(MarkWarning w) {
    constexpr std::array codes{"W_COLOUR_INVALID", "W_SCALE",      "W_DERATED", "W_GAPS", "W_COATED", "W_NO_COLOUR",
                               "N_CLEANING",       "N_PULSE_MELT", "W_STRIPES", "W_WARP", "W_BURN"};
    return codes.at(static_cast<std::size_t>(w));
}

std::string metal_key(const std::string& name) {
    const auto it = metal_keys.find(name);
    return it != metal_keys.end() ? it->second : std::string();
}

VectorCase read_numbers(const json& source, const json& optics, const json& settings, const json& work) {
    VectorCase c;
    c.bench.source = read_source(source);
    c.bench.source.wavelength = nanometres(number(optics, "wavelength_nm", 1064));
    Lens lens;
    lens.focal_length = mm(number(optics, "f_lens_mm", 0));
    lens.beam_at_lens = mm(number(optics, "beam_d_mm", 6));
    lens.beam_quality_m2 = number(optics, "m2", 1.4);
    c.bench.lenses = {lens};
    Setting& s = c.recipe.setting;
    s.power_percent = number(settings, "power_pct", 0);
    s.frequency = kilohertz(number(settings, "freq_khz", 0));
    s.pulse_width = nanoseconds(number(settings, "pulse_ns", 0));
    s.scan_speed = mm_per_second(number(settings, "speed_mm_s", 0));
    s.hatch_pitch = mm(number(settings, "hatch_mm", 0));
    s.hatch_angle_deg = number(settings, "hatch_angle_deg", 0);
    const double passes = number(settings, "passes", 1);
    s.passes =
        std::isfinite(passes) && passes == std::floor(passes) && std::abs(passes) < 1e6 ? static_cast<int>(passes) : 0;
    s.focus_offset = mm(number(settings, "focus_mm", 0));
    c.stock.thickness = mm(number(work, "thickness_mm", 2));
    c.stock.start_temperature_c = number(work, "t_start_c", 20);
    c.fill = {mm(number(work, "line_length_mm", 10)), number(work, "area_mm2", 100)};
    return c;
}

namespace {

const std::map<std::string, Finish> finishes{
    {"mirror", Finish::mirror}, {"standard", Finish::mill}, {"brushed", Finish::brushed}};
const std::map<std::string, Coating> coatings{
    {"none", Coating::none}, {"nickel", Coating::nickel}, {"clear", Coating::clear}};

using Case = VectorCase;
using CaseOr = tl::expected<Case, InputFault>;

/// An entry of `table` by name, or the object itself when the vector spells it out.
json entry(const json& document, const char* table, const json& vector, const char* key) {
    const auto it = vector.find(key);
    if (it == vector.end())
        return json::object();
    return it->is_string() ? document.value(table, json::object()).value(it->get<std::string>(), json::object()) : *it;
}

CaseOr read_case(const json& document, const json& vector, const Materials& materials) {
    Case c;
    const json source = entry(document, "sources", vector, "source");
    const json work = vector.value("work", json::object());
    c = read_numbers(source, entry(document, "optics", vector, "optics"), vector.value("settings", json::object()),
                     work);
    c.evidence.growth_gain = number(work, "k_gain", 1);
    const Lens& lens = c.bench.lenses.front();
    const Setting& s = c.recipe.setting;
    const auto kind = text(source, "kind", "");
    if (kind != "fixed" && kind != "variable")
        return tl::unexpected(InputFault::source);
    const std::string named = metal_key(text(work, "material", "ss304"));
    const auto finish = finishes.find(text(work, "finish", "standard"));
    const auto coating = coatings.find(text(work, "coating", "none"));
    const bool known = !named.empty() && finish != finishes.end() && coating != coatings.end();
    if (known) {
        c.stock.finish = finish->second;
        c.stock.coating = coating->second;
        if (auto metal = materials.find(named))
            c.metal = *metal;
    }
    const auto fault = input_fault(c.bench.source, lens, s, workpiece(c.stock, c.evidence), c.fill);
    if (fault && *fault <= InputFault::source)
        return tl::unexpected(*fault);
    if (!c.metal)
        return tl::unexpected(InputFault::material);
    if (fault)
        return tl::unexpected(*fault);
    if (const auto angles = vector.find("angles");
        angles != vector.end() && angles->is_array() && angles->size() <= 3) {
        c.angles = {{0, 0, 0}, 0};
        for (const json& a : *angles)
            c.angles.at.at(c.angles.count++) = a.get<double>();
        for (std::size_t i = 0; i < c.angles.count; ++i)
            if (!(c.angles.at.at(i) >= 0 && c.angles.at.at(i) <= 80))
                return tl::unexpected(InputFault::angle);
    }
    return c;
}

json lab_json(const Lab& lab) {
    return {lab.l, lab.a, lab.b};
}

json colour_json(const ViewedColour& c) {
    const Rgb rgb = to_srgb(c.xyz);
    return {{"angle_deg", c.angle_deg},
            {"xyz", {c.xyz.x, c.xyz.y, c.xyz.z}},
            {"lab", lab_json(c.lab)},
            {"srgb", {rgb.r, rgb.g, rgb.b}},
            {"name", colour_name(c.lab)}};
}

json judgement_json(const AnnealResult& m) {
    json neighbours = json::object();
    for (const Neighbour& n : m.neighbours)
        neighbours[std::string(word(n.regime))] = n.distance;
    json margins{{"ablation", m.margins.ablation}, {"surface melting", m.margins.surface_melting}};
    if (m.margins.tint) {
        margins["tint"] = *m.margins.tint;
        margins["interference colour"] = *m.margins.interference_colour;
        margins["dark anneal"] = *m.margins.dark_anneal;
    }
    json warnings = json::array();
    for (const MarkWarning w : m.warnings)
        warnings.push_back(warning_code(w));
    return {{"regime", word(m.regime)},
            {"neighbours", neighbours},
            {"margins", margins},
            {"melt_index", m.melt_index},
            {"removal_index", m.removal.index},
            {"warp_index", m.plate.warp},
            {"burn_index", m.plate.burn},
            {"warnings", warnings}};
}

json result_json(const AnnealResult& m) {
    json out{{"p_avg_w", m.pulse.average_power_w},
             {"derate", m.pulse.derating},
             {"f_min_khz", m.pulse.frequency_min_hz * 1e-3},
             {"e_pulse_uj", m.pulse.pulse_energy_j * 1e6},
             {"p_peak_kw", m.pulse.peak_power_w * 1e-3},
             {"spot0_um", m.pattern.spot_at_focus_m * 1e6},
             {"rayleigh_mm", m.pattern.rayleigh_m * 1e3},
             {"spot_um", m.pattern.spot_m * 1e6},
             {"fluence_j_cm2", m.pattern.peak_fluence_j_m2 * 1e-4},
             {"pulse_pitch_um", m.pattern.pulse_pitch_m * 1e6},
             {"pulse_overlap", m.pattern.pulse_overlap},
             {"line_overlap", m.pattern.line_overlap},
             {"pulses_per_mm2", m.pattern.pulses_per_m2 * 1e-6},
             {"pulses_per_spot", m.pattern.pulses_per_spot},
             {"dose_j_mm2", m.pattern.areal_dose_j_m2 * 1e-6},
             {"ripple", m.pattern.line_ripple},
             {"time_s", m.pattern.time_s},
             {"absorptance", m.heat.absorptance},
             {"dt_pulse", m.heat.pulse_rise},
             {"t_peak", m.heat.peak},
             {"dt_moving", m.heat.moving_rise},
             {"peclet", m.heat.peclet},
             {"dt_lines", m.heat.lines_rise},
             {"dt_passes", m.heat.passes_rise},
             {"t_between", m.heat.between},
             {"heat_kept", m.heat.heat_kept},
             {"t_eff_s", m.oxide.hot_s},
             {"oxide_nm", m.oxide.thickness_m * 1e9},
             {"abl_ratio", m.removal.ratio},
             {"z_pulse_um", m.removal.per_pulse_m * 1e6},
             {"z_net_um", m.removal.net_m * 1e6},
             {"haze", m.look.haze},
             {"sce", colour_json(m.look.specular_excluded)},
             {"l_star", m.look.specular_included[0].lab.l},
             {"blackness", m.look.blackness},
             {"colour_valid", m.look.valid}};
    for (std::size_t i = 0; i < m.look.angles; ++i) {
        out["sci"].push_back(colour_json(m.look.specular_included[i]));
        out["app"].push_back(colour_json(m.look.room[i]));
    }
    out.update(judgement_json(m));
    return out;
}

json five_wavelengths(const Spectrum& s) {
    return {s[0], s[10], s[20], s[30], s[40]};
}

json function_value(const std::string& f, const json& a, const Materials& materials) {
    const auto d = [&a](std::size_t i) { return a.at(i).get<double>(); };
    const auto metal = [&]() -> const Metal& { return **materials.find(metal_keys.at(a.at(0))); };
    if (f == "i0e")
        return scaled_bessel_i0(d(0));
    if (f == "plate_factor")
        return plate_factor(d(0));
    if (f == "pulse_rise")
        return pulse_rise(d(0), d(1), d(2), d(3), d(4));
    if (f == "moving_spot_rise")
        return moving_spot_rise(d(0), d(1), d(2), d(3), d(4), d(5), d(6));
    if (f == "growth_constant")
        return growth_constant(d(1), metal().oxide.value(), d(2));
    if (f == "cie_xyz_bar") {
        const Xyz bar = observer(d(0));
        return {bar.x, bar.y, bar.z};
    }
    if (f == "film_reflectance_at_380_480_580_680_780")
        return five_wavelengths(metal().film->film(d(1), d(2)));
    if (f == "surface_reflectance_at_380_480_580_680_780")
        return five_wavelengths(metal().film->surface(d(1), d(2)));
    if (f == "bare_metal_lab")
        return lab_json(to_lab(to_xyz(metal().film->bare(0))));
    if (f == "film_colour_haze_0.22_at_0_and_45_deg") {
        const FilmOptics& film = *metal().film;
        const Spectrum hemi = film.hemispherical(d(1));
        return {lab_json(specular_included(film, d(1), 0.22, 0, hemi).lab),
                lab_json(specular_included(film, d(1), 0.22, 45, hemi).lab)};
    }
    return nullptr;
}

json sensitivity_json(const Robustness& r) {
    json changes = json::array();
    for (const Robustness::Change& change : r.heat_changes) {
        const bool focus = std::string_view(change.what) == "focus";
        char by[32];
        std::snprintf(by, sizeof by, focus ? "%+g mm" : "%+g %%", focus ? change.by : 100 * change.by);
        changes.push_back(std::string(change.what) + " " + by + ": " + std::string(word(change.heat)));
    }
    return {{"de_focus", r.focus_de},
            {"de_power", r.power_de},
            {"de_thickness", r.thickness_de},
            {"dlnx_dlnp", r.oxide_per_power},
            {"de_per_percent_x", r.de_per_percent_oxide},
            {"fragility", r.fragility},
            {"regime_changes", changes}};
}

json run_predict(const Case& c, const Materials& materials) {
    // The heat model alone; what a person is told is joined with the others.
    return result_json(anneal(*c.metal, materials.model, c.bench.source, c.bench.lens(), c.recipe.setting,
                              workpiece(c.stock, c.evidence), c.fill, c.angles));
}

} // namespace

void fill_anneal(json& document, const Materials& materials) {
    for (const char* block : {"functions", "predict", "errors", "sensitivity"})
        if (!document.contains(block))
            document[block] = json::array();
    for (json& v : document["functions"])
        v["value"] = function_value(v.at("f"), v.at("args"), materials);
    std::map<std::string, json> by_id;
    for (json& v : document["predict"]) {
        const auto c = read_case(document, v, materials);
        v["result"] = c ? run_predict(*c, materials) : json(refusal_code(c.error()));
        by_id[v.value("id", "")] = v;
    }
    for (json& v : document["errors"]) {
        const auto c = read_case(document, v, materials);
        v["code"] = c ? json(nullptr) : json(refusal_code(c.error()));
    }
    for (json& v : document["sensitivity"]) {
        const auto known = by_id.find(v.value("id", ""));
        const auto c =
            read_case(document, known != by_id.end() && !v.contains("settings") ? known->second : v, materials);
        if (!c) {
            v["result"] = refusal_code(c.error());
            continue;
        }
        const auto r = robustness({materials, *c->metal, c->bench, c->stock, c->evidence}, c->recipe, c->fill);
        v["result"] = r ? sensitivity_json(*r) : json(r.error().code);
    }
}

} // namespace finch
