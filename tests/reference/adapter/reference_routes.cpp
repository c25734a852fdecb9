// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/compound.h"
#include "recipe/quote.h"
#include "recipe/route_cost.h"
#include "recipe/transfer.h"
#include "reference/adapter/bench_vocabulary.h"

#include <array>
#include <cmath>

// Parts A (compound) and B (transfer) of the bench vectors.
namespace finch::bench_vectors {
namespace {

const CompoundConstants& compound_of(const Materials& materials, const std::string& name) {
    const CompoundConstants* c = materials.compounds.compound(name);
    if (c == nullptr)
        throw Refused{"UNKNOWN_NAME"};
    return *c;
}

const CompoundMetal& metal_of(const Materials& materials, const std::string& name) {
    static const std::map<std::string, std::string> keys{{"stainless_304", "stainless-304"},
                                                         {"stainless_430", "stainless-430"},
                                                         {"carbon_steel", "mild-steel"},
                                                         {"tool_steel", "tool-steel"},
                                                         {"titanium", "titanium-2"}};
    const auto it = keys.find(name);
    const CompoundMetal* m = materials.compounds.metal(it != keys.end() ? it->second : name);
    if (m == nullptr)
        throw Refused{"UNKNOWN_NAME"};
    return *m;
}

CompoundSurface surface_of(const std::string& name) {
    static constexpr std::array names{"raw",     "brushed", "blasted",  "mirror", "clear_coated",
                                      "painted", "waxed",   "anodised", "plated"};
    for (std::size_t i = 0; i < names.size(); ++i)
        if (name == names.at(i))
            return static_cast<CompoundSurface>(i);
    throw Refused{"UNKNOWN_NAME"};
}

CompoundSetting setting_of(const Arguments& a) {
    CompoundSetting s;
    const std::string laser = a.text("laser", "co2");
    if (laser != "co2" && laser != "fibre")
        throw Refused{"UNKNOWN_NAME"};
    s.beam = laser == "co2" ? CompoundBeam::gas : CompoundBeam::fibre;
    s.power_w = a.number("power", 20);
    s.speed_mm_s = a.number("speed");
    s.spot_mm = a.number("spot");
    s.pitch_mm = a.number("pitch", 0.05);
    s.coats = a.number("coats", 2);
    s.passes = static_cast<int>(a.number("passes", 1));
    s.coupling = a.number("coupling", 0.25);
    return s;
}

json reasons_json(const std::vector<CompoundReason>& reasons) {
    static constexpr std::array codes{"MOLY_NOT_ON_ALUMINIUM",      "METAL_UNSUITABLE",
                                      "CONDUCTS_HEAT_AWAY",         "STRIP_COATING_FIRST",
                                      "REMOVE_POLISH_RESIDUE",      "POLISH_PREVENTS_BONDING_ROUGHEN",
                                      "DIRECT_MARK_USUALLY_BETTER", "PLATING_MAY_LIFT"};
    json out = json::array();
    for (const CompoundReason r : reasons)
        out.push_back(codes.at(static_cast<std::size_t>(r)));
    return out;
}

json suitability_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"metal", "finish", "compound"});
    const auto s = good(suitability(compound_of(materials, a.text("compound")), metal_of(materials, a.text("metal")),
                                    surface_of(a.text("finish"))));
    return {s.grade, reasons_json(s.reasons)};
}

json absorbed_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"compound", "laser", "coats"});
    return absorbed_fraction(compound_of(materials, a.text("compound")),
                             a.text("laser") == "co2" ? CompoundBeam::gas : CompoundBeam::fibre, a.number("coats"));
}

json temperature_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"compound", "metal", "laser", "power", "speed", "spot", "coats"});
    return compound_temperature(compound_of(materials, a.text("compound")), metal_of(materials, a.text("metal")),
                                setting_of(a), a.number("t0", 20));
}

json power_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"compound", "metal", "laser", "temp_c", "speed", "spot", "coats"});
    return compound_power_for(compound_of(materials, a.text("compound")), metal_of(materials, a.text("metal")),
                              setting_of(a), a.number("temp_c"), a.number("t0", 20));
}

json coupling_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"compound", "metal", "laser", "first_bonding_power", "speed", "spot", "coats"});
    return good(calibrate_coupling(compound_of(materials, a.text("compound")), metal_of(materials, a.text("metal")),
                                   setting_of(a), a.number("first_bonding_power")));
}

