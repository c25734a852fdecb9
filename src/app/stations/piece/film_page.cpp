// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/film_page.h"

#include "app/session/text.h"
#include "app/stations/piece/film_words.h"
#include "app/theme/label.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int most_together = 200, a_second = 1000;

QString done_words(const CompoundStep& step) {
    if (step.stage == CompoundStage::dry && !step.look.empty())
        return FilmPage::tr("It is %1").arg(from_utf8(step.look));
    if (step.stage == CompoundStage::ladder)
        return FilmPage::tr("Keep the ladder");
    return FilmPage::tr("%1: done").arg(from_utf8(step.title));
}

} // namespace

FilmPage::FilmPage(Workbench& workbench, const PieceReader& reader, QWidget* parent)
    : QWidget(parent), workbench_(workbench), reader_(reader) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(6);
    steps_ = new FilmSteps(this);
    box->addWidget(steps_);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    const auto button = [&](const QString& name, const QString& text, const QString& tip, auto&& run) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, run);
        row->addWidget(b);
        return b;
    };
    done_ = button(u"film_done"_s, tr("Done"), tr("What was done is kept for the logbook, with its time (Space)."),
                   [this] { say_done(); });
    done_->setProperty("primary", true);
    skip_ = button(u"film_skip"_s, tr("Skip…"), tr("Leaves the step out; the reason is kept."), [this] { ask_skip(); });
    back_ = button(u"film_back"_s, tr("Take back"), tr("The last step was not done after all; both words are kept."),
                   [this] { take_back(); });
    said_ = new FindingList(this);
    said_->setObjectName(u"film_said"_s);
    said_->setFocusPolicy(Qt::NoFocus);
    row->addWidget(said_, 1);
    row->addWidget(text_label(tr("Pieces together"), TextStyle::small, this));
    together_ = new QSpinBox(this);
    together_->setObjectName(u"film_together"_s);
    together_->setAccessibleName(tr("Pieces that are sprayed and washed together"));
    together_->setRange(1, most_together);
    row->addWidget(together_);
    away_ = button(u"film_away"_s, tr("Put away"),
                   tr("Nothing more is done with these pieces; the next ones begin anew."), [this] { put_away(); });
    box->addLayout(row);
    auto* cards = new QHBoxLayout;
    cards->setSpacing(24);
    const auto card = [&](const QString& head, QWidget* what, QLabel** under, const QString& name, int stretch) {
        auto* column = new QVBoxLayout;
        column->setSpacing(4);
        column->addWidget(text_label(head, TextStyle::head, this));
        column->addWidget(what);
        if (under != nullptr) {
            *under = plain_label({}, TextStyle::small, this);
            (*under)->setObjectName(name);
            (*under)->setWordWrap(true);
            column->addWidget(*under);
        }
        column->addStretch(1);
        cards->addLayout(column, stretch);
    };
    look_ = new DryLook(this);
    card(tr("Dry, seen from the side"), look_, &mass_, u"film_mass"_s, 3);
    wash_ = new FindingList(this);
    wash_->setObjectName(u"film_wash"_s);
    wash_->setFocusPolicy(Qt::NoFocus);
    card(tr("What takes the rest off"), wash_, nullptr, {}, 3);
    ladder_ = new ScratchLadder(this);
    card(tr("Scratch ladder, on a scrap"), ladder_, &score_, u"film_score"_s, 3);
    box->addLayout(cards);
    box->addStretch(1);
    cost_ = text_label({}, TextStyle::body, this);
    cost_->setObjectName(u"film_cost"_s);
    box->addWidget(cost_);
    parts_ = new PartsBar(u"film_parts"_s, tr("What a piece costs"), true, this);
    box->addWidget(parts_);
    auto* rule = text_label(tr("The strictest rule wins: can, data sheet, local fire, waste and workplace codes, and "
                               "the laser safety officer. Minutes of hands are estimates of the trade."),
                            TextStyle::small, this);
    rule->setWordWrap(true);
    box->addWidget(rule);
    clock_.setInterval(a_second);
    connect(&clock_, &QTimer::timeout, this, &FilmPage::tick);
    connect(steps_, &FilmSteps::done_asked, this, &FilmPage::say_done);
    connect(ladder_, &ScratchLadder::graded, this, &FilmPage::grade);
    connect(together_, &QSpinBox::valueChanged, this, [this](int pieces) {
        workbench_.change(tr("%1 pieces together").arg(pieces), u"film_together"_s,
                          [pieces](Draft& d) { d.piece.film_together = pieces; });
    });
}

