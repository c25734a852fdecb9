// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/wish_dialog.h"

#include "app/instruments/edit_field.h"
#include "app/instruments/paint.h"
#include "app/session/text.h"
#include "app/theme/label.h"
#include "physics/colour_text.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QSpinBox>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QDialogButtonBox* buttons(QDialog* dialog) {
    auto* box = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, dialog);
    QObject::connect(box, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    return box;
}

EditField* number_field(const QString& name, const QString& title, double value, double low, double high,
                        QWidget* parent) {
    auto* f = new EditField(name, title, QuantityKind::ratio, {{}, {}, {}, low, high, DecimalSign::automatic}, parent);
    f->show_value(value);
    return f;
}

} // namespace

WishDialog::WishDialog(const Wish& wish, QWidget* parent) : QDialog(parent), wish_(wish) {
    setObjectName(u"wish_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    const WishTraits& t = traits(wish.kind);
    setWindowTitle(from_utf8(t.label));
    setMinimumWidth(360);
    auto* form = new QFormLayout(this);
    auto* fault = text_label({}, TextStyle::small, this);
    fault->setWordWrap(true);
    const QString unit = from_utf8(t.unit);
    const bool plain = wish.kind == WishKind::coat_kept || wish.kind == WishKind::metal_unmarked;
    if (wish.kind == WishKind::colour) {
        auto* lab = new QLineEdit(lab_text(wish.lab), this);
        lab->setObjectName(u"wish_lab"_s);
        lab->setAccessibleName(tr("Colour"));
        lab->setProperty("mono", true);
        form->addRow(tr("L* a* b*, or #value"), lab);
        connect(lab, &QLineEdit::editingFinished, this, [this, lab, fault] {
            const auto read = lab_from_text(lab->text().toStdString());
            fault->setText(read ? QString() : QString::fromStdString(sentence(read.error())));
            if (read)
                wish_.lab = *read;
        });
    }
    if (!plain) {
        auto* value = number_field(u"wish_value"_s, from_utf8(t.label), wish.value, t.low, t.most, this);
        const QString what = wish.kind == WishKind::colour  ? tr("No farther off than")
                             : wish.kind == WishKind::depth ? tr("From")
                                                            : tr("Limit");
        form->addRow(unit.isEmpty() ? what : tr("%1, %2").arg(what, unit), value);
        connect(value, &EditField::entered, this, [this](double v) { wish_.value = v; });
        connect(value, &EditField::complained, fault, &QLabel::setText);
    }
    if (wish.kind == WishKind::depth || wish.kind == WishKind::viewing_angle) {
        const bool depth = wish.kind == WishKind::depth;
        auto* high = number_field(u"wish_high"_s, depth ? tr("Deepest") : tr("Contrast"), wish.high, 0.1, 5000, this);
        form->addRow(depth ? tr("to, µm") : tr("contrast ΔL*, at least"), high);
        connect(high, &EditField::entered, this, [this](double v) { wish_.high = v; });
        connect(high, &EditField::complained, fault, &QLabel::setText);
    }
    auto* must = new QCheckBox(tr("It must be so"), this);
    must->setObjectName(u"wish_must"_s);
    must->setChecked(wish.must);
    form->addRow(must);
    form->addRow(fault);
    auto* box = buttons(this);
    form->addRow(box);
    connect(box, &QDialogButtonBox::accepted, this, [this, must] {
        wish_.must = must->isChecked();
        if (wish_.kind == WishKind::depth && wish_.high < wish_.value)
            std::swap(wish_.high, wish_.value);
        Q_EMIT accepted_wish(wish_);
        accept();
    });
}

PieceDialog::PieceDialog(const Aim& aim, QWidget* parent) : QDialog(parent), aim_(aim) {
    setObjectName(u"piece_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("The piece"));
    setMinimumWidth(480);
    auto* form = new QFormLayout(this);
    const auto line = [this](const QString& name, const std::string& text) {
        auto* l = new QLineEdit(QString::fromStdString(text), this);
        l->setObjectName(name);
        l->setAccessibleName(name);
        l->setMaxLength(60);
        return l;
    };
    auto* title = line(u"aim_title"_s, aim.title);
    auto* place = line(u"aim_place"_s, aim.place);
    auto* pieces = new QSpinBox(this);
    pieces->setObjectName(u"aim_pieces"_s);
    pieces->setAccessibleName(tr("Pieces"));
    pieces->setRange(1, 1000000);
    pieces->setValue(aim.pieces);
    auto* area = number_field(u"aim_area"_s, tr("Filled area"), aim.fill.area_mm2, 0.01, 1e6, this);
    auto* side = new EditField(u"aim_line"_s, tr("Length of a line"), QuantityKind::length,
                               {{"mm"}, {}, {}, 0.1, 1000, DecimalSign::automatic}, this);
    side->show_value(in_mm(aim.fill.line_length));
    auto* works = new QCheckBox(tr("A working part: balance, stress or rust matter"), this);
    works->setObjectName(u"aim_working"_s);
    works->setChecked(aim.working_part);
    auto* pigment = number_field(u"aim_pigment"_s, tr("Darkness of the pigment"), aim.pigment_l, 0, 100, this);
    form->addRow(tr("Name"), title);
    form->addRow(tr("Lives"), place);
    form->addRow(tr("Pieces"), pieces);
    form->addRow(tr("Filled on each, mm²"), area);
    form->addRow(tr("Lines are long"), side);
    form->addRow(works);
    form->addRow(tr("Slate, rubber, acrylic: pigment L*"), pigment);
    auto* fault = text_label({}, TextStyle::small, this);
    fault->setWordWrap(true);
    form->addRow(fault);
    connect(area, &EditField::entered, this, [this](double v) { aim_.fill.area_mm2 = v; });
    connect(side, &EditField::entered, this, [this](double v) { aim_.fill.line_length = mm(v); });
    connect(pigment, &EditField::entered, this, [this](double v) { aim_.pigment_l = v; });
    for (EditField* f : {area, side, pigment})
        connect(f, &EditField::complained, fault, &QLabel::setText);
    auto* box = buttons(this);
    form->addRow(box);
    connect(box, &QDialogButtonBox::accepted, this, [this, title, place, pieces, works] {
        aim_.title = title->text().trimmed().toStdString();
        aim_.place = place->text().trimmed().toStdString();
        aim_.pieces = pieces->value();
        aim_.working_part = works->isChecked();
        Q_EMIT accepted_aim(aim_);
        accept();
    });
}

} // namespace finch::app

#include "moc_wish_dialog.cpp"