json window_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"compound", "metal", "laser", "speed", "spot", "pitch", "coats", "coupling"});
    const CompoundSetting s = setting_of(a);
    const auto w =
        good(compound_window(compound_of(materials, a.text("compound")), metal_of(materials, a.text("metal")), s));
    json out{{"ratio", w.ratio()}};
    for (const auto& [name, power] : {std::pair{"lo", w.low_w}, {"aim", w.aim_w}, {"hi", w.high_w}}) {
        out[std::string("p_") + name] = power;
        out[std::string("line_") + name] = power / s.speed_mm_s;
        out[std::string("dose_") + name] = power / s.speed_mm_s / s.pitch_mm;
    }
    return out;
}

json outcome_value(const json& v, const Materials& materials) {
    static constexpr std::array fates{"no_bond", "under_fused", "good", "over_burnt"};
    const Arguments a(
        v, {"compound", "metal", "finish", "laser", "power", "speed", "spot", "pitch", "coats", "passes", "coupling"});
    const CompoundConstants& c = compound_of(materials, a.text("compound"));
    const CompoundMetal& m = metal_of(materials, a.text("metal"));
    const CompoundSurface surface = surface_of(a.text("finish"));
    const auto o = good(compound_outcome(materials.compounds, c, m, surface, setting_of(a)));
    return {{"class", fates.at(static_cast<std::size_t>(o.fate))},
            {"interface_c", o.interface_c},
            {"position", o.position},
            {"adhesion", o.adhesion},
            {"level", o.level},
            {"suitability", o.grade},
            {"reasons", reasons_json(good(suitability(c, m, surface)).reasons)},
            {"line_j_mm", o.line_energy_j_mm},
            {"dose_j_mm2", o.areal_dose_j_mm2}};
}

json ladder_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"grades"});
    const auto l = good(ladder_score(materials.compounds, a.at("grades").get<std::vector<double>>()));
    return {{"level", l.level}, {"survives", l.survives}, {"score", l.score}};
}

json wash_value(const json& v, const Materials& materials) {
    static constexpr std::array codes{"ok", "USE_WATER", "SET_USE_PUMICE", "USE_ALCOHOL_OR_PUMICE"};
    static const std::map<std::string, WashAgent> agents{
        {"water", WashAgent::water}, {"alcohol", WashAgent::alcohol}, {"pumice", WashAgent::pumice}};
    const Arguments a(v, {"compound", "agent", "minutes_since_mark"});
    const auto advice = wash_advice(compound_of(materials, a.text("compound")), agents.at(a.text("agent")),
                                    a.number("minutes_since_mark"));
    return {advice == WashAdvice::good, codes.at(static_cast<std::size_t>(advice))};
}

json spray_value(const json& v, const Materials& materials) {
    const Arguments a(v, {"compound", "coats", "mark_w", "mark_h"});
    CompoundConstants c = compound_of(materials, a.text("compound"));
    c.can_g = a.number("can_g", 340);
    c.solids = a.number("solids", 0.20);
    c.transfer = a.number("transfer", 0.5);
    c.can_price = a.number("can_price", 60);
    c.wash_cost = a.number("wash_cost", 0.10);
    const auto s = good(spray_use(c, {a.number("coats"), a.number("mark_w"), a.number("mark_h"), a.number("border", 8),
                                      a.number("fill", 0.3), static_cast<int>(a.number("gang", 1))}));
    return {{"can_area_mm2", s.can_area_mm2},   {"sprayed_mm2", s.sprayed_mm2},
            {"marks_per_can", s.marks_per_can}, {"cost_per_mark", s.cost_per_mark},
            {"useful_share", s.useful_share},   {"waste_g_per_mark", s.waste_g_per_mark}};
}

CostRules cost_rules_of(const json& j) {
    CostRules r;
    r.machine_rate_h = j.at("machine_rate_h");
    r.operator_rate_h = j.at("operator_rate_h");
    r.mark_s = j.at("mark_s");
    r.handling_s = j.at("handling_s");
    r.setup_min = j.at("setup_min");
    r.proof_min = j.at("proof_min");
    r.proof_blanks = j.at("proof_blanks");
    r.blank = j.at("blank");
    r.consumable = j.at("consumable");
    r.attend = j.at("attend");
    r.fixed = j.at("fixed");
    return r;
}

/// The reference begins as many as make the wanted number on average.
Expected<JobCost> cost_on_average(const json& job, int wanted) {
    const double scrap = job.at("scrap");
    return job_cost(cost_rules_of(job), wanted, static_cast<int>(std::ceil(wanted / (1 - scrap) - 1e-9)));
}

json job_cost_value(const json& v, const Materials&) {
    const Arguments a(v, {"job", "qty"});
    const JobCost c = good(cost_on_average(a.at("job"), static_cast<int>(a.number("qty"))));
    return {{"started", c.started}, {"machine", c.machine},
            {"operator", c.hands},  {"material", c.material},
            {"one_off", c.one_off}, {"total", c.total},
            {"unit", c.unit},       {"one_off_per_part", c.one_off_per_part}};
}

