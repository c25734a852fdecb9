// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/swatch.h"

#include "app/session/text.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QRectF strip_box(const QRectF& box) {
    return {box.left(), box.top() + 74, box.width(), 14};
}

} // namespace

void paint_patch(QPainter& painter, const QRectF& box, const QColor& colour, const Theme& theme, double margin) {
    painter.fillRect(box, theme(Role::mat));
    painter.fillRect(box.adjusted(margin, margin, -margin, -margin), colour);
}

void paint_swatch(QPainter& painter, const QRectF& box, const SwatchView& v, const Theme& theme) {
    const QRectF mat(box.left(), box.top(), box.width(), 60);
    painter.fillRect(mat, theme(Role::mat));
    if (!v.valid) {
        if (v.flat)
            painter.fillRect(mat.adjusted(8, 8, -8, -8), to_qcolor(*v.flat));
        else
            paint_hatch(painter, mat.adjusted(8, 8, -8, -8), theme(Role::tag_ground), 7);
        painter.fillRect(QRectF(mat.left() + 14, mat.center().y() - 11, mat.width() - 28, 22), theme(Role::tag_ground));
        paint_text(painter, QRectF(mat.left() + 18, mat.center().y() - 11, mat.width() - 36, 22), v.reason,
                   TextStyle::small, theme(Role::tag_ink), Qt::AlignCenter);
        return;
    }
    const QRectF inner = mat.adjusted(8, 8, -8, -8);
    const double q = inner.width() / 4;
    painter.fillRect(QRectF(inner.left(), inner.top(), q + 1, inner.height()), to_qcolor(v.thinner));
    painter.fillRect(QRectF(inner.left() + q, inner.top(), 2 * q + 1, inner.height()), to_qcolor(v.middle));
    painter.fillRect(QRectF(inner.left() + 3 * q, inner.top(), q, inner.height()), to_qcolor(v.thicker));
    const QRectF strip = strip_box(box);
    const double w = strip.width() / tilt_steps;
    for (std::size_t i = 0; i < tilt_steps; ++i)
        painter.fillRect(QRectF(strip.left() + static_cast<double>(i) * w, strip.top(), w + 1, strip.height()),
                         to_qcolor(v.tilt[i]));
    painter.setRenderHint(QPainter::Antialiasing);
    const double x = strip.left() + (v.tilt_index + 0.5) * w;
    painter.setPen(QPen(theme(Role::casing), 1));
    painter.setBrush(theme(Role::needle_on_picture));
    painter.drawRoundedRect(QRectF(x - 3, strip.top() - 4, 6, strip.height() + 8), 2, 2);
    for (const int deg : {0, 15, 30, 45, 60}) {
        const double at = strip.left() + (deg / 5.0 + 0.5) * w;
        const auto alignment = deg == 0 ? Qt::AlignLeft : deg == 60 ? Qt::AlignRight : Qt::AlignHCenter;
        const double left = deg == 0 ? strip.left() : deg == 60 ? strip.right() - 40 : at - 20;
        paint_text(painter, QRectF(left, strip.bottom() + 4, 40, 16), u"%1°"_s.arg(deg), TextStyle::value_small,
                   theme(Role::ink2), alignment | Qt::AlignVCenter);
    }
    const double y = strip.bottom() + 21;
    paint_text(painter, QRectF(box.left(), y, 90, 16), u"\u2212"_s + v.spread, TextStyle::small, theme(Role::ink2));
    paint_text(painter, QRectF(box.left(), y, box.width(), 16), lab_text(v.middle), TextStyle::value, theme(Role::ink),
               Qt::AlignHCenter | Qt::AlignVCenter);
    paint_text(painter, QRectF(box.right() - 90, y, 90, 16), u"+"_s + v.spread, TextStyle::small, theme(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
}

Swatch::Swatch(const QString& name, QWidget* parent) : Instrument(name, tr("Predicted look with tilt"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(66);
}

void Swatch::show_view(const SwatchView& view) {
    view_ = view;
    const QString what = view.valid ? tr("%1, L* a* b* %2 at %3 degrees")
                                          .arg(from_utf8(colour_name(view.middle)), lab_text(view.middle))
                                          .arg(5 * view.tilt_index)
                                    : view.reason;
    speak(what);
    setToolTip(what);
    update();
}

void Swatch::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paint_swatch(painter, QRectF(rect()), view_, theme());
    if (hasFocus()) {
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 3, 3);
    }
}

void Swatch::tilt_to(double x) {
    const int index = std::clamp(static_cast<int>(x / width() * static_cast<double>(tilt_steps)), 0,
                                 static_cast<int>(tilt_steps) - 1);
    if (index != view_.tilt_index)
        Q_EMIT tilted(index);
}

void Swatch::mousePressEvent(QMouseEvent* event) {
    tilt_to(event->position().x());
}

void Swatch::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        tilt_to(event->position().x());
}

void Swatch::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step == 0)
        return QWidget::keyPressEvent(event);
    Q_EMIT tilted(std::clamp(view_.tilt_index + step, 0, static_cast<int>(tilt_steps) - 1));
}

} // namespace finch::app

#include "moc_swatch.cpp"
