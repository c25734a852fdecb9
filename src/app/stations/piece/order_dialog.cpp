// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/order_dialog.h"

#include "app/theme/label.h"
#include "quantity/format.h"

#include <QDialogButtonBox>
#include <QPointer>
#include <QPushButton>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString kelvin(double k) {
    return QObject::tr("%1 K").arg(screen_number(k, 2));
}

HeatStrip::Row row_of(const QString& name, const HeatOrder& order, const std::vector<HeatTask>& tasks, State state) {
    HeatStrip::Row row{name, kelvin(order.peak_k) + u", "_s + screen_duration(order.seconds), state, {}};
    double at = 0;
    for (std::size_t i = 0; i < order.order.size(); ++i) {
        at += order.pause_s[i];
        const double s = tasks[order.order[i]].seconds;
        row.marks.push_back({at, s, order.preheat_k[i]});
        at += s;
    }
    return row;
}

} // namespace

QString heat_words(const PlannedHeat& p, double thickness_mm) {
    const HeatPlan& plan = p.plan;
    QString words;
    switch (plan.help) {
    case HeatPlan::Help::none_needed:
        words = QObject::tr("Nothing need be done: in plain order the warmest mark begins %1 above the cold plate.")
                    .arg(kelvin(plan.plain.peak_k));
        break;
    case HeatPlan::Help::order:
        words = QObject::tr("In plain order the warmest mark begins %1 above the cold plate; in the cooler order %2, "
                            "at no cost of time.")
                    .arg(kelvin(plan.plain.peak_k), kelvin(plan.cooler.peak_k));
        break;
    case HeatPlan::Help::order_and_short_pauses:
        words =
            QObject::tr("In plain order the warmest mark begins %1 above the cold plate; in the cooler order with "
                        "%2 of pauses %3.")
                .arg(kelvin(plan.plain.peak_k), screen_duration(plan.paused.paused_s()), kelvin(plan.paused.peak_k));
        break;
    case HeatPlan::Help::only_pauses:
        words = QObject::tr("No order is enough: in plain order the warmest mark begins %1 above the cold plate, in "
                            "the coolest %2. Only pauses help: %3 of them, %4 % longer, bring it to %5.")
                    .arg(kelvin(plan.plain.peak_k), kelvin(plan.cooler.peak_k), screen_duration(plan.paused.paused_s()),
                         screen_number(std::round(100 * (plan.paused.seconds / plan.plain.seconds - 1)), 3),
                         kelvin(plan.paused.peak_k));
        break;
    }
    if (plan.help != HeatPlan::Help::none_needed && plan.clamped.peak_k < 0.9 * plan.plain.peak_k)
        words += QObject::tr(" Clamped flat on metal, plain order would stay at %1.").arg(kelvin(plan.clamped.peak_k));
    if (plan.help != HeatPlan::Help::none_needed && plan.in_turn)
        words += QObject::tr(" With the parts of the tray in turn (Place…), it would stay at %1.")
                     .arg(kelvin(plan.in_turn->peak_k));
    if (p.bows_from_k > 0 && plan.plain.plate_k > p.bows_from_k)
        words += QObject::tr(" The whole plate warms by %1; at %2 mm, held by its rim, it bows from %3 on: clamp it "
                             "flat, or refuse it.")
                     .arg(kelvin(plan.plain.plate_k), screen_number(thickness_mm, 2), kelvin(p.bows_from_k));
    return words;
}