const StepPlan* FilmPage::at_hand() const {
    return work_ && work_->stand.now ? &work_->plan.steps.at(*work_->stand.now) : nullptr;
}

void FilmPage::refresh() {
    auto work = film_work(workbench_, reader_);
    const bool shown = work.has_value();
    for (QWidget* w : std::initializer_list<QWidget*>{done_, skip_, back_, away_, together_})
        w->setEnabled(shown);
    if (!shown) {
        work_.reset();
        clock_.stop();
        steps_->show_picture({});
        said_->show_rows({{State::unknown, from_utf8(sentence(work.error())), true}});
        cost_->clear();
        parts_->show_parts({});
        return;
    }
    work_ = std::move(*work);
    const std::string batch = work_->facts.empty() ? std::string() : work_->facts.front().batch;
    if (graded_ != batch || grades_.size() != workbench_.materials().compounds.ladder.size()) {
        graded_ = batch;
        grades_.assign(workbench_.materials().compounds.ladder.size(), std::nullopt);
    }
    const std::vector<double> kept = work_->ladder();
    for (std::size_t i = 0; i < kept.size() && i < grades_.size(); ++i)
        grades_[i] = kept[i];
    show_work();
    const bool runs = !work_->facts.empty() && work_->stand.now;
    runs ? clock_.start() : clock_.stop();
}

void FilmPage::tick() {
    if (!work_ || !isVisible())
        return;
    static_cast<FilmTimes&>(*work_) = film_times(work_->facts, work_->plan, *work_->compound, workbench_.now());
    show_work();
}

void FilmPage::show_work() {
    steps_->show_picture(film_picture(*work_));
    const FilmWords words = film_words(*work_);
    said_->show_rows({{words.state, words.text, true}});
    const StepPlan* now = at_hand();
    done_->setText(now != nullptr ? done_words(now->step) : tr("All done"));
    done_->setEnabled(now != nullptr);
    skip_->setEnabled(now != nullptr && now->step.stage != CompoundStage::mark);
    back_->setEnabled(!work_->facts.empty());
    away_->setEnabled(!work_->facts.empty());
    together_->setEnabled(work_->facts.empty());
    const QSignalBlocker quiet(together_);
    together_->setValue(work_->pieces);
    look_->show_look(from_utf8(std::ranges::find(work_->plan.steps, CompoundStage::dry, [](const StepPlan& p) {
                                   return p.step.stage;
                               })->step.look));
    mass_->setText(tr("Film %1 g/m² when dry, in coats: %2. A scrap, weighed before and after, says what it is.")
                       .arg(screen_number(work_->plan.film_g_m2), screen_number(work_->recipe.coats)));
    wash_->show_rows(wash_rows(*work_));
    show_ladder();
    const CompoundPlan& plan = work_->plan;
    cost_->setText(tr("Making a piece costs %1 when %2 are made together; a can of %3 sprays %4. Cost… adds blanks, "
                      "set-up, proofs and what is spoiled.")
                       .arg(money(plan.cost()))
                       .arg(work_->pieces)
                       .arg(money(work_->compound->can_price), screen_number(std::floor(plan.spray.marks_per_can))));
    parts_->show_parts(cost_parts(plan));
}

