// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/carry_dialog.h"

#include "app/instruments/ladder_scales.h"
#include "app/session/text.h"
#include "app/stations/aim/transfer_view.h"
#include "app/stations/aim/verdict_line.h"
#include "app/theme/label.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

CarryDialog::CarryDialog(Workbench& workbench, AimFlow& aims, QWidget* parent)
    : QDialog(parent), workbench_(workbench), aims_(aims) {
    setObjectName(u"carry_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Carry to another bench"));
    auto* box = new QVBoxLayout(this);
    box->setSizeConstraint(QLayout::SetFixedSize);
    box->setSpacing(10);
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
    verdict_ = new VerdictLine(u"carry_verdict"_s, this);
    box->addWidget(verdict_);
    cannot_ = text_label({}, TextStyle::body, this);
    cannot_->setObjectName(u"carry_cannot"_s);
    cannot_->setWordWrap(true);
    box->addWidget(cannot_);
    auto* drawn = new QHBoxLayout;
    drawn->setSpacing(18);
    settings_ = new ChangeBars(u"carry_settings"_s, this);
    drawn->addWidget(settings_, 0, Qt::AlignTop);
    ladders_ = new QWidget(this);
    auto* ladders = new QHBoxLayout(ladders_);
    ladders->setContentsMargins(0, 0, 0, 0);
    dose_ = new Ladder(u"carry_dose"_s, ladders_);
    fluence_ = new Ladder(u"carry_fluence"_s, ladders_);
    for (Ladder* ladder : {dose_, fluence_}) {
        ladder->setFocusPolicy(Qt::NoFocus);
        ladder->setCursor(Qt::ArrowCursor);
        ladder->setFixedWidth(120);
        ladders->addWidget(ladder);
    }
    drawn->addWidget(ladders_);
    box->addLayout(drawn);
    box->addWidget(text_label(tr("What reaches the part, the most important first"), TextStyle::head, this));
    kept_ = new ChangeBars(u"carry_report"_s, this);
    box->addWidget(kept_);
    box->addStretch(1);
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
    // A reading that ends meanwhile changes the recipe: what is carried is what is at hand now.
    connect(&workbench_, &Workbench::changed, this, [this] { show_bench(benches_->currentIndex()); });
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
    for (QWidget* w : std::initializer_list<QWidget*>{settings_, ladders_, kept_})
        w->setVisible(carried.has_value());
    if (!carried) {
        carried_.reset();
        return verdict_->say({State::fail, QString::fromStdString(sentence(carried.error()))});
    }
    carried_ = *carried;
    const auto outcome =
        finch::carried_outcome(workbench_.scene(), workbench_.draft().recipe, to, *carried_, workbench_.draft().fill);
    verdict_->say(outcome ? verdict_words(carried_->result, *outcome) : verdict_words(carried_->result));
    verdict_now_ = outcome ? outcome->verdict : carried_->result.verdict;
    const MachineDialog& d = to.dialog;
    const auto unit = [](const std::optional<double>& maximum, const QString& absolute) {
        return maximum ? u" %"_s : u' ' + absolute;
    };
    const TypedSettings& t = carried_->typed.typed;
    settings_->show_view(settings_view(machine_settings(workbench_.bench(), workbench_.draft().recipe),
                                       QString::fromStdString(workbench_.bench().name),
                                       machine_settings(to, carried_->recipe), QString::fromStdString(to.name),
                                       {screen_number(t.power, 3) + unit(d.power_max_w, u"W"_s),
                                        screen_number(t.frequency, 4) + unit(d.frequency_max_khz, u"kHz"_s), QString(),
                                        screen_number(t.speed, 4) + unit(d.speed_max_mm_s, u"mm/s"_s),
                                        screen_number(t.pitch, 4) + u' ' + QString::fromStdString(d.pitch_unit)}));
    kept_->show_view(kept_view(carried_->result));
    show_ladders(to);
}

void CarryDialog::show_ladders(const Bench& to) {
    const Draft& draft = workbench_.draft();
    const Scene& here = workbench_.scene();
    // What was learned on this bench says nothing there.
    const Scene there{here.materials, here.metal, to, here.stock, {}};
    const auto before = predict(here, draft.recipe, draft.fill, unseen);
    const auto after = predict(there, carried_->recipe, draft.fill, unseen);
    ladders_->setVisible(before && after);
    if (!before || !after)
        return;
    LadderView dose = dose_ladder(there, carried_->recipe, draft.fill, *after, nullptr);
    LadderView fluence = fluence_ladder(there, carried_->recipe, draft.fill, *after, nullptr);
    dose.ghost = before->mark.pattern.areal_dose_j_m2 / 1e6;
    fluence.ghost = before->mark.pattern.peak_fluence_j_m2 / 1e4;
    dose_->show_view(std::move(dose));
    fluence_->show_view(std::move(fluence));
}

void CarryDialog::take() {
    const auto i = static_cast<std::size_t>(benches_->currentIndex());
    if (!carried_ || i >= choices_.size())
        return;
    const Bench to = choices_[i];
    disconnect(&workbench_, nullptr, this, nullptr); // what is shown is what is taken
    workbench_.change(tr("carry to %1").arg(QString::fromStdString(to.name)), {}, [&](Draft& d) {
        d.setup.bench = to;
        d.recipe = carried_->recipe;
    });
    workbench_.say(tr("The recipe is now on %1: %2. The first run there is a coupon.")
                       .arg(QString::fromStdString(to.name), from_utf8(word(verdict_now_))),
                   verdict_now_ == TransferVerdict::equivalent ? State::ok : State::warn);
    accept();
}

} // namespace finch::app

#include "moc_carry_dialog.cpp"
