// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/paint.h"

#include "quantity/format.h"

#include <cmath>
#include <QFontMetricsF>
#include <QHash>
#include <QPainterPath>
#include <QStaticText>

namespace finch::app {

using namespace Qt::StringLiterals;

void paint_state(QPainter& painter, const QRectF& box, State state, const Theme& theme) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double s = std::min(box.width(), box.height());
    const QRectF r(box.center().x() - s / 2, box.center().y() - s / 2, s, s);
    const QPointF c = r.center();
    const QColor inner = theme(Role::surface);
    painter.setPen(Qt::NoPen);
    const QPen stroke(inner, s * 0.13, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
    if (state == State::ok) {
        painter.setBrush(theme(Role::ok));
        painter.drawEllipse(r);
        painter.setPen(stroke);
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(QPolygonF{QPointF(c.x() - s * 0.22, c.y() + s * 0.02),
                                       QPointF(c.x() - s * 0.05, c.y() + s * 0.19),
                                       QPointF(c.x() + s * 0.24, c.y() - s * 0.17)});
    } else if (state == State::warn) {
        painter.setBrush(theme(Role::warn));
        QPainterPath p(QPointF(c.x(), r.top() + s * 0.04));
        p.lineTo(r.right(), r.bottom() - s * 0.06);
        p.lineTo(r.left(), r.bottom() - s * 0.06);
        p.closeSubpath();
        painter.drawPath(p);
        painter.setPen(stroke);
        painter.drawLine(QPointF(c.x(), c.y() - s * 0.08), QPointF(c.x(), c.y() + s * 0.13));
        painter.drawPoint(QPointF(c.x(), c.y() + s * 0.30));
    } else if (state == State::fail) {
        painter.setBrush(theme(Role::danger));
        QPolygonF p;
        for (int i = 0; i < 8; ++i) {
            const double a = (i + 0.5) * M_PI / 4;
            p << QPointF(c.x() + s * 0.53 * std::cos(a), c.y() + s * 0.53 * std::sin(a));
        }
        painter.drawPolygon(p);
        painter.setPen(stroke);
        painter.drawLine(QPointF(c.x() - s * 0.18, c.y() - s * 0.18), QPointF(c.x() + s * 0.18, c.y() + s * 0.18));
        painter.drawLine(QPointF(c.x() + s * 0.18, c.y() - s * 0.18), QPointF(c.x() - s * 0.18, c.y() + s * 0.18));
    } else {
        QPen ring(theme(Role::unknown), s * 0.1, Qt::DashLine);
        ring.setDashPattern({1.6, 1.4});
        painter.setPen(ring);
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(r.adjusted(s * 0.06, s * 0.06, -s * 0.06, -s * 0.06));
        QFont f = text_font(TextStyle::head);
        f.setPixelSize(std::max(7, static_cast<int>(s * 0.62)));
        painter.setFont(f);
        painter.setPen(theme(Role::unknown));
        painter.drawText(r, Qt::AlignCenter, u"?"_s);
    }
    painter.restore();
}

namespace {

/// A text with its glyphs in place: shaping it takes longer than painting it, and most texts are painted again and
/// again as they are.
struct SetText {
    QFont font;
    QStaticText text;
    double width = 0, height = 0;
};
const SetText& set_text(const QString& text, TextStyle style) {
    constexpr qsizetype kept = 2000;
    static QHash<std::pair<QString, int>, SetText> all;
    if (all.size() > kept)
        all.clear();
    SetText& set = all[{text, static_cast<int>(style)}];
    if (set.height == 0) {
        set.font = text_font(style);
        const QFontMetricsF metrics(set.font);
        set.width = metrics.horizontalAdvance(text);
        set.height = metrics.height();
        set.text = QStaticText(text);
        set.text.setTextFormat(Qt::PlainText);
        set.text.setPerformanceHint(QStaticText::AggressiveCaching);
        set.text.prepare({}, set.font);
    }
    return set;
}

} // namespace

double paint_text(QPainter& painter, const QRectF& box, const QString& text, TextStyle style, const QColor& colour,
                  Qt::Alignment alignment) {
    const SetText& set = set_text(text, style);
    painter.setFont(set.font);
    painter.setPen(colour);
    if (set.width > box.width() + 0.5) {
        const QString shown = QFontMetricsF(set.font).elidedText(text, Qt::ElideRight, box.width());
        painter.drawText(box, static_cast<int>(alignment) | Qt::TextSingleLine, shown);
        return set.width;
    }
    const double left = alignment & Qt::AlignRight     ? box.right() - set.width
                        : alignment & Qt::AlignHCenter ? box.center().x() - set.width / 2
                                                       : box.left();
    const double top = alignment & Qt::AlignVCenter  ? box.center().y() - set.height / 2
                       : alignment & Qt::AlignBottom ? box.bottom() - set.height
                                                     : box.top();
    painter.drawStaticText(QPointF(left, std::round(top)), set.text);
    return set.width;
}

double text_width(const QString& text, TextStyle style) {
    return set_text(text, style).width;
}

double paint_paragraph(QPainter& painter, const QRectF& box, const QString& text, TextStyle style, const QColor& colour,
                       Qt::Alignment alignment) {
    painter.setFont(text_font(style));
    painter.setPen(colour);
    QRectF taken;
    painter.drawText(box, static_cast<int>(alignment) | Qt::TextWordWrap, text, &taken);
    return taken.height();
}

void paint_value(QPainter& painter, const QRectF& box, const QString& value, const QString& unit, const Theme& theme,
                 const QColor& colour) {
    const double unit_width =
        unit.isEmpty() ? 0 : text_width(unit, TextStyle::small) + (unit == u"%"_s || unit == u"°"_s ? 2 : 4);
    if (!unit.isEmpty())
        paint_text(painter, QRectF(box.right() - unit_width, box.top(), unit_width, box.height()), unit,
                   TextStyle::small, theme(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(box.left(), box.top(), box.width() - unit_width, box.height()), value,
               TextStyle::value_bold, colour, Qt::AlignRight | Qt::AlignVCenter);
}

void paint_hairline(QPainter& painter, QPointF from, QPointF to, const QColor& colour) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(colour, 0));
    painter.drawLine(from, to);
    painter.restore();
}

