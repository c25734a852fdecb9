// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/aim_station.h"

#include "app/session/text.h"
#include "app/stations/aim/aim_view.h"
#include "app/stations/aim/wish_dialog.h"
#include "app/theme/label.h"

#include <QDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QShowEvent>
#include <QStyle>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int left_width = 244;

} // namespace

AimStation::AimStation(Workbench& workbench, AimFlow& aims, QWidget* parent)
    : QWidget(parent), workbench_(workbench), aims_(aims) {
    setObjectName(u"station_aim"_s);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 8, 0, 6);
    box->setSpacing(0);
    auto* header = new QHBoxLayout;
    header->setContentsMargins(0, 0, 16, 4);
    auto* title = text_label(tr("What must come out"), TextStyle::title, this);
    title->setFixedWidth(left_width - 4);
    header->addWidget(title);
    auto* words = new QVBoxLayout;
    words->setSpacing(1);
    headline_ = text_label({}, TextStyle::head, this);
    headline_->setObjectName(u"aim_headline"_s);
    under_ = text_label({}, TextStyle::small, this);
    under_->setObjectName(u"aim_challenge"_s);
    under_->setWordWrap(true);
    words->addWidget(headline_);
    words->addWidget(under_);
    header->addLayout(words, 1);
    auto* wear = new QPushButton(tr("Wear and rust…"), this);
    wear->setObjectName(u"wear_chart"_s);
    connect(wear, &QPushButton::clicked, this, &AimStation::show_wear);
    header->addWidget(wear);
    box->addLayout(header);
    auto* area = new QWidget(this);
    auto* row = new QHBoxLayout(area);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(make_left(), 0, Qt::AlignTop);
    board_ = new JudgementBoard(u"judgement_board"_s, area);
    row->addWidget(board_, 0, Qt::AlignTop);
    row->addStretch(1);
    scroll_ = new QScrollArea(this);
    scroll_->setObjectName(u"aim_scroll"_s);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setWidgetResizable(true);
    scroll_->setWidget(area);
    scroll_->viewport()->setAutoFillBackground(false);
    area->setAutoFillBackground(false);
    box->addWidget(scroll_, 1);
    impossible_ = text_label({}, TextStyle::small, this);
    impossible_->setObjectName(u"aim_impossible"_s);
    impossible_->setContentsMargins(0, 2, 16, 0);
    impossible_->setWordWrap(true);
    box->addWidget(impossible_);
    connect(&workbench_, &Workbench::changed, this, &AimStation::refresh);
    connect(&aims_, &AimFlow::weighed, this, &AimStation::refresh);
}

QWidget* AimStation::make_left() {
    auto* left = new QWidget(this);
    left->setFixedWidth(left_width);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* head = new QWidget(left);
    head->setFixedHeight(BoardMeasures::head);
    auto* box = new QVBoxLayout(head);
    box->setContentsMargins(0, 26, 16, 8);
    box->setSpacing(4);
    title_ = text_label({}, TextStyle::section, head);
    title_->setObjectName(u"aim_name"_s);
    facts_ = text_label({}, TextStyle::small, head);
    facts_->setWordWrap(true);
    box->addWidget(title_);
    box->addWidget(facts_);
    box->addStretch(1);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    auto* add = new QPushButton(tr("Add target"), head);
    add->setObjectName(u"add_target"_s);
    add_menu_ = new QMenu(add);
    for (std::size_t i = 0; i < wish_kind_count; ++i) {
        const auto kind = static_cast<WishKind>(i);
        QAction* action = add_menu_->addAction(from_utf8(traits(kind).label));
        action->setObjectName(u"add_"_s + from_utf8(traits(kind).key));
        connect(action, &QAction::triggered, this, [this, kind] { add_wish(kind); });
    }
    add->setMenu(add_menu_);
    auto* piece = new QPushButton(tr("Piece…"), head);
    piece->setObjectName(u"edit_piece"_s);
    connect(piece, &QPushButton::clicked, this, &AimStation::edit_piece);
    buttons->addWidget(add, 1);
    buttons->addWidget(piece);
    box->addLayout(buttons);
    column->addWidget(head);
    wishes_ = new WishList(u"wishes"_s, left);
    column->addWidget(wishes_);
    connect(wishes_, &WishList::toggled, this, [this](int i) {
        aims_.edit(tr("must or wish"), {}, [i](Aim& a) {
            Wish& w = a.wishes.at(static_cast<std::size_t>(i));
            w.must = !w.must;
        });
    });
    connect(wishes_, &WishList::edit_asked, this, &AimStation::edit_wish);
    connect(wishes_, &WishList::remove_asked, this, [this](int i) {
        aims_.edit(tr("remove a target"), {}, [i](Aim& a) { a.wishes.erase(a.wishes.begin() + i); });
    });
    for (const auto& [text, height] : {std::pair{tr("Swing with usual errors"), 41}, std::pair{tr("Rests on"), 17},
                                       std::pair{tr("In one sentence"), 36}}) {
        auto* l = text_label(text, TextStyle::head, left);
        l->setFixedHeight(height);
        l->setAlignment(Qt::AlignTop | Qt::AlignLeft);
        l->setContentsMargins(0, height == 41 ? 5 : 0, 0, 0);
        column->addWidget(l);
    }
    return left;
}

void AimStation::add_wish(WishKind kind) {
    aims_.edit(tr("add a target"), {}, [kind](Aim& a) {
        if (a.find(kind) == nullptr)
            a.wishes.push_back(usual_wish(kind));
    });
    for (std::size_t i = 0; i < workbench_.draft().aim.wishes.size(); ++i)
        if (workbench_.draft().aim.wishes[i].kind == kind)
            edit_wish(static_cast<int>(i));
}

