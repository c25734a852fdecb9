// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/run/run_station.h"

namespace finch::app {

using namespace Qt::StringLiterals;

/// Everything that is done with a job on the bench.
void MainWindow::make_run_actions() {
    const QString run = tr("Run");
    const auto there = [this](auto&& what) {
        return [this, what] {
            show_station(StationId::run);
            what();
        };
    };
    add(u"run.take"_s, tr("Run the piece"), tr("Hand it over as it lies; what must be so is asked first"),
        QKeySequence(u"Ctrl+Shift+Return"_s), run, [this] { hand_over(); });
    add(u"run.start"_s, tr("Start marking, or go on"), tr("Once nothing locks it"), QKeySequence(u"Ctrl+Return"_s), run,
        there([this] { run_->start_or_go_on(); }));
    // Where the beam is on, the hand finds the key whatever is shown.
    add(u"run.hold"_s, tr("Hold the run"), tr("The beam goes off at the end of the line"), QKeySequence(Qt::Key_F7),
        run, there([this] { run_->hold(); }));
    add(u"run.lies"_s, tr("What is left lies as it lay"),
        tr("Nothing was moved while the enclosure was open, or what was is set aside"), QKeySequence(u"Shift+F7"_s),
        run, there([this] { shop_.run().lies_still(); }));
    add(u"run.hold_at_end"_s, tr("Hold the run at the pass end"), tr("The beam goes off when the pass ends"),
        QKeySequence(Qt::Key_F8), run, there([this] { run_->hold_after_pass(); }));
    add(u"run.looked"_s, tr("I looked"), tr("Somebody is there, and all is well"), QKeySequence(Qt::Key_F6), run,
        there([this] { run_->looked(); }));
    add(u"run.aside"_s, tr("Set the chosen part aside, or bring it back"), tr("Nothing more is marked on it"), {}, run,
        there([this] { run_->ask_aside(); }));
    add(u"run.give_up"_s, tr("Give the run up…"), tr("What was not marked stays unmarked; why is kept"), {}, run,
        there([this] { run_->ask_give_up(); }));
    add(u"run.door"_s, tr("Stand-in: open or shut its enclosure"), tr("Practice: what an opened door does to a run"),
        {}, run, [this] {
            if (const auto open = shop_.run().enclosure_open())
                return shop_.bench().swing_door(!*open);
            shop_.bench().wake();
            workbench_.say(tr("The stand-in is being started; its enclosure is shut."));
        });
}

void MainWindow::hand_over() {
    piece_->make_ready([this](const Expected<std::shared_ptr<const ReadyJob>>& made) {
        if (!made)
            return workbench_.fail(made.error());
        shop_.run().take(*made);
        if (shop_.run().step() != RunFlow::Step::asking)
            return;
        shop_.bench().wake(); // it tells whether its enclosure is shut
        show_station(StationId::run);
    });
}

} // namespace finch::app
