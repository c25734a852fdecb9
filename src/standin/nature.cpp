// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/nature.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"

#include <nlohmann/json.hpp>

namespace finch::standin {
namespace {

std::array<double, 3> three(JsonFields& f, const char* key, double high) {
    const auto v = f.numbers(key, 3, 0, high);
    return v.size() == 3 ? std::array{v[0], v[1], v[2]} : std::array<double, 3>{};
}

OwnOxide read_oxide(JsonFields f) {
    OwnOxide o;
    o.activation_kj_mol = f.number("activation_kj_mol", 50, 500);
    o.growth_nm2_us = f.number("growth_nm2_us", 1e-3, 1e5);
    o.ceiling_nm2_us = f.number("ceiling_nm2_us", 1, 1e6);
    o.index_red = f.number("index_red", 1, 5);
    o.index_blue = f.number("index_blue", 1, 5);
    o.absorbs_red = f.number("absorbs_red", 0, 3);
    o.absorbs_blue = f.number("absorbs_blue", 0, 3);
    o.spread = f.number("spread", 0, 0.5);
    f.nothing_else();
    return o;
}

OwnMetal read_metal(JsonFields& f) {
    OwnMetal m;
    m.absorptance = f.number("absorptance", 0.01, 1);
    m.conductivity_w_mk = f.number("conductivity_w_mk", 0.1, 1000);
    m.conductivity_rise = f.number("conductivity_rise", -0.6, 3);
    m.capacity_mj_m3k = f.number("capacity_mj_m3k", 0.1, 20);
    m.melting_k = f.number("melting_k", 400, 5000);
    m.fusion_rise_k = f.number("fusion_rise_k", 0, 2000);
    m.boiling_k = f.number("boiling_k", 800, 7000);
    m.vapour_gj_m3 = f.number("vapour_gj_m3", 1, 200);
    m.n = three(f, "n", 10);
    m.k = three(f, "k", 15);
    m.cut_mm3_j = f.number("cut_mm3_j", 1e-6, 1);
    m.cut_best_j_cm2 = f.number("cut_best_j_cm2", 0.1, 1000);
    m.cut_dark_j_mm2 = f.number("cut_dark_j_mm2", 0.01, 1000);
    if (f.has("oxide"))
        m.oxide = read_oxide(f.object("oxide"));
    f.nothing_else();
    return m;
}

} // namespace

Expected<Nature> load_nature(const DataFolders& folders) {
    const auto path = folders.shipped / "standin" / "nature.json";
    const auto text = read_text_file(path);
    if (!text)
        return tl::unexpected(text.error());
    const auto document = parse_json(*text, path.string());
    if (!document)
        return tl::unexpected(document.error());
    if (const auto version = check_format(*document, "finch-standin-nature", 1, path.string()); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(*document, "", faults);
    Nature out;
    for (JsonFields& m : f.list("metals")) {
        const std::string key = m.text("key");
        out.metals[key] = read_metal(m);
    }
    for (JsonFields& c : f.list("coats")) {
        static const std::vector<std::string_view> words{word(Coating::powder_coat), word(Coating::paint),
                                                         word(Coating::anodised), word(Coating::anodised_natural)};
        constexpr std::array coats{Coating::powder_coat, Coating::paint, Coating::anodised, Coating::anodised_natural};
        out.coats[coats.at(c.choice("coating", words))] = {
            c.number("usual_um", 1, 500), c.number("pulse_j_mm3", 0.1, 1000), c.number("gas_j_mm3", 0, 1000),
            c.number("bleach_j_mm2", 0, 100), three(c, "look", 1)};
    }
    for (JsonFields& c : f.list("compounds"))
        out.compounds[c.text("key")] = {c.number("fuse_c", 100, 3000), c.number("burn_c", 100, 5000),
                                        c.number("reflects", 0, 1)};
    if (const auto fault = first_fault(faults, path.string()))
        return tl::unexpected(*fault);
    return out;
}

} // namespace finch::standin
