// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/metal.h"

#include "physics/constants_reader.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

MetalOptics read_metal_optics(JsonFields f) {
    MetalOptics o;
    o.key = f.text("key");
    o.source = f.text("source");
    o.uncertainty = f.text("uncertainty");
    o.first_nm = f.number("first_nm", 200, 1000);
    o.step_nm = f.number("step_nm", 1, 100);
    o.n = f.numbers("n", 0, 0.01, 20);
    o.k = f.numbers("k", 0, 0, 30);
    if (o.n.size() < 2 || o.n.size() != o.k.size()) {
        f.fault("k", "n and k do not have the same length.", "Give one k for each n, at least two.");
        o.n = o.k = {1, 1};
    }
    return o;
}

OxideOptics read_oxide_optics(JsonFields f) {
    OxideOptics o;
    o.key = f.text("key");
    o.source = f.text("source");
    o.uncertainty = f.text("uncertainty");
    o.n0 = f.number("n0", 1, 5);
    o.n_dispersion_um2 = f.number("n_dispersion_um2", 0, 1);
    o.k_base = f.number("k_base", 0, 3);
    o.k_blue = f.number("k_blue", 0, 3);
    o.k_decay_nm = f.number("k_decay_nm", 1, 1000);
    o.spread_thin = f.number("spread_thin", 0, 0.5);
    o.spread_thick = f.number("spread_thick", 0, 0.5);
    return o;
}

RemovalConstants read_removal(ConstantsReader c) {
    RemovalConstants r;
    r.threshold_j_cm2 = c("threshold_j_cm2", 0.01, 1000);
    r.incubation = c("incubation", 0.5, 1);
    r.penetration_um = c("penetration_um", 1e-4, 10);
    r.melt_gain = c("melt_gain", 0, 100);
    r.conductivity_w_mk = c("conductivity_w_mk", 1, 1000);
    r.diffusivity_mm2_s = c("diffusivity_mm2_s", 0.1, 1000);
    r.heat_capacity_j_mm3k = c("heat_capacity_j_mm3k", 1e-4, 0.1);
    r.melting_rise_k = c("melting_rise_k", 50, 4000);
    r.expansion_1e6_k = c("expansion_removal_1e6_k", 0.5, 50);
    r.heat_share = c("heat_share", 0.01, 1);
    r.dark_from_j_mm2 = c("dark_from_j_mm2", 0.01, 1000);
    r.tint_rise_k = c("tint_rise_k", 10, 1e9);
    r.depth_spread = c("depth_spread", 1, 10);
    return r;
}

RemovalModel read_removal_model(ConstantsReader c) {
    RemovalModel r;
    r.incubation_cap = c("incubation_cap_pulses", 1, 1e6);
    r.melt_width_ns = c("melt_width_ns", 1, 1000);
    r.melt_fluence = c("melt_fluence_thresholds", 0.1, 1000);
    r.melt_spot_um = c("melt_spot_um", 1, 1000);
    r.shielding_j_cm2 = c("shielding_j_cm2", 0.1, 1e4);
    r.debris_floor = c("debris_floor", 0, 1);
    r.debris_depth_um = c("debris_depth_um", 1, 1e4);
    r.cleaning_residue = c("cleaning_residue", 0, 1);
    r.aspect = c("aspect", 0, 10);
    r.taper_floor_deg = c("taper_floor_deg", 0, 45);
    r.emerge_um = c("emerge_um", 1, 1000);
    r.mark_ratio = c("mark_ratio", 0.1, 1);
    return r;
}

struct MetalOnPaper {
    Metal metal;
    std::string file, optics, oxide;
};

