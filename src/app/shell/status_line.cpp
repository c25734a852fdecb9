// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/status_line.h"

namespace finch::app {

using namespace Qt::StringLiterals;

StatusLine::StatusLine(QWidget* parent) : Instrument(u"status"_s, tr("Status"), parent) {
    setFixedHeight(24);
}

void StatusLine::say(const QString& text, State state) {
    text_ = text;
    state_ = state;
    speak(text);
    setToolTip(text);
    update();
}

void StatusLine::progress(const QString& text) {
    progress_ = text;
    update();
}

void StatusLine::saved(const QString& text) {
    saved_ = text;
    update();
}

void StatusLine::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    painter.fillRect(rect(), t(Role::window));
    paint_hairline(painter, {0, 0.5}, {static_cast<double>(width()), 0.5}, t(Role::rule));
    const double right = text_width(saved_, TextStyle::small);
    const QString shown = progress_.isEmpty() ? text_ : progress_;
    double x = 84;
    if (progress_.isEmpty() && state_ != State::ok && !text_.isEmpty()) {
        paint_state(painter, QRectF(x - 20, 5, 14, 14), state_, t);
    }
    paint_text(painter, QRectF(x, 1, width() - x - right - 50, 23), shown, TextStyle::small,
               state_ == State::ok || !progress_.isEmpty() ? t(Role::ink2) : t(Role::ink));
    if (!saved_.isEmpty()) {
        painter.drawPixmap(QPointF(width() - right - 32, 5),
                           icon_pixmap(u"save"_s, t(Role::ink2), 14, devicePixelRatioF()));
        paint_text(painter, QRectF(width() - right - 12, 1, right + 1, 23), saved_, TextStyle::small, t(Role::ink2));
    }
}

} // namespace finch::app

#include "moc_status_line.cpp"