json quantity_breaks_value(const json& v, const Materials&) {
    const Arguments a(v, {"job", "quantities", "margin"});
    const json job = a.at("job");
    json out = json::array();
    for (const PriceTier& t :
         good(price_list(a.at("quantities").get<std::vector<int>>(), a.number("margin"), a.number("step", 0.01),
                         [&](int n) -> Expected<double> { return cost_on_average(job, n).map(&JobCost::unit); })))
        out.push_back(
            {{"qty", t.pieces}, {"unit_price", t.unit_price}, {"total", t.total}, {"cheaper_from", t.cheaper_from}});
    return out;
}

json compare_value(const json& v, const Materials&) {
    const Arguments a(v, {"a", "b", "qty"});
    const auto route = [](const json& m) {
        return Route{m.at("name"),     m.at("fixed"),      m.at("rate_h"), m.at("mark_s"),
                     m.at("handle_s"), m.at("consumable"), m.at("L"),      m.at("level")};
    };
    const auto c = compare(route(a.at("a")), route(a.at("b")), static_cast<int>(a.number("qty")));
    const auto letter = [](bool first) { return first ? "A" : "B"; };
    return {{"unit_a", c.unit_a},
            {"unit_b", c.unit_b},
            {"var_a", c.per_piece_a},
            {"var_b", c.per_piece_b},
            {"break_even",
             {{"pieces", c.crossing.pieces ? json(*c.crossing.pieces) : json(nullptr)},
              {"below", letter(c.crossing.first_below)},
              {"above", letter(c.crossing.first_above)}}},
            {"cheaper", c.cheaper},
            {"darker", c.darker},
            {"tougher", c.tougher},
            {"faster", c.faster}};
}

// ---- B transfer

TransferFamily family_of(const std::string& name) {
    static const std::map<std::string, TransferFamily> families{{"anneal", TransferFamily::anneal},
                                                                {"colour", TransferFamily::colour},
                                                                {"engrave", TransferFamily::engrave},
                                                                {"strip", TransferFamily::strip},
                                                                {"compound", TransferFamily::compound}};
    const auto it = families.find(name);
    if (it == families.end())
        throw Refused{"UNKNOWN_NAME"};
    return it->second;
}

MachineSettings settings_of(const json& s) {
    return {s.at("power"), s.at("speed"),    s.at("freq"),         s.at("spot"),
            s.at("pitch"), s.at("pulse_ns"), s.value("passes", 1), s.value("wavelength_nm", 1064.0)};
}

json settings_json(const MachineSettings& s) {
    return {
        {"power", s.power_w},  {"speed", s.speed_mm_s},  {"freq", s.frequency_khz}, {"spot", s.spot_mm},
        {"pitch", s.pitch_mm}, {"pulse_ns", s.pulse_ns}, {"passes", s.passes},      {"wavelength_nm", s.wavelength_nm}};
}

MachineLimits limits_of(const json& l) {
    const auto span = [&l](const char* key) { return MachineLimits::Span{l.at(key).at(0), l.at(key).at(1)}; };
    MachineLimits out;
    out.power_w = span("power");
    out.speed_mm_s = span("speed");
    out.frequency_khz = span("freq");
    out.spot_mm = span("spot");
    if (l.contains("pitch"))
        out.pitch_mm = span("pitch");
    out.pulses_ns = l.value("pulses_ns", std::vector<double>{100});
    if (const auto cap = l.find("energy_max_mj"); cap != l.end() && cap->is_number())
        out.largest_pulse_mj = cap->get<double>();
    out.most_passes = l.value("max_passes", 10);
    out.wavelength_nm = l.value("wavelength_nm", 1064.0);
    return out;
}

MachineDialog dialog_of(const json& d) {
    MachineDialog out;
    const auto take = [&d](const char* key, std::optional<double>& to) {
        if (const auto it = d.find(key); it != d.end() && it->is_number())
            to = it->get<double>();
    };
    take("speed_max", out.speed_max_mm_s);
    take("power_max", out.power_max_w);
    take("freq_max", out.frequency_max_khz);
    out.speed_step = d.value("speed_step", 1.0);
    out.power_step = d.value("power_step", 1.0);
    out.frequency_step = d.value("freq_step", 1.0);
    out.pitch_unit = d.value("pitch_unit", "mm");
    out.pitch_step = d.value("pitch_step", 0.001);
    out.pitch_list = d.value("pitch_list", std::vector<double>{});
    for (const json& row : d.value("power_table", json::array()))
        out.power_table.emplace_back(row.at(0), row.at(1));
    return out;
}

