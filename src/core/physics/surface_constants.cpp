// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/surface_constants.h"

#include "physics/constants_reader.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::array<std::string_view, compound_stage_count> stage_keys{"degrease", "mask", "spray",  "dry",   "mark",
                                                                        "cool",     "wash", "finish", "ladder"};
constexpr std::array needed_stages{CompoundStage::spray, CompoundStage::dry, CompoundStage::mark, CompoundStage::wash};

CompoundStep read_step(JsonFields& f) {
    CompoundStep s;
    s.stage = static_cast<CompoundStage>(f.choice("stage", {stage_keys.begin(), stage_keys.end()}));
    s.title = f.text("title");
    s.text = f.text("text");
    s.caution = f.text_or("caution", "");
    s.look = f.text_or("look", "");
    s.hands_each_s = f.number_or("hands_each_s", 0, 0, 3600);
    s.hands_once_s = f.number_or("hands_once_s", 0, 0, 36000);
    s.wait_min = f.number_or("wait_min", 0, 0, 1440);
    s.wait_least_min = f.number_or("wait_least_min", 0, 0, s.wait_min);
    s.wait_most_min = f.number_or("wait_most_min", s.wait_min, s.wait_min, 2880);
    return s;
}

CompoundConstants read_compound(JsonFields f, int small_batch, int coats) {
    CompoundConstants c;
    c.key = f.text("key");
    c.name = f.text("name");
    c.wash = f.text("wash");
    if (c.wash != "water" && c.wash != "alcohol")
        f.fault("wash", "The wash is neither water nor alcohol.", "Write \"water\" or \"alcohol\".");
    c.not_on = f.text_or("not_on", "");
    ConstantsReader k(f.object("constants"), c.origins);
    c.bond_c = k("bond_c", 50, 2000);
    c.burn_c = k("burn_c", 50, 3000);
    c.optical_gas = k("optical_thickness_gas", 0.01, 10);
    c.optical_fibre = k("optical_thickness_fibre", 0.01, 10);
    c.heat_j_mm2 = k("heat_to_fuse_j_mm2", 1e-4, 1);
    c.dry_g_m2 = k("dry_g_m2", 0.1, 500);
    c.wash_within_min = k("wash_within_min", 0, 1e5);
    c.usual_l = k("usual_l_star", 0, 100);
    c.l_spread = k("l_star_spread", 0, 50);
    c.handling_s = k("handling_s", 0, 3600);
    c.can_price = k("can_price", 0, 1e4);
    c.can_g = k("can_g", 1, 1e5);
    c.solids = k("solids_share", 0.001, 1);
    c.transfer = k("transfer_share", 0.001, 1);
    c.wash_cost = k("wash_cost", 0, 1000);
    c.steps_safety = f.text("caution");
    for (JsonFields& s : f.list("steps"))
        c.steps.push_back(read_step(s));
    std::vector<CompoundStage> order;
    double hands = 0;
    for (const CompoundStep& s : c.steps) {
        if (std::ranges::find(needed_stages, s.stage) != needed_stages.end())
            order.push_back(s.stage);
        hands += s.hands_each_s * (s.stage == CompoundStage::spray ? coats : 1) + s.hands_once_s / small_batch;
    }
    if (!std::ranges::equal(order, needed_stages))
        f.fault("steps", "The procedure does not spray, dry, mark and wash once each, in this order.",
                "List each of these steps once.");
    // One number for one thing: what a piece is thought to take, and what its steps come to.
    else if (std::abs(hands - c.handling_s) > 1)
        f.fault(
            "steps",
            fmt::format("The hands of its steps come to {:.0f} s for a piece of a small batch, handling_s is {:.0f}.",
                        hands, c.handling_s),
            "Change one of them.");
    return c;
}

CompoundMetal read_compound_metal(JsonFields f, const std::vector<CompoundConstants>& compounds) {
    CompoundMetal m;
    m.key = f.text("key");
    m.name = f.text("name");
    m.conductivity_w_mk = f.number("conductivity_w_mk", 1, 1000);
    m.diffusivity_mm2_s = f.number("diffusivity_mm2_s", 0.1, 1000);
    m.melting_c = f.number("melting_c", 100, 4000);
    m.can_be_anodised = f.flag_or("can_be_anodised", false);
    JsonFields grades = f.object("grades");
    for (const CompoundConstants& c : compounds)
        m.grades[c.key] = grades.whole(c.key.c_str(), 0, 3);
    return m;
}

} // namespace

std::string_view key(CompoundStage stage) {
    return stage_keys.at(static_cast<std::size_t>(stage));
}

