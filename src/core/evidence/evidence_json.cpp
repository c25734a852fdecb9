// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/evidence_json.h"

#include "document/json_fields.h"
#include "recipe/predict.h"
#include "search/taught_film.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {

using json = nlohmann::json;

namespace {

MeasuredPoints read_points(JsonFields& f, const char* key) {
    std::vector<MeasuredPoint> out;
    if (f.has(key))
        for (JsonFields p : f.list(key))
            out.push_back({p.number("power_w", 1e-6, 1e6), p.number("width_ns", 1e-6, 1e12),
                           p.number("frequency_khz", 1e-6, 1e9), p.number("speed_mm_s", 1e-6, 1e9),
                           p.number("spot_um", 1e-3, 1e6)});
    return out;
}

} // namespace

json evidence_document(const Evidence& evidence) {
    json out = to_json(evidence);
    if (evidence.films)
        out["films"] = evidence.films->document();
    return out;
}

Expected<Evidence> evidence_from_json(const json& document, const std::string& file) {
    std::vector<Error> faults;
    JsonFields f(document, "evidence", faults);
    Evidence e;
    e.growth_gain = f.number_or("growth_gain", 1, 0.001, 1000);
    // Until version 0.3 the spread between cells was kept instead of the error of their median.
    const double between_cells = f.number_or("gain_spread_ln", 0, 0, 100);
    e.growth_fit_ln = f.number_or("growth_fit_ln", 0, 0, 100);
    e.film_points = read_points(f, "film_points");
    e.depth_fit_ln = f.number_or("depth_fit_ln", 0, 0, 100);
    e.depth_points = read_points(f, "depth_points");
    e.coat_gain = f.number_or("coat_gain", 1, 0.05, 20);
    e.coat_work = f.number_or("coat_work", 1, 0.05, 20);
    e.coat_fit_ln = f.number_or("coat_fit_ln", 0, 0, 100);
    e.coat_points = read_points(f, "coat_points");
    e.coat_sheets = f.whole_or("coat_sheets", 0, 0, 1000000);
    e.depth_gain = f.number_or("depth_gain", 1, 0.001, 1000);
    e.depth_coupons = f.whole_or("depth_coupons", 0, 0, 1000000);
    e.compound_coupling = f.number_or("compound_coupling", 0.25, 0.0001, 20);
    e.compound = f.text_or("compound", "");
    e.power_ladders = f.whole_or("power_ladders", 0, 0, 1000000);
    e.sheets = f.whole_or("sheets", 0, 0, 1000000);
    e.cells = f.whole_or("cells", 0, 0, 100000000);
    if (!f.has("growth_fit_ln") && e.cells > 0)
        e.growth_fit_ln = 1.2533 * between_cells / std::sqrt(e.cells);
    if (f.has("films"))
        e.films = taught_films(f.object("films"));
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return e;
}

} // namespace finch