void paint_hatch(QPainter& painter, const QRectF& box, const QColor& line, double pitch) {
    painter.save();
    painter.setClipRect(box, Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(line, 1));
    for (double x = box.left() - box.height(); x < box.right(); x += pitch)
        painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()));
    painter.restore();
}

void paint_pointer(QPainter& painter, QPointF tip, double size, double angle_deg, const QColor& fill,
                   const QColor& outline) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(tip);
    painter.rotate(angle_deg);
    QPainterPath p;
    p.lineTo(-size * 0.6, -size);
    p.lineTo(size * 0.6, -size);
    p.closeSubpath();
    painter.setBrush(fill);
    painter.setPen(QPen(outline, 1));
    painter.drawPath(p);
    painter.restore();
}

QColor to_qcolor(const Lab& lab) {
    const Rgb c = to_srgb(lab);
    return {c.r, c.g, c.b};
}

QColor ink_on(const Lab& lab) {
    return lab.l > 52 ? QColor(0x11, 0x11, 0x11) : QColor(0xff, 0xff, 0xff);
}

QString lab_text(const Lab& lab) {
    const auto part = [](double v, bool sign) {
        const long n = std::lround(v);
        return (sign && n > 0 ? u"+"_s : n < 0 ? u"\u2212"_s : QString()) + QString::number(std::abs(n));
    };
    return part(lab.l, false) + u" "_s + part(lab.a, true) + u" "_s + part(lab.b, true);
}

} // namespace finch::app
