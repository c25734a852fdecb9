// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/perch.h"

#include <algorithm>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int item = 72;

} // namespace

Perch::Perch(std::vector<Station> stations, QWidget* parent)
    : Instrument(u"perch"_s, tr("Stations"), parent), stations_(std::move(stations)) {
    setFixedWidth(72);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    tell();
}

void Perch::tell() {
    QStringList names;
    for (const Station& s : stations_)
        names << s.name;
    speak(tr("%1 of %2").arg(stations_[static_cast<std::size_t>(current_)].name, names.join(u", "_s)));
    update();
}

void Perch::set_current(int index) {
    current_ = index;
    tell();
}

void Perch::set_mark(int index, Mark mark) {
    stations_[static_cast<std::size_t>(index)].mark = mark;
    update();
}

void Perch::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    painter.fillRect(rect(), t(Role::window));
    for (std::size_t i = 0; i < stations_.size(); ++i) {
        const Station& s = stations_[i];
        const bool current = static_cast<int>(i) == current_;
        const QRectF r(0, static_cast<double>(i) * item, width(), item);
        if (current) {
            painter.fillRect(r, t(Role::surface));
            painter.fillRect(QRectF(0, r.top(), 4, item), t(Role::accent));
            paint_hairline(painter, r.topLeft(), r.topRight(), t(Role::rule));
            paint_hairline(painter, r.bottomLeft(), r.bottomRight(), t(Role::rule));
        }
        paint_text(painter, QRectF(8, r.top() + 12, 14, 16), QString::number(s.number), TextStyle::value_small,
                   t(Role::ink3));
        painter.drawPixmap(QPointF(25, r.top() + 15),
                           icon_pixmap(s.icon, current ? t(Role::ink) : t(Role::ink2), 22, devicePixelRatioF()));
        paint_text(painter, QRectF(0, r.top() + 42, width(), 18), s.name, current ? TextStyle::head : TextStyle::small,
                   t(Role::ink), Qt::AlignCenter);
        painter.setRenderHint(QPainter::Antialiasing);
        if (s.mark == Mark::unfinished) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(t(Role::accent));
            painter.drawEllipse(QPointF(60, r.top() + 20), 4, 4);
        } else if (s.mark == Mark::carried) {
            painter.setPen(QPen(t(Role::ok), 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            painter.setBrush(Qt::NoBrush);
            painter.drawPolyline(
                QPolygonF{QPointF(55, r.top() + 20), QPointF(59, r.top() + 24), QPointF(66, r.top() + 16)});
        }
    }
    if (hasFocus()) {
        painter.setPen(QPen(t(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(2, current_ * item + 2, width() - 4, item - 4));
    }
    paint_hairline(painter, {width() - 0.5, 0}, {width() - 0.5, static_cast<double>(height())}, t(Role::rule));
}

void Perch::mousePressEvent(QMouseEvent* event) {
    const int i = static_cast<int>(event->position().y()) / item;
    if (i >= 0 && i < static_cast<int>(stations_.size()))
        Q_EMIT asked(i);
}

void Perch::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0)
        return QWidget::keyPressEvent(event);
    Q_EMIT asked(std::clamp(current_ + step, 0, static_cast<int>(stations_.size()) - 1));
}

} // namespace finch::app

#include "moc_perch.cpp"
