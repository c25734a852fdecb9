// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/offset_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

OffsetDialog::OffsetDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), reach_(new QDoubleSpinBox(this)),
      offsets_(new QSpinBox(this)), says_(text_label({}, TextStyle::small, this)) {
    setObjectName(u"offset_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("In focus, or out of it"));
    reach_->setObjectName(u"offset_reach"_s);
    reach_->setRange(0.1, 50);
    reach_->setDecimals(2);
    reach_->setSingleStep(0.1);
    reach_->setSuffix(u" mm"_s);
    reach_->setValue(in_mm(offset_reach(workbench_.bench())));
    offsets_->setObjectName(u"offset_count"_s);
    offsets_->setRange(3, 13);
    offsets_->setSingleStep(2);
    offsets_->setValue(7);
    says_->setWordWrap(true);
    says_->setMinimumWidth(420);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    form->addRow(tr("Recipe"), text_label(recipe_line(workbench_.draft().recipe), TextStyle::value, this));
    form->addRow(tr("Target"), text_label(q(workbench_.draft().target.name), TextStyle::body, this));
    form->addRow(tr("To each side"), reach_);
    form->addRow(tr("Offsets"), offsets_);
    form->addRow(says_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    auto* plan = buttons->addButton(tr("Plan the sheet"), QDialogButtonBox::AcceptRole);
    plan->setObjectName(u"offset_plan"_s);
    plan->setDefault(true);
    form->addRow(buttons);
    connect(reach_, &QDoubleSpinBox::valueChanged, this, &OffsetDialog::refresh);
    connect(offsets_, &QSpinBox::valueChanged, this, &OffsetDialog::refresh);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &OffsetDialog::plan);
    refresh();
}

void OffsetDialog::refresh() {
    const Bench& bench = workbench_.bench();
    const BeamWaist beam = waist(bench.lens(), bench.source.wavelength);
    says_->setText(
        tr("At each offset, on both sides, the pitch keeps its share of the spot and the speed is chosen so that the "
           "model sees the same film; a sixth less and more stand below and above it. The spot grows from %1 to %2 µm: "
           "detail finer than that is lost. Offsets that the bench cannot do, or that would cut, are left out.")
            .arg(screen_number(1000 * in_mm(beam.spot), 3),
                 screen_number(1000 * in_mm(spot_at(beam, mm(reach_->value()))), 3)));
}

void OffsetDialog::plan() {
    if (flow_.plan_offsets({mm(reach_->value()), static_cast<std::size_t>(offsets_->value() | 1)}))
        accept();
}

} // namespace finch::app

#include "moc_offset_dialog.cpp"