MetalOnPaper read_metal(JsonFields f, const std::string& file) {
    MetalOnPaper out;
    out.file = file;
    Metal& m = out.metal;
    m.key = f.text("key");
    m.name = f.text("name");
    m.alloy_of = f.text_or("alloy_of", "");
    out.optics = f.text("optics");
    out.oxide = f.text_or("oxide", "");
    ConstantsReader c(f.object("constants"), m.origins);
    m.aliases = f.texts("aliases");
    m.absorptance = c("absorptance", 0.01, 0.95);
    m.conductivity_hot = c("conductivity_hot_w_mk", 1, 1000);
    m.heat_capacity_hot = c("heat_capacity_hot_mj_m3k", 0.5, 10, 1e6);
    m.conductivity_bulk = c("conductivity_bulk_w_mk", 1, 1000);
    m.heat_capacity_bulk = c("heat_capacity_bulk_mj_m3k", 0.5, 10, 1e6);
    m.melting_k = c("melting_k", 400, 4000);
    m.latent_rise_k = c("latent_rise_k", 1, 2000);
    m.boiling_k = c("boiling_k", 600, 7000);
    m.vaporisation_heat = c("vaporisation_heat_gj_m3", 1, 200, 1e9);
    m.expansion = c("expansion_1e6_k", 0.5, 50, 1e-6);
    m.yield_strain = c("yield_strain", 1e-4, 0.05);
    if (f.has("removal"))
        m.removal = read_removal(ConstantsReader(f.object("removal"), m.origins));
    if (!out.oxide.empty()) {
        OxideGrowth g;
        g.activation_j_mol = c("activation_kj_mol", 10, 1000, 1e3);
        g.prefactor_m2_s = c("growth_prefactor_m2_s", 1e-12, 1e3);
        g.ceiling_m2_s = c("growth_ceiling_m2_s", 1e-15, 1);
        g.colour_from_m = c("colour_from_nm", 1, 1000, 1e-9);
        g.dark_from_m = c("dark_from_nm", 1, 3000, 1e-9);
        m.oxide = g;
    }
    return out;
}

LookEstimate read_look(JsonFields f) {
    return {f.number("l_star", 0, 100), f.number_or("a_star", 0, -60, 60), f.number_or("b_star", 0, -60, 60),
            f.number("spread", 0, 50), f.text("source")};
}

