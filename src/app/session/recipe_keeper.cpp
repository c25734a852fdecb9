// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/recipe_keeper.h"

#include "bench/bench_json.h"
#include "evidence/evidence_json.h"
#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "quantity/format.h"

#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <QUuid>
#include <set>

namespace finch::app {
namespace {

/// What the cell that the recipe was taken from measured, if it was one.
void put_measurement(Entry& e, const Round& r, std::size_t cell, const Target& target) {
    const CellReading& c = r.reading->cells.at(cell);
    e.parent_uid = r.reading_uid;
    if (c.state == CellState::left_out)
        return;
    if (c.spoiled) {
        // A failure is worth keeping, and must not read as a proof.
        e.outcome = Outcome::bad;
        e.summary = fmt::format("spoiled: cell {} of sheet {:02}", cell_name(r.sheet, cell), r.sheet.number);
        return;
    }
    const auto off = miss(target, c);
    if (!off)
        return;
    e.outcome = *off <= target.accepted() ? Outcome::good : Outcome::caution;
    e.summary = fmt::format("cell {} of sheet {:02}, {}{} from {}", cell_name(r.sheet, cell), r.sheet.number,
                            format_number(*off, 2), target.depth ? " µm" : "", target.name);
    nlohmann::json measured{{"cell", cell_name(r.sheet, cell)}, {"sheet", r.sheet.number}};
    if (c.state == CellState::read)
        measured.update(
            {{"lab", {c.lab.l, c.lab.a, c.lab.b}}, {"unevenness_de00", c.unevenness}, {"within_de00", c.within_de}});
    if (target.depth)
        measured.update({{"depth_um", *c.depth_um}, {"within_um", c.depth_within_um}});
    else
        measured["de00_to_target"] = *off;
    e.body["measured"] = std::move(measured);
}

/// How often these very values were marked and measured on this bench and lot, and how far that lies apart.
void put_repeats(Entry& e, const Recipe& recipe, const Knowledge* known, const Target& target) {
    if (known == nullptr || !e.body.contains("measured"))
        return;
    std::vector<const Observation*> same;
    std::set<std::string> pieces;
    for (const Observation* o : newest_of_each(known->observations))
        if (o->recipe.setting == recipe.setting && !o->spoiled &&
            (target.depth ? o->depth_um.has_value() : o->colour.has_value())) {
            same.push_back(o);
            pieces.insert(o->piece);
        }
    nlohmann::json& measured = e.body["measured"];
    measured["repeats"] = same.size();
    measured["repeat_sheets"] = pieces.size();
    if (same.size() < 2)
        return;
    const auto middle = [&](auto&& of) {
        double sum = 0;
        for (const Observation* o : same)
            sum += of(*o);
        return sum / static_cast<double>(same.size());
    };
    if (target.depth) {
        const double mean = middle([](const Observation& o) { return *o.depth_um; });
        measured["repeat_spread_um"] = middle([&](const Observation& o) { return std::abs(*o.depth_um - mean); });
    } else {
        const Lab mean{middle([](const Observation& o) { return o.colour->l; }),
                       middle([](const Observation& o) { return o.colour->a; }),
                       middle([](const Observation& o) { return o.colour->b; })};
        measured["repeat_spread_de00"] = middle([&](const Observation& o) { return delta_e00(*o.colour, mean); });
    }
    e.summary += fmt::format("; {} cells on {} sheet{}", same.size(), pieces.size(), pieces.size() == 1 ? "" : "s");
}

} // namespace

void RecipeKeeper::save(const QString& name) {
    const Draft& d = workbench_.draft();
    Recipe recipe = d.recipe;
    recipe.name = name.trimmed().toStdString();
    if (recipe.name.empty())
        return workbench_.say(tr("Give the recipe a name."), State::warn);
    if (under_way_ == recipe)
        return; // asked for twice while the first is on its way
    Entry e;
    e.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    e.kind = EntryKind::recipe;
    e.when_utc = workbench_.now_utc();
    e.by = d.operator_initials;
    e.bench = d.setup.bench.name;
    e.metal = workbench_.metal().name;
    e.lot = d.setup.stock.lot;
    e.setup = to_json(d.setup);
    e.program_version = FINCH_VERSION;
    e.title = recipe.name;
    e.summary = "not proved on this lot";
    e.body = {{"format", "finch-recipe-record"},
              {"version", 1},
              {"recipe", to_json(recipe)},
              {"target", to_json(d.target)},
              {"evidence", evidence_document(workbench_.evidence())}};
    if (const auto& p = workbench_.prediction())
        e.body["prediction"] = to_json(*p);
    const Round* r = workbench_.round();
    // Only what was burned on this very set-up proves anything of it.
    if (r != nullptr && r->reading && d.cell && evidence_key(r->setup) == evidence_key(d.setup) &&
        cell_recipe(r->sheet, *d.cell).setting == recipe.setting)
        put_measurement(e, *r, *d.cell, d.target);
    put_repeats(e, recipe, workbench_.ledger().knowledge(evidence_key(d.setup)), d.target);
    under_way_ = recipe;
    recorder_.record(std::move(e), {}, [this, recipe](const Expected<void>& kept) {
        under_way_.reset();
        if (!kept)
            return workbench_.fail(kept.error());
        workbench_.change(tr("save recipe"), {}, [&](Draft& draft) {
            if (draft.recipe.setting == recipe.setting)
                draft.recipe = recipe;
            draft.saved = recipe;
        });
        workbench_.say(tr("Recipe \u201c%1\u201d saved with its evidence.").arg(QString::fromStdString(recipe.name)));
    });
}

} // namespace finch::app

#include "moc_recipe_keeper.cpp"
