// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/compare_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>
#include <QSpinBox>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// What differs between two recipes, knob by knob.
QString differences(const Recipe& a, const Recipe& b) {
    QStringList out;
    for (const Knob k : all_knobs) {
        const KnobTraits& t = traits(k);
        if (t.get(a) != t.get(b))
            out << QObject::tr("%1 %2 against %3 %4")
                       .arg(from_utf8(t.label), screen_number(t.get(a) * t.screen_factor, 4),
                            screen_number(t.get(b) * t.screen_factor, 4), from_utf8(t.screen_unit));
    }
    return out.join(u"; "_s);
}

} // namespace

CompareDialog::CompareDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), first_(new QComboBox(this)), second_(new QComboBox(this)),
      pairs_(new QSpinBox(this)), measure_(new QComboBox(this)), matters_(new QDoubleSpinBox(this)),
      differs_(text_label({}, TextStyle::body, this)) {
    setObjectName(u"compare_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Compare two recipes"));
    const Draft& d = workbench_.draft();
    recipes_.emplace_back(tr("as it is set now"), d.recipe);
    if (d.saved)
        recipes_.emplace_back(tr("saved: %1").arg(q(d.saved->name)), *d.saved);
    if (const Round* r = workbench_.round())
        for (const RankedCell& c : flow_.ranking())
            if (recipes_.size() < 8)
                recipes_.emplace_back(tr("sheet %1, cell %2").arg(r->sheet.number).arg(q(cell_name(r->sheet, c.cell))),
                                      cell_recipe(r->sheet, c.cell));
    for (QComboBox* box : {first_, second_})
        for (const auto& [name, recipe] : recipes_)
            box->addItem(name);
    first_->setObjectName(u"compare_first"_s);
    second_->setObjectName(u"compare_second"_s);
    // The present recipe against the first other one that is not the same.
    for (std::size_t i = 1; i < recipes_.size(); ++i)
        if (!(recipes_[i].second.setting == d.recipe.setting)) {
            first_->setCurrentIndex(static_cast<int>(i));
            break;
        }
    pairs_->setObjectName(u"compare_pairs"_s);
    pairs_->setRange(3, 24);
    pairs_->setValue(8);
    measure_->setObjectName(u"compare_measure"_s);
    for (const Measure m : {Measure::lightness, Measure::chroma, Measure::a, Measure::b})
        measure_->addItem(from_utf8(word(m)));
    matters_->setObjectName(u"compare_matters"_s);
    matters_->setRange(0, 50);
    matters_->setDecimals(1);
    matters_->setSingleStep(0.5);
    matters_->setValue(1);
    differs_->setWordWrap(true);
    differs_->setMinimumWidth(380);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    form->addRow(tr("First"), first_);
    form->addRow(tr("Second"), second_);
    form->addRow(differs_);
    form->addRow(tr("Pairs"), pairs_);
    form->addRow(tr("Compared by"), measure_);
    form->addRow(tr("It matters from"), matters_);
    auto* note = text_label(tr("Each pair is burned side by side, one after the other; which comes first is drawn by "
                               "chance. What matters is settled now, so that the readings cannot move it."),
                            TextStyle::small, this);
    note->setWordWrap(true);
    form->addRow(note);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    plan_ = buttons->addButton(tr("Plan the pairs"), QDialogButtonBox::AcceptRole);
    plan_->setObjectName(u"compare_plan"_s);
    form->addRow(buttons);
    for (QComboBox* box : {first_, second_})
        connect(box, &QComboBox::currentIndexChanged, this, &CompareDialog::refresh);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &CompareDialog::plan);
    refresh();
}

ComparisonRequest CompareDialog::request() const {
    const auto at = [&](const QComboBox* box) {
        return recipes_.at(static_cast<std::size_t>(box->currentIndex())).second;
    };
    return {at(first_), at(second_), static_cast<std::size_t>(pairs_->value()),
            static_cast<Measure>(measure_->currentIndex()), matters_->value()};
}

void CompareDialog::refresh() {
    const ComparisonRequest r = request();
    const QString what = differences(r.first, r.second);
    differs_->setText(what.isEmpty() ? tr("Both are the same. Change a knob, save a recipe or read a sheet first.")
                                     : what);
    plan_->setEnabled(!what.isEmpty());
}

void CompareDialog::plan() {
    if (flow_.plan_comparison(request(), tr("%1 against %2").arg(first_->currentText(), second_->currentText())))
        accept();
}

} // namespace finch::app

#include "moc_compare_dialog.cpp"
