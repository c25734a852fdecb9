// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/control_keeper.h"

#include "app/session/text.h"
#include "evidence/learn.h"

namespace finch::app {

ControlKeeper::ControlKeeper(Workbench& workbench, LogbookDesk& desk, QObject* parent)
    : QObject(parent), workbench_(workbench), desk_(desk) {
    connect(&workbench_, &Workbench::changed, this, [this] {
        if (basis() != basis_)
            look_up();
    });
    look_up();
}

ControlKeeper::Basis ControlKeeper::basis() const {
    Basis b{evidence_key(workbench_.draft().setup), {}};
    for (const auto& [_, sheet] : workbench_.ledger().sheets())
        if (sheet.read && sheet.read->sheet.lot)
            b.second.insert(sheet.read->uid);
    return b;
}

const RecordedControl* ControlKeeper::of(const ProofSheet& sheet) const {
    const auto at =
        std::ranges::find_if(controls_, [&](const RecordedControl& c) { return same_control(c.sheet, sheet); });
    return at == controls_.end() ? nullptr : &*at;
}

void ControlKeeper::look_up() {
    const bool another = basis_.first != evidence_key(workbench_.draft().setup);
    basis_ = basis();
    if (another)
        controls_.clear(); // of another bench or lot
    std::vector<ReadSheet> here;
    for (const auto& [_, sheet] : workbench_.ledger().sheets())
        if (sheet.read && sheet.read->sheet.lot)
            here.push_back(*sheet.read);
    EntryFilter filter;
    filter.bench = workbench_.draft().setup.bench.name;
    filter.metal = workbench_.metal().name;
    filter.lot = workbench_.draft().setup.stock.lot;
    running_ = true;
    desk_.ask(
        this,
        [here = std::move(here), filter, key = basis_.first](Logbook& book) -> Expected<std::vector<RecordedControl>> {
            auto all = lot_checks(book, filter);
            if (!all)
                return tl::unexpected(all.error());
            all->insert(all->end(), here.begin(), here.end());
            auto controls = controls_among(std::move(*all));
            std::erase_if(controls, [&](const RecordedControl& c) { return evidence_key(c.setup) != key; });
            return controls;
        },
        [this, asked = basis_, another](Expected<std::vector<RecordedControl>>& found) {
            if (asked != basis_)
                return; // something else lies there, or was read, meanwhile: that is asked as well
            running_ = false;
            if (!found)
                basis_ = {}; // asked again with the next change; the recorder says what is wrong with the logbook
            else {
                const int before = controls_.empty() ? 0 : controls_.front().sheet.number;
                controls_ = std::move(*found);
                if (!another && !controls_.empty() && controls_.front().sheet.number > before &&
                    !controls_.front().course.points.empty() && controls_.front().course.points.back().alarm)
                    workbench_.say(from_utf8(controls_.front().course.words), State::warn);
            }
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

} // namespace finch::app

#include "moc_control_keeper.cpp"
