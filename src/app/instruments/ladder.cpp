// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/ladder.h"

#include <algorithm>
#include <cmath>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPolygonF>
#include <QToolTip>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double spine_x = 42;
constexpr double head = 44; // title and readout
constexpr double foot = 8;

QRectF scale_box(const QRectF& box) {
    return {box.left(), box.top() + head + 6, box.width(), box.height() - head - 6 - foot};
}

double y_of(const QRectF& scale, const LadderView& v, double value) {
    const double t = std::log(value / v.low) / std::log(v.high / v.low);
    return scale.bottom() - std::clamp(t, 0.0, 1.0) * scale.height();
}

QString decade_text(double v) {
    return v >= 1000 ? QString::number(v / 1000, 'g', 3) + QStringLiteral("k") : QString::number(v, 'g', 3);
}

void paint_bands(QPainter& painter, const QRectF& scale, const LadderView& v, const Theme& theme) {
    const std::array fills{Role::surface, Role::band1, Role::band2, Role::band3, Role::band4};
    const double left = scale.left() + spine_x + (v.film.empty() ? 0 : 10), wide = scale.right() - 1 - left;
    if (!v.shared.empty()) {
        painter.setPen(Qt::NoPen);
        painter.setRenderHint(QPainter::Antialiasing);
        for (std::size_t layer = v.shared.front().upto.size(); layer-- > 0;) {
            QPolygonF area;
            for (const auto& s : v.shared)
                area << QPointF(left + wide * s.upto[layer], y_of(scale, v, s.at));
            area << QPointF(left, y_of(scale, v, v.shared.back().at))
                 << QPointF(left, y_of(scale, v, v.shared.front().at));
            painter.setBrush(theme(fills[std::min(layer, fills.size() - 1)]));
            painter.drawPolygon(area);
            if (layer + 1 == v.shared.front().upto.size())
                continue;
            painter.setPen(QPen(theme(Role::rule), 1));
            painter.drawPolyline(area.data(), static_cast<int>(v.shared.size()));
            painter.setPen(Qt::NoPen);
        }
        painter.setRenderHint(QPainter::Antialiasing, false);
    }
    for (std::size_t i = 0; i < v.bands.size(); ++i) {
        const auto& band = v.bands[i];
        const double top = y_of(scale, v, band.to), bottom = y_of(scale, v, band.from);
        if (bottom - top < 0.5)
            continue;
        const QRectF r(scale.left() + spine_x, top, scale.width() - spine_x - 1, bottom - top);
        if (v.shared.empty()) {
            painter.fillRect(r, theme(fills[std::min(i, fills.size() - 1)]));
            paint_hairline(painter, r.topLeft(), r.topRight(), theme(Role::rule));
        }
        if (bottom - top < 13)
            continue;
        // The name steps aside for the needle where the band has room for that.
        double y = (top + bottom) / 2;
        const double needle = y_of(scale, v, v.value);
        if (std::abs(needle - y) < 11 && bottom - top > 34)
            y = needle - top > bottom - needle ? needle - 13 : needle + 13;
        paint_text(painter, QRectF(r.left() + 14, y - 8, r.width() - 15, 16), band.name, TextStyle::small,
                   theme(Role::ink), Qt::AlignLeft | Qt::AlignVCenter);
    }
    painter.setPen(QPen(theme(Role::rule), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(
        QRectF(scale.left() + spine_x + 0.5, scale.top() + 0.5, scale.width() - spine_x - 1, scale.height() - 1));
}

void paint_ticks(QPainter& painter, const QRectF& scale, const LadderView& v, const Theme& theme) {
    for (double decade = std::pow(10, std::floor(std::log10(v.low))); decade <= v.high * 1.001; decade *= 10)
        for (int n = 1; n < 10; ++n) {
            const double at = n * decade;
            if (at < v.low * 0.999 || at > v.high * 1.001)
                continue;
            const double y = std::round(y_of(scale, v, at)) + 0.5;
            const double length = n == 1 ? 10 : n == 2 || n == 5 ? 7 : 4;
            paint_hairline(painter, {scale.left() + spine_x - length, y}, {scale.left() + spine_x, y},
                           theme(Role::tick));
            if (n == 1)
                paint_text(painter, QRectF(scale.left(), y - 8, spine_x - 11, 16), decade_text(at),
                           TextStyle::value_small, theme(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
        }
}

} // namespace

double ladder_value_at(const QRectF& box, const LadderView& v, double y) {
    const QRectF scale = scale_box(box);
    const double t = std::clamp((scale.bottom() - y) / scale.height(), 0.0, 1.0);
    return v.low * std::pow(v.high / v.low, t);
}

void paint_ladder(QPainter& painter, const QRectF& box, const LadderView& v, const Theme& theme) {
    paint_text(painter, QRectF(box.left(), box.top(), box.width(), 18), v.title, TextStyle::head, theme(Role::ink2));
    const double used = paint_text(painter, QRectF(box.left(), box.top() + 18, box.width(), 24), screen_number(v.value),
                                   TextStyle::readout_large, theme(Role::ink));
    paint_text(painter, QRectF(box.left() + used + 4, box.top() + 21, box.width() - used - 4, 20), v.unit,
               TextStyle::small, theme(Role::ink2));
    const QRectF scale = scale_box(box);
    paint_bands(painter, scale, v, theme);
    painter.setRenderHint(QPainter::Antialiasing, false);
    for (std::size_t i = 0; i + 1 < v.film.size(); ++i) {
        const double top = y_of(scale, v, v.film[i + 1].at), bottom = y_of(scale, v, v.film[i].at);
        painter.fillRect(QRectF(scale.left() + spine_x + 1, top, 9, bottom - top + 1), to_qcolor(v.film[i].lab));
    }
    paint_ticks(painter, scale, v, theme);
    const double right = scale.right();
    if (v.spread > 0) {
        QColor soft = theme(Role::accent);
        soft.setAlphaF(0.28f);
        const double top = y_of(scale, v, v.value * std::exp(v.spread)),
                     bottom = y_of(scale, v, v.value * std::exp(-v.spread));
        painter.fillRect(
            QRectF(scale.left() + spine_x, top, right - scale.left() - spine_x, std::max(3.0, bottom - top)), soft);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    if (v.ghost) {
        const double y = y_of(scale, v, *v.ghost);
        QPen dotted(theme(Role::ink2), 1.5, Qt::DotLine);
        painter.setPen(dotted);
        painter.drawLine(QPointF(scale.left() + spine_x, y), QPointF(right, y));
        paint_pointer(painter, {scale.left() + spine_x, y}, 9, -90, theme(Role::surface), theme(Role::ink));
    }
    const double y = y_of(scale, v, v.value);
    painter.setPen(QPen(theme(Role::ink), 4));
    painter.drawLine(QPointF(scale.left() + spine_x, y), QPointF(right - 1, y));
    painter.setPen(QPen(theme(Role::accent), 2.5));
    painter.drawLine(QPointF(scale.left() + spine_x, y), QPointF(right - 1, y));
    paint_pointer(painter, {scale.left() + spine_x, y}, 11, -90, theme(Role::accent), theme(Role::ink));
}

Ladder::Ladder(const QString& name, QWidget* parent) : Instrument(name, tr("Ladder"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::SizeVerCursor);
    setMinimumSize(100, 200);
}

void Ladder::show_view(LadderView view) {
    view_ = std::move(view);
    QString band = tr("beyond the scale");
    for (const auto& b : view_.bands)
        if (view_.value >= b.from && view_.value < b.to)
            band = b.name;
    speak(view_.title, tr("%1 %2, in the band \u201c%3\u201d").arg(screen_number(view_.value), view_.unit, band));
    setToolTip(accessibleDescription());
    update();
}

void Ladder::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paint_ladder(painter, QRectF(rect()), view_, theme());
    if (hasFocus()) {
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, head + 3, -1, -1), 3, 3);
    }
}

void Ladder::mousePressEvent(QMouseEvent* event) {
    if (event->position().y() <= head)
        Q_EMIT asked();
    else
        Q_EMIT moved(ladder_value_at(QRectF(rect()), view_, event->position().y()));
}

void Ladder::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton && event->position().y() > head)
        Q_EMIT moved(ladder_value_at(QRectF(rect()), view_, event->position().y()));
}

void Ladder::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers() & Qt::ShiftModifier ? 1.2
                        : event->modifiers() & Qt::AltModifier ? 1.002
                                                               : 1.02;
    if (event->key() == Qt::Key_Up)
        Q_EMIT moved(view_.value * step);
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT asked();
    else if (event->key() == Qt::Key_Down)
        Q_EMIT moved(view_.value / step);
    else
        QWidget::keyPressEvent(event);
}

bool Ladder::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const double at = ladder_value_at(QRectF(rect()), view_, help->pos().y());
        for (const auto& b : view_.bands)
            if (at >= b.from && at < b.to)
                QToolTip::showText(
                    help->globalPos(),
                    tr("%1: %2 to %3 %4").arg(b.name, screen_number(b.from), screen_number(b.to), view_.unit), this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace finch::app

#include "moc_ladder.cpp"
