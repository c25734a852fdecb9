// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/threshold_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

ThresholdDialog::ThresholdDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), low_(new QDoubleSpinBox(this)),
      high_(new QDoubleSpinBox(this)), powers_(new QSpinBox(this)), times_(new QSpinBox(this)),
      says_(text_label({}, TextStyle::small, this)) {
    setObjectName(u"threshold_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Search a threshold"));
    const Recipe& recipe = workbench_.draft().recipe;
    ThresholdRequest first;
    first.high_percent = recipe.setting.power_percent;
    first.low_percent = first.high_percent / 6;
    QString from = tr("from a sixth of the recipe's power up to it");
    // The sheet that was read last says where the next one is best laid.
    if (const Round* r = workbench_.round(); r != nullptr && r->sheet.threshold && r->reading)
        if (const auto found = judge_threshold(r->sheet, *r->reading, r->setup.bench)) {
            first = found->next;
            from = tr("as sheet %1 suggests").arg(r->sheet.number);
        }
    const auto power = [&](QDoubleSpinBox* box, const QString& name, double value) {
        box->setObjectName(name);
        box->setRange(0.1, 100);
        box->setDecimals(1);
        box->setSuffix(u" %"_s);
        box->setValue(value);
        connect(box, &QDoubleSpinBox::valueChanged, this, &ThresholdDialog::refresh);
    };
    const auto count = [&](QSpinBox* box, const QString& name, int low, int high, std::size_t value) {
        box->setObjectName(name);
        box->setRange(low, high);
        box->setValue(static_cast<int>(value));
        connect(box, &QSpinBox::valueChanged, this, &ThresholdDialog::refresh);
    };
    power(low_, u"threshold_low"_s, first.low_percent);
    power(high_, u"threshold_high"_s, first.high_percent);
    count(powers_, u"threshold_powers"_s, 5, 16, first.powers);
    count(times_, u"threshold_times"_s, 2, 6, first.times);
    says_->setWordWrap(true);
    says_->setMinimumWidth(420);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    form->addRow(tr("Recipe"), text_label(recipe_line(recipe), TextStyle::value, this));
    form->addRow(tr("Weakest"), low_);
    form->addRow(tr("Strongest"), high_);
    form->addRow({}, text_label(from, TextStyle::small, this));
    form->addRow(tr("Powers"), powers_);
    form->addRow(tr("Each"), times_);
    times_->setSuffix(tr(" times"));
    form->addRow(says_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    auto* plan = buttons->addButton(tr("Plan the sheet"), QDialogButtonBox::AcceptRole);
    plan->setObjectName(u"threshold_plan"_s);
    plan->setDefault(true);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &ThresholdDialog::plan);
    refresh();
}

ThresholdRequest ThresholdDialog::request() const {
    return {low_->value(), high_->value(), static_cast<std::size_t>(powers_->value()),
            static_cast<std::size_t>(times_->value())};
}

void ThresholdDialog::refresh() {
    const ThresholdRequest r = request();
    const double step = 100 * (std::pow(r.high_percent / r.low_percent, 1.0 / static_cast<double>(r.powers - 1)) - 1);
    says_->setText(tr("%1 cells in steps of %2 %, at places drawn by chance. What shows is read from the photograph; "
                      "what is molten or torn you tick. The sheet says at which power each begins, how surely, and up "
                      "to which the stock is spared.")
                       .arg(r.powers * r.times)
                       .arg(screen_number(std::max(0.0, step), 2)));
}

void ThresholdDialog::plan() {
    if (flow_.plan_threshold(request()))
        accept();
}

} // namespace finch::app

#include "moc_threshold_dialog.cpp"
