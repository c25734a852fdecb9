// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/check_list.h"

#include <algorithm>
#include <QFontMetricsF>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double heading_height = 28, text_left = 38, sign_size = 18, who_width = 92, pad = 5, line_gap = 2;

} // namespace

CheckList::CheckList(const QString& name, const QString& spoken, QWidget* parent) : Instrument(name, spoken, parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumWidth(320);
}

void CheckList::show_rows(std::vector<CheckRow> rows) {
    // What is chosen stays so when another row comes or goes above it: a key must not land on the wrong one.
    const QString key = chosen_ && *chosen_ < rows_.size() ? rows_[*chosen_].key : QString();
    rows_ = std::move(rows);
    if (!key.isEmpty()) {
        const auto same = std::ranges::find(rows_, key, &CheckRow::key);
        chosen_.reset();
        if (same != rows_.end())
            chosen_ = static_cast<std::size_t>(same - rows_.begin());
    } else if (chosen_ && (*chosen_ >= rows_.size() || rows_[*chosen_].heading))
        chosen_.reset();
    QStringList spoken;
    for (const CheckRow& r : rows_) {
        static const std::array words{QT_TR_NOOP("yes"), QT_TR_NOOP("with care"), QT_TR_NOOP("refused"),
                                      QT_TR_NOOP("not known")};
        const QString state = r.state              ? tr(words.at(static_cast<std::size_t>(*r.state)))
                              : r.box              ? tr("not answered")
                              : r.button.isEmpty() ? QString()
                                                   : tr("not answered");
        spoken << (r.heading ? r.title : tr("%1. %2 %3 %4").arg(r.title, r.why, state, r.who).simplified());
    }
    speak(spoken.join(u" "_s));
    lay_out();
    update();
}

QRectF CheckList::button_of(std::size_t row) const {
    const QRectF box = box_of(row);
    const double w = std::max(72.0, text_width(rows_[row].button, TextStyle::small) + 24);
    return {box.right() - w - 2, box.center().y() - 14, w, 28};
}

QPoint CheckList::below_button(std::size_t row) const {
    return mapToGlobal(button_of(row).bottomLeft().toPoint());
}

void CheckList::lay_out() {
    tops_.clear();
    double y = 0;
    const QFontMetricsF head(text_font(TextStyle::head)), small(text_font(TextStyle::small));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const CheckRow& r = rows_[i];
        tops_.emplace_back(0, y, width(), heading_height);
        if (!r.heading) {
            const double right = r.button.isEmpty() ? who_width : width() - button_of(i).left();
            const double room = std::max(100.0, width() - text_left - right - 8);
            const double words =
                r.why.isEmpty()
                    ? 0
                    : small.boundingRect(QRectF(0, 0, room, 1000), Qt::TextWordWrap, r.why).height() + line_gap;
            tops_.back().setHeight(std::max(30.0, 2 * pad + head.height() + words));
        }
        y += tops_.back().height();
    }
    if (minimumHeight() != static_cast<int>(y) + 2)
        setFixedHeight(static_cast<int>(y) + 2);
}

void CheckList::resizeEvent(QResizeEvent*) {
    lay_out();
}

