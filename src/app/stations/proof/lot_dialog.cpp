// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/lot_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"
#include "proof/palette.h"

#include <QDialogButtonBox>
#include <QFormLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

struct Proven {
    Lab lab;
    QString where;
};
/// As it can be typed, to a tenth.
QString typed(const Lab& lab) {
    return u"%1 %2 %3"_s.arg(QString::number(lab.l, 'f', 1), QString::number(lab.a, 'f', 1),
                             QString::number(lab.b, 'f', 1));
}

/// The newest reading of the recipe among the sheets at hand, on any lot.
std::optional<Proven> proven(const Workbench& w) {
    for (auto it = w.rounds().rbegin(); it != w.rounds().rend(); ++it) {
        const Round& r = *it;
        if (!r.reading || r.sheet.ladder)
            continue;
        for (std::size_t i = 0; i < r.sheet.cells(); ++i) {
            const CellReading& c = r.reading->cells.at(i);
            if (r.sheet.holds(i) && c.state == CellState::read && !c.spoiled &&
                cell_recipe(r.sheet, i).setting == w.draft().recipe.setting)
                return Proven{c.lab,
                              QObject::tr("read on sheet %1, cell %2%3")
                                  .arg(r.sheet.number)
                                  .arg(q(cell_name(r.sheet, i)),
                                       r.setup.stock.lot.empty() ? QString()
                                                                 : QObject::tr(", lot %1").arg(q(r.setup.stock.lot)))};
        }
    }
    return std::nullopt;
}

} // namespace

LotDialog::LotDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), expected_(new QLineEdit(this)),
      accept_(new QDoubleSpinBox(this)), says_(text_label({}, TextStyle::small, this)) {
    setObjectName(u"lot_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Check a lot"));
    const Draft& d = workbench_.draft();
    const auto known = proven(workbench_);
    expected_->setObjectName(u"lot_expected"_s);
    expected_->setPlaceholderText(tr("L* a* b*, a name or #RRGGBB"));
    if (known || !d.target.depth)
        expected_->setText(typed(known ? known->lab : d.target.lab));
    accept_->setObjectName(u"lot_accept"_s);
    accept_->setRange(0.5, 20);
    accept_->setDecimals(1);
    accept_->setSingleStep(0.5);
    accept_->setValue(d.target.accept_de);
    says_->setWordWrap(true);
    says_->setMinimumWidth(420);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    form->addRow(tr("Recipe"), text_label(recipe_line(d.recipe), TextStyle::value, this));
    form->addRow(tr("Lot"),
                 text_label(d.setup.stock.lot.empty() ? tr("no name") : q(d.setup.stock.lot), TextStyle::body, this));
    form->addRow(tr("Expected colour"), expected_);
    form->addRow({}, text_label(known ? known->where : tr("the target's: no sheet at hand shows this recipe"),
                                TextStyle::small, this));
    form->addRow(tr("Passes within"), accept_);
    form->addRow(says_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    plan_ = buttons->addButton(tr("Plan the five cells"), QDialogButtonBox::AcceptRole);
    plan_->setObjectName(u"lot_plan"_s);
    plan_->setDefault(true);
    form->addRow(buttons);
    connect(expected_, &QLineEdit::textChanged, this, &LotDialog::refresh);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &LotDialog::plan);
    refresh();
}

void LotDialog::refresh() {
    const auto expected = wanted_from_text(expected_->text().toStdString());
    plan_->setEnabled(expected.has_value());
    says_->setText(expected ? tr("Five cells with up to 9 % less and more power say whether this lot does the same, "
                                 "does it with another dose, or does not do it.")
                            : from_utf8(expected.error().message + " " + expected.error().fix));
}

void LotDialog::plan() {
    const auto expected = wanted_from_text(expected_->text().toStdString());
    if (expected && flow_.plan_lot_check({expected->lab, accept_->value()}))
        accept();
}

} // namespace finch::app

#include "moc_lot_dialog.cpp"
