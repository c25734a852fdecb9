// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/burn_run.h"

#include "app/session/scrap_keeper.h"
#include "proof/layout.h"
#include "proof/sheet_heat.h"
#include "vision/fiducials.h"

#include <fmt/format.h>
#include <QUuid>

namespace finch::app {

using namespace Qt::StringLiterals;

BurnRun::BurnRun(Workbench& workbench, Recorder& recorder, BenchLink& link, QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), link_(link) {
    const auto mine = [this](RequestId id) { return running_ && running_->id == id; };
    connect(&link_, &BenchLink::progressed, this, [this, mine](RequestId id, double share, const QString& at) {
        if (!mine(id))
            return;
        progress_ = share;
        text_ = at.isEmpty() ? tr("Starting %1").arg(link_.name()) : tr("Burning %1").arg(at);
        Q_EMIT changed();
    });
    connect(&link_, &BenchLink::burned, this, [this, mine](RequestId id, double time_s) {
        if (mine(id))
            finished(time_s);
    });
    connect(&link_, &BenchLink::cancelled, this, [this, mine](RequestId id) {
        if (!mine(id))
            return;
        const bool on_frame = running_->sheet.sheet.on_old_plate();
        end();
        workbench_.say(on_frame ? tr("Burning was cancelled. The places that it was begun on are not bare any more: "
                                     "design the cells again.")
                                : tr("Burning was cancelled. The sheet can be burned again on bare metal, not where it "
                                     "was begun."),
                       State::warn);
    });
    connect(&link_, &BenchLink::failed, this, [this, mine](RequestId id, const Error& error, bool) {
        if (!mine(id))
            return;
        end();
        workbench_.fail(error);
    });
}

std::optional<QString> BurnRun::obstacle(const Round& r) const {
    const Setup& now = workbench_.draft().setup;
    if (r.burned)
        return tr("Sheet %1 is burned already. Plan another one.").arg(r.sheet.number);
    if (evidence_key(r.setup) != evidence_key(now) || !(r.setup.stock == now.stock))
        return tr("This sheet was planned for another bench, lens or stock. Put that back, or plan the sheet again.");
    if (r.sheet.on_old_plate()) {
        const int frame = r.sheet.plate_number();
        if (plate_on_bench(workbench_.ledger()) != frame)
            return tr("These cells continue the frame of sheet %1, and another piece was burned since. Design them "
                      "again.")
                .arg(frame);
        const auto& begun = workbench_.draft().begun;
        if (const auto used = begun.find(frame); used != begun.end() && used->second > r.sheet.first_own())
            return tr("Burning was begun on these places of the frame, or on another piece, and broken off. Design the "
                      "cells again.");
    }
    if (auto why = scrap_obstacle(r, workbench_.ledger()))
        return why;
    if (workbench_.focus_state().stale())
        return tr("Confirm the focus first: something it rests on has changed.");
    const auto blocked = [&](const Recipe& recipe, const QString& where) -> std::optional<QString> {
        for (const Finding& f : check(recipe, now.bench, now.stock))
            if (f.severity == Severity::blocking)
                return where + QString::fromStdString(f.message + " " + f.remedy);
        return std::nullopt;
    };
    if (auto why = blocked(r.sheet.label_recipe, tr("Labels: ")))
        return why;
    for (std::size_t i = 0; i < r.sheet.cells(); ++i)
        if (i >= r.sheet.left_out.size() || !r.sheet.left_out[i])
            if (auto why = blocked(cell_recipe(r.sheet, i),
                                   tr("Cell %1: ").arg(QString::fromStdString(cell_name(r.sheet, i)))))
                return why;
    return std::nullopt;
}

void BurnRun::start() {
    const Round* r = workbench_.round();
    if (r == nullptr)
        return workbench_.say(tr("Plan a sheet first."), State::warn);
    if (running_)
        return workbench_.say(tr("A sheet is burning already."), State::warn);
    if (recorder_.look_only())
        return workbench_.say(tr("This window only looks at the workshop. Burn from the other one."), State::warn);
    if (const auto why = obstacle(*r))
        return workbench_.say(*why, State::warn);
    const Draft& d = workbench_.draft();
    BurnedSheet sheet;
    sheet.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    sheet.by = d.operator_initials;
    // By what was known when it was planned: the rests that its plan shows.
    sheet.sheet = with_turns(r->sheet, workbench_.scene_of(*r, r->before).scene());
    sheet.setup = d.setup;
    sheet.target = d.target;
    sheet.known_before = r->before;
    sheet.reason = r->reason;
    sheet.hoped_de = r->hoped_de;
    sheet.hoped_spread = r->hoped_spread;
    progress_ = 0;
    text_ = tr("Starting %1").arg(link_.name());
    const SheetLayout at = layout(sheet.sheet);
    const auto steps = tool_steps(sheet.sheet, at, fiducial_modules(at));
    if (r->scrap) {
        const Expected<void> said =
            mark_used(workbench_, r->scrap->piece,
                      {r->scrap->face, scrap_covers(*r->scrap, at.width_mm, at.height_mm),
                       fmt::format("sheet {}", sheet.sheet.number), sheet.sheet.number, r->scrap->turned});
        if (!said)
            return workbench_.fail(said.error());
    }
    // Said before it begins, so that no end of it, not even a kill, lets anything be burned over.
    if (sheet.sheet.on_old_plate())
        workbench_.note([&](Draft& draft) {
            draft.begun[sheet.sheet.plate_number()] = sheet.sheet.first_own() + sheet.sheet.own.size();
        });
    else if (const auto lay_there = plate_on_bench(workbench_.ledger())) // a fresh piece takes its place
        workbench_.note([&](Draft& draft) { draft.begun[*lay_there] = most_frame_places; });
    const auto piece = sheet.sheet.on_old_plate() ? BenchLink::Piece::same : BenchLink::Piece::fresh;
    running_ = Running{link_.burn(d.setup, steps, piece), std::move(sheet)};
    Q_EMIT changed();
}

void BurnRun::cancel() {
    if (!running_)
        return;
    text_ = tr("Stopping");
    link_.cancel(running_->id);
    Q_EMIT changed();
}

void BurnRun::end() {
    running_.reset();
    Q_EMIT changed();
}

void BurnRun::finished(double time_s) {
    BurnedSheet sheet = std::move(running_->sheet);
    running_.reset();
    sheet.when_utc = workbench_.now_utc();
    sheet.burned_s = time_s;
    const int number = sheet.sheet.number;
    const auto metal = workbench_.materials().find(sheet.setup.stock.metal);
    recorder_.record(entry_of(sheet, metal ? (*metal)->name : sheet.setup.stock.metal, FINCH_VERSION), {},
                     [this](const Expected<void>& kept) {
                         if (!kept)
                             workbench_.fail(kept.error());
                     });
    workbench_.add_facts([&](Ledger& ledger) { ledger.add(sheet); });
    workbench_.say(tr("The sheet is burned. Lay the white card on its place; the camera takes the photograph."));
    Q_EMIT changed();
    Q_EMIT burned(number);
}

} // namespace finch::app

#include "moc_burn_run.cpp"