void CheckList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const CheckRow& r = rows_[i];
        const QRectF box = box_of(i);
        if (r.heading) {
            paint_text(painter, box.adjusted(0, 4, -who_width - 60, 0), r.title, TextStyle::head, t(Role::ink));
            paint_text(painter, box.adjusted(0, 4, -4, 0), r.who, TextStyle::small, t(Role::ink2),
                       Qt::AlignRight | Qt::AlignVCenter);
            paint_hairline(painter, box.bottomLeft(), box.bottomRight(), t(Role::rule));
            continue;
        }
        const bool open = (r.box || !r.button.isEmpty()) && !r.state;
        if (open) {
            painter.fillRect(box.adjusted(0, 1, 0, -1), t(Role::raised));
            painter.fillRect(QRectF(box.left(), box.top() + 1, 3, box.height() - 2), t(Role::accent));
        }
        const QRectF sign(10, box.top() + pad + 1, sign_size, sign_size);
        if (r.box && (!r.state || *r.state == State::ok)) {
            painter.setPen(QPen(r.state ? t(Role::ok) : t(Role::ink), 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(sign.adjusted(1, 1, -1, -1), 2, 2);
            if (r.state) {
                painter.drawPolyline(QPolygonF({sign.topLeft() + QPointF(5, 9.5), sign.topLeft() + QPointF(8, 12.5),
                                                sign.topLeft() + QPointF(13.5, 5.5)}));
            }
        } else
            paint_state(painter, sign, r.state.value_or(State::unknown), t);
        const double right =
            r.button.isEmpty() ? box.right() - (r.who.isEmpty() ? 4 : who_width) : button_of(i).left() - 8;
        const double height = QFontMetricsF(text_font(TextStyle::head)).height();
        paint_text(painter, QRectF(text_left, box.top() + pad, right - text_left, height), r.title, TextStyle::head,
                   t(Role::ink));
        paint_paragraph(painter,
                        QRectF(text_left, box.top() + pad + height + line_gap, right - text_left,
                               box.bottom() - box.top() - height - pad),
                        r.why, TextStyle::small, t(Role::ink2));
        if (!r.button.isEmpty()) {
            const QRectF button = button_of(i);
            painter.setPen(QPen(t(Role::ink3), 1));
            painter.setBrush(t(Role::field));
            painter.drawRoundedRect(button, 4, 4);
            paint_text(painter, button, r.button, TextStyle::small, t(Role::ink), Qt::AlignCenter);
        } else
            paint_text(painter, QRectF(box.right() - who_width, box.top() + pad, who_width - 4, height), r.who,
                       TextStyle::small, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
        paint_hairline(painter, box.bottomLeft(), box.bottomRight(), t(Role::hair));
        if (hasFocus() && chosen_ == i) {
            painter.setPen(QPen(t(Role::accent), 1.5));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(box.adjusted(1, 1, -1, -1));
        }
    }
}

void CheckList::choose(std::size_t row) {
    chosen_ = row;
    Q_EMIT chosen_at(static_cast<int>(box_of(row).center().y()));
    update();
}

void CheckList::focusInEvent(QFocusEvent* event) {
    // The first that is open is where the work is.
    if (!chosen_)
        for (std::size_t i = 0; i < rows_.size(); ++i)
            if (presses(i) && !rows_[i].state) {
                choose(i);
                break;
            }
    Instrument::focusInEvent(event);
    update();
}

void CheckList::mousePressEvent(QMouseEvent* event) {
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (!rows_[i].heading && box_of(i).contains(event->position())) {
            choose(i);
            // With gloves on the whole row is the target.
            if (presses(i))
                Q_EMIT pressed(i);
            return;
        }
}

void CheckList::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Home)
        chosen_.reset();
    const int by = event->key() == Qt::Key_Down || event->key() == Qt::Key_Home ? 1
                   : event->key() == Qt::Key_Up                                 ? -1
                                                                                : 0;
    if (by != 0 && !rows_.empty()) {
        const auto n = static_cast<int>(rows_.size());
        int row = chosen_ ? static_cast<int>(*chosen_) : by > 0 ? -1 : n;
        do
            row += by;
        while (row >= 0 && row < n && rows_[static_cast<std::size_t>(row)].heading);
        if (row >= 0 && row < n)
            choose(static_cast<std::size_t>(row));
        return;
    }
    if ((event->key() == Qt::Key_Space || event->key() == Qt::Key_Return) && event->modifiers() == Qt::NoModifier &&
        chosen_ && presses(*chosen_))
        return Q_EMIT pressed(*chosen_);
    Instrument::keyPressEvent(event);
}

} // namespace finch::app

#include "moc_check_list.cpp"