OrderDialog::OrderDialog(Workbench& workbench, PieceReader& reader, QWidget* parent)
    : QDialog(parent), workbench_(workbench), reader_(reader) {
    setObjectName(u"order_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Heat and order of marking"));
    setMinimumWidth(720);
    auto* box = new QVBoxLayout(this);
    box->setSpacing(12);
    said_ = plain_label({}, TextStyle::body, this);
    said_->setObjectName(u"order_said"_s);
    said_->setWordWrap(true);
    box->addWidget(said_);
    box->addWidget(text_label(tr("How warm the plate is where each mark begins"), TextStyle::head, this));
    strip_ = new HeatStrip(this);
    box->addWidget(strip_, 1);
    rests_ = text_label({}, TextStyle::small, this);
    rests_->setWordWrap(true);
    box->addWidget(rests_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    const auto button = [&](const QString& text, const QString& name, const QString& tip, auto&& run) {
        QPushButton* b = buttons->addButton(text, QDialogButtonBox::ActionRole);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setAutoDefault(false);
        b->setEnabled(false);
        connect(b, &QPushButton::clicked, this, run);
        return b;
    };
    plain_ = button(tr("Plain order"), u"order_plain"_s, tr("Layer by layer, as they stand"), [this] {
        reader_.take_steps({});
        accept();
    });
    cooler_ = button(tr("Take the cooler order"), u"order_cooler"_s,
                     tr("Shape by shape, the coolest first; without pauses"), [this] { take(planned_->plan.cooler); });
    paused_ = button(tr("Take it with pauses"), u"order_paused"_s,
                     tr("The same, each mark begun at half of plain order's warmth or less"),
                     [this] { take(planned_->plan.paused); });
    box->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    said_->setText(tr("Being worked out."));
    reader_.plan_heat([self = QPointer<OrderDialog>(this)](const Expected<PlannedHeat>& planned) {
        if (self)
            self->show_plan(planned);
    });
}

void OrderDialog::show_plan(const Expected<PlannedHeat>& planned) {
    if (!planned) {
        said_->setText(from_utf8(sentence(planned.error())));
        return;
    }
    planned_ = *planned;
    const HeatPlan& plan = planned_->plan;
    const auto& tasks = planned_->heat.tasks;
    said_->setText(heat_words(*planned_, planned_->heat.plate.thickness_mm));
    const bool fine = plan.help == HeatPlan::Help::none_needed;
    std::vector<HeatStrip::Row> rows{row_of(tr("Plain order"), plan.plain, tasks, fine ? State::ok : State::warn),
                                     row_of(tr("Cooler order"), plan.cooler, tasks,
                                            fine || plan.help == HeatPlan::Help::order ? State::ok : State::warn)};
    if (plan.paused.paused_s() > 0)
        rows.push_back(row_of(tr("With pauses"), plan.paused, tasks, State::ok));
    if (plan.in_turn)
        rows.push_back(row_of(tr("Plain, %1 in turn").arg(planned_->parts), *plan.in_turn, tasks,
                              plan.in_turn->peak_k <= plan.wanted_k ? State::ok : State::warn));
    rows.push_back(row_of(tr("Plain, clamped flat"), plan.clamped, tasks,
                          plan.clamped.peak_k <= plan.wanted_k ? State::ok : State::warn));
    strip_->show_rows(std::move(rows));
    QString rests =
        tr("%1 on a plate of %2 × %3 × %4 mm that loses %5 W/m²K through both faces, an estimate of the trade: "
           "\"clamps\" under Held by makes it %6. What the beam leaves in the plate is the heat model's.")
            .arg(tasks.size() == 1 ? tr("One task") : tr("%1 tasks").arg(tasks.size()))
            .arg(screen_number(planned_->heat.plate.outline.w, 3), screen_number(planned_->heat.plate.outline.h, 3),
                 screen_number(planned_->heat.plate.thickness_mm, 2), screen_number(planned_->heat.plate.loss_w_m2k, 3),
                 screen_number(workbench_.materials().model.clamped_loss, 3));
    if (reader_.steps().empty())
        rests +=
            tr(" Plain order is shape after shape; a layer that is filled line by line over many shapes warms them "
               "together.");
    rests_->setText(rests);
    for (QLabel* l : {said_, rests_})
        l->setMinimumHeight(l->heightForWidth(width() - 2 * 12));
    adjustSize();
    plain_->setEnabled(!reader_.steps().empty());
    cooler_->setEnabled(!fine);
    paused_->setEnabled(plan.paused.paused_s() > 0);
    using Help = HeatPlan::Help;
    QPushButton* advised =
        plan.help == Help::only_pauses || plan.help == Help::order_and_short_pauses ? paused_ : cooler_;
    advised->setDefault(true);
    advised->setFocus();
}

void OrderDialog::take(const HeatOrder& order) {
    reader_.take_steps(steps_of(planned_->heat, order));
    accept();
}

} // namespace finch::app

#include "moc_order_dialog.cpp"
