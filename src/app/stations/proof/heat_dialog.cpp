// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/heat_dialog.h"

#include "app/theme/label.h"
#include "recipe/knob_effects.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

HeatDialog::HeatDialog(Workbench& workbench, QWidget* parent) : QDialog(parent), workbench_(workbench) {
    setObjectName(u"heat_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("More or less heat"));
    setMinimumWidth(620);
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    auto* head = new QHBoxLayout;
    auto* more = new QPushButton(tr("More heat"), this);
    more->setObjectName(u"more_heat"_s);
    auto* less = new QPushButton(tr("Less heat"), this);
    less->setObjectName(u"less_heat"_s);
    auto* group = new QButtonGroup(this);
    for (QPushButton* b : {more, less}) {
        b->setCheckable(true);
        b->setProperty("segment", true);
        group->addButton(b);
        head->addWidget(b);
    }
    head->addStretch(1);
    box->addLayout(head);
    box->addWidget(text_label(tr("Each step is about a tenth. Gentlest on time first."), TextStyle::small, this));
    list_ = new QVBoxLayout;
    list_->setSpacing(6);
    box->addLayout(list_);
    box->addSpacing(6);
    box->addWidget(text_label(tr("Pulse frequency does four things at once"), TextStyle::head, this));
    for (const double factor : {0.5, 2.0}) {
        const FrequencyEffects e = frequency_effects(workbench_.scene(), workbench_.draft().recipe, factor);
        auto* l = text_label(QString::fromStdString(e.words), TextStyle::body, this);
        l->setWordWrap(true);
        box->addWidget(l);
    }
    auto* shut = new QPushButton(tr("Close"), this);
    box->addWidget(shut, 0, Qt::AlignRight);
    connect(shut, &QPushButton::clicked, this, &QDialog::close);
    connect(more, &QPushButton::clicked, this, [this] { fill(true); });
    connect(less, &QPushButton::clicked, this, [this] { fill(false); });
    more->setChecked(true);
    fill(true);
}

void HeatDialog::fill(bool more) {
    while (QLayoutItem* item = list_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const Draft& d = workbench_.draft();
    int index = 0;
    for (const KnobEffect& e : heat_advice(workbench_.scene(), d.recipe, d.fill, more)) {
        auto* row = new QWidget(this);
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        auto* words = text_label(QString::fromStdString(e.words), TextStyle::body, row);
        words->setWordWrap(true);
        auto* turn = new QPushButton(tr("Turn"), row);
        turn->setObjectName(u"turn_%1"_s.arg(index++));
        turn->setProperty("small", true);
        line->addWidget(words, 1);
        line->addWidget(turn);
        connect(turn, &QPushButton::clicked, this, [this, e] {
            workbench_.set_knob(e.knob, e.to);
            close();
        });
        list_->addWidget(row);
    }
}

} // namespace finch::app
