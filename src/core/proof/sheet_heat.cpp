// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/sheet_heat.h"

#include "proof/layout.h"

#include <algorithm>
#include <numeric>

namespace finch {

double SheetHeat::rests_s() const {
    return std::accumulate(turns.begin(), turns.end(), 0.0,
                           [](double sum, const CellTurn& t) { return sum + t.rest_s; });
}

double SheetHeat::warmest_k() const {
    return warmth_k.empty() ? 0 : *std::ranges::max_element(warmth_k);
}

SheetHeat sheet_heat(const ProofSheet& sheet, const Metal& metal, Length thickness, std::span<const CellHeat> heats) {
    const SheetLayout at = layout(sheet);
    SheetHeat out;
    std::vector<CellPlace> places;
    std::vector<CellHeat> given;
    for (const std::size_t cell : sheet.turns.empty() ? planned_order(sheet, at) : burning_order(sheet, at)) {
        out.turns.push_back({cell, 0});
        places.push_back(centre_of(at.cells[cell]));
        given.push_back(cell < heats.size() ? heats[cell] : CellHeat{});
    }
    std::vector<double> rests(places.size(), 0);
    if (!sheet.turns.empty())
        std::ranges::transform(out.turns, rests.begin(), [&](const CellTurn& t) { return rest_before(sheet, t.cell); });
    else if (sheet.rest_below_k > 0)
        rests = rests_below(sheet.rest_below_k, longest_rest_s, metal, thickness, places, given);
    out.warmth_k = expected_warmth(metal, thickness, places, given, rests);
    for (std::size_t i = 0; i < rests.size(); ++i)
        out.turns[i].rest_s = rests[i];
    return out;
}

std::vector<CellHeat> cell_heats(const SheetForecast& forecast) {
    std::vector<CellHeat> out;
    for (const CellForecast& f : forecast.cells)
        out.push_back(f.prediction ? cell_heat(*f.prediction) : CellHeat{});
    return out;
}

ProofSheet with_turns(ProofSheet sheet, const Scene& scene) {
    sheet.turns.clear();
    std::vector<CellHeat> heats;
    if (sheet.rest_below_k > 0) {
        ProofSheet plain = sheet; // its forecast asks for no rests, which are worked out here
        plain.rest_below_k = 0;
        heats = cell_heats(forecast(plain, scene));
    }
    sheet.turns = sheet_heat(sheet, scene.metal, scene.stock.thickness, heats).turns;
    return sheet;
}

} // namespace finch