json invariants_json(const MachineSettings& s) {
    const auto values = good(invariants(s));
    json out{{"pulse_energy_mj", s.power_w / s.frequency_khz}};
    for (std::size_t i = 0; i < invariant_count; ++i)
        out[std::string(key(static_cast<Invariant>(i)))] = values.at(i);
    return out;
}

json result_json(const TransferResult& r) {
    json report = json::array();
    for (const Kept& k : r.report)
        report.push_back({{"invariant", key(k.invariant)},
                          {"priority", k.priority},
                          {"ratio", k.ratio},
                          {"kept", k.kept},
                          {"effect", k.effect}});
    return {{"settings", settings_json(r.settings)},
            {"report", report},
            {"clamped", r.clamped},
            {"verdict", word(r.verdict)},
            {"note", r.wavelength_differs ? "wavelength differs: absorption changes, doses are not comparable" : ""},
            {"invariants", invariants_json(r.settings)}};
}

json transfer_value(const json& v, const Materials&) {
    const Arguments a(v, {"old", "process", "new"});
    FixedSettings fixed;
    if (const json* f = a.find("fixed"))
        for (const auto& [name, value] : f->items())
            fixed.emplace_back(name, value.get<double>());
    return result_json(good(transfer(settings_of(a.at("old")), family_of(a.text("process")), limits_of(a.at("new")),
                                     a.number("keep", 0.02), fixed)));
}

json to_dialog_value(const json& v, const Materials&) {
    const Arguments a(v, {"old", "process", "new", "dlg"});
    const auto d = good(to_dialog(settings_of(a.at("old")), family_of(a.text("process")), limits_of(a.at("new")),
                                  dialog_of(a.at("dlg"))));
    json out = result_json(d.result);
    out["dialog"] = {
        {"pitch", d.typed.pitch}, {"freq", d.typed.frequency}, {"speed", d.typed.speed}, {"power", d.typed.power}};
    return out;
}

json from_dialog_value(const json& v, const Materials&) {
    const Arguments a(v, {"values", "dlg", "spot", "pulse_ns", "passes"});
    const json& t = a.at("values");
    return settings_json(
        good(from_dialog({t.at("pitch"), t.at("freq"), t.at("speed"), t.at("power")}, dialog_of(a.at("dlg")),
                         a.number("spot"), a.number("pulse_ns"), static_cast<int>(a.number("passes", 1)))));
}

} // namespace

const Calculations& compound_calculations() {
    static const Calculations table{
        {"suitability", suitability_value},
        {"moving_factor",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"speed", "spot", "kappa"});
             return moving_factor(a.number("speed"), a.number("spot"), a.number("kappa"));
         }},
        {"absorbed_fraction", absorbed_value},
        {"compound_temperature", temperature_value},
        {"compound_power_for", power_value},
        {"calibrate_coupling", coupling_value},
        {"compound_window", window_value},
        {"compound_outcome", outcome_value},
        {"ladder_score", ladder_value},
        {"wash_step_ok", wash_value},
        {"spray_use", spray_value},
        {"compare_methods", compare_value},
        {"job_cost", job_cost_value},
        {"price",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"cost", "margin"});
             return price_of(a.number("cost"), a.number("margin"), a.number("step", 0));
         }},
        {"quantity_breaks", quantity_breaks_value},
        {"break_even",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"fixed_a", "var_a", "fixed_b", "var_b"});
             const BreakEven b =
                 break_even(a.number("fixed_a"), a.number("var_a"), a.number("fixed_b"), a.number("var_b"));
             return {{"pieces", b.pieces ? json(*b.pieces) : json(nullptr)},
                     {"below", b.first_below ? "A" : "B"},
                     {"above", b.first_above ? "A" : "B"}};
         }},
    };
    return table;
}

const Calculations& transfer_calculations() {
    static const Calculations table{
        {"invariants",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"s"});
             return invariants_json(settings_of(a.at("s")));
         }},
        {"transfer", transfer_value},
        {"transfer_anneal_closed",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"old", "new"});
             return settings_json(good(transfer_anneal_closed(settings_of(a.at("old")), limits_of(a.at("new")))));
         }},
        {"transfer_colour_closed",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"old", "new"});
             return settings_json(good(transfer_colour_closed(settings_of(a.at("old")), limits_of(a.at("new")))));
         }},
        {"to_dialog", to_dialog_value},
        {"from_dialog", from_dialog_value},
    };
    return table;
}

} // namespace finch::bench_vectors
