// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include "app/stations/piece/piece_station.h"

namespace finch::app {

using namespace Qt::StringLiterals;

/// Everything that is done with a drawing and its layers.
void MainWindow::make_piece_actions() {
    const QString piece = tr("Piece");
    const auto there = [this](auto&& run) {
        return [this, run] {
            show_station(StationId::piece);
            run();
        };
    };
    add(u"piece.open"_s, tr("Open a drawing…"), tr("SVG, DXF, or a black and white picture"),
        QKeySequence(u"Ctrl+Shift+A"_s), piece, there([this] { piece_->ask_open(); }));
    add(u"piece.recent"_s, tr("Open a recent drawing…"), tr("Those that were opened last, the newest first"),
        QKeySequence(u"Ctrl+Shift+W"_s), piece, there([this] { piece_->ask_recent(); }));
    add(u"piece.detail"_s, tr("A picture of fine detail"),
        tr("Bars, slits and squares from half the spot to four times it: how fine a recipe marks on this metal"),
        QKeySequence(u"Ctrl+Alt+D"_s), piece, there([this] {
            if (shop_.look_only())
                return workbench_.say(tr("Another window works on this workshop: nothing is written."), State::warn);
            piece_->open_detail(shop_.folder() + u"/drawings"_s);
        }));
    add(u"piece.again"_s, tr("Read the drawing again"), tr("It was changed where it was drawn"), {}, piece,
        there([this] { piece_->read_again(); }));
    add(u"piece.relief"_s, tr("Picture as a relief, or as a drawing"), tr("Greys become depth: black is cut deepest"),
        QKeySequence(u"Ctrl+Shift+I"_s), piece, there([this] { piece_->switch_relief(); }));
    add(u"piece.stretch"_s, tr("Stretch a relief to the greys of its picture"), tr("Black and white where they begin"),
        {}, piece, there([this] { piece_->relief().stretch(); }));
    add(u"piece.export"_s, tr("Export the piece…"), tr("As a job, SVG, DXF, G-code or a table"),
        QKeySequence(u"Ctrl+Shift+E"_s), piece, there([this] { piece_->ask_export(); }));
    add(u"piece.take"_s, tr("Take the recipe at hand for the layer"), tr("The chosen layer is marked with it"),
        QKeySequence(u"Ctrl+Shift+R"_s), piece, there([this] { piece_->take_recipe(); }));
    add(u"piece.colours"_s, tr("Colours of the layers from the palette…"),
        tr("Each layer gets the recipe whose colour was read nearest to the one it is drawn in"),
        QKeySequence(u"Ctrl+Alt+L"_s), piece, there([this] { piece_->ask_colours(); }));
    add(u"piece.guide"_s, tr("Layer as a guide, or not"), tr("A guide is shown by the pointer and never marked"), {},
        piece, there([this] { piece_->switch_guide(); }));
    add(u"piece.fill"_s, tr("Fill the layer shape by shape, or line by line"),
        tr("The same lines with fewer jumps, or each line over all shapes"), {}, piece,
        there([this] { piece_->switch_fill(); }));
    add(u"piece.earlier"_s, tr("Mark the layer earlier"), tr("Before the one above it"), {}, piece,
        there([this] { piece_->move_layer(-1); }));
    add(u"piece.later"_s, tr("Mark the layer later"), tr("After the one below it"), {}, piece,
        there([this] { piece_->move_layer(1); }));
    add(u"piece.next_finding"_s, tr("Next fault of the drawing"), tr("Ring it and put the lens there"),
        QKeySequence(u"Ctrl+Shift+N"_s), piece, there([this] { piece_->next_finding(); }));
    add(u"piece.texts"_s, tr("Texts, numbers and tables…"),
        tr("Typed words, numbers that count and columns of a table, with what each piece says"),
        QKeySequence(u"Ctrl+Shift+Y"_s), piece, there([this] { piece_->ask_texts(); }));
    add(u"piece.size"_s, tr("How large the drawing becomes…"), tr("Times, wide, high, or into a piece of stock"),
        QKeySequence(u"Ctrl+Alt+S"_s), piece, there([this] { piece_->ask_size(); }));
    add(u"piece.fill_how"_s, tr("How the layer is filled…"),
        tr("Angle, turn, crossing, direction, inset and contours, seen and timed"), QKeySequence(u"Ctrl+Shift+U"_s),
        piece, there([this] { piece_->ask_fill(); }));
    add(u"piece.round"_s, tr("Draw round a part of the layer, or give it back"),
        tr("Shapes that lie within a line drawn by hand become a layer of their own"), {}, piece,
        there([this] { piece_->switch_round(); }));
    add(u"piece.box"_s, tr("A part of the layer by a box…"), tr("Shapes within a box that is typed become a layer"), {},
        piece, there([this] { piece_->ask_box(); }));
    add(u"piece.leave"_s, tr("Leave the chosen fault as drawn, or mend it"),
        tr("A gap that was closed, or a line that lay twice"), {}, piece, there([this] { piece_->leave_or_mend(); }));
    add(u"piece.place"_s, tr("Where the piece lies…"), tr("In a tray, in tiles, round a turned part, turned, mirrored"),
        QKeySequence(u"Ctrl+Shift+J"_s), piece, there([this] { piece_->ask_place(); }));
    add(u"piece.steps"_s, tr("Steps of film work, or the drawing"),
        tr("Degrease, spray, dry, mark, wash and scratch, on a time line"), QKeySequence(u"Ctrl+Shift+S"_s), piece,
        there([this] { piece_->switch_steps(); }));
    add(u"piece.cost"_s, tr("What it costs…"), tr("Cost and price by quantity, and against another way to make it"),
        QKeySequence(u"Ctrl+Shift+Q"_s), piece, there([this] { piece_->ask_cost(); }));
    add(u"piece.order"_s, tr("Heat and order…"), tr("An order of marking, pauses or clamps that keep the plate cool"),
        QKeySequence(u"Ctrl+Shift+H"_s), piece, there([this] { piece_->ask_order(); }));
    add(u"piece.times"_s, tr("Time the scanner…"),
        tr("How long three scans take at the bench, and with that every job"), QKeySequence(u"Ctrl+Shift+M"_s), piece,
        there([this] { piece_->ask_times(); }));
}

} // namespace finch::app
