// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/run_view.h"

#include <algorithm>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double room_px = 16, tag_height = 16;

QString stand_word(RunPicture::Stand stand) {
    switch (stand) {
    case RunPicture::Stand::waits:
        return RunView::tr("waits");
    case RunPicture::Stand::now:
        return RunView::tr("now");
    case RunPicture::Stand::done:
        return RunView::tr("done");
    case RunPicture::Stand::aside:
        return RunView::tr("set aside");
    }
    return {};
}

} // namespace

RunView::RunView(QWidget* parent) : Instrument(u"run_view"_s, tr("What lies on the bench"), parent) {
    setMinimumSize(360, 300);
    setFocusPolicy(Qt::StrongFocus);
}

void RunView::show_picture(RunPicture picture) {
    picture_ = std::move(picture);
    QString chosen;
    if (picture_.chosen && *picture_.chosen < picture_.parts.size()) {
        const RunPicture::Part& p = picture_.parts[*picture_.chosen];
        chosen = u" %1 %2: %3."_s.arg(picture_.part_word).arg(p.number).arg(stand_word(p.stand));
    }
    speak(picture_.parts.empty() ? picture_.empty : picture_.words + chosen);
    update();
}

QTransform RunView::to_screen() const {
    QRectF world(0, 0, picture_.width_mm, picture_.height_mm);
    if (picture_.field)
        world = world.united(*picture_.field);
    const QRectF box = QRectF(rect()).adjusted(room_px, room_px, -room_px, -room_px);
    const double scale = std::min(box.width() / world.width(), box.height() / world.height());
    return {scale,
            0,
            0,
            -scale,
            box.center().x() - scale * world.center().x(),
            box.center().y() + scale * world.center().y()};
}

void RunView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF all = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.fillRect(all, t(Role::field));
    painter.setPen(QPen(hasFocus() ? t(Role::accent) : t(Role::hair), 1));
    painter.drawRect(all);
    if (picture_.parts.empty() || !(picture_.width_mm > 0)) {
        paint_paragraph(painter, all.adjusted(32, 0, -32, 0), picture_.empty, TextStyle::body, t(Role::ink2),
                        Qt::AlignCenter);
        return;
    }
    const QTransform to = to_screen();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    if (picture_.field) {
        painter.setPen(QPen(t(Role::ink), 1.4));
        painter.drawRect(to.mapRect(*picture_.field));
    }
    bool once = false;
    for (const RunPicture::Part& part : picture_.parts) {
        const QRectF at = to.mapRect(part.box);
        painter.fillRect(at, part.stand == RunPicture::Stand::done ? t(Role::band1) : t(Role::surface));
        if (part.stand == RunPicture::Stand::now) // fills as it is marked
            painter.fillRect(
                QRectF(at.left(), at.bottom() - part.share * at.height(), at.width(), part.share * at.height()),
                t(Role::band1));
        painter.setPen(QPen(part.stand == RunPicture::Stand::now ? t(Role::accent) : t(Role::rule),
                            part.stand == RunPicture::Stand::now ? 2.5 : 1));
        painter.drawRect(at);
        if (part.stand == RunPicture::Stand::aside)
            paint_hatch(painter, at, t(Role::hatch));
        if (!part.own && std::exchange(once, true))
            continue;
        const QTransform moved = QTransform::fromTranslate(part.by.x, part.by.y) * to;
        const QColor ink = part.stand == RunPicture::Stand::done || part.stand == RunPicture::Stand::now
                               ? t(Role::ink)
                               : t(Role::ink3);
        painter.fillPath(moved.map(picture_.marks), ink);
        painter.fillPath(moved.map(part.only), ink);
        painter.setPen(QPen(t(Role::ink3), 1, Qt::DashLine));
        painter.drawPath(moved.map(picture_.guides));
    }
    if (picture_.frame) {
        // Gilt over dark, so that it is seen on any ground.
        const QRectF frame = to.mapRect(*picture_.frame);
        painter.setPen(QPen(t(Role::ink), 3));
        painter.drawRect(frame);
        painter.setPen(QPen(t(Role::accent), 2, Qt::DashLine));
        painter.drawRect(frame);
    }
    // Above the parts a number hides no mark; in them, where they lie close.
    const bool above = std::ranges::none_of(picture_.parts, [&](const RunPicture::Part& low) {
        const QRectF room = to.mapRect(low.box).adjusted(0, -tag_height, 0, 0);
        return std::ranges::any_of(picture_.parts, [&](const RunPicture::Part& p) {
            return &p != &low && to.mapRect(p.box).intersects(room);
        });
    });
    for (std::size_t i = 0; i < picture_.parts.size(); ++i) {
        const RunPicture::Part& part = picture_.parts[i];
        const QRectF at = to.mapRect(part.box);
        if (picture_.chosen == i && picture_.numbered) {
            painter.setPen(QPen(t(Role::accent), 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(at.adjusted(-2, -2, 2, 2));
        }
        if (!picture_.numbered || at.width() < 12)
            continue;
        const QString number = QString::number(part.number);
        const double w = text_width(number, TextStyle::value_small) + 6;
        const bool sign = part.stand == RunPicture::Stand::done || part.stand == RunPicture::Stand::aside;
        const QRectF tag(at.left(), at.top() + (above ? -tag_height : 2), w + (sign ? tag_height : 0), tag_height);
        painter.fillRect(tag, part.stand == RunPicture::Stand::now ? t(Role::accent) : t(Role::tag_ground));
        paint_text(painter, QRectF(tag.left(), tag.top(), w, tag_height), number, TextStyle::value_small,
                   part.stand == RunPicture::Stand::now ? t(Role::on_accent) : t(Role::tag_ink), Qt::AlignCenter);
        if (sign)
            paint_state(painter, QRectF(tag.left() + w, tag.top() + 1, tag_height - 2, tag_height - 2),
                        part.stand == RunPicture::Stand::done ? State::ok : State::warn, t);
    }
}

void RunView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const QTransform to = to_screen();
    for (std::size_t i = 0; i < picture_.parts.size(); ++i)
        if (to.mapRect(picture_.parts[i].box).contains(event->position()))
            return Q_EMIT part_asked(i);
}

