// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The dialogs of the Piece station, and what has to be known before each.
#include "app/session/recent_drawings.h"
#include "app/session/text.h"
#include "app/stations/piece/colours_dialog.h"
#include "app/stations/piece/cost_dialog.h"
#include "app/stations/piece/fill_dialog.h"
#include "app/stations/piece/order_dialog.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/piece/place_dialog.h"
#include "app/stations/piece/size_dialog.h"
#include "app/stations/piece/text_dialog.h"
#include "app/stations/piece/timing_dialog.h"
#include "app/theme/label.h"
#include "formats/detail_picture.h"

#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QMenu>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

void PieceStation::ask_cost() {
    if (!relief_.chosen())
        if (const auto job = reader_.part(); !job)
            return workbench_.fail(job.error());
    (new CostDialog(workbench_, reader_, relief_, this))->open();
}

void PieceStation::ask_fill() {
    if (!has_layer())
        return;
    const auto layers = reader_.layers();
    if (*layer_ >= layers.size() || !layers[*layer_].choice.recipe || layers[*layer_].choice.guide)
        return workbench_.say(tr("A layer is filled once it has a recipe."), State::warn);
    (new FillDialog(workbench_, reader_, *layer_, this))->open();
}

void PieceStation::ask_open() {
    auto* dialog =
        new QFileDialog(this, tr("Open a drawing"), QFileInfo(from_utf8(workbench_.draft().piece.file)).absolutePath(),
                        tr("Drawings (*.svg *.dxf *.png *.jpg *.jpeg *.bmp)") + u";;"_s + tr("All files (*)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& file) { reader_.open(file); });
    dialog->open();
}

void PieceStation::ask_recent() {
    const QStringList files = recent_drawings();
    if (files.isEmpty())
        return workbench_.say(tr("No drawing was opened yet."), State::warn);
    auto* menu = new QMenu(this);
    menu->setObjectName(u"recent_drawings"_s);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    for (const QString& file : files) {
        const QFileInfo there(file);
        QString shown = there.exists() ? there.fileName() : tr("%1: not there now").arg(there.fileName());
        shown.replace(u'&', u"&&"_s);
        QAction* entry = menu->addAction(tr("&%1  %2").arg(menu->actions().size() + 1).arg(shown));
        entry->setToolTip(file);
        entry->setEnabled(there.exists());
        connect(entry, &QAction::triggered, this, [this, file] { reader_.open(file); });
    }
    menu->setActiveAction(menu->actions().front());
    menu->popup(mapToGlobal(QPoint(width() / 2, 48)));
}

void PieceStation::ask_export() {
    if (!relief_.chosen())
        if (const auto job = reader_.part(); !job)
            return workbench_.fail(job.error());
    auto* dialog = new QFileDialog(
        this, tr("Export the piece"), {},
        tr("Job (*.json);;Outlines by layer, SVG (*.svg);;Outlines by layer, DXF (*.dxf);;Lines of every pass, G-code "
           "(*.gcode);;Frame for the pointer, G-code (*.frame.gcode);;Table of layers (*.csv);;Job sheet to print "
           "(*.pdf)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(u"json"_s);
    connect(dialog, &QFileDialog::filterSelected, dialog, [dialog](const QString& filter) {
        dialog->setDefaultSuffix(filter.section(u"*."_s, 1).section(u')', 0, 0));
    });
    connect(dialog, &QFileDialog::fileSelected, this,
            [this](const QString& path) { relief_.chosen() ? relief_.export_to(path) : reader_.export_to(path); });
    dialog->open();
}

void PieceStation::ask_order() {
    if (relief_.chosen())
        return workbench_.say(tr("A relief is cut layer by layer: there is no other order."), State::warn);
    if (const auto job = reader_.part(); !job)
        return workbench_.fail(job.error());
    (new OrderDialog(workbench_, reader_, this))->open();
}

void PieceStation::ask_texts() {
    if (relief_.chosen())
        return workbench_.say(tr("A relief has no texts: open a drawing, or an empty page."), State::warn);
    if (!workbench_.draft().piece.file.empty() && reader_.piece() == nullptr)
        return workbench_.say(tr("The drawing is still being read."), State::warn);
    (new TextDialog(workbench_, reader_, this))->open();
}

void PieceStation::ask_size() {
    if (relief_.chosen())
        return workbench_.say(tr("How wide a relief is stands on its page."), State::warn);
    if (reader_.piece() == nullptr || !reader_.piece()->extent)
        return workbench_.say(tr("There is no drawing to make larger or smaller."), State::warn);
    (new SizeDialog(workbench_, reader_, this))->open();
}

void PieceStation::ask_colours() {
    if (relief_.chosen())
        return workbench_.say(tr("A relief has depths, no layers of colours."), State::warn);
    if (reader_.piece() == nullptr)
        return workbench_.say(tr("Open a drawing first: its layers say which colours are wanted."), State::warn);
    (new ColoursDialog(workbench_, reader_, this))->open();
}

void PieceStation::open_detail(const QString& folder) {
    const Bench& bench = workbench_.bench();
    const auto file = detail_file(folder, in_mm(waist(bench.lens(), bench.source.wavelength).spot));
    if (!file)
        return workbench_.fail(file.error());
    reader_.open(*file);
    workbench_.say(
        tr("Give its patterns the recipe, and run it. Under a loupe: the finest bars that stand apart, and the "
           "finest slits that are open, are what it can mark."));
}

void PieceStation::ask_place() {
    if (!relief_.chosen())
        if (const auto job = reader_.part(); !job)
            return workbench_.fail(job.error());
    (new PlaceDialog(workbench_, reader_, relief_, this))->open();
}

void PieceStation::ask_times() {
    (new TimingDialog(workbench_, timer_, reader_, this))->open();
}

void PieceStation::ask_box() {
    if (!has_layer())
        return;
    const ReadPiece* piece = reader_.piece();
    auto* dialog = new QDialog(this);
    dialog->setObjectName(u"box_dialog"_s);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("A part of the layer, within a box"));
    auto* grid = new QGridLayout(dialog);
    const double w = piece->drawing.art.width_mm, h = piece->drawing.art.height_mm;
    std::array<QDoubleSpinBox*, 4> box{
        add_number(grid, {u"box_left"_s, tr("Left, from the page's left edge"), u"mm"_s, -1000, 10000, 0}, dialog),
        add_number(grid, {u"box_low"_s, tr("Low, from its lower edge"), u"mm"_s, -1000, 10000, 0}, dialog),
        add_number(grid, {u"box_width"_s, tr("Width"), u"mm"_s, 0.01, 10000, w}, dialog),
        add_number(grid, {u"box_height"_s, tr("Height"), u"mm"_s, 0.01, 10000, h}, dialog)};
    auto* buttons = new QDialogButtonBox(dialog);
    buttons->addButton(tr("Make a layer of it"), QDialogButtonBox::AcceptRole)->setObjectName(u"box_take"_s);
    buttons->addButton(QDialogButtonBox::Cancel);
    grid->addWidget(buttons, grid->rowCount(), 0, 1, 2);
    connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, dialog, &QDialog::accept);
    connect(dialog, &QDialog::accepted, this, [this, box] {
        const QRectF r(box[0]->value(), box[1]->value(), box[2]->value(), box[3]->value());
        take_round(QPolygonF({r.topLeft(), r.topRight(), r.bottomRight(), r.bottomLeft()}));
    });
    dialog->open();
}

} // namespace finch::app
