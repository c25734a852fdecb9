// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/observed.h"

#include "proof/layout.h"
#include "proof/threshold.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace finch {
namespace {

std::pair<std::shared_ptr<const BurnedTogether>, std::map<std::size_t, std::size_t>>
burned_together(const ProofSheet& sheet) {
    if (sheet.turns.empty()) // burned elsewhere, or before turns were kept
        return {};
    auto out = std::make_shared<BurnedTogether>();
    std::map<std::size_t, std::size_t> turns;
    const SheetLayout at = layout(sheet);
    for (const std::size_t cell : burning_order(sheet, at)) {
        turns[cell] = out->places.size();
        out->places.push_back(centre_of(at.cells[cell]));
        out->recipes.push_back(cell_recipe(sheet, cell));
        out->rests_s.push_back(rest_before(sheet, cell));
    }
    return {std::move(out), std::move(turns)};
}

} // namespace

std::vector<Observation> observed(const ProofSheet& sheet, const SheetReading& reading,
                                  const std::shared_ptr<const Setup>& setup, const std::string& when_utc,
                                  const std::string& source) {
    std::vector<Observation> out;
    const std::string piece = fmt::format("sheet {:07}", sheet.number);
    const auto [together, turns] = burned_together(sheet);
    for (std::size_t i = 0; i < sheet.cells() && i < reading.cells.size(); ++i) {
        const CellReading& c = reading.cells[i];
        if (c.state != CellState::read && !c.depth_um)
            continue;
        Observation o;
        o.piece = piece;
        o.place = cell_name(sheet, i);
        o.when_utc = when_utc;
        o.source = source;
        o.recipe = cell_recipe(sheet, i);
        o.fill = cell_fill(sheet);
        o.setup = setup;
        if (c.state == CellState::read) {
            o.colour = c.lab;
            o.colour_within = c.within_de;
            // As the look from above, whose place an instrument may have set right.
            const Photographed above = as_photographed(c);
            o.tilted = c.tilted;
            for (TiltLook& l : o.tilted)
                l.lab = {l.lab.l + c.lab.l - above.lab.l, l.lab.a + c.lab.a - above.lab.a,
                         l.lab.b + c.lab.b - above.lab.b};
        }
        if (c.depth_um) {
            o.depth_um = c.depth_um;
            o.depth_spread_um = std::max(c.depth_within_um / 1.645, 0.1);
        }
        if (const auto turn = turns.find(i); turn != turns.end()) {
            o.together = together;
            o.turn = turn->second;
        }
        o.done = is_done(sheet, reading, i);
        o.spoiled = c.spoiled;
        // A ladder finds the focus that other sheets then have; far from the middle a field sheet has another dose.
        o.counts = !sheet.ladder && !sheet.field;
        out.push_back(std::move(o));
    }
    return out;
}

} // namespace finch
