// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/adapter/reference_models.h"

#include "physics/film_table.h"
#include "search/burn_order.h"
#include "search/next_cells.h"

#include <nlohmann/json.hpp>

// The vocabulary of the search vectors: sections that bring their inputs, or several such documents under "cases".
namespace finch {
namespace {

using json = nlohmann::json;

/// The bench and stock that the vectors were made on.
struct SearchBench {
    explicit SearchBench(const Materials& all) : materials(all), metal(*all.find("stainless-304")) {
        bench.source.rated_power = watts(38);
        bench.source.largest_pulse = millijoules(1);
        bench.source.peak_power_limit = kilowatts(10);
        bench.source.frequency_max = kilohertz(1500);
        bench.source.pulse_width_min = nanoseconds(1);
        bench.source.pulse_width_max = nanoseconds(500);
        Lens lens;
        lens.focal_length = mm(210);
        lens.beam_at_lens = mm(7);
        lens.beam_quality_m2 = 1.5;
        bench.lenses = {lens};
        stock.metal = metal->key;
        stock.finish = Finish::mill;
        stock.thickness = mm(1.4);
        stock.start_temperature_c = 21;
    }
    [[nodiscard]] Scene scene() const { return {materials, *metal, bench, stock}; }
    [[nodiscard]] std::vector<Trial> trials(const json& rows) const {
        std::vector<Recipe> recipes;
        for (const json& r : rows) {
            Recipe q;
            q.setting = {r.at(0),
                         kilohertz(r.at(1)),
                         nanoseconds(r.at(2)),
                         mm_per_second(r.at(3)),
                         mm(r.at(4)),
                         0,
                         static_cast<int>(r.at(5).get<double>()),
                         mm(r.at(6))};
            recipes.push_back(q);
        }
        auto out = finch::trials(scene(), recipes, fill);
        for (Trial& t : out)
            t.tear_ln = t.worn_ln = -20; // the vectors know damage by heat alone
        if (out.size() != recipes.size())
            throw std::out_of_range("a setting is outside the model's range");
        return out;
    }

