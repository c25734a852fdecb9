// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/colour_plane.h"

#include <algorithm>
#include <cmath>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QToolTip>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double rim = 22, reach_px = 14;
constexpr double least_half_span = 42; ///< of a* and b*: so that few dots do not fill the plane

void tag(QPainter& painter, QPointF at, const QString& text, const Theme& theme) {
    const double w = text_width(text, TextStyle::small) + 8;
    const QRectF box(at.x() - w / 2, at.y() - 8, w, 16);
    painter.fillRect(box, theme(Role::tag_ground));
    paint_text(painter, box, text, TextStyle::small, theme(Role::tag_ink), Qt::AlignCenter);
}

void paint_rings(QPainter& painter, const PlaneGeometry& g, const Theme& theme) {
    painter.setBrush(Qt::NoBrush);
    const QPointF middle = g.at({50, 0, 0});
    QColor line = theme(Role::tag_ground);
    line.setAlpha(70);
    painter.setPen(QPen(line, 1));
    for (const double c : {20.0, 40.0, 60.0})
        painter.drawEllipse(middle, c * g.scale, c * g.scale);
    painter.drawLine(QPointF(middle.x(), g.box.top()), QPointF(middle.x(), g.box.bottom()));
    painter.drawLine(QPointF(g.box.left(), middle.y()), QPointF(g.box.right(), middle.y()));
    for (const double v : {-40.0, -20.0, 20.0, 40.0}) {
        const QPointF along = g.at({50, v, 0}), up = g.at({50, 0, v});
        if (along.x() > g.box.left() + 14 && along.x() < g.box.right() - 30)
            paint_text(painter, {along.x() - 20, g.box.bottom() - 18, 40, 14}, screen_number(v), TextStyle::value_small,
                       theme(Role::tag_ground), Qt::AlignCenter);
        if (up.y() > g.box.top() + 20 && up.y() < g.box.bottom() - 30)
            paint_text(painter, {g.box.left() + 4, up.y() - 7, 30, 14}, screen_number(v), TextStyle::value_small,
                       theme(Role::tag_ground));
    }
    paint_text(painter, {g.box.right() - 26, g.box.bottom() - 18, 22, 14}, u"a*"_s, TextStyle::small,
               theme(Role::tag_ground), Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, {g.box.left() + 4, g.box.top() + 3, 22, 14}, u"b*"_s, TextStyle::small,
               theme(Role::tag_ground));
}

void paint_path(QPainter& painter, const PlaneGeometry& g, const ColourPlaneView& v, const Theme& theme) {
    QColor band = theme(Role::tag_ground);
    band.setAlpha(90);
    painter.setBrush(Qt::NoBrush);
    for (const bool reached : {false, true}) {
        // As one stroke, so that nothing is painted twice.
        QPainterPath way;
        for (std::size_t i = 0; i + 1 < v.path.size(); ++i) {
            if ((v.path[i].reached && v.path[i + 1].reached) != reached)
                continue;
            const QPointF from = g.at(v.path[i].lab);
            if (way.isEmpty() || way.currentPosition() != from)
                way.moveTo(from);
            way.lineTo(g.at(v.path[i + 1].lab));
        }
        painter.setPen(reached ? QPen(band, 9, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin) : QPen(band, 1, Qt::DotLine));
        painter.drawPath(way);
    }
    // Film thickness along the way, where there is room.
    std::vector<QPointF> written;
    for (const ColourPlaneView::Path& p : v.path) {
        if (!p.reached || std::fmod(p.nm, 20) != 0)
            continue;
        const QPointF at = g.at(p.lab);
        if (std::ranges::any_of(written, [&](QPointF o) { return QLineF(o, at).length() < 34; }))
            continue;
        written.push_back(at);
        paint_text(painter, {at.x() - 16, at.y() - 8, 32, 16}, screen_number(p.nm), TextStyle::value_small,
                   theme(Role::tag_ink), Qt::AlignCenter);
    }
}

} // namespace

PlaneGeometry plane_geometry(const QRectF& box, const ColourPlaneView& v) {
    double a_low = -least_half_span, a_high = least_half_span, b_low = a_low, b_high = a_high;
    const auto hold = [&](const Lab& lab) {
        a_low = std::min(a_low, lab.a);
        a_high = std::max(a_high, lab.a);
        b_low = std::min(b_low, lab.b);
        b_high = std::max(b_high, lab.b);
    };
    for (const auto& d : v.dots)
        hold(d.lab);
    for (const auto& w : v.wanted)
        hold(w.lab);
    for (const auto& p : v.path)
        if (p.reached)
            hold(p.lab);
    PlaneGeometry g{box, (a_low + a_high) / 2, (b_low + b_high) / 2, 1};
    g.scale = std::max(
        0.1, std::min((box.width() - 2 * rim) / (a_high - a_low), (box.height() - 2 * rim) / (b_high - b_low)));
    return g;
}