ProcessModel read_model(JsonFields f) {
    ProcessModel m;
    ConstantsReader c(f.object("constants"), m.origins);
    m.heat_kept_above_boiling = c("heat_kept_above_boiling", 0, 1);
    m.removal_share = c("removal_share", 0, 1);
    m.removal_per_pulse_limit_m = c("removal_per_pulse_limit_um", 0.01, 100, 1e-6);
    m.removal_net_limit_m = c("removal_net_limit_um", 0.01, 100, 1e-6);
    m.native_oxide_m = c("native_oxide_nm", 0.1, 50, 1e-9);
    m.tint_from_m = c("tint_from_nm", 0.1, 100, 1e-9);
    m.scale_limit_m = c("scale_limit_nm", 100, 1e5, 1e-9);
    m.texture.cover_scale_m = c("cover_scale_nm", 0.1, 200, 1e-9);
    m.texture.trapping_reflections = c("trapping_reflections", 0, 5);
    m.texture.trapping_scale_m = c("trapping_scale_nm", 1, 5000, 1e-9);
    m.haze_pulses_per_spot = c("haze_pulses_per_spot", 1, 1e6);
    m.haze_most = c("haze_most", 0, 1);
    m.haze_depth_m = c("haze_depth_um", 0.01, 100, 1e-6);
    m.room_light = c("room_light", 0, 1);
    m.room_lamp_deg = c("room_lamp_deg", 1, 90);
    m.surface_loss = c("surface_loss_w_m2k", 0, 10000);
    m.turn_s = c("turn_ms", 0, 100, 1e-3);
    m.cleaning_from_j_m2 = c("cleaning_from_j_cm2", 0, 100, 1e4);
    m.frost_limit_m = c("frost_limit_um", 0.1, 1000, 1e-6);
    m.clamped_loss = c("clamped_loss_w_m2k", 0, 10000);
    m.resting_loss = c("resting_loss_w_m2k", 0, 10000);
    m.removal = read_removal_model(ConstantsReader(f.object("removal"), m.origins));
    // A workshop's own file may be older than these.
    if (f.has("join")) {
        ConstantsReader join(f.object("join"), m.origins);
        m.join = read_join_model(join);
    }
    JsonFields looks = f.object("looks");
    m.looks = {read_look(looks.object("dark_floor")), read_look(looks.object("bleached")),
               read_look(looks.object("coat"))};
    ConstantsReader e(f.object("effort"), m.origins);
    m.effort = {e("handling_s", 0, 3600), e("focus_mm_s", 0.01, 1000), e("focus_settle_s", 0, 60),
                e("next_cell_s", 0, 60), e("cleaning_speed", 0.1, 100)};
    if (f.has("after_work")) {
        JsonFields after = f.object("after_work");
        ConstantsReader minutes(after, m.origins);
        for (const auto& item : f.raw("after_work").items())
            m.effort.after[item.key()] = {minutes(item.key().c_str(), 0, 600),
                                          after.object(item.key().c_str()).text("words")};
    }
    ConstantsReader s(f.object("spread"), m.origins);
    m.spread.film_unproven = s("film_unproven", 0.01, 2);
    m.spread.compound_unproven = s("compound_unproven", 1.01, 10);
    m.spread.compound_learned = s("compound_learned", 1.01, 10);
    m.spread.film_steep = s.or_else("film_steep", m.spread.film_steep, 0, 2);
    m.spread.steep_from = s.or_else("steep_from", m.spread.steep_from, 0, 100);
    m.spread.depth_repeat = s.or_else("depth_repeat", m.spread.depth_repeat, 0.001, 2);
    m.spread.depth_floor = s.or_else("depth_floor", m.spread.depth_floor, 0.001, 2);
    ConstantsReader d(f.object("drift"), m.origins);
    m.drift = {d("focus_mm", 0, 100), d("power", 0, 0.9), d("thickness", 0, 0.9), d("lot_unproven", 0, 0.4),
               d("lot_proven", 0, 0.4)};
    JsonFields finishes = f.object("finishes");
    for (const auto& [finish, key] : {std::pair{Finish::mirror, "mirror"},
                                      {Finish::mill, "mill"},
                                      {Finish::brushed, "brushed"},
                                      {Finish::blasted, "blasted"}}) {
        JsonFields one = finishes.object(key);
        m.finishes[finish] = {one.number("absorptance_factor", 0.1, 5), one.number("haze", 0, 1)};
    }
    JsonFields coatings = f.object("coatings");
    for (const auto& [coating, key] : {std::pair{Coating::none, "none"},
                                       {Coating::nickel, "nickel"},
                                       {Coating::clear, "clear"},
                                       {Coating::powder_coat, "powder-coat"},
                                       {Coating::paint, "paint"},
                                       {Coating::anodised, "anodised"},
                                       {Coating::polish_residue, "polish-residue"}})
        m.growth_factor[coating] = coatings.number(key, 1e-6, 1);
    m.growth_factor[Coating::anodised_natural] = m.growth_factor[Coating::anodised];
    // An unchecked surface is predicted as bare metal; the findings say that it was not checked.
    m.growth_factor[Coating::unknown] = m.growth_factor[Coating::none];
    return m;
}

/// A document of a metal, as it was written. One of an alloy holds only what differs from the metal it is of.
struct MetalPaper {
    std::string file;
    nlohmann::json document;
    [[nodiscard]] bool is_alloy() const { return document.contains("alloy_of"); }
};

struct Shelf {
    bool has_model = false;
    ProcessModel model;
    std::map<std::string, MetalOptics> optics;
    std::map<std::string, OxideOptics> oxides;
    std::vector<MetalPaper> metals;
    std::vector<CoatConstants> coats;
    CompoundTable compounds;
    std::vector<NonMetal> non_metals;
    std::vector<DurabilityRow> durability;
};

constexpr std::array known_formats{"finch-metal",    "finch-metal-optics", "finch-oxide-optics", "finch-process-model",
                                   "finch-coatings", "finch-compounds",    "finch-non-metals",   "finch-durability"};