    const Materials& materials;
    std::shared_ptr<const Metal> metal;
    Bench bench;
    Stock stock;
    Fill fill{mm(5), 20};
};

json row(const Lab& lab) {
    return {lab.l, lab.a, lab.b};
}
Lab lab(const json& row) {
    return {row.at(0), row.at(1), row.at(2)};
}

void fill_thermal(json& s, const SearchBench& b) {
    for (const char* key : {"G", "melt", "removal", "seconds", "dose", "pulses", "fluence", "peak", "n_spot"})
        s[key] = json::array();
    for (const Trial& t : b.trials(s.at("settings"))) {
        const AnnealResult r = anneal(*b.metal, b.materials.model, b.bench.source, b.bench.lens(), t.recipe.setting,
                                      {b.stock.finish, b.stock.coating, b.stock.thickness, 21, 1}, b.fill, unseen);
        s["G"].push_back(t.g);
        s["melt"].push_back(r.melt_index);
        s["removal"].push_back(r.removal.index);
        s["seconds"].push_back(t.seconds);
        s["dose"].push_back(r.pattern.areal_dose_j_m2 * 1e-6);
        s["pulses"].push_back(r.pattern.pulses_per_m2 * 1e-6);
        s["fluence"].push_back(r.pattern.peak_fluence_j_m2 * 1e-4);
        s["peak"].push_back(r.pulse.peak_power_w);
        s["n_spot"].push_back(r.pattern.pulses_per_spot);
    }
}

void fill_film(json& s, const FilmTable& table) {
    s["lab"] = json::array();
    for (const json& haze : s.at("haze")) {
        json rows = json::array();
        for (const json& nm : s.at("h_nm"))
            rows.push_back(row(table.at(nm, haze)));
        s["lab"].push_back(rows);
    }
}

void fill_posterior(json& s, const SearchBench& b, const std::shared_ptr<const FilmTable>& table) {
    std::vector<SeenCell> cells;
    const auto trials = b.trials(s.at("settings"));
    for (std::size_t i = 0; i < trials.size(); ++i) {
        const double confidence = s.at("confidence").at(i);
        SeenCell c{trials[i], lab(s.at("lab").at(i)), 0.63 / std::clamp(confidence, 0.3, 1.0),
                   s.at("burnt").at(i).get<int>() != 0};
        c.trial.warmth_k = s.at("warmth_k").at(i);
        cells.push_back(c);
    }
    FilmPrior prior;
    // The vectors know no rest of damage or far away, one scatter from cell to cell, and no optics that are farther
    // off.
    prior.cell_sds = {0.015, 0.015, 0.015};
    prior.damage = joined_model_damage;
    prior.far_rest = 0;
    prior.law_rest = 0;
    prior.shift_as_thickness = 0;
    prior.optics_per_nm = 0;
    prior.colour_scales = {1, 1, 1};
    const FilmPosterior p(table, cells, prior);
    const auto ask = b.trials(s.at("ask"));
    s["modes"] = json::array();
    const auto modes = p.modes();
    for (std::size_t m = 0; m < modes.size(); ++m) {
        json out{{"weight", modes[m].weight},
                 {"theta", modes[m].offsets},
                 {"haze_shift", modes[m].haze_shift},
                 {"scale", modes[m].width},
                 {"amp", modes[m].rest_amplitude},
                 {"calm", modes[m].calm},
                 {"u", json::array()},
                 {"sd", json::array()},
                 {"lab_shift", json::array()},
                 {"lab_sd", json::array()}};
        for (const FilmPosterior::Told& t : p.told(ask, m)) {
            out["u"].push_back(t.ln_nm);
            out["sd"].push_back(std::sqrt(t.variance));
            out["lab_shift"].push_back(row(t.shift));
            out["lab_sd"].push_back(t.shift_sd);
        }
        s["modes"].push_back(out);
    }
    s["damage"] = {p.damage().heat(), p.damage().heat_sd()};
    s["p_burn"] = p.damage().chances(ask);
}

void fill_place(json& s) {
    for (auto& [count, out] : s.items()) {
        const auto places = cell_grid(static_cast<std::size_t>(std::stoi(count)));
        out["xy"] = json::array();
        for (const CellPlace& p : places)
            out["xy"].push_back({p.x_mm, p.y_mm});
        out["order"] = burn_order(places);
    }
}

void fill_warmth(json& s, const SearchBench& b) {
    std::vector<CellPlace> places;
    std::vector<CellHeat> heats;
    for (const json& p : s.at("xy"))
        places.push_back({p.at(0), p.at(1)});
    for (const Trial& t : b.trials(s.at("settings")))
        heats.push_back({t.absorbed_w, t.seconds});
    s["kelvin"] = expected_warmth(*b.metal, b.stock.thickness, places, heats);
}

void fill_sections(json& d, const SearchBench& b, const std::shared_ptr<const FilmTable>& table) {
    const Goal blue{{35, 3, -33}, false, 2}, dark{{36, 0, 0}, true, 2};
    if (d.contains("thermal"))
        fill_thermal(d["thermal"], b);
    if (d.contains("film"))
        fill_film(d["film"], *table);
    if (d.contains("posterior"))
        fill_posterior(d["posterior"], b, table);
    if (d.contains("greedy")) {
        json& g = d["greedy"];
        g["chosen"] = greedy_cover(g.at("value").get<std::vector<std::vector<double>>>(),
                                   g.at("cost").get<std::vector<double>>(), g.at("cap"), g.at("pay"));
    }
    if (d.contains("place"))
        fill_place(d["place"]);
    if (d.contains("warmth"))
        fill_warmth(d["warmth"], b);
    if (d.contains("worth")) {
        d["worth"]["worth"] = json::array();
        for (const json& miss : d["worth"].at("miss"))
            d["worth"]["worth"].push_back(worth(blue, miss));
    }
    if (d.contains("miss")) {
        json& m = d["miss"];
        m["colour"] = m["dark"] = json::array();
        for (const json& c : m.at("lab")) {
            m["colour"].push_back(blue.miss(lab(c)));
            m["dark"].push_back(dark.miss(lab(c)));
        }
    }
}

} // namespace

void fill_search(json& document, const Materials& materials) {
    const SearchBench bench(materials);
    const auto table = std::make_shared<const FilmTable>(*bench.metal->film);
    if (document.contains("cases")) {
        for (json& one : document["cases"])
            fill_sections(one, bench, table);
        return;
    }
    if (!document.contains("posterior") && !document.contains("film"))
        throw std::out_of_range("there is no section of the search");
    fill_sections(document, bench, table);
}

} // namespace finch