void RunView::keyPressEvent(QKeyEvent* event) {
    const std::size_t n = picture_.parts.size();
    const std::size_t now = picture_.chosen.value_or(n - 1);
    if (n > 0 && (event->key() == Qt::Key_Right || event->key() == Qt::Key_Down))
        return Q_EMIT part_asked((now + 1) % n);
    if (n > 0 && (event->key() == Qt::Key_Left || event->key() == Qt::Key_Up))
        return Q_EMIT part_asked((now + n - 1) % n);
    if (event->key() == Qt::Key_Delete)
        return Q_EMIT aside_asked();
    if (event->key() == Qt::Key_Space)
        return Q_EMIT hold_asked();
    Instrument::keyPressEvent(event);
}

RunBar::RunBar(QWidget* parent) : Instrument(u"run_bar"_s, tr("Time of the run"), parent) {
    setFixedHeight(48);
}

void RunBar::show_picture(RunBarPicture picture) {
    picture_ = std::move(picture);
    speak(picture_.words);
    update();
}

void RunBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    double all = 0;
    for (const RunBarPicture::Span& s : picture_.spans)
        all += s.seconds;
    const QRectF bar(0.5, 4.5, width() - 1, 24);
    painter.fillRect(bar, t(Role::field));
    double x = bar.left(), at = bar.left(), last_label = -1e9;
    for (const RunBarPicture::Span& s : picture_.spans) {
        const double w = all > 0 ? bar.width() * s.seconds / all : 0;
        if (s.seconds > 0)
            painter.fillRect(QRectF(x, bar.top(), w * std::min(1.0, s.done_s / s.seconds), bar.height()),
                             t(Role::ink3));
        if (s.now)
            at = x + (s.seconds > 0 ? w * std::min(1.0, s.done_s / s.seconds) : 0);
        paint_hairline(painter, {x, bar.top()}, {x, bar.bottom()}, t(Role::rule));
        if (const double label = text_width(s.name, TextStyle::small); label + 4 < w || x > last_label + 8) {
            if (label < bar.right() - x) {
                paint_text(painter, QRectF(x + 2, bar.bottom() + 1, label + 4, 18), s.name, TextStyle::small,
                           t(Role::ink2));
                last_label = x + label;
            }
        }
        x += w;
    }
    painter.setPen(QPen(t(Role::rule), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(bar);
    if (all > 0)
        painter.fillRect(QRectF(at - 2, bar.top() - 4, 4, bar.height() + 8), t(Role::accent));
}

} // namespace finch::app

#include "moc_run_view.cpp"
