// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/border.h"
#include "app/session/run_flow.h"
#include "app/session/text.h"

/// How a run gets onto the disk, event by event, and from there into the record.
namespace finch::app {

namespace {

constexpr int write_again_ms = 3000;

} // namespace

RunEvent RunFlow::event(Event kind) const {
    RunEvent out;
    out.kind = kind;
    out.when_utc = workbench_.now_utc();
    out.by = workbench_.draft().operator_initials;
    if (portion_)
        out.portion = static_cast<int>(*portion_);
    return out;
}

void RunFlow::write(RunEvent what, std::function<void()> then) {
    unwritten_.emplace_back(std::move(what), std::move(then));
    write_next();
}

void RunFlow::write_next() {
    if (writing_ || unwritten_.empty())
        return;
    writing_ = true;
    disk_.start([this, gone = alive_, at = alive_->load(), journal = journal_, uid = record_.start.uid,
                 what = unwritten_.front().first] {
        auto done = guarded("writing down a run", [&] { return journal.append(uid, what); });
        QMetaObject::invokeMethod(
            qApp,
            [this, gone, at, done = std::move(done)] {
                if (*gone != at)
                    return;
                writing_ = false;
                if (!done) {
                    // The pass is marked; that it is must be kept before another one is.
                    if (run_id_ != 0)
                        runner_.hold(run_id_);
                    stand_still(from_utf8(sentence(done.error())));
                    QTimer::singleShot(write_again_ms, this, &RunFlow::write_next);
                    return workbench_.fail(done.error());
                }
                auto [kept, then] = std::move(unwritten_.front());
                unwritten_.pop_front();
                record_.events.push_back(std::move(kept));
                follow(stand_, record_.events.back());
                if (then)
                    then();
                write_next();
                Q_EMIT changed();
            },
            Qt::QueuedConnection);
    });
}

void RunFlow::finish(Event kind, const QString& why) {
    RunEvent end = event(kind);
    end.note = why.toStdString();
    end.line = line_;
    giving_up_ = false;
    ending_ = true;
    clock_.stop();
    look_by_.reset();
    write(std::move(end), [this] {
        ending_ = false;
        step_ = Step::over;
        portion_.reset();
        run_id_ = 0;
        why_.clear();
        keep(record_, true);
    });
}

void RunFlow::keep(const RunRecord& run, bool say) {
    const auto metal = workbench_.materials().find(run.start.setup.stock.metal);
    recorder_.record(entry_of(run, metal ? (*metal)->name : run.start.setup.stock.metal, FINCH_VERSION), {},
                     [this, gone = alive_, at = alive_->load(), uid = run.start.uid, say,
                      film = job_ != nullptr && job_->risks.film](const Expected<void>& kept) {
                         if (*gone != at)
                             return; // its journal says at the next start that it ended
                         if (!kept)
                             return workbench_.fail(kept.error());
                         journal_.drop(uid);
                         if (say)
                             workbench_.say(film ? tr("The run is kept for the logbook. Say in Steps, on the Piece "
                                                      "station, that the film is marked.")
                                                 : tr("The run is kept for the logbook."));
                     });
}

void RunFlow::find_left() {
    for (const std::string& uid : journal_.kept()) {
        auto run = journal_.read(uid);
        if (!run) {
            troubles_.push_back(run.error());
            journal_.set_aside(uid);
            continue;
        }
        const RunStand stand = stand_of(*run);
        if (stand.over) {
            // It ended, and was not in the record yet.
            keep(*run, false);
            continue;
        }
        if (step_ == Step::left)
            continue; // one after the other
        record_ = std::move(*run);
        stand_ = stand;
        step_ = Step::left;
    }
}

} // namespace finch::app
