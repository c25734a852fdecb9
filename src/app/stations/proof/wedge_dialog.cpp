// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/wedge_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

WedgeDialog::WedgeDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), passes_(new QSpinBox(this)), steps_(new QSpinBox(this)),
      times_(new QSpinBox(this)), says_(text_label({}, TextStyle::small, this)) {
    setObjectName(u"wedge_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Step wedge"));
    const auto count = [&](QSpinBox* box, const QString& name, int low, int high, int value) {
        box->setObjectName(name);
        box->setRange(low, high);
        box->setValue(value);
        connect(box, &QSpinBox::valueChanged, this, &WedgeDialog::refresh);
    };
    const Recipe& recipe = workbench_.draft().recipe;
    const WedgeRequest usual;
    count(passes_, u"wedge_passes"_s, 3, most_passes, std::max(usual.most_passes, recipe.setting.passes));
    count(steps_, u"wedge_steps"_s, 3, 12, static_cast<int>(usual.steps));
    count(times_, u"wedge_times"_s, 1, 4, static_cast<int>(usual.times));
    times_->setSuffix(tr(" times"));
    says_->setWordWrap(true);
    says_->setMinimumWidth(420);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    form->addRow(tr("Recipe"), text_label(recipe_line(recipe), TextStyle::value, this));
    form->addRow(tr("Up to"), passes_);
    passes_->setSuffix(tr(" passes"));
    form->addRow(tr("Steps"), steps_);
    form->addRow(tr("Each"), times_);
    form->addRow(says_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    auto* plan = buttons->addButton(tr("Plan the wedge"), QDialogButtonBox::AcceptRole);
    plan->setObjectName(u"wedge_plan"_s);
    plan->setDefault(true);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this, &flow] {
        if (flow.plan_wedge(request()))
            accept();
    });
    refresh();
}

WedgeRequest WedgeDialog::request() const {
    return {passes_->value(), static_cast<std::size_t>(steps_->value()), static_cast<std::size_t>(times_->value())};
}

void WedgeDialog::refresh() {
    const WedgeRequest r = request();
    says_->setText(tr("%1 cells from one pass to %2, in equal ratios, at places drawn by chance. Their depths are "
                      "measured (Ctrl+Shift+G) and say what a pass takes, how that falls off, and how many passes the "
                      "wanted depth needs.")
                       .arg(r.steps * r.times)
                       .arg(r.most_passes));
}

} // namespace finch::app

#include "moc_wedge_dialog.cpp"
