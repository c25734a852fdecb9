// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/heat_dialog.h"

#include "app/instruments/ladder_scales.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

ChangeBarsView::Cell cell(double ratio) {
    return {ratio_words(ratio), ratio};
}

QString knob_text(Knob knob, double value) {
    const QString number = screen_number(value, traits(knob).whole ? 4 : 3);
    const QString unit = from_utf8(traits(knob).unit);
    return unit.isEmpty() ? number : number + u' ' + unit;
}

ChangeBarsView advice_view(const std::vector<KnobEffect>& advice, Process process) {
    const bool removes = traits(process).removes, film = traits(process).works_on == WorksOn::oxide;
    ChangeBarsView v;
    v.columns = {QObject::tr("Dose"),       QObject::tr("Pulse energy"),
                 QObject::tr("Peak power"), QObject::tr("Pulses/mm²"),
                 QObject::tr("Time"),       removes ? QObject::tr("Depth") : QObject::tr("Film")};
    if (!removes && !film)
        v.columns.removeLast(); // neither depth nor film is what such a mark lives from
    v.reach = 1.25;
    v.name_width = 236;
    v.column_width = 92;
    v.choosable = true;
    for (const KnobEffect& e : advice) {
        QString name = from_utf8(traits(e.knob).label);
        name[0] = name[0].toUpper();
        QString note;
        if (e.darkness_known && std::abs(e.lightness) >= 0.3)
            note = (e.lightness < 0 ? QObject::tr("darker by %1 L*") : QObject::tr("lighter by %1 L*"))
                       .arg(screen_number(std::abs(e.lightness), 2));
        if (e.changes)
            note = QObject::tr("then: %1").arg(from_utf8(word(e.effect)));
        v.rows.push_back({u"%1 %2 → %3"_s.arg(name, screen_number(e.from, 3), knob_text(e.knob, e.to)),
                          note,
                          std::nullopt,
                          {cell(1 + e.dose), cell(1 + e.pulse_energy), cell(1 + e.peak_power),
                           cell(1 + e.pulses_per_area), cell(1 + e.time), cell(1 + (removes ? e.depth : e.film))}});
        if (!removes && !film)
            v.rows.back().cells.pop_back();
    }
    return v;
}

ChangeBarsView frequency_view(const Workbench& workbench) {
    ChangeBarsView v;
    v.columns = {QObject::tr("Average power"), QObject::tr("Pulse energy"), QObject::tr("Peak power"),
                 QObject::tr("Pulses/mm²")};
    v.reach = 2.2;
    v.name_width = 236;
    v.column_width = 92;
    const Recipe& recipe = workbench.draft().recipe;
    const KnobLimits limits = knob_limits(workbench.bench(), Knob::frequency);
    for (const auto& [factor, name] : {std::pair{0.5, QObject::tr("Half")}, {2.0, QObject::tr("Double")}}) {
        const double to = factor * knob_value(recipe, Knob::frequency);
        const FrequencyEffects e = frequency_effects(workbench.scene(), recipe, factor);
        v.rows.push_back({u"%1: %2"_s.arg(name, knob_text(Knob::frequency, to)),
                          to < limits.low || to > limits.high ? QObject::tr("beyond this source") : QString(),
                          std::nullopt,
                          {cell(e.average_power), cell(e.pulse_energy), cell(e.peak_power), cell(e.pulses_per_area)}});
    }
    return v;
}

} // namespace

