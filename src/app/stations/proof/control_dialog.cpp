// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/control_dialog.h"

#include "app/instruments/paint.h"
#include "app/session/text.h"
#include "app/session/words.h"
#include "app/stations/proof/answer_views.h"
#include "app/theme/label.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QPixmap state_picture(State state, const QWidget* of) {
    const double ratio = of->devicePixelRatioF();
    QPixmap out(QSize(20, 20) * ratio);
    out.setDevicePixelRatio(ratio);
    out.fill(Qt::transparent);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    paint_state(painter, {1, 1, 18, 18}, state, theme_of(of));
    return out;
}

} // namespace

ControlDialog::ControlDialog(Workbench& workbench, ProofFlow& flow, ControlKeeper& keeper, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), keeper_(keeper), which_(new QComboBox(this)),
      chart_(new ControlChart(this)), state_(new QLabel(this)), says_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"control_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Control of the day"));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    which_->setObjectName(u"control_which"_s);
    which_->setAccessibleName(tr("Which control"));
    box->addWidget(which_);
    box->addWidget(chart_, 1);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    state_->setFixedSize(20, 20);
    says_->setObjectName(u"control_words"_s);
    says_->setWordWrap(true);
    says_->setMinimumHeight(56);
    says_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    row->addWidget(state_, 0, Qt::AlignTop);
    row->addWidget(says_, 1);
    box->addLayout(row);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    plan_ = buttons->addButton(tr("Plan today's five cells"), QDialogButtonBox::AcceptRole);
    plan_->setObjectName(u"control_plan"_s);
    plan_->setDefault(true);
    box->addWidget(buttons);
    resize(760, 500);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &ControlDialog::plan);
    connect(which_, &QComboBox::currentIndexChanged, this, &ControlDialog::show_chosen);
    connect(&keeper_, &ControlKeeper::changed, this, &ControlDialog::fill);
    fill();
}

const RecordedControl* ControlDialog::chosen() const {
    const int at = which_->currentIndex();
    return at >= 0 && at < static_cast<int>(keeper_.controls().size())
               ? &keeper_.controls()[static_cast<std::size_t>(at)]
               : nullptr;
}

void ControlDialog::fill() {
    const int before = which_->currentIndex();
    const QVariant chosen = which_->currentData(); // not its place: what is on record moves on
    const QSignalBlocker quiet(which_);
    which_->clear();
    for (const RecordedControl& c : keeper_.controls()) {
        const std::string& name = c.sheet.base.name;
        const QString what = tr("%1 · %2").arg(name.empty() ? q(c.sheet.aim) : q(name), recipe_line(c.sheet.base));
        which_->addItem(tr("%1 · sheets: %2").arg(what).arg(c.readings.size()), what);
    }
    which_->setVisible(!keeper_.controls().empty());
    if (which_->count() > 0)
        which_->setCurrentIndex(before < 0 ? 0 : std::max(0, which_->findData(chosen)));
    show_chosen();
}

void ControlDialog::show_chosen() {
    const RecordedControl* c = chosen();
    chart_->setVisible(c != nullptr);
    plan_->setText(c != nullptr ? tr("Plan today's five cells") : tr("Check a lot…"));
    plan_->setEnabled(c != nullptr || !keeper_.running());
    if (c == nullptr) {
        state_->setPixmap(state_picture(State::unknown, this));
        says_->setText(
            keeper_.running()
                ? tr("Looking through the logbook …")
                : tr("No control of this bench, lens and lot is on record. The five cells of a lot check are "
                     "one: burned again each day on a plate of the same lot that is kept for it, they show "
                     "a dirty lens, an ageing source or a column that slipped before a piece does."));
        return;
    }
    chart_->show_view(control_view(*c));
    state_->setPixmap(state_picture(state_of(c->course.verdict), this));
    says_->setText(from_utf8(c->course.words) +
                   (c->coarse > 0 ? tr(" Too coarse to tell, and left out: %1.").arg(c->coarse) : QString()));
}

void ControlDialog::plan() {
    const RecordedControl* c = chosen();
    if (c == nullptr) {
        accept();
        Q_EMIT first_asked();
    } else if (flow_.plan_control(c->sheet))
        accept();
}

} // namespace finch::app

#include "moc_control_dialog.cpp"
