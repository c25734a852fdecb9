// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/openings_dialog.h"

#include "app/stations/proof/proof_view.h"
#include "app/stations/proof/share_delegate.h"
#include "app/theme/label.h"

#include <algorithm>
#include <cmath>
#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

enum Column { way, cells, minutes, plate, chance, spoiled, columns };
} // namespace

OpeningsDialog::OpeningsDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), finder_(workbench),
      table_(new QTableWidget(0, columns, this)), preview_(new SheetWidget(u"opening_preview"_s, this)),
      idea_(plain_label({}, TextStyle::body, this)), state_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"openings_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Ways to begin"));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    const Draft& d = workbench_.draft();
    auto* head = text_label(
        d.target.depth ? tr("For %1, within %2, on %3")
                             .arg(q(d.target.name), um_text(d.target.depth->within_um), q(workbench_.metal().name))
                       : tr("For %1, within %2 CIEDE2000, on %3")
                             .arg(q(d.target.name), screen_number(d.target.accept_de, 2), q(workbench_.metal().name)),
        TextStyle::section, this);
    box->addWidget(head);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(16);
    table_->setObjectName(u"openings"_s);
    table_->setAccessibleName(tr("Ways to begin"));
    table_->setHorizontalHeaderLabels(
        {tr("Way"), tr("Cells"), tr("Minutes"), tr("Plate, cm²"), tr("Chance, %"), tr("Spoiled")});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(34);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(way, QHeaderView::Stretch);
    for (const int column : {minutes, chance})
        table_->setItemDelegateForColumn(column, new ShareDelegate(table_));
    table_->setMinimumSize(590, 400);
    middle->addWidget(table_, 3);
    auto* right = new QVBoxLayout;
    preview_->setMinimumSize(320, 260);
    preview_->setFocusPolicy(Qt::NoFocus);
    preview_->setAccessibleName(tr("The sheet as predicted"));
    right->addWidget(preview_, 1);
    idea_->setObjectName(u"opening_idea"_s);
    idea_->setWordWrap(true);
    idea_->setMinimumHeight(56);
    idea_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    right->addWidget(idea_);
    middle->addLayout(right, 2);
    box->addLayout(middle, 1);
    state_->setWordWrap(true);
    box->addWidget(state_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    plan_ = buttons->addButton(tr("Plan this sheet"), QDialogButtonBox::AcceptRole);
    plan_->setObjectName(u"opening_plan"_s);
    plan_->setDefault(true);
    box->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &OpeningsDialog::plan);
    connect(table_, &QTableWidget::itemSelectionChanged, this, &OpeningsDialog::show_chosen);
    connect(table_, &QTableWidget::itemDoubleClicked, this, &OpeningsDialog::plan);
    connect(&finder_, &OpeningFinder::changed, this, &OpeningsDialog::refresh);
    finder_.start();
}

const OpeningPlan* OpeningsDialog::chosen() const {
    const int row = table_->currentRow();
    return row >= 0 && row < static_cast<int>(finder_.plans().size()) ? &finder_.plans()[static_cast<std::size_t>(row)]
                                                                      : nullptr;
}

void OpeningsDialog::refresh() {
    const auto& plans = finder_.plans();
    state_->setText(finder_.running() ? tr("Working out what each would cost and promise …")
                    : !finder_.reason().isEmpty()
                        ? finder_.reason()
                        : tr("Chance: that one cell of the first sheet meets the target, on the "
                             "safe side, by all that is known of this bench and lot. Minutes "
                             "with markers and letters."));
    table_->setRowCount(static_cast<int>(plans.size()));
    double longest = 0;
    for (const OpeningPlan& p : plans)
        longest = std::max(longest, p.seconds);
    for (std::size_t i = 0; i < plans.size(); ++i) {
        const OpeningPlan& p = plans[i];
        const auto put = [&](Column column, const QString& text, std::optional<double> share = {}) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment(column == way ? Qt::AlignLeft | Qt::AlignVCenter
                                                 : Qt::AlignRight | Qt::AlignVCenter);
            if (column != way)
                item->setFont(text_font(TextStyle::value));
            else
                item->setFont(text_font(p.key == "designed" ? TextStyle::head : TextStyle::body));
            if (share)
                item->setData(share_role, *share);
            table_->setItem(static_cast<int>(i), column, item);
        };
        put(way, q(p.name));
        put(cells, QString::number(p.cells));
        put(minutes, QString::number(p.seconds / 60, 'f', 1), longest > 0 ? p.seconds / longest : 0);
        put(plate, QString::number(std::lround(p.plate_mm2 / 100)));
        put(chance, QString::number(std::lround(100 * std::min(p.promise, 0.99))), p.promise);
        put(spoiled, QString::number(p.expected_damage, 'f', 1));
    }
    if (!plans.empty() && table_->currentRow() < 0)
        table_->selectRow(0);
    show_chosen();
}

void OpeningsDialog::show_chosen() {
    const OpeningPlan* p = chosen();
    plan_->setEnabled(p != nullptr);
    idea_->setText(p != nullptr ? q(p->idea) : QString());
    if (p == nullptr)
        return preview_->show_view({});
    const Scene scene = workbench_.scene();
    preview_->show_view(
        sheet_view(workbench_, scene, p->sheet, forecast(p->sheet, scene), std::nullopt, LevelKind::pulses_per_mm2));
}

void OpeningsDialog::plan() {
    const OpeningPlan* p = chosen();
    if (p == nullptr)
        return;
    // A sheet for another metal or recipe than is set now would be burned on the wrong thing.
    if (!finder_.up_to_date()) {
        workbench_.say(tr("The work at hand changed while the ways were compared. They are compared again."),
                       State::warn);
        return finder_.start();
    }
    flow_.plan_opening(*p);
    accept();
}

} // namespace finch::app

#include "moc_openings_dialog.cpp"