HeatDialog::HeatDialog(Workbench& workbench, QWidget* parent) : QDialog(parent), workbench_(workbench) {
    setObjectName(u"heat_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("More or less heat"));
    auto* box = new QVBoxLayout(this);
    box->setSizeConstraint(QLayout::SetFixedSize);
    box->setSpacing(8);
    auto* head = new QHBoxLayout;
    auto* more = new QPushButton(tr("More heat"), this);
    more->setObjectName(u"more_heat"_s);
    auto* less = new QPushButton(tr("Less heat"), this);
    less->setObjectName(u"less_heat"_s);
    auto* group = new QButtonGroup(this);
    for (QPushButton* b : {more, less}) {
        b->setCheckable(true);
        b->setAutoDefault(false);
        b->setProperty("segment", true);
        group->addButton(b);
        head->addWidget(b);
    }
    head->addSpacing(12);
    head->addWidget(text_label(tr("Each step is about a tenth. Gentlest on time first."), TextStyle::small, this));
    head->addStretch(1);
    box->addLayout(head);
    auto* drawn = new QHBoxLayout;
    drawn->setSpacing(16);
    dose_ = new Ladder(u"heat_dose"_s, this);
    fluence_ = new Ladder(u"heat_fluence"_s, this);
    for (Ladder* ladder : {dose_, fluence_}) {
        ladder->setFocusPolicy(Qt::NoFocus);
        ladder->setCursor(Qt::ArrowCursor);
        ladder->setFixedWidth(120);
        drawn->addWidget(ladder);
    }
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    bars_ = new ChangeBars(u"heat_bars"_s, this);
    right->addWidget(bars_);
    right->addStretch(1);
    right->addWidget(text_label(tr("Pulse frequency does four things at once"), TextStyle::head, this));
    auto* frequency = new ChangeBars(u"frequency_bars"_s, this);
    frequency->show_view(frequency_view(workbench_));
    right->addWidget(frequency);
    drawn->addLayout(right, 1);
    box->addLayout(drawn);
    auto* foot = new QHBoxLayout;
    foot->addStretch(1);
    auto* shut = new QPushButton(tr("Close"), this);
    shut->setAutoDefault(false);
    turn_ = new QPushButton(tr("Turn it"), this);
    turn_->setObjectName(u"turn_it"_s);
    turn_->setProperty("primary", true);
    turn_->setAutoDefault(false);
    foot->addWidget(shut);
    foot->addWidget(turn_);
    box->addLayout(foot);
    connect(shut, &QPushButton::clicked, this, &QDialog::close);
    connect(more, &QPushButton::clicked, this, [this] { fill(true); });
    connect(less, &QPushButton::clicked, this, [this] { fill(false); });
    connect(bars_, &ChangeBars::chosen, this, &HeatDialog::point_at);
    connect(bars_, &ChangeBars::taken, this, &HeatDialog::turn);
    connect(turn_, &QPushButton::clicked, this, [this] { turn(bars_->view().chosen); });
    // A reading that ends meanwhile changes the recipe: advice is for what is at hand now.
    connect(&workbench_, &Workbench::changed, this, [this, more, frequency] {
        fill(more->isChecked());
        frequency->show_view(frequency_view(workbench_));
    });
    more->setChecked(true);
    fill(true);
    bars_->setFocus();
}

void HeatDialog::fill(bool more) {
    const Draft& d = workbench_.draft();
    advice_ = heat_advice(workbench_.scene(), d.recipe, d.fill, more);
    bars_->show_view(advice_view(advice_, d.recipe.process));
    turn_->setEnabled(!advice_.empty());
    if (advice_.empty()) {
        dose_->hide();
        fluence_->hide();
    } else
        point_at(0);
}

void HeatDialog::point_at(int row) {
    const Draft& d = workbench_.draft();
    const KnobEffect& e = advice_.at(static_cast<std::size_t>(row));
    const Recipe then = with_knob(d.recipe, e.knob, e.to);
    const auto p = predict(workbench_.scene(), then, d.fill, unseen);
    for (Ladder* ladder : {dose_, fluence_})
        ladder->setVisible(p.has_value());
    if (!p)
        return;
    dose_->show_view(dose_ladder(workbench_.scene(), then, d.fill, *p, &d.recipe));
    fluence_->show_view(fluence_ladder(workbench_.scene(), then, d.fill, *p, &d.recipe));
}

void HeatDialog::turn(int row) {
    if (row < 0 || row >= static_cast<int>(advice_.size()))
        return;
    const KnobEffect e = advice_[static_cast<std::size_t>(row)];
    workbench_.set_knob(e.knob, e.to);
    workbench_.say(QString::fromStdString(e.words), e.changes ? State::warn : State::ok);
    accept();
}

} // namespace finch::app

#include "moc_heat_dialog.cpp"