std::optional<CompoundStage> compound_stage(std::string_view key) {
    const auto at = std::ranges::find(stage_keys, key);
    return at == stage_keys.end() ? std::nullopt : std::optional(static_cast<CompoundStage>(at - stage_keys.begin()));
}

CoatConstants read_coat(JsonFields f) {
    static const std::vector<std::string_view> words{"powder-coat", "paint", "anodised"};
    constexpr std::array kinds{Coating::powder_coat, Coating::paint, Coating::anodised};
    CoatConstants c;
    c.coating = kinds.at(f.choice("coating", words));
    c.name = f.text("name");
    JsonFields constants = f.object("constants");
    ConstantsReader k(constants, c.origins);
    c.threshold_j_cm2 = k("threshold_j_cm2", 0.001, 100);
    c.width_exponent = k("width_exponent", 0, 1);
    c.incubation = k("incubation", 0.5, 1);
    c.penetration_um = k("penetration_um", 0.001, 100);
    c.usual_thickness_um = k("usual_thickness_um", 0.1, 1000);
    c.bleach_j_cm2 = k("bleach_j_cm2", 0, 100);
    c.threshold_spread = k("threshold_spread", 1, 10);
    // A workshop's own file may be older than these.
    if (constants.has("gives_way_k"))
        c.gives_way_k = k("gives_way_k", 320, 4000);
    if (constants.has("gas_depth_um"))
        c.gas = GasCoat{k("gas_depth_um", 0.1, 1000), k("gas_absorbed", 0.01, 1), k("gas_start_rise_k", 10, 4000),
                        k("gas_heat_capacity_j_mm3k", 1e-4, 0.1), k("gas_volume_j_mm3", 0, 1000)};
    return c;
}

CompoundTable read_compounds(JsonFields f) {
    CompoundTable t;
    const int small_batch = f.whole_or("small_batch", 10, 1, 1000), coats = f.whole_or("usual_coats", 2, 1, 20);
    for (const JsonFields& c : f.list("compounds"))
        t.compounds.push_back(read_compound(c, small_batch, coats));
    for (const JsonFields& m : f.list("metals"))
        t.metals.push_back(read_compound_metal(m, t.compounds));
    for (JsonFields step : f.list("ladder"))
        t.ladder.push_back({step.text("tool"), step.number("weight", 0, 100), step.number("survived_from", 0, 1)});
    if (t.ladder.size() < 3)
        f.fault("ladder", "The scratch ladder has fewer than three steps.", "List its tools, softest first.");
    JsonFields factors = f.object("surface_factors");
    static constexpr std::array names{"raw",     "brushed", "blasted",  "mirror", "clear_coated",
                                      "painted", "waxed",   "anodised", "plated"};
    for (std::size_t i = 0; i < names.size(); ++i)
        t.surface_factor.at(i) = factors.number(names.at(i), 0, 2);
    return t;
}

NonMetal read_non_metal(JsonFields f) {
    NonMetal n;
    n.key = f.text("key");
    n.name = f.text("name");
    n.start_dose_dark_j_mm2 = f.number("start_dose_dark_j_mm2", 1e-4, 100);
    n.start_dose_pale_j_mm2 = f.number("start_dose_pale_j_mm2", 1e-4, 100);
    n.most_dose_j_mm2 = f.number("most_dose_j_mm2", 1e-4, 1000);
    n.frequency_khz = f.number("frequency_khz", 1, 4000);
    n.speed_mm_s = f.number("speed_mm_s", 1, 20000);
    n.pitch_mm = f.number("pitch_mm", 1e-4, 1);
    n.climb = f.number("climb", 0.01, 1);
    n.look = f.text("look");
    n.stop_when = f.text("stop_when");
    n.caution = f.text("caution");
    n.source = f.text("source");
    return n;
}

DurabilityRow read_durability(JsonFields f) {
    DurabilityRow r;
    r.process = f.text("process");
    for (const auto& metal : f.json().value("metals", nlohmann::json::array()))
        if (metal.is_string())
            r.metals.push_back(metal.get<std::string>());
    r.stands = {f.number("abrasion", 0, 4), f.number("corrosion", 0, 4), f.text("note"), f.text("test")};
    r.source = f.text("source");
    return r;
}

const CompoundConstants* CompoundTable::compound(const std::string& key) const {
    const auto it = std::find_if(compounds.begin(), compounds.end(), [&](const auto& c) { return c.key == key; });
    return it != compounds.end() ? &*it : nullptr;
}

const CompoundMetal* CompoundTable::metal(const std::string& key) const {
    const auto it = std::find_if(metals.begin(), metals.end(), [&](const auto& m) { return m.key == key; });
    return it != metals.end() ? &*it : nullptr;
}

} // namespace finch