void paint_colour_plane(QPainter& painter, const QRectF& box, const ColourPlaneView& v, const Theme& theme) {
    painter.save();
    painter.setClipRect(box);
    painter.fillRect(box, theme(Role::mat));
    painter.setRenderHint(QPainter::Antialiasing);
    const PlaneGeometry g = plane_geometry(box, v);
    paint_rings(painter, g, theme);
    paint_path(painter, g, v, theme);
    for (std::size_t i = 0; i < v.dots.size(); ++i) {
        const double r = v.dots[i].named ? 6 : 4;
        painter.setPen(QPen(theme(Role::tag_ink), 1));
        painter.setBrush(to_qcolor(v.dots[i].lab));
        painter.drawEllipse(g.at(v.dots[i].lab), r, r);
    }
    for (const auto& w : v.wanted) {
        const QPointF at = g.at(w.lab);
        if (w.nearest && !w.met) {
            painter.setPen(QPen(theme(Role::tag_ground), 1.5));
            painter.drawLine(at, g.at(v.dots[*w.nearest].lab));
        }
        painter.setPen(QPen(theme(Role::tag_ground), 2));
        painter.setBrush(to_qcolor(w.lab));
        painter.drawRect(QRectF(at.x() - 6, at.y() - 6, 12, 12));
        tag(painter, {std::clamp(at.x() + 20, box.left() + 14, box.right() - 14), at.y() - 12}, w.label, theme);
    }
    if (v.chosen && *v.chosen < v.dots.size()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme(Role::casing), 5));
        painter.drawEllipse(g.at(v.dots[*v.chosen].lab), 9.5, 9.5);
        painter.setPen(QPen(theme(Role::needle_on_picture), 2.5));
        painter.drawEllipse(g.at(v.dots[*v.chosen].lab), 9.5, 9.5);
    }
    if (v.dots.empty() && !v.empty.isEmpty()) {
        const QRectF note(box.left() + 24, box.bottom() - 76, box.width() - 48, 44);
        painter.fillRect(note, theme(Role::tag_ground));
        paint_paragraph(painter, note.adjusted(8, 4, -8, -4), v.empty, TextStyle::small, theme(Role::tag_ink),
                        Qt::AlignCenter);
    }
    painter.restore();
}

ColourPlane::ColourPlane(const QString& name, QWidget* parent)
    : Instrument(name, tr("Colours in the a* b* plane"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(260, 220);
}

void ColourPlane::show_view(ColourPlaneView view) {
    view_ = std::move(view);
    speak(view_.chosen ? view_.dots[*view_.chosen].tip : tr("%1 colours read").arg(view_.dots.size()));
    update();
}

QPoint ColourPlane::dot_point(std::size_t dot) const {
    return plane_geometry(box(), view_).at(view_.dots.at(dot).lab).toPoint();
}

std::optional<std::size_t> ColourPlane::dot_at(QPointF point) const {
    const PlaneGeometry g = plane_geometry(box(), view_);
    std::optional<std::size_t> best;
    double nearest = reach_px;
    for (std::size_t i = 0; i < view_.dots.size(); ++i)
        if (const double d = QLineF(point, g.at(view_.dots[i].lab)).length(); d < nearest) {
            nearest = d;
            best = i;
        }
    return best;
}

void ColourPlane::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paint_colour_plane(painter, box(), view_, theme());
    if (hasFocus()) {
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(box().adjusted(1, 1, -1, -1));
    }
}

void ColourPlane::mousePressEvent(QMouseEvent* event) {
    if (const auto dot = dot_at(event->position()))
        Q_EMIT chosen(*dot);
}

void ColourPlane::keyPressEvent(QKeyEvent* event) {
    // Along the film: thicker and thinner.
    const int step = event->key() == Qt::Key_Right || event->key() == Qt::Key_Down ? 1
                     : event->key() == Qt::Key_Left || event->key() == Qt::Key_Up  ? -1
                                                                                   : 0;
    if (step == 0 || view_.dots.empty())
        return QWidget::keyPressEvent(event);
    const auto last = static_cast<int>(view_.dots.size()) - 1;
    const int from = view_.chosen ? static_cast<int>(*view_.chosen) : step > 0 ? -1 : last + 1;
    Q_EMIT chosen(static_cast<std::size_t>(std::clamp(from + step, 0, last)));
}

bool ColourPlane::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        if (const auto dot = dot_at(help->pos()))
            QToolTip::showText(help->globalPos(), view_.dots[*dot].tip, this);
        else
            QToolTip::hideText();
        return true;
    }
    return QWidget::event(event);
}

} // namespace finch::app

#include "moc_colour_plane.cpp"
