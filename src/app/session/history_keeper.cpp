// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/history_keeper.h"

namespace finch::app {
namespace {

constexpr int most_recipes = 300;

Expected<std::vector<BadTry>> bad_tries(Logbook& book, const std::string& metal, const std::string& lot) {
    EntryFilter filter;
    filter.kind = EntryKind::recipe;
    filter.metal = metal;
    filter.lot = lot;
    filter.limit = most_recipes;
    const auto heads = book.list(filter);
    if (!heads)
        return tl::unexpected(heads.error());
    std::vector<BadTry> out;
    for (const Entry& e : *heads) {
        // An empty lot is a lot that nobody named; it is not every lot.
        if (e.lot != lot || (e.outcome != Outcome::bad && e.outcome != Outcome::caution))
            continue;
        const auto whole = book.entry(e.id);
        if (!whole || !whole->body.contains("recipe"))
            continue;
        if (const auto recipe = recipe_from_json(whole->body.at("recipe"), "logbook"))
            out.push_back({*recipe, e.title + ", " + e.summary});
    }
    return out;
}

} // namespace

HistoryKeeper::HistoryKeeper(Workbench& workbench, LogbookDesk& desk, QObject* parent)
    : QObject(parent), workbench_(workbench), desk_(desk) {
    connect(&workbench_, &Workbench::changed, this, [this] {
        if (workbench_.metal().name != metal_ || workbench_.draft().setup.stock.lot != lot_)
            look_up();
    });
    look_up();
}

void HistoryKeeper::look_up() {
    metal_ = workbench_.metal().name;
    lot_ = workbench_.draft().setup.stock.lot;
    desk_.ask(
        this, [metal = metal_, lot = lot_](Logbook& book) { return bad_tries(book, metal, lot); },
        [this, metal = metal_, lot = lot_](Expected<std::vector<BadTry>>& tries) {
            if (tries && metal == metal_ && lot == lot_)
                workbench_.set_history(std::move(*tries));
        });
}

} // namespace finch::app

#include "moc_history_keeper.cpp"