void AimStation::edit_wish(int row) {
    const auto i = static_cast<std::size_t>(row);
    if (i >= workbench_.draft().aim.wishes.size())
        return;
    auto* dialog = new WishDialog(workbench_.draft().aim.wishes[i], this);
    set_theme(dialog, theme_of(this));
    connect(dialog, &WishDialog::accepted_wish, this, [this, i](const Wish& wish) {
        aims_.edit(tr("change a target"), {}, [&](Aim& a) {
            if (i < a.wishes.size())
                a.wishes[i] = wish;
        });
    });
    dialog->open();
}

void AimStation::edit_piece() {
    auto* dialog = new PieceDialog(workbench_.draft().aim, this);
    set_theme(dialog, theme_of(this));
    connect(dialog, &PieceDialog::accepted_aim, this,
            [this](const Aim& aim) { aims_.edit(tr("change the piece"), {}, [&](Aim& a) { a = aim; }); });
    dialog->open();
}

void AimStation::show_wear() {
    auto* dialog = new QDialog(this);
    dialog->setObjectName(u"wear_dialog"_s);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Wear and rust"));
    set_theme(dialog, theme_of(this));
    auto* box = new QVBoxLayout(dialog);
    auto* chart = new WearChart(u"wear"_s, dialog);
    std::vector<WearPoint> points;
    QStringList tests;
    for (const Proposal& p : aims_.weighing().proposals) {
        if (!p.school_group.empty() && !points.empty() && points.back().name == QString::fromStdString(p.label))
            continue;
        points.push_back({QString::fromStdString(p.label), p.durability.abrasion, p.durability.corrosion});
        tests << QString::fromStdString(p.label + ": " + p.durability.test);
    }
    tests.removeDuplicates();
    const Aim& aim = workbench_.draft().aim;
    const Wish *rub = aim.find(WishKind::abrasion), *rust = aim.find(WishKind::corrosion_kept);
    chart->show_points(std::move(points), rub != nullptr ? rub->value : 0, rust != nullptr ? rust->value : 0);
    box->addWidget(chart, 1);
    auto* words =
        text_label(tr("Engineering judgement, one class either way. What settles it: ") + tests.join(u"; "_s) + u"."_s,
                   TextStyle::small, dialog);
    words->setWordWrap(true);
    words->setMinimumWidth(440);
    box->addWidget(words);
    dialog->open();
}

void AimStation::take(std::size_t column) {
    const auto& proposals = aims_.weighing().proposals;
    if (column < proposals.size())
        aims_.take(proposals[column], proposals[column].candidate());
}

void AimStation::refresh() {
    if (!isVisible())
        return;
    aims_.weigh_soon();
    const Draft& d = workbench_.draft();
    const Weighing& w = aims_.weighing();
    title_->setText(QString::fromStdString(d.aim.title));
    facts_->setText(aim_facts(d.aim));
    wishes_->show_lines(wish_lines(d.aim));
    const auto columns = judged_columns(workbench_, aims_);
    board_->show_columns(columns);
    headline_->setText(aims_.busy() && columns.empty() ? tr("Weighing every process …")
                                                       : QString::fromStdString(w.headline));
    QStringList challenges;
    for (const std::string& c : w.challenges)
        challenges << QString::fromStdString(c);
    under_->setProperty("state", challenges.isEmpty() ? QString() : u"warn"_s);
    under_->style()->polish(under_);
    under_->setText(challenges.isEmpty()
                        ? tr("Every look, number and pass is an estimate until a proof sheet has been read.")
                        : challenges.join(u" "_s));
    QStringList no;
    for (const auto& [process, why] : w.impossible)
        no << QString::fromStdString(process) + u": "_s + QString::fromStdString(why);
    impossible_->setText(no.isEmpty() ? QString() : tr("Not here — ") + no.join(u"  "_s));
    place_buttons();
}

void AimStation::place_buttons() {
    const auto& proposals = aims_.weighing().proposals;
    const std::size_t count = board_->columns().size();
    while (take_.size() < count) {
        auto* b = new QPushButton(board_);
        const std::size_t i = take_.size();
        b->setObjectName(u"take_%1"_s.arg(i));
        connect(b, &QPushButton::clicked, this, [this, i] { take(i); });
        take_.push_back(b);
    }
    for (std::size_t i = 0; i < take_.size(); ++i) {
        take_[i]->setVisible(i < count);
        if (i >= count)
            continue;
        const bool best = i == 0 && proposals[i].candidate().meets;
        take_[i]->setText(take_text(proposals[i], workbench_, i == 0));
        take_[i]->setAccessibleName(tr("%1: %2").arg(take_[i]->text(), QString::fromStdString(proposals[i].label)));
        if (take_[i]->property("primary").toBool() != best) {
            take_[i]->setProperty("primary", best);
            take_[i]->style()->polish(take_[i]);
        }
        take_[i]->setGeometry(static_cast<int>(i) * BoardMeasures::column + 12, board_->height() - 38,
                              BoardMeasures::column - 24, 34);
    }
}

void AimStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void AimStation::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), t(Role::surface));
    const double y = scroll_->geometry().top() - 0.5;
    paint_hairline(painter, {0, y}, {static_cast<double>(width()), y}, t(Role::hair));
}

} // namespace finch::app

#include "moc_aim_station.cpp"
