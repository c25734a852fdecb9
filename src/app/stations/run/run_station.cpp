// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/run/run_station.h"

#include "app/instruments/scrolled.h"
#include "app/session/text.h"
#include "app/theme/label.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

using Step = RunFlow::Step;
constexpr int right_width = 500;

void ask_text(QWidget* parent, const QString& name, const QString& title, const QString& label,
              const std::function<void(const QString&)>& answer) {
    auto* dialog = new QInputDialog(parent);
    dialog->setObjectName(name);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    dialog->setLabelText(label);
    set_theme(dialog, theme_of(parent));
    QObject::connect(dialog, &QInputDialog::textValueSelected, parent, answer);
    dialog->open();
}

} // namespace

RunStation::RunStation(Workbench& workbench, RunFlow& run, QWidget* parent)
    : QWidget(parent), workbench_(workbench), run_(run) {
    setObjectName(u"station_run"_s);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 10, 16, 8);
    box->setSpacing(8);
    box->addWidget(make_head());
    auto* row = new QHBoxLayout;
    row->setSpacing(20);
    view_ = new RunView(this);
    row->addWidget(view_, 1);
    pages_ = new QStackedWidget(this);
    pages_->setFixedWidth(right_width);
    pages_->addWidget(make_gates());
    pages_->addWidget(make_running());
    row->addWidget(pages_);
    box->addLayout(row, 1);
    bar_ = new RunBar(this);
    box->addWidget(bar_);
    left_ = text_label({}, TextStyle::small, this);
    left_->setObjectName(u"run_left"_s);
    box->addWidget(left_);
    connect(view_, &RunView::part_asked, this, [this](std::size_t part) {
        part_ = part;
        refresh();
    });
    connect(view_, &RunView::aside_asked, this, &RunStation::ask_aside);
    connect(view_, &RunView::hold_asked, this, &RunStation::hold);
    connect(&run_, &RunFlow::changed, this, &RunStation::refresh);
}

QWidget* RunStation::make_head() {
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    auto* words = new QVBoxLayout;
    words->setSpacing(1);
    title_ = plain_label({}, TextStyle::title, head);
    title_->setObjectName(u"run_title"_s);
    under_ = plain_label({}, TextStyle::small, head);
    under_->setObjectName(u"run_under"_s);
    words->addWidget(title_);
    words->addWidget(under_);
    row->addLayout(words, 1);
    const auto button = [&](const QString& text, const QString& name, const QString& tip, auto&& run) {
        auto* b = new QPushButton(text, head);
        b->setObjectName(name);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, run);
        row->addWidget(b);
        return b;
    };
    away_ = button(tr("Put away"), u"run_away"_s, tr("Nothing is run."), [this] { run_.put_away(); });
    again_ = button(tr("Run once more"), u"run_again"_s, tr("The same job on the next parts; all is asked again."),
                    [this] { run_.again(); });
    take_up_ = button(tr("Take it up"), u"run_take_up"_s,
                      tr("What was marked is not marked again; the list before the start is asked again."),
                      [this] { run_.take_up(); });
    at_end_ = button(tr("Hold at the pass end"), u"run_hold_at_end"_s, tr("The beam goes off when the pass ends (F8)."),
                     [this] { hold_after_pass(); });
    at_end_->setCheckable(true);
    give_up_ = button(tr("Give up…"), u"run_give_up"_s, tr("Ends the run; why is kept."), [this] { ask_give_up(); });
    // Apart from each other: a second press in haste must never put the beam on again.
    go_on_ = button(tr("Go on"), u"run_go_on"_s, tr("The beam goes on (Ctrl+Return)."), [this] { start_or_go_on(); });
    hold_ = button(tr("Hold"), u"run_hold"_s, tr("The beam goes off at the end of the line (F7)."), [this] { hold(); });
    hold_->setProperty("primary", true);
    start_ = button(tr("Start marking"), u"run_start"_s, tr("Once nothing locks it (Ctrl+Return)."),
                    [this] { start_or_go_on(); });
    start_->setProperty("primary", true);
    return head;
}

QWidget* RunStation::make_gates() {
    auto* page = new QWidget(this);
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(6);
    list_ = new CheckList(u"gates"_s, tr("What must be so before the start"), page);
    list_scroll_ = scrolled(list_, u"gates_scroll"_s, page);
    box->addWidget(list_scroll_, 1);
    counts_ = new QCheckBox(tr("The pass that was under way counts as marked"), page);
    counts_->setObjectName(u"run_counts"_s);
    counts_->setToolTip(tr("Else it goes on after the last line that the bench told of."));
    connect(counts_, &QCheckBox::toggled, this, [this](bool on) { run_.count_as_done(on); });
    box->addWidget(counts_);
    lock_ = plain_label({}, TextStyle::head, page);
    lock_->setObjectName(u"run_lock"_s);
    lock_->setWordWrap(true);
    box->addWidget(lock_);
    rule_ = plain_label(from_utf8(run_.safety().deferral), TextStyle::small, page);
    rule_->setObjectName(u"run_rule"_s);
    rule_->setWordWrap(true);
    box->addWidget(rule_);
    connect(list_, &CheckList::pressed, this, &RunStation::press);
    connect(list_, &CheckList::chosen_at, this, [this](int y) { list_scroll_->ensureVisible(0, y, 0, 60); });
    return page;
}