void FilmPage::show_ladder() {
    const CompoundTable& table = workbench_.materials().compounds;
    std::vector<ScratchLadder::Rung> rungs;
    const int expected = work_->expected ? work_->expected->level : 0;
    for (std::size_t i = 0; i < table.ladder.size(); ++i)
        rungs.push_back(
            {from_utf8(table.ladder[i].tool), table.ladder[i].weight, static_cast<int>(i) < expected, grades_.at(i)});
    const StepPlan* now = at_hand();
    ladder_->show_rungs(std::move(rungs), now != nullptr && now->step.stage == CompoundStage::ladder);
    std::vector<double> tried;
    for (const auto& g : grades_)
        if (g)
            tried.push_back(*g);
    if (tried.empty()) {
        score_->setText(work_->expected ? tr("Expected: adhesion %1, %2 of %3 tools.")
                                              .arg(screen_number(work_->expected->adhesion, 2))
                                              .arg(expected)
                                              .arg(table.ladder.size())
                                        : from_utf8(sentence(work_->expected.error())));
        return;
    }
    const auto score = ladder_score(table, tried);
    score_->setText(score ? tr("Survives %1: score %2 of 100; %3 tools were expected to be survived.")
                                .arg(from_utf8(score->survives), screen_number(score->score))
                                .arg(expected)
                          : from_utf8(sentence(score.error())));
}

void FilmPage::grade(std::size_t rung, std::optional<double> grade) {
    if (!work_ || rung >= grades_.size())
        return;
    // Tools are tried one after the other, the softest first.
    if (grade && rung > 0 && !grades_[rung - 1])
        return workbench_.say(tr("Try the softer tools first."), State::warn);
    grades_[rung] = grade;
    // Where a mark is gone there is nothing left to scratch.
    if (!grade || *grade <= 0)
        std::fill(grades_.begin() + static_cast<std::ptrdiff_t>(rung) + 1, grades_.end(), std::nullopt);
    show_ladder();
}

void FilmPage::say_done() {
    const StepPlan* now = at_hand();
    if (now == nullptr)
        return;
    const CompoundStage stage = now->step.stage;
    std::vector<double> ladder;
    if (stage == CompoundStage::ladder) {
        for (const auto& g : grades_)
            if (g)
                ladder.push_back(*g);
        if (ladder.empty())
            return workbench_.say(tr("Grade the tools first: a click or its number for held, lightened, gone."),
                                  State::warn);
    }
    QString note;
    if (stage == CompoundStage::dry && work_->stand.drying_min)
        note = tr("seen %1 after %2").arg(from_utf8(now->step.look), screen_duration(60 * *work_->stand.drying_min));
    say_step(workbench_, *work_, stage, StepEvent::Kind::done, note, std::move(ladder));
}

void FilmPage::ask_skip() {
    if (at_hand() == nullptr)
        return;
    auto* dialog = new QInputDialog(this);
    dialog->setObjectName(u"skip_dialog"_s);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Skip: %1").arg(from_utf8(at_hand()->step.title)));
    dialog->setLabelText(at_hand()->step.stage == CompoundStage::dry
                             ? tr("A wet coat spits, burns and does not bond. Why is it not seen dry?")
                             : tr("Why?"));
    const CompoundStage stage = at_hand()->step.stage;
    connect(dialog, &QInputDialog::textValueSelected, this, [this, stage](const QString& why) {
        if (why.trimmed().isEmpty())
            return workbench_.say(tr("Nothing was skipped: without a reason it would be a riddle later."), State::warn);
        if (at_hand() != nullptr && at_hand()->step.stage == stage)
            say_step(workbench_, *work_, stage, StepEvent::Kind::skipped, why.trimmed());
    });
    dialog->open();
}

void FilmPage::take_back() {
    if (!work_)
        return;
    // The last step that counts as done or skipped.
    for (std::size_t i = work_->stand.now.value_or(work_->plan.steps.size()); i-- > 0;)
        if (work_->stand.steps[i].state != StepState::later)
            return say_step(workbench_, *work_, work_->plan.steps[i].step.stage, StepEvent::Kind::withdrawn);
}

void FilmPage::put_away() {
    if (work_)
        finch::app::put_away(workbench_, *work_);
}

} // namespace finch::app

#include "moc_film_page.cpp"
