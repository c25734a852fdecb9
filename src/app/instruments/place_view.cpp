// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/place_view.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// An arrow beside the first part: which way up its drawing is.
void paint_up(QPainter& painter, const QRectF& part, double deg, const Theme& t) {
    constexpr double reach = 26, arrow_head = 7, clear = 8;
    painter.save();
    painter.translate(std::max(reach, part.left() - reach - clear), part.center().y());
    painter.rotate(-deg); // the screen turns the other way
    painter.setPen(QPen(t(Role::accent), 2));
    painter.drawLine(QPointF(0, reach), QPointF(0, -reach));
    painter.setBrush(t(Role::accent));
    painter.drawPolygon(QPolygonF(
        {QPointF(0, -reach - 2), QPointF(-arrow_head, -reach + arrow_head), QPointF(arrow_head, -reach + arrow_head)}));
    painter.restore();
}

} // namespace

PlaceView::PlaceView(QWidget* parent) : Instrument(u"place_view"_s, tr("How it lies on the work"), parent) {
    setMinimumSize(360, 260);
}

void PlaceView::show_picture(PlacePicture picture) {
    picture_ = std::move(picture);
    speak(picture_.parts.empty() ? picture_.empty : picture_.words);
    update();
}

void PlaceView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF all = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.fillRect(all, t(Role::field));
    painter.setPen(QPen(t(Role::hair), 1));
    painter.drawRect(all);
    if (picture_.parts.empty()) {
        paint_paragraph(painter, all.adjusted(32, 0, -32, 0), picture_.empty, TextStyle::body, t(Role::ink2),
                        Qt::AlignCenter);
        return;
    }
    QRectF world(0, 0, picture_.width_mm, picture_.height_mm);
    if (picture_.field)
        world = world.united(*picture_.field);
    const QRectF box = all.adjusted(18, 18, -18, -18);
    const double scale = std::min(box.width() / world.width(), box.height() / world.height());
    const QTransform to(scale, 0, 0, -scale, box.center().x() - scale * world.center().x(),
                        box.center().y() + scale * world.center().y());
    painter.setRenderHint(QPainter::Antialiasing);
    if (picture_.field) {
        painter.setPen(QPen(t(Role::ink), 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(to.mapRect(*picture_.field));
    }
    bool once = false;
    for (std::size_t i = 0; i < picture_.parts.size(); ++i) {
        const auto& part = picture_.parts[i];
        const QRectF at = to.mapRect(part.box);
        painter.fillRect(at, i % 2 == 0 ? t(Role::surface) : t(Role::band1));
        painter.setPen(QPen(t(Role::rule), 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(at);
    }
    for (const auto& part : picture_.parts) {
        if (!part.shows_all && once)
            break;
        once = true;
        const QTransform moved = QTransform::fromTranslate(part.by.x, part.by.y) * to;
        painter.fillPath(moved.map(picture_.marks), t(Role::ink));
        painter.fillPath(moved.map(part.own), t(Role::ink));
        painter.setPen(QPen(t(Role::ink3), 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(moved.map(picture_.guides));
    }
    if (picture_.up_deg)
        paint_up(painter, to.mapRect(picture_.parts.front().box), *picture_.up_deg, t);
    if (!picture_.numbered)
        return;
    double last_right = -1e9, last_y = -1e9;
    for (const auto& part : picture_.parts) {
        const QRectF at = to.mapRect(part.box);
        const QString number = QString::number(part.number);
        const double w = text_width(number, TextStyle::value_small) + 6;
        const QRectF tag(at.left() + 2, at.top() + 2, w, 16);
        if (w > at.width() && tag.left() < last_right && std::abs(tag.top() - last_y) < 1)
            continue; // no room for every number
        painter.fillRect(tag, t(Role::tag_ground));
        paint_text(painter, tag, number, TextStyle::value_small, t(Role::tag_ink), Qt::AlignCenter);
        last_right = tag.right() + 4;
        last_y = tag.top();
    }
}

} // namespace finch::app

#include "moc_place_view.cpp"