QWidget* RunStation::make_running() {
    auto* page = new QWidget(this);
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(6);
    const auto label = [&](const QString& name, TextStyle style) {
        auto* l = plain_label({}, style, page);
        l->setObjectName(name);
        l->setWordWrap(true);
        return l;
    };
    box->addWidget(text_label(tr("Now"), TextStyle::head, page));
    now_ = label(u"run_now"_s, TextStyle::section);
    box->addWidget(now_);
    lies_ = new QPushButton(tr("What is left lies as it lay"), page);
    lies_->setObjectName(u"run_lies"_s);
    lies_->setToolTip(tr("Nothing was moved, or what was is set aside (Shift+F7)."));
    connect(lies_, &QPushButton::clicked, this, [this] { run_.lies_still(); });
    box->addWidget(lies_, 0, Qt::AlignLeft);
    box->addSpacing(4);
    box->addWidget(text_label(tr("Should look like, when the pass ends"), TextStyle::head, page));
    look_ = label(u"run_look"_s, TextStyle::body);
    box->addWidget(look_);
    box->addSpacing(4);
    auto* stays = new QHBoxLayout;
    stay_ = label(u"run_stay"_s, TextStyle::body);
    stays->addWidget(stay_, 1);
    here_ = new QPushButton(tr("I looked"), page);
    here_->setObjectName(u"run_looked"_s);
    here_->setToolTip(tr("Somebody is there, and all is well (F6)."));
    connect(here_, &QPushButton::clicked, this, &RunStation::looked);
    stays->addWidget(here_);
    aside_ = new QPushButton(tr("Set aside…"), page);
    aside_->setObjectName(u"run_aside"_s);
    aside_->setToolTip(tr("Nothing more is marked on the chosen part (Delete)."));
    connect(aside_, &QPushButton::clicked, this, &RunStation::ask_aside);
    stays->addWidget(aside_);
    box->addLayout(stays);
    box->addSpacing(4);
    auto* head = new QHBoxLayout;
    head->addWidget(text_label(tr("What happened"), TextStyle::head, page));
    head->addStretch(1);
    head->addWidget(text_label(tr("newest first, all on the disk"), TextStyle::small, page));
    box->addLayout(head);
    events_ = new CheckList(u"run_events"_s, tr("What happened"), page);
    box->addWidget(scrolled(events_, u"events_scroll"_s, page), 1);
    return page;
}

void RunStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void RunStation::refresh() {
    if (!isVisible())
        return;
    const Step step = run_.step();
    const ReadyJob* job = run_.job();
    if (job != drawn_) {
        drawn_ = job;
        outlines_ = job != nullptr ? std::make_shared<const RunPicture>(run_outlines(*job)) : nullptr;
        part_.reset();
        looked_at_.reset();
    }
    title_->setText(run_title(run_));
    under_->setText(run_under(run_));
    RunPicture picture = outlines_ ? *outlines_ : RunPicture{};
    picture.empty = step == Step::left
                        ? tr("The program ended while this run was under way. Take it up where it was, or give it up.")
                        : tr("Hand a piece over on the Piece station (Run…): what must be so before the start is asked "
                             "here, and the run is watched here.");
    show_stand(picture, run_);
    picture.chosen = part_;
    // Where the work is watched, it is drawn as large as it can be.
    if (step != Step::asking)
        picture.frame.reset(), picture.field.reset();
    view_->show_picture(std::move(picture));
    const bool busy = run_.under_way();
    const bool in_run = busy || (step != Step::none && step != Step::asking && step != Step::left);
    pages_->setVisible(step != Step::none);
    pages_->setCurrentIndex(in_run ? 1 : 0);
    bar_->setVisible(job != nullptr);
    left_->setVisible(job != nullptr);
    const RunBarPicture bar = run_bar(run_, workbench_.now());
    left_->setText(step == Step::over ? end_words(run_) : bar.words);
    bar_->show_picture(bar);
    start_->setVisible(step == Step::asking);
    take_up_->setVisible(step == Step::left);
    give_up_->setVisible(busy || step == Step::left || (step == Step::asking && !run_.record().start.uid.empty()));
    again_->setVisible(step == Step::over && job != nullptr);
    away_->setVisible(step == Step::over || (step == Step::asking && run_.record().start.uid.empty()));
    hold_->setVisible(busy);
    hold_->setEnabled(step == Step::running);
    go_on_->setVisible(busy);
    go_on_->setEnabled(step != Step::running && !(step == Step::held && run_.reached_in()));
    go_on_->setText(step == Step::hands ? tr("It is moved") : tr("Go on"));
    at_end_->setVisible(busy);
    at_end_->setEnabled(step == Step::running);
    at_end_->setChecked(run_.holds_after_pass());
    if (step == Step::asking || step == Step::left) {
        gates_ = gate_rows(run_);
        list_->show_rows(step == Step::asking ? gates_.rows : std::vector<CheckRow>());
        const bool was_left = step == Step::asking && run_.stand().under_way.has_value();
        counts_->setVisible(was_left);
        const QSignalBlocker quiet(counts_);
        counts_->setChecked(run_.counts_as_done());
        lock_->setText(step == Step::asking ? lock_words(run_) : QString());
        start_->setEnabled(run_.locked().empty() && !run_.framing());
        return;
    }
    if (!in_run)
        return;
    const bool asks = step == Step::held && run_.reached_in();
    const QString after = after_words(run_, workbench_.materials());
    now_->setText(step == Step::over     ? end_words(run_) + (after.isEmpty() ? QString() : u". "_s + after)
                  : run_.why().isEmpty() ? run_under(run_)
                                         : run_.why() + (asks ? tr(" Does all lie as it lay?") : QString()));
    lies_->setVisible(asks);
    lies_->setEnabled(!run_.enclosure_open().value_or(false));
    if (const auto at = run_.at_hand(); at != looked_at_) {
        looked_at_ = at;
        look_->setText(look_words(run_, workbench_));
    }
    stay_->setText(busy ? attendance_words(run_, workbench_.now()) : QString());
    here_->setVisible(busy);
    const bool has_part = part_ && job != nullptr && !job->job.places.empty() && *part_ < places_of(job->job).size();
    aside_->setVisible(busy && job != nullptr && !job->job.places.empty());
    aside_->setEnabled(has_part);
    aside_->setText(has_part && run_.stand().aside.contains(places_of(job->job).at(*part_).number) ? tr("Bring back")
                                                                                                   : tr("Set aside…"));
    events_->show_rows(event_rows(run_));
}

void RunStation::press(std::size_t row) {
    if (row >= gates_.of.size() || gates_.of[row] == nullptr)
        return;
    const Gate gate = *gates_.of[row];
    switch (gate.kind) {
    case GateKind::known:
        return;
    case GateKind::tick:
        return verdict_at(gate, run_.answers()) ? run_.withdraw(gate.key) : run_.answer(gate.key);
    case GateKind::frame:
        return run_.show_frame();
    case GateKind::initials:
        return run_.answer(gate.key, workbench_.draft().operator_initials);
    case GateKind::choice:
        return ask_choice(row, gate);
    }
}

void RunStation::ask_choice(std::size_t row, const Gate& gate) {
    auto* menu = new QMenu(this);
    menu->setObjectName(u"gate_menu"_s);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const UnderChoice& c : gate.choices) {
        QAction* a = menu->addAction(from_utf8(c.words));
        a->setObjectName(from_utf8(c.key));
        connect(a, &QAction::triggered, this, [this, key = gate.key, choice = c.key] { run_.answer(key, choice); });
    }
    menu->popup(list_->below_button(row));
}

void RunStation::start_or_go_on() {
    run_.step() == Step::asking ? run_.start() : run_.go_on();
}

void RunStation::hold() {
    run_.hold();
}

void RunStation::hold_after_pass() {
    run_.hold_after_pass(!run_.holds_after_pass());
}

void RunStation::looked() {
    run_.looked();
}

void RunStation::ask_give_up() {
    ask_text(this, u"give_up_why"_s, tr("Give the run up"), tr("What was not marked stays unmarked. Why?"),
             [this](const QString& why) { run_.give_up(why); });
}

void RunStation::ask_aside() {
    const ReadyJob* job = run_.job();
    if (!run_.under_way() || !part_ || job == nullptr || job->job.places.empty())
        return;
    const auto places = places_of(job->job);
    if (*part_ >= places.size())
        return;
    const int number = places[*part_].number;
    if (run_.stand().aside.contains(number))
        return run_.bring_back(number);
    ask_text(this, u"aside_why"_s, tr("Set %1 aside").arg(number), tr("Nothing more is marked on it. Why?"),
             [this, number](const QString& why) { run_.set_aside(number, why); });
}

} // namespace finch::app

#include "moc_run_station.cpp"