std::optional<Error> shelve(Shelf& shelf, const MaterialFile& file) {
    const auto document = parse_json(file.text, file.name);
    if (!document)
        return document.error();
    const std::string format =
        document->is_object() && document->contains("format") && document->at("format").is_string()
            ? document->at("format").get<std::string>()
            : "";
    if (std::find(known_formats.begin(), known_formats.end(), format) == known_formats.end())
        return Error{"document.wrong_format",
                     "This is no material document.",
                     fmt::format("Give it a \"format\" of {}.", fmt::join(known_formats, ", ")),
                     {file.name, 0, "format"}};
    if (const auto version = check_format(*document, format, format == "finch-compounds" ? 2 : 1, file.name); !version)
        return version.error();
    std::vector<Error> faults;
    JsonFields f(*document, "", faults);
    if (format == "finch-metal-optics") {
        MetalOptics o = read_metal_optics(f);
        shelf.optics[o.key] = o;
    } else if (format == "finch-oxide-optics") {
        OxideOptics o = read_oxide_optics(f);
        shelf.oxides[o.key] = o;
    } else if (format == "finch-metal") {
        // Read when all are on the shelf: an alloy may lie before its metal.
        shelf.metals.push_back({file.name, *document});
    } else if (format == "finch-coatings") {
        for (const JsonFields& c : f.list("coats"))
            shelf.coats.push_back(read_coat(c));
    } else if (format == "finch-compounds") {
        if (f.whole_or("version", 1, 1, 2) < 2)
            f.fault("version", "This table of compounds is of version 1: its steps are sentences without minutes.",
                    "Write its steps as the shipped table does, and make the version 2.");
        shelf.compounds = read_compounds(f);
    } else if (format == "finch-non-metals") {
        for (const JsonFields& n : f.list("materials"))
            shelf.non_metals.push_back(read_non_metal(n));
    } else if (format == "finch-durability") {
        for (const JsonFields& r : f.list("rows"))
            shelf.durability.push_back(read_durability(r));
    } else {
        shelf.model = read_model(f);
        shelf.has_model = true;
    }
    return first_fault(faults, file.name);
}

/// The whole document of an alloy: that of its metal, with what the alloy's own says in its place.
Expected<nlohmann::json> whole_document(const MetalPaper& alloy, const std::vector<MetalPaper>& metals) {
    std::vector<Error> faults;
    JsonFields f(alloy.document, "", faults);
    const std::string of = f.text("alloy_of");
    if (const auto fault = first_fault(faults, alloy.file))
        return tl::unexpected(*fault);
    const auto metal = std::ranges::find_if(
        metals, [&](const MetalPaper& m) { return !m.is_alloy() && m.document.value("key", nlohmann::json()) == of; });
    if (metal == metals.end())
        return failure("material.no_metal", fmt::format("No metal has the key \"{}\", of which this is an alloy.", of),
                       "Name a metal that has a file of its own and is no alloy itself.", {alloy.file, 0, "alloy_of"});
    nlohmann::json whole = metal->document;
    // The names of the metal are not those of its alloy.
    whole.erase("aliases");
    whole.merge_patch(alloy.document);
    return whole;
}

Expected<MetalOnPaper> read_metal(const MetalPaper& paper, const std::vector<MetalPaper>& metals) {
    const auto whole = paper.is_alloy() ? whole_document(paper, metals) : Expected<nlohmann::json>(paper.document);
    if (!whole)
        return tl::unexpected(whole.error());
    std::vector<Error> faults;
    MetalOnPaper out = read_metal(JsonFields(*whole, "", faults), paper.file);
    if (const auto fault = first_fault(faults, paper.file))
        return tl::unexpected(*fault);
    return out;
}

/// What tables say of a metal, they say of its alloys as well, where these have no rows of their own: how compounds
/// take to it and how marks wear. What conducts and melts otherwise does so under a compound too.
void share_tables(Materials& out, const Metal& alloy) {
    CompoundTable& table = out.compounds;
    if (const CompoundMetal* of = table.metal(alloy.alloy_of); of != nullptr && table.metal(alloy.key) == nullptr) {
        CompoundMetal own = *of;
        const auto metal = out.find(alloy.alloy_of);
        own.key = alloy.key;
        own.name = alloy.name;
        own.alloy_of = alloy.alloy_of;
        if (metal) {
            const double conducts = alloy.conductivity_bulk / (*metal)->conductivity_bulk;
            own.conductivity_w_mk *= conducts;
            own.diffusivity_mm2_s *= conducts * (*metal)->heat_capacity_bulk / alloy.heat_capacity_bulk;
            own.melting_c += alloy.melting_k - (*metal)->melting_k;
        }
        table.metals.push_back(std::move(own));
    }
    for (DurabilityRow& row : out.durability_rows)
        if (std::ranges::find(row.metals, alloy.alloy_of) != row.metals.end())
            row.metals.push_back(alloy.key);
}

} // namespace

