// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/bench/setup_page.h"

#include "app/instruments/edit_field.h"
#include "app/theme/label.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QShowEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double head = 26, foot = 36;

} // namespace

SetupCard::SetupCard(Workbench& workbench, SetupCardSpec spec, QWidget* parent)
    : QWidget(parent), workbench_(workbench), spec_(std::move(spec)) {
    setObjectName(u"setup_"_s + spec_.name);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(12, 0, 12, 4);
    box->addStretch(1);
    auto* row = new QHBoxLayout;
    row->setSpacing(5);
    for (const SetupCardSpec::Input& input : spec_.inputs) {
        const std::size_t i = values_.size();
        values_.push_back(input.value);
        row->addWidget(text_label(input.label, TextStyle::small, this));
        auto* field =
            new EditField(u"setup_"_s + spec_.name + u'_' + input.name, spec_.title + u", "_s + input.label,
                          QuantityKind::length, {{"mm"}, {}, {}, input.low, input.high, DecimalSign::automatic}, this);
        field->setMaximumWidth(spec_.inputs.size() > 3 ? 58 : 84);
        field->show_value(input.value);
        row->addWidget(field);
        connect(field, &EditField::entered, this, [this, i](double v) {
            values_[i] = v;
            refresh();
        });
        connect(field, &EditField::complained, this, [this](const QString& why) { workbench_.say(why, State::fail); });
    }
    row->addStretch(1);
    box->addLayout(row);
    refresh();
}

void SetupCard::refresh() {
    result_ = spec_.compute(workbench_, values_);
    QStringList words;
    for (const CardResult::Line& l : result_.lines)
        words << l.name + u" "_s + l.value;
    setAccessibleName(spec_.title);
    setAccessibleDescription(result_.fault.isEmpty() ? words.join(u", "_s) : result_.fault);
    update();
}

void SetupCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    paint_text(painter, QRectF(12, 2, width() - 24.0, 22), spec_.title, TextStyle::section, t(Role::ink));
    const double numbers = std::min(230.0, 0.56 * width());
    const QRectF picture(12, head + 2, width() - numbers - 30, height() - head - foot - 8);
    if (!result_.fault.isEmpty()) {
        paint_state(painter, QRectF(12, head + 6, 16, 16), State::fail, t);
        paint_paragraph(painter, QRectF(34, head + 4, width() - 46.0, picture.height()), result_.fault, TextStyle::body,
                        t(Role::ink));
    } else {
        painter.save();
        if (result_.draw)
            result_.draw(painter, picture, t);
        painter.restore();
        double y = head + 2;
        for (const CardResult::Line& l : result_.lines) {
            const QRectF box(width() - numbers - 8, y, numbers - 4, 20);
            paint_text(painter, box, l.name, TextStyle::small, t(Role::ink2));
            const double room = l.state ? 22 : 0;
            paint_text(painter, box.adjusted(0, 0, -room, 0), l.value, TextStyle::value_small, t(Role::ink),
                       Qt::AlignRight | Qt::AlignVCenter);
            if (l.state)
                paint_state(painter, QRectF(box.right() - 15, y + 3, 14, 14), *l.state, t);
            y += 21;
        }
    }
    paint_hairline(painter, {0, height() - 0.5}, {static_cast<double>(width()), height() - 0.5}, t(Role::hair));
    paint_hairline(painter, {width() - 0.5, 0}, {width() - 0.5, static_cast<double>(height())}, t(Role::hair));
}

SetupPage::SetupPage(Workbench& workbench, QWidget* parent) : QWidget(parent) {
    setObjectName(u"setup_page"_s);
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(4, 4, 0, 0);
    grid->setSpacing(0);
    int i = 0;
    for (SetupCardSpec& spec : setup_cards(workbench)) {
        auto* card = new SetupCard(workbench, std::move(spec), this);
        cards_.push_back(card);
        grid->addWidget(card, i / 3, i % 3);
        ++i;
    }
    connect(&workbench, &Workbench::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void SetupPage::refresh() {
    for (SetupCard* card : cards_)
        card->refresh();
}

void SetupPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

} // namespace finch::app

#include "moc_setup_page.cpp"
