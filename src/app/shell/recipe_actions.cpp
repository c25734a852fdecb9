// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include "app/stations/aim/aim_station.h"
#include "app/stations/proof/camera_dialog.h"
#include "app/stations/proof/proof_station.h"

namespace finch::app {

using namespace Qt::StringLiterals;

/// Everything that is done with a recipe: borrowed, carried, planned, burned, read, measured, kept.
void MainWindow::make_recipe_actions() {
    Workbench& w = workbench_;
    ProofFlow& flow = flow_;
    const QString station = tr("Station"), recipe = tr("Recipe");
    add(u"recipe.heat"_s, tr("More or less heat…"), tr("Which knob to turn, with its price"), QKeySequence(u"Ctrl+H"_s),
        recipe, [this] { proof_->tune().show_heat(); });
    add(u"recipe.borrow"_s, tr("Borrow a recipe…"), tr("Paste or import someone else's settings and rescale them"),
        QKeySequence(u"Ctrl+Shift+B"_s), recipe, [this] { borrow(); });
    add(u"recipe.carry"_s, tr("Carry to another bench…"), tr("What this recipe becomes on another bench"),
        QKeySequence(u"Ctrl+Shift+T"_s), recipe, [this] { carry(); });
    add(u"bench.confirm_focus"_s, tr("Confirm focus"), tr("Say that the surface is in focus now"),
        QKeySequence(u"Ctrl+Shift+F"_s), station, [&w] { w.confirm_focus(); });
    add(u"proof.suggest"_s, tr("Suggest a sheet for the target"),
        tr("Set recipe and ranges so that the model expects the target"), QKeySequence(u"Ctrl+G"_s), recipe,
        [&w, &flow] { flow.suggest_opening(w.draft().request.across.knob, w.draft().request.down.knob); });
    add(u"proof.design"_s, tr("Design cells for the target"),
        tr("Give each cell a setting of its own, from all that was read on this bench and lot"),
        QKeySequence(u"Ctrl+D"_s), recipe, [this, &flow] {
            show_station(StationId::proof);
            flow.design();
        });
    add(u"proof.design_fresh"_s, tr("Design cells for a fresh piece"),
        tr("The same, on a frame of its own instead of the bare places of the one on the bench"),
        QKeySequence(u"Ctrl+Shift+D"_s), recipe, [this, &flow] {
            show_station(StationId::proof);
            flow.design(true);
        });
    add(u"proof.openings"_s, tr("Ways to begin…"),
        tr("What each way to begin costs and promises for the target, side by side"), QKeySequence(u"Ctrl+Shift+O"_s),
        recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_openings();
        });
    add(u"proof.set_cell"_s, tr("Put these values into the cell"),
        tr("Write the recipe as it is set now into the chosen free cell of a sheet that is not burned yet"),
        QKeySequence(u"Ctrl+Shift+V"_s), recipe, [&flow] { flow.set_cell(); });
    add(u"proof.leave_out"_s, tr("Leave the cell out, or take it in"),
        tr("The chosen cell of a planned sheet is not burned"), QKeySequence(u"Ctrl+Shift+X"_s), recipe,
        [&flow] { flow.leave_out_cell(); });
    add(u"proof.compare"_s, tr("Compare two recipes…"),
        tr("Burn them in pairs, in an order of chance, and learn whether the difference matters"),
        QKeySequence(u"Ctrl+Shift+P"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_compare();
        });
    add(u"proof.ladder"_s, tr("Focus ladder…"),
        tr("Burn the recipe at many focus offsets, and learn where the focus is, how level, and how far it holds"),
        QKeySequence(u"Ctrl+Shift+L"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->show_page(ProofStation::Page::focus);
            proof_->focus().ask_ladder();
        });
    add(u"proof.lot"_s, tr("Check a lot…"),
        tr("Five cells of the recipe with less and more dose: does this lot do what another did?"),
        QKeySequence(u"Ctrl+Shift+K"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_lot_check();
        });
    add(u"proof.scrap"_s, tr("Scrap bin…"),
        tr("Rejects and offcuts as test metal: what is bare on them, and where the next sheet is burned"),
        QKeySequence(u"Ctrl+Alt+B"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_scrap();
        });
    add(u"proof.control"_s, tr("Control of the day…"),
        tr("The same five cells each day on the same lot: what the bench gives, and an alarm when it changes"),
        QKeySequence(u"Ctrl+Alt+K"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_control();
        });
    add(u"proof.threshold"_s, tr("Search a threshold…"),
        tr("The recipe at many powers, mixed: from which on the stock changes, and from which it is spoiled"),
        QKeySequence(u"Ctrl+Alt+P"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_threshold();
        });
    add(u"proof.offsets"_s, tr("In focus, or out of it…"),
        tr("One film at several focus offsets: which side, how far, how long it takes and how fine it stays"),
        QKeySequence(u"Ctrl+Alt+O"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_offsets();
        });
    add(u"proof.wedge"_s, tr("Step wedge…"),
        tr("The recipe at more and more passes: how the depth falls off, and how many passes a depth takes"),
        QKeySequence(u"Ctrl+Alt+W"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_wedge();
        });
    add(u"proof.field"_s, tr("Even over the field?"),
        tr("The recipe all over the field with less and more dose: what the corners get against the middle"),
        QKeySequence(u"Ctrl+Alt+F"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->plan_field();
        });
    add(u"proof.rests"_s, tr("Rests between cells…"),
        tr("How warm each cell finds the plate from those before it, and what it costs to let the heat go"),
        QKeySequence(u"Ctrl+Alt+R"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_rests();
        });
    add(u"proof.explain"_s, tr("What the colour follows…"),
        tr("Which of dose, pulses, energy, peak and speed goes with the colours that were read on this bench and lot"),
        QKeySequence(u"Ctrl+Alt+E"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_explain();
        });
    add(u"proof.plan"_s, tr("Plan the sheet"), tr("Plan the sheet set on the plan page"), QKeySequence(u"Ctrl+P"_s),
        recipe, [this] {
            show_station(StationId::proof);
            proof_->plan();
        });
    add(u"proof.burn"_s, tr("Burn the sheet"), tr("Burn the shown sheet on the stand-in"), QKeySequence(u"Ctrl+B"_s),
        recipe, [&flow] { flow.burn(); });
    add(u"proof.cancel"_s, tr("Cancel what is under way"), tr("Stop burning, photographing, reading or exporting"),
        QKeySequence(u"Ctrl+."_s), recipe, [this] {
            flow_.cancel();
            shop_.exchange().cancel();
        });
    add(u"proof.photograph"_s, tr("Photograph the sheet"), tr("Let the stand-in's camera take another photograph"), {},
        recipe, [&flow] { flow.photograph(); });
    add(u"proof.read"_s, tr("Read photographs…"),
        tr("Read one or more photographs of the shown sheet; turn the sheet between them"), QKeySequence(u"Ctrl+O"_s),
        recipe, [this] { proof_->ask_photo_file(); });
    add(u"proof.spoiled"_s, tr("Cell is spoiled, or is not"),
        tr("The chosen cell is molten, torn or flaked: it never wins, and teaches where this bench spoils metal"),
        QKeySequence(u"Ctrl+J"_s), recipe, [this] { proof_->toggle_spoiled(); });
    add(u"proof.depths"_s, tr("Measure depths…"),
        tr("Type, paste or import how deep the cells are, or ask the gauge of the bench"),
        QKeySequence(u"Ctrl+Shift+G"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_depths();
        });
    add(u"proof.colours"_s, tr("Colours by instrument…"),
        tr("Type, paste or import what a colour instrument measured of the cells: it counts before the photograph"),
        QKeySequence(u"Ctrl+Alt+C"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_colours();
        });
    add(u"proof.tilt"_s, tr("Tilt series…"),
        tr("The sheet photographed at one tilt after the other: up to which angle each colour holds"),
        QKeySequence(u"Ctrl+Alt+T"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_tilt();
        });
    add(u"proof.gloss"_s, tr("Gloss…"), tr("Type, paste or import what a gloss meter read of the cells"),
        QKeySequence(u"Ctrl+Alt+G"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_gloss();
        });
    add(u"proof.scratches"_s, tr("Scratch tests…"),
        tr("Type, paste or import how much of the scratch ladder the cells survived: at which power a mark holds best"),
        QKeySequence(u"Ctrl+Alt+A"_s), recipe, [this] {
            show_station(StationId::proof);
            proof_->ask_scratches();
        });
    add(u"proof.camera"_s, tr("The camera's colours…"),
        tr("Set a camera right by a printed chart or by measured cells, and choose which one photographs are read "
           "with"),
        QKeySequence(u"Ctrl+Alt+I"_s), recipe, [this] { (new CameraDialog(workbench_, shop_.eyes(), this))->open(); });
    add(u"proof.next"_s, tr("Plan the next sheet"), tr("A narrower sheet round the chosen cell"),
        QKeySequence(u"Ctrl+N"_s), recipe, [&flow] { flow.plan_next(); });
    add(u"recipe.save"_s, tr("Save the recipe…"), tr("Write the recipe with its evidence into the logbook"),
        QKeySequence::Save, recipe, [this] { proof_->ask_save_recipe(); });
}

} // namespace finch::app
