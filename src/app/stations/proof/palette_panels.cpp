// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/palette_panels.h"

#include "app/instruments/swatch.h"

#include <algorithm>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double top = 44, row_height = 27;
constexpr double box_gap = 12, box_count = 5;

int step_of(int key) {
    return key == Qt::Key_Down || key == Qt::Key_Right ? 1 : key == Qt::Key_Up || key == Qt::Key_Left ? -1 : 0;
}

} // namespace

SwatchList::SwatchList(QWidget* parent) : Instrument(u"swatch_list"_s, tr("Named colours"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumWidth(300);
}

void SwatchList::show_view(SwatchListView view) {
    view_ = std::move(view);
    QStringList spoken;
    for (const auto& r : view_.rows)
        spoken << tr("%1, holds to %2, repeats within %3").arg(r.name, r.holds, r.repeat);
    speak(spoken.join(u"; "_s));
    update();
}

std::size_t SwatchList::visible_rows() const {
    return std::min(view_.rows.size(), static_cast<std::size_t>(std::max(0.0, (height() - top) / row_height)));
}

QPoint SwatchList::row_point(std::size_t row) const {
    return {60, static_cast<int>(top + (static_cast<double>(row) + 0.5) * row_height)};
}

void SwatchList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width();
    paint_text(painter, {0, 0, w - 90, 20}, tr("Named colours"), TextStyle::section, t(Role::ink));
    paint_text(painter, {w - 110, 0, 110, 20}, view_.of, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    const double strip = w - 262;
    paint_text(painter, {140, 22, strip, 18}, tr("tilt 0° to 60°"), TextStyle::small, t(Role::ink2));
    paint_text(painter, {w - 116, 22, 50, 18}, tr("holds"), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, {w - 60, 22, 60, 18}, tr("repeats"), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_hairline(painter, {0, top - 1.5}, {w, top - 1.5}, t(Role::rule));
    for (std::size_t i = 0; i < visible_rows(); ++i) {
        const auto& r = view_.rows[i];
        const double y = top + static_cast<double>(i) * row_height;
        if (r.current) {
            painter.fillRect(QRectF(0, y, w, row_height - 1), t(Role::raised));
            painter.fillRect(QRectF(0, y, 3, row_height - 1), t(Role::accent));
        }
        paint_patch(painter, {8, y + 4, 34, 18}, to_qcolor(r.lab), t, 3);
        paint_text(painter, {50, y, 88, row_height - 1}, r.name, r.current ? TextStyle::head : TextStyle::body,
                   t(Role::ink));
        const double step = strip / static_cast<double>(std::max<std::size_t>(1, r.tilt.size()));
        for (std::size_t k = 0; k < r.tilt.size(); ++k)
            painter.fillRect(QRectF(140 + static_cast<double>(k) * step, y + 7, step + 1, 12), to_qcolor(r.tilt[k]));
        if (!r.tilt.empty()) {
            painter.setPen(QPen(t(Role::casing), 1));
            painter.setBrush(t(Role::needle_on_picture));
            painter.drawRect(QRectF(140 + r.holds_share * strip - 2, y + 4.5, 4, 17));
        }
        paint_text(painter, {w - 116, y, 50, row_height - 1}, r.holds, TextStyle::value, t(Role::ink),
                   Qt::AlignRight | Qt::AlignVCenter);
        if (r.shaky)
            paint_state(painter, {w - 58, y + 6, 14, 14}, State::warn, t);
        paint_text(painter, {w - 44, y, 44, row_height - 1}, r.repeat, TextStyle::value, t(Role::ink),
                   Qt::AlignRight | Qt::AlignVCenter);
        paint_hairline(painter, {0, y + row_height - 0.5}, {w, y + row_height - 0.5}, t(Role::hair));
    }
    if (view_.rows.size() > visible_rows())
        paint_text(painter, {0, height() - 18.0, w, 18}, tr("and %1 more").arg(view_.rows.size() - visible_rows()),
                   TextStyle::small, t(Role::ink2));
    if (hasFocus()) {
        painter.setPen(QPen(t(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 3, 3);
    }
}

void SwatchList::mousePressEvent(QMouseEvent* event) {
    const double row = (event->position().y() - top) / row_height;
    if (row >= 0 && row < static_cast<double>(visible_rows()))
        Q_EMIT asked(view_.rows[static_cast<std::size_t>(row)].colour);
}

void SwatchList::keyPressEvent(QKeyEvent* event) {
    const int step = step_of(event->key());
    if (step == 0 || view_.rows.empty())
        return QWidget::keyPressEvent(event);
    const auto current = std::ranges::find_if(view_.rows, &SwatchListView::Row::current);
    const auto last = static_cast<long>(view_.rows.size()) - 1;
    const long at =
        current == view_.rows.end() ? (step > 0 ? 0 : last) : std::clamp(current - view_.rows.begin() + step, 0L, last);
    Q_EMIT asked(view_.rows[static_cast<std::size_t>(at)].colour);
}

WantedRow::WantedRow(QWidget* parent) : Instrument(u"wanted_row"_s, tr("Wanted colours"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(124);
}

void WantedRow::show_view(WantedView view) {
    view_ = std::move(view);
    QStringList spoken;
    for (const auto& b : view_.boxes)
        spoken << b.label + u" "_s + b.name + u", "_s + b.short_by + u", "_s + b.holds + u" "_s + b.next;
    speak(spoken.join(u"; "_s));
    update();
}

QRectF WantedRow::box_of(std::size_t box) const {
    const double w = (width() - (box_count - 1) * box_gap) / box_count;
    return {static_cast<double>(box) * (w + box_gap), 0, w, static_cast<double>(height())};
}

QPoint WantedRow::box_point(std::size_t box) const {
    return box_of(box).center().toPoint();
}

void WantedRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    if (view_.boxes.empty()) {
        paint_paragraph(painter, QRectF(rect()).adjusted(0, 8, 0, 0),
                        tr("No colour is wanted yet. Type one above, or add the target: what was read here is held "
                           "against it, and what this bench could reach without having burned it."),
                        TextStyle::body, t(Role::ink2));
        return;
    }
    for (std::size_t i = 0; i < view_.boxes.size(); ++i) {
        const auto& b = view_.boxes[i];
        const QRectF r = box_of(i);
        if (i > 0)
            paint_hairline(painter, {r.left() - box_gap / 2, 0}, {r.left() - box_gap / 2, r.bottom()}, t(Role::hair));
        paint_text(painter, {r.left(), 0, r.width() - 84, 20}, b.label + u"  "_s + b.name, TextStyle::head,
                   t(Role::ink));
        paint_text(painter, {r.right() - 86, 0, 66, 20}, b.short_by, TextStyle::value_small, t(Role::ink),
                   Qt::AlignRight | Qt::AlignVCenter);
        if (b.reached)
            paint_state(painter, {r.right() - 16, 2, 16, 16}, b.met ? State::ok : State::fail, t);
        const QRectF mat(r.left(), 23, r.width(), 42);
        painter.fillRect(mat, t(Role::mat));
        const QRectF inner = mat.adjusted(6, 6, -6, -6);
        painter.fillRect(inner, to_qcolor(b.wanted));
        paint_text(painter, inner.adjusted(4, 0, 0, -1), tr("wanted"), TextStyle::small, ink_on(b.wanted),
                   Qt::AlignLeft | Qt::AlignBottom);
        if (b.reached) {
            painter.fillRect(QRectF(inner.center().x(), inner.top(), inner.width() / 2, inner.height()),
                             to_qcolor(*b.reached));
            paint_text(painter, inner.adjusted(0, 0, -4, -1), tr("read"), TextStyle::small, ink_on(*b.reached),
                       Qt::AlignRight | Qt::AlignBottom);
        }
        if (b.current) {
            painter.setPen(QPen(t(Role::accent), 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(mat.adjusted(1, 1, -1, -1));
        }
        paint_text(painter, {r.left(), 68, r.width(), 18}, b.holds, TextStyle::small, t(Role::ink));
        paint_paragraph(painter, {r.left(), 87, r.width(), 36}, b.next, TextStyle::small, t(Role::ink2));
    }
}

void WantedRow::mousePressEvent(QMouseEvent* event) {
    for (std::size_t i = 0; i < view_.boxes.size(); ++i)
        if (box_of(i).contains(event->position()))
            Q_EMIT asked(i);
}

void WantedRow::keyPressEvent(QKeyEvent* event) {
    const int step = step_of(event->key());
    if (step == 0 || view_.boxes.empty())
        return QWidget::keyPressEvent(event);
    const auto current = std::ranges::find_if(view_.boxes, &WantedView::Box::current);
    const auto last = static_cast<long>(view_.boxes.size()) - 1;
    Q_EMIT asked(static_cast<std::size_t>(
        current == view_.boxes.end() ? 0 : std::clamp(current - view_.boxes.begin() + step, 0L, last)));
}

} // namespace finch::app

#include "moc_palette_panels.cpp"
