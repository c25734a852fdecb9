// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/ladder_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"
#include "proof/layout.h"
#include "quantity/format.h"

#include <QDialogButtonBox>
#include <QFormLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

LadderDialog::LadderDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), reach_(new QDoubleSpinBox(this)),
      about_(new QDoubleSpinBox(this)), steps_(new QSpinBox(this)),
      close_(new QRadioButton(tr("Close together: best focus, and how far the mark holds"), this)),
      over_field_(new QRadioButton(tr("All over the field: tilt and bow as well"), this)),
      takes_(text_label({}, TextStyle::body, this)) {
    setObjectName(u"ladder_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Focus ladder"));
    const auto length = [](QDoubleSpinBox* box, const QString& name, double low, double high, double value) {
        box->setObjectName(name);
        box->setRange(low, high);
        box->setDecimals(2);
        box->setSingleStep(0.1);
        box->setSuffix(u" mm"_s);
        box->setValue(value);
    };
    length(reach_, u"ladder_reach"_s, 0.1, 50, in_mm(ladder_reach(workbench_.bench())));
    length(about_, u"ladder_about"_s, -50, 50, 0);
    steps_->setObjectName(u"ladder_steps"_s);
    steps_->setRange(7, 25);
    steps_->setValue(13);
    close_->setObjectName(u"ladder_close"_s);
    over_field_->setObjectName(u"ladder_over_field"_s);
    over_field_->setChecked(true);
    takes_->setWordWrap(true);
    takes_->setMinimumWidth(420);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    auto* recipe = text_label(recipe_line(workbench_.draft().recipe), TextStyle::value, this);
    form->addRow(tr("Recipe"), recipe);
    form->addRow(tr("To each side"), reach_);
    form->addRow(tr("About"), about_);
    form->addRow(tr("Offsets"), steps_);
    form->addRow(over_field_);
    form->addRow(close_);
    form->addRow(takes_);
    auto* note =
        text_label(tr("The marks are burned from the lowest head upwards, so that the column always comes from "
                      "one side; where each offset lies is drawn by chance. Take a recipe that focus matters "
                      "to: the one for the piece is best."),
                   TextStyle::small, this);
    note->setWordWrap(true);
    form->addRow(note);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    plan_ = buttons->addButton(tr("Plan the ladder"), QDialogButtonBox::AcceptRole);
    plan_->setObjectName(u"ladder_plan"_s);
    plan_->setDefault(true);
    form->addRow(buttons);
    for (QDoubleSpinBox* box : {reach_, about_})
        connect(box, &QDoubleSpinBox::valueChanged, this, &LadderDialog::refresh);
    connect(steps_, &QSpinBox::valueChanged, this, &LadderDialog::refresh);
    connect(close_, &QRadioButton::toggled, this, &LadderDialog::refresh);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &LadderDialog::plan);
    refresh();
}

LadderRequest LadderDialog::request() const {
    return {mm(reach_->value()), mm(about_->value()), static_cast<std::size_t>(steps_->value()),
            over_field_->isChecked()};
}

void LadderDialog::refresh() {
    // As it will be planned, but for what chance decides and the letters.
    SheetRequest r = workbench_.draft().request;
    r.base = workbench_.draft().recipe;
    const auto sheet = plan_focus_ladder(r, request(), workbench_.bench(), r.base, 1);
    plan_->setEnabled(sheet.has_value());
    if (!sheet)
        return takes_->setText(from_utf8(sheet.error().message + " " + sheet.error().fix));
    const SheetLayout at = finch::layout(*sheet);
    double seconds = 0;
    for (const CellForecast& c : forecast(*sheet, workbench_.scene()).cells)
        seconds += c.time_s;
    takes_->setText(tr("%1 marks on %2 × %3 mm, %4 of burning and %5 moves of the head.")
                        .arg(sheet->own.size())
                        .arg(screen_number(at.width_mm, 3), screen_number(at.height_mm, 3), screen_duration(seconds))
                        .arg(steps_->value()));
}

void LadderDialog::plan() {
    if (flow_.plan_ladder(request()))
        accept();
}

} // namespace finch::app

#include "moc_ladder_dialog.cpp"
