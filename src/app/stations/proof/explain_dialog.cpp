// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/explain_dialog.h"

#include "app/session/text.h"
#include "app/stations/proof/share_delegate.h"
#include "app/theme/label.h"
#include "evidence/learn.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {
enum ExplainColumn { number_of, explains, surely, spread, explain_columns };
} // namespace

ExplainDialog::ExplainDialog(Workbench& workbench, QWidget* parent)
    : QDialog(parent), table_(new QTableWidget(0, explain_columns, this)),
      words_(plain_label(tr("Looking at what was read on this bench and lot \u2026"), TextStyle::body, this)) {
    setObjectName(u"explain_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("What the colour follows"));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    words_->setObjectName(u"explain_words"_s);
    words_->setWordWrap(true);
    words_->setMinimumHeight(76);
    words_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(words_);
    table_->setObjectName(u"explain_table"_s);
    table_->setAccessibleName(tr("What the colour follows"));
    table_->setHorizontalHeaderLabels(
        {tr("Number"), tr("Explains, %"), tr("nine in ten"), tr("varied by a factor of")});
    table_->verticalHeader()->hide();
    for (const ExplainColumn column : {explains, surely, spread})
        table_->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeaderItem(number_of)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->verticalHeader()->setDefaultSectionSize(34);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(number_of, QHeaderView::Stretch);
    table_->setItemDelegateForColumn(explains, new ShareDelegate(table_));
    table_->setMinimumSize(620, 350);
    box->addWidget(table_, 1);
    auto* note = plain_label(tr("Of the squared differences in L* a* b* between places that were read, as much as is "
                                "told by that one number from the places of other sheets; of less than three sheets, "
                                "from the other places, which flatters cells that were burned twice. Numbers that were "
                                "turned together cannot be told apart: a sheet that turns them apart can."),
                             TextStyle::small, this);
    note->setWordWrap(true);
    note->setMinimumHeight(54);
    box->addWidget(note);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    box->addWidget(buttons);
    const Knowledge* known = workbench.ledger().knowledge(evidence_key(workbench.draft().setup));
    work_.ask(
        "finding what the colours follow",
        [materials = workbench.shared_materials(), setup = workbench.draft().setup,
         seen = known != nullptr ? known->observations : std::vector<Observation>()] {
            return what_explains(*materials, setup, seen);
        },
        [this](const Expected<Explanations>& found) { show_found(found); });
}

void ExplainDialog::show_found(const Expected<Explanations>& found) {
    if (!found) {
        words_->setText(from_utf8(found.error().message + " " + found.error().fix));
        return;
    }
    words_->setText(from_utf8(found->words));
    table_->setRowCount(static_cast<int>(found->quantities.size()));
    for (std::size_t i = 0; i < found->quantities.size(); ++i) {
        const Explaining& e = found->quantities[i];
        const auto percent = [](double share) { return QString::number(std::lround(100 * std::max(0.0, share))); };
        const auto put = [&](ExplainColumn column, const QString& text) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment((column == number_of ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
            item->setFont(text_font(column != number_of ? TextStyle::value
                                    : e.modelled        ? TextStyle::head
                                                        : TextStyle::body));
            table_->setItem(static_cast<int>(i), column, item);
            return item;
        };
        QString name = from_utf8(e.name);
        name[0] = name[0].toUpper();
        put(number_of, name);
        put(explains, e.varied ? percent(e.share) : tr("not varied"))->setData(share_role, e.share);
        put(surely, e.varied ? u"%1 \u2013 %2"_s.arg(percent(e.low), percent(e.high)) : QString());
        put(spread, screen_number(e.range, 3));
    }
}

} // namespace finch::app

#include "moc_explain_dialog.cpp"
