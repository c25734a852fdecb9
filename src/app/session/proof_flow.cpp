// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/proof_flow.h"

#include <QUuid>

namespace finch::app {

ProofFlow::ProofFlow(Workbench& workbench, Recorder& recorder, BenchLink& link, Camera& camera, QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), planner_(workbench),
      burn_(workbench, recorder, link), reading_(workbench, recorder, camera), keeper_(workbench, recorder) {
    connect(&burn_, &BurnRun::changed, this, &ProofFlow::step_changed);
    connect(&reading_, &ReadingRun::changed, this, &ProofFlow::step_changed);
    connect(&burn_, &BurnRun::burned, this, [this](int sheet) {
        // The photograph that follows is of this sheet, whatever was looked at meanwhile.
        planner_.show_sheet(sheet);
        reading_.photograph(sheet);
    });
    connect(&reading_, &ReadingRun::sheet_not_found, this, &ProofFlow::sheet_not_found);
    connect(&planner_.designer(), &CellDesigner::changed, this, &ProofFlow::step_changed);
    connect(&planner_.designer(), &CellDesigner::designed, this, &ProofFlow::sheet_designed);
    connect(&workbench_, &Workbench::focus_confirmed, this, &ProofFlow::record_focus);
}

ProofFlow::Step ProofFlow::step() const {
    if (burn_.running())
        return Step::burning;
    switch (reading_.step()) {
    case ReadingRun::Step::idle:
        return Step::idle;
    case ReadingRun::Step::photographing:
        return Step::photographing;
    case ReadingRun::Step::reading:
    case ReadingRun::Step::keeping:
        return Step::reading;
    }
    return Step::idle;
}

QString ProofFlow::progress_text() const {
    return burn_.running() ? burn_.progress_text() : reading_.progress_text();
}

bool ProofFlow::free_to(const QString& what) {
    if (step() == Step::idle)
        return true;
    workbench_.say(tr("%1 can begin when this is done: %2.").arg(what, progress_text()), State::warn);
    return false;
}

void ProofFlow::burn() {
    if (free_to(tr("Burning")))
        burn_.start();
}

void ProofFlow::tick_spoiled(std::size_t cell, bool spoiled) {
    if (free_to(tr("A note on a cell")))
        reading_.tick_spoiled(workbench_.draft().shown_sheet, cell, spoiled);
}

void ProofFlow::note_depth(std::size_t cell, std::optional<double> depth_um, double within_um) {
    if (free_to(tr("A depth")))
        reading_.note_depth(workbench_.draft().shown_sheet, cell, depth_um, within_um);
}

void ProofFlow::cancel() {
    planner_.designer().cancel();
    if (burn_.running())
        burn_.cancel();
    else
        reading_.cancel();
}

void ProofFlow::photograph() {
    if (free_to(tr("A photograph")))
        reading_.photograph(workbench_.draft().shown_sheet);
}

void ProofFlow::read_files(const QStringList& paths) {
    if (free_to(tr("Reading a photograph")))
        reading_.read_files(paths, workbench_.draft().shown_sheet);
}

void ProofFlow::read_again(const std::array<PointMm, 4>& corners_px) {
    if (free_to(tr("Reading a photograph")))
        reading_.read_again(corners_px);
}

void ProofFlow::read_picture(const QByteArray& encoded, const QString& name) {
    if (free_to(tr("Reading a photograph")))
        reading_.read_picture(encoded, name, workbench_.draft().shown_sheet);
}

void ProofFlow::record_focus() {
    const Setup& setup = workbench_.draft().setup;
    if (!setup.focus.confirmed)
        return;
    recorder_.record(entry_of(*setup.focus.confirmed, setup,
                              QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString(), workbench_.metal().name,
                              FINCH_VERSION),
                     {}, [this](const Expected<void>& kept) {
                         if (kept)
                             workbench_.say(tr("Focus confirmed, and kept for the logbook."));
                         else
                             workbench_.fail(kept.error());
                     });
}

} // namespace finch::app

#include "moc_proof_flow.cpp"
