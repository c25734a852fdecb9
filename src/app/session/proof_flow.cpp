// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/proof_flow.h"

#include <QUuid>

namespace finch::app {

ProofFlow::ProofFlow(Workbench& workbench, Recorder& recorder, BenchLink& link, Camera& camera, Gauge& gauge,
                     QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), planner_(workbench),
      burn_(workbench, recorder, link), reading_(workbench, recorder, camera), gauge_(workbench, gauge),
      keeper_(workbench, recorder) {
    connect(&burn_, &BurnRun::changed, this, &ProofFlow::step_changed);
    connect(&reading_, &ReadingRun::changed, this, &ProofFlow::step_changed);
    connect(&burn_, &BurnRun::burned, this, [this](int sheet) {
        // The photograph that follows is of this sheet, whatever was looked at meanwhile.
        planner_.show_sheet(sheet);
        if (const Round* r = workbench_.round(sheet); r != nullptr && wants_depths(workbench_.draft(), r->sheet))
            workbench_.say(tr("Sheet %1 is burned. Measure how deep its cells are.").arg(sheet));
        else
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

void ProofFlow::note_depths(int sheet, const std::vector<CellDepth>& depths) {
    if (free_to(tr("A measurement")))
        reading_.note_depths(sheet, depths);
}

void ProofFlow::note_colours(int sheet, const std::vector<CellColour>& colours) {
    if (free_to(tr("A measurement")))
        reading_.note_colours(sheet, colours);
}

void ProofFlow::note_scratches(int sheet, const std::vector<CellScratch>& scratches) {
    if (free_to(tr("A scratch test")))
        reading_.note_scratches(sheet, scratches);
}

void ProofFlow::note_gloss(int sheet, const std::vector<CellGloss>& gloss) {
    if (free_to(tr("A measurement")))
        reading_.note_gloss(sheet, gloss);
}

void ProofFlow::photograph_tilted(int sheet, double tilt_deg) {
    if (free_to(tr("A photograph")))
        reading_.photograph(sheet, tilt_deg);
}

void ProofFlow::read_tilted(const QString& path, int sheet, double tilt_deg) {
    if (free_to(tr("Reading a photograph")))
        reading_.read_tilted(path, sheet, tilt_deg);
}

void ProofFlow::ask_gauge(int sheet) {
    const Round* r = workbench_.round(sheet);
    if (r == nullptr || !free_to(tr("A measurement")))
        return;
    // A photograph tells by its markers which sheet it shows. A gauge cannot: not even a burn that was broken off may
    // have begun on another piece since.
    const int plate = r->sheet.plate_number();
    const auto begun = workbench_.draft().begun.find(plate);
    const bool displaced = begun != workbench_.draft().begun.end() && begun->second >= most_frame_places;
    if (!r->burned || displaced || plate_on_bench(workbench_.ledger()) != plate)
        return workbench_.say(
            tr("Sheet %1 does not lie on the bench: another piece was burned since. Measure it by hand.").arg(sheet),
            State::warn);
    gauge_.measure(r->sheet);
}

void ProofFlow::cancel() {
    planner_.designer().cancel();
    gauge_.cancel();
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
