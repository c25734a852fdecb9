// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Sheets that ask one question: what they are asked with, what they answer, and what is taken from it.
#include "app/session/text.h"
#include "app/stations/proof/answer_views.h"
#include "app/stations/proof/cell_list_dialog.h"
#include "app/stations/proof/compare_dialog.h"
#include "app/stations/proof/control_dialog.h"
#include "app/stations/proof/depth_dialog.h"
#include "app/stations/proof/explain_dialog.h"
#include "app/stations/proof/lot_dialog.h"
#include "app/stations/proof/offset_dialog.h"
#include "app/stations/proof/openings_dialog.h"
#include "app/stations/proof/proof_station.h"
#include "app/stations/proof/proof_view.h"
#include "app/stations/proof/rest_dialog.h"
#include "app/stations/proof/scrap_dialog.h"
#include "app/stations/proof/threshold_dialog.h"
#include "app/stations/proof/tilt_dialog.h"
#include "app/stations/proof/wedge_dialog.h"

namespace finch::app {

namespace {

/// The round that is shown, once it is burned; else it is said that there is nothing to measure.
const Round* burned_round(Workbench& workbench) {
    const Round* r = workbench.round();
    if (r != nullptr && r->burned)
        return r;
    workbench.say(ProofStation::tr("Burn the sheet first: there is nothing to measure."), State::warn);
    return nullptr;
}

} // namespace

void ProofStation::show_answer(const Round* r, const std::vector<RankedCell>& ranked) {
    const bool paired = r != nullptr && r->sheet.paired, lot = r != nullptr && r->sheet.lot;
    const bool threshold = r != nullptr && r->sheet.threshold, offsets = r != nullptr && r->sheet.offsets,
               wedge = r != nullptr && r->sheet.wedge, field = r != nullptr && r->sheet.field;
    ranking_->setVisible(r == nullptr || !r->sheet.asks());
    compare_->setVisible(paired);
    lot_->setVisible(lot);
    answer_->setVisible(threshold || offsets || wedge || field);
    if (paired)
        compare_->show_view(compare_view(*r));
    else if (lot) {
        LotView view = lot_view(*r);
        // From the second sheet on it is the control of this bench as well.
        if (const RecordedControl* c = controls_.of(r->sheet);
            c != nullptr && c->course.points.size() > 1 && r->reading) {
            view.course = from_utf8(c->course.words);
            view.course_state = state_of(c->course.verdict);
        }
        lot_->show_view(std::move(view));
    } else if (threshold)
        answer_->show_view(threshold_view(workbench_, *r));
    else if (offsets)
        answer_->show_view(offsets_view(workbench_, *r));
    else if (wedge)
        answer_->show_view(wedge_view(workbench_, *r));
    else if (field)
        answer_->show_view(field_view(workbench_, *r));
    else
        ranking_->show_view(ranking_view(workbench_, ranked));
}

void ProofStation::take_dose() {
    const Round* r = workbench_.round();
    if (r == nullptr || !r->sheet.lot || !r->reading)
        return;
    const auto finding = judge_lot_check(r->sheet, *r->reading);
    if (!finding)
        return workbench_.fail(finding.error());
    if (finding->verdict != LotVerdict::same && finding->verdict != LotVerdict::dose)
        return workbench_.say(from_utf8(finding->words), State::warn);
    const Recipe recipe = finding->verdict == LotVerdict::same ? r->sheet.base : finding->corrected;
    workbench_.change(tr("take the dose of sheet %1").arg(r->sheet.number), {}, [&](Draft& d) { d.recipe = recipe; });
    workbench_.say(from_utf8(finding->words));
}

void ProofStation::take_offset() {
    const Round* r = workbench_.round();
    if (r == nullptr || !r->sheet.offsets || !r->reading)
        return;
    const OwnScene scene = workbench_.scene_of(*r, r->before);
    const auto finding = judge_offsets(r->sheet, *r->reading, scene.scene(), workbench_.draft().target);
    if (!finding)
        return workbench_.fail(finding.error());
    flow_.choose_cell(finding->offsets.at(finding->best).cell);
    workbench_.say(from_utf8(finding->words));
}

/// Shows a dialog that plans a sheet, and the sheet once it is planned.
void ProofStation::ask_with(QDialog* dialog) {
    connect(dialog, &QDialog::accepted, this, [this] { show_page(Page::sheet); });
    dialog->open();
}

void ProofStation::ask_compare() {
    ask_with(new CompareDialog(workbench_, flow_, this));
}

void ProofStation::ask_openings() {
    const Draft& d = workbench_.draft();
    if (!d.target.depth && !traits(d.recipe.process).lasting_colour)
        return workbench_.say(tr("Take a recipe for a dark or coloured mark first, or a depth for the target."),
                              State::warn);
    ask_with(new OpeningsDialog(workbench_, flow_, this));
}

void ProofStation::ask_depths() {
    const Round* r = burned_round(workbench_);
    if (r == nullptr)
        return;
    if (traits(r->sheet.base.process).lasting_colour)
        return workbench_.say(tr("The cells of this sheet are films: a gauge does not feel them."), State::warn);
    show_page(Page::sheet);
    (new DepthDialog(workbench_, flow_, r->sheet, this))->open();
}

void ProofStation::ask_colours() {
    const Round* r = burned_round(workbench_);
    if (r == nullptr)
        return;
    show_page(Page::sheet);
    (new CellListDialog(flow_, colours_of_instrument(workbench_, flow_, r->sheet), this))->open();
}

void ProofStation::ask_scratches() {
    const Round* r = burned_round(workbench_);
    if (r == nullptr)
        return;
    if (!r->sheet.threshold)
        return workbench_.say(
            tr("Scratch tests answer on a threshold sheet: at which power a mark holds best. Search a "
               "threshold first."),
            State::warn);
    show_page(Page::sheet);
    (new CellListDialog(flow_, scratch_tests(workbench_, flow_, r->sheet), this))->open();
}

void ProofStation::ask_gloss() {
    const Round* r = burned_round(workbench_);
    if (r == nullptr)
        return;
    show_page(Page::sheet);
    (new CellListDialog(flow_, gloss_of_meter(workbench_, flow_, r->sheet), this))->open();
}

void ProofStation::ask_tilt() {
    const Round* r = burned_round(workbench_);
    if (r == nullptr)
        return;
    if (!r->reading || r->reading->photos == 0)
        return workbench_.say(tr("Photograph the sheet from above first: the tilted looks are held against that."),
                              State::warn);
    show_page(Page::sheet);
    (new TiltDialog(workbench_, flow_, r->sheet.number, this))->open();
}

void ProofStation::ask_lot_check() {
    ask_with(new LotDialog(workbench_, flow_, this));
}

void ProofStation::ask_threshold() {
    ask_with(new ThresholdDialog(workbench_, flow_, this));
}

void ProofStation::ask_offsets() {
    if (!traits(workbench_.draft().recipe.process).lasting_colour)
        return workbench_.say(tr("Take a recipe for a dark or coloured mark first: only films are tried out of focus."),
                              State::warn);
    ask_with(new OffsetDialog(workbench_, flow_, this));
}

void ProofStation::plan_field() {
    if (!traits(workbench_.draft().recipe.process).lasting_colour)
        return workbench_.say(tr("Take a recipe for a dark or coloured mark first: its look tells the dose."),
                              State::warn);
    if (flow_.plan_field())
        show_page(Page::sheet);
}

void ProofStation::ask_wedge() {
    if (traits(workbench_.draft().recipe.process).lasting_colour)
        return workbench_.say(tr("Take a recipe that engraves first: a film has no depth."), State::warn);
    ask_with(new WedgeDialog(workbench_, flow_, this));
}

void ProofStation::ask_rests() {
    const Round* r = workbench_.round();
    if (r == nullptr || r->burned)
        return workbench_.say(tr("Plan a sheet first: rests are for one that is not burned yet."), State::warn);
    (new RestDialog(workbench_, flow_, this))->open();
}

void ProofStation::ask_explain() {
    (new ExplainDialog(workbench_, this))->open();
}

void ProofStation::ask_scrap() {
    (new ScrapDialog(workbench_, flow_.recorder().look_only(), this))->open();
}

void ProofStation::show_scrap(const Round* r) {
    scrap_->setVisible(r != nullptr && !r->burned && r->scrap);
    if (!scrap_->isVisibleTo(this))
        return;
    const ScrapPlace& at = *r->scrap;
    scrap_->setText(tr("Lay scrap %1, face %2 up: the sheet lies %3 mm from its left edge and %4 mm from its top%5.")
                        .arg(from_utf8(at.piece), QString::fromLatin1(scrap_faces.at(at.face)),
                             screen_number(at.x_mm, 3), screen_number(at.y_mm, 3),
                             at.turned ? tr("; then turn it by a quarter with the clock") : QString()));
}

void ProofStation::ask_control() {
    auto* dialog = new ControlDialog(workbench_, flow_, controls_, this);
    connect(dialog, &ControlDialog::first_asked, this, &ProofStation::ask_lot_check, Qt::QueuedConnection);
    ask_with(dialog);
}

} // namespace finch::app