Expected<std::shared_ptr<const Metal>> Materials::find(const std::string& key) const {
    const auto it = std::find_if(metals.begin(), metals.end(), [&](const auto& m) { return m->key == key; });
    if (it != metals.end())
        return *it;
    std::vector<std::string> known;
    for (const auto& m : metals)
        known.push_back(m->key);
    return failure("material.unknown", fmt::format("No metal has the key \"{}\".", key),
                   fmt::format("Use one of: {}.", fmt::join(known, ", ")), {{}, 0, "metal"});
}

const CoatConstants* Materials::coat(Coating coating) const {
    const auto it = std::find_if(coats.begin(), coats.end(), [&](const auto& c) { return c.coating == coating; });
    return it != coats.end() ? &*it : nullptr;
}

Durability Materials::durability(std::string_view process, std::string_view metal) const {
    const Durability* any = nullptr;
    for (const DurabilityRow& r : durability_rows) {
        if (r.process != process)
            continue;
        if (std::find(r.metals.begin(), r.metals.end(), metal) != r.metals.end())
            return r.stands;
        if (r.metals.empty())
            any = &r.stands;
    }
    return any != nullptr ? *any : Durability{2, 2, "Nothing is known.", "rub, salt and wash a coupon"};
}

const NonMetal* Materials::non_metal(const std::string& key) const {
    const auto it = std::find_if(non_metals.begin(), non_metals.end(), [&](const auto& n) { return n.key == key; });
    return it != non_metals.end() ? &*it : nullptr;
}

Expected<Materials> materials_from_files(const std::vector<MaterialFile>& files) {
    Shelf shelf;
    for (const MaterialFile& file : files)
        if (auto fault = shelve(shelf, file))
            return tl::unexpected(*fault);
    if (!shelf.has_model)
        return failure("material.no_model", "The process model is missing.",
                       "Restore data/materials/process-model.json.");
    Materials out;
    out.model = shelf.model;
    out.coats = std::move(shelf.coats);
    out.compounds = std::move(shelf.compounds);
    out.non_metals = std::move(shelf.non_metals);
    out.durability_rows = std::move(shelf.durability);
    // Metals before their alloys: a fault in a metal is that of its own file.
    std::ranges::stable_sort(shelf.metals, {}, &MetalPaper::is_alloy);
    for (const MetalPaper& sheet : shelf.metals) {
        auto read = read_metal(sheet, shelf.metals);
        if (!read)
            return tl::unexpected(read.error());
        MetalOnPaper& paper = *read;
        const auto optics = shelf.optics.find(paper.optics);
        if (optics == shelf.optics.end())
            return failure("material.no_optics", fmt::format("No optics file has the key \"{}\".", paper.optics),
                           "Add that file or name another.", {paper.file, 0, "optics"});
        std::optional<OxideOptics> oxide;
        if (!paper.oxide.empty()) {
            const auto found = shelf.oxides.find(paper.oxide);
            if (found == shelf.oxides.end())
                return failure("material.no_optics", fmt::format("No oxide file has the key \"{}\".", paper.oxide),
                               "Add that file or name another.", {paper.file, 0, "oxide"});
            oxide = found->second;
        }
        paper.metal.film = std::make_shared<const FilmOptics>(optics->second, oxide, out.model.texture);
        out.metals.push_back(std::make_shared<const Metal>(std::move(paper.metal)));
    }
    // Materials that only a compound or a climb by hand can mark: named, but nothing is predicted for their bare
    // surface.
    const auto name_only = [&out](const std::string& key, const std::string& name) {
        if (!out.find(key)) {
            auto metal = std::make_shared<Metal>();
            metal->key = key;
            metal->name = name;
            out.metals.push_back(std::move(metal));
        }
    };
    const bool any_metal = !out.metals.empty();
    for (const auto& metal : out.metals)
        if (!metal->alloy_of.empty())
            share_tables(out, *metal);
    for (const CompoundMetal& m : out.compounds.metals)
        name_only(m.key, m.name);
    for (const NonMetal& n : out.non_metals)
        name_only(n.key, n.name);
    if (!any_metal)
        return failure("material.none", "No metal was found.", "Restore the files in data/materials.");
    std::sort(out.metals.begin(), out.metals.end(), [](const auto& a, const auto& b) { return a->name < b->name; });
    return out;
}

} // namespace finch
