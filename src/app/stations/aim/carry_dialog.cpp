// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/carry_dialog.h"

#include "app/instruments/paint.h"
#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

void show_report(QTableWidget& table, const TransferResult& result) {
    table.setRowCount(static_cast<int>(result.report.size()));
    int row = 0;
    for (const Kept& k : result.report) {
        const QStringList cells{from_utf8(word(k.invariant)), k.kept ? QObject::tr("kept") : QObject::tr("changes"),
                                u"× "_s + screen_number(k.ratio, 3), QString::fromStdString(k.effect)};
        for (int c = 0; c < 4; ++c) {
            auto* item = new QTableWidgetItem(cells[c]);
            item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
            if (c == 3)
                item->setToolTip(cells[c]);
            table.setItem(row, c, item);
        }
        ++row;
    }
}

QString verdict_text(const TransferResult& r) {
    QString text = QObject::tr("Verdict: <b>%1</b>.").arg(from_utf8(word(r.verdict)));
    if (r.wavelength_differs)
        text += QObject::tr(" The wavelength differs: absorption changes, doses are not comparable.");
    if (!r.clamped.empty()) {
        QStringList limits;
        for (const std::string& c : r.clamped)
            limits << QString::fromStdString(c).replace(u'_', u' ');
        text += QObject::tr(" At a limit: %1.").arg(limits.join(u", "_s));
    }
    for (const Kept& k : r.report)
        if (!k.kept) {
            text += QObject::tr(" The first thing lost is <b>%1</b>, priority %2.")
                        .arg(from_utf8(word(k.invariant)))
                        .arg(k.priority);
            break;
        }
    return strong(text);
}

CarryDialog::CarryDialog(Workbench& workbench, AimFlow& aims, QWidget* parent)
    : QDialog(parent), workbench_(workbench), aims_(aims) {
    setObjectName(u"carry_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Carry to another bench"));
    resize(760, 480);
    auto* box = new QVBoxLayout(this);
    auto* head = new QHBoxLayout;
    head->addWidget(text_label(tr("To"), TextStyle::head, this));
    benches_ = new QComboBox(this);
    benches_->setObjectName(u"carry_to"_s);
    benches_->setAccessibleName(tr("Bench and lens"));
    for (const Bench& b : aims_.benches())
        for (std::size_t lens = 0; lens < b.lenses.size(); ++lens) {
            if (b.name == workbench_.bench().name && lens == workbench_.bench().lens_index)
                continue;
            choices_.push_back(b);
            choices_.back().lens_index = lens;
            benches_->addItem(QString::fromStdString(b.name + ", " + b.lenses[lens].name));
        }
    head->addWidget(benches_, 1);
    box->addLayout(head);
    const Recipe& r = workbench_.draft().recipe;
    box->addWidget(text_label(tr("From %1: %2").arg(QString::fromStdString(workbench_.bench().name), recipe_line(r)),
                              TextStyle::body, this));
    verdict_ = text_label({}, TextStyle::body, this);
    verdict_->setObjectName(u"carry_verdict"_s);
    verdict_->setWordWrap(true);
    cannot_ = text_label({}, TextStyle::body, this);
    cannot_->setObjectName(u"carry_cannot"_s);
    cannot_->setWordWrap(true);
    cannot_->setProperty("state", u"warn"_s);
    typed_ = text_label({}, TextStyle::body, this);
    typed_->setObjectName(u"carry_typed"_s);
    typed_->setWordWrap(true);
    box->addWidget(verdict_);
    box->addWidget(cannot_);
    report_ = new QTableWidget(0, 4, this);
    report_->setObjectName(u"carry_report"_s);
    report_->setHorizontalHeaderLabels({tr("What"), tr("Kept"), tr("New over old"), tr("What that does")});
    report_->verticalHeader()->hide();
    report_->horizontalHeader()->setStretchLastSection(true);
    report_->setColumnWidth(0, 180);
    box->addWidget(report_, 1);
    box->addWidget(typed_);
    auto* foot = new QHBoxLayout;
    foot->addStretch(1);
    auto* shut = new QPushButton(tr("Close"), this);
    take_ = new QPushButton(tr("Take it there"), this);
    take_->setObjectName(u"carry_take"_s);
    take_->setProperty("primary", true);
    foot->addWidget(shut);
    foot->addWidget(take_);
    box->addLayout(foot);
    connect(shut, &QPushButton::clicked, this, &QDialog::close);
    connect(take_, &QPushButton::clicked, this, &CarryDialog::take);
    connect(benches_, &QComboBox::currentIndexChanged, this, &CarryDialog::show_bench);
    show_bench(0);
}

void CarryDialog::show_bench(int index) {
    const auto i = static_cast<std::size_t>(index);
    if (i >= choices_.size())
        return;
    const Bench& to = choices_[i];
    QStringList cannot;
    for (const std::string& why : finch::cannot_run(to, workbench_.draft().recipe))
        cannot << QString::fromStdString(why);
    cannot_->setText(cannot.isEmpty() ? QString() : tr("As it is, it cannot run there. %1").arg(cannot.join(u' ')));
    cannot_->setVisible(!cannot.isEmpty());
    const auto carried = finch::carry(workbench_.bench(), workbench_.draft().recipe, to);
    take_->setEnabled(carried.has_value());
    if (!carried) {
        carried_.reset();
        report_->setRowCount(0);
        typed_->clear();
        return verdict_->setText(QString::fromStdString(sentence(carried.error())).toHtmlEscaped());
    }
    carried_ = *carried;
    verdict_->setText(verdict_text(carried_->result));
    show_report(*report_, carried_->result);
    const MachineDialog& d = to.dialog;
    const auto unit = [](const std::optional<double>& maximum, const QString& absolute) {
        return maximum ? u"%"_s : absolute;
    };
    const TypedSettings& t = carried_->typed.typed;
    typed_->setText(strong(
        tr("There: %1. <b>Type</b> power %2 %3, frequency %4 %5, speed %6 %7, pitch %8 %9.")
            .arg(recipe_line(carried_->recipe), screen_number(t.power, 3), unit(d.power_max_w, u"W"_s),
                 screen_number(t.frequency, 4), unit(d.frequency_max_khz, u"kHz"_s), screen_number(t.speed, 4),
                 unit(d.speed_max_mm_s, u"mm/s"_s), screen_number(t.pitch, 4), QString::fromStdString(d.pitch_unit))));
}

void CarryDialog::take() {
    const auto i = static_cast<std::size_t>(benches_->currentIndex());
    if (!carried_ || i >= choices_.size())
        return;
    const Bench to = choices_[i];
    workbench_.change(tr("carry to %1").arg(QString::fromStdString(to.name)), {}, [&](Draft& d) {
        d.setup.bench = to;
        d.recipe = carried_->recipe;
    });
    workbench_.say(tr("The recipe is now on %1: %2. The first run there is a coupon.")
                       .arg(QString::fromStdString(to.name), from_utf8(word(carried_->result.verdict))),
                   carried_->result.verdict == TransferVerdict::equivalent ? State::ok : State::warn);
    accept();
}

} // namespace finch::app
