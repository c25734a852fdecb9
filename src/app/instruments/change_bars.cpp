// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/change_bars.h"

#include <algorithm>
#include <cmath>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double header_height = 24, margin = 10, same = 0.005;

/// A bar from the middle of a rail: right for more, left for less, with an arrow's end where it goes beyond.
void paint_bar(QPainter& painter, const QRectF& rail, double ratio, double reach, const Theme& theme) {
    const double middle = std::round(rail.center().x()) + 0.5;
    paint_hairline(painter, {rail.left(), rail.center().y()}, {rail.right(), rail.center().y()}, theme(Role::hair));
    const double share = std::log(std::max(ratio, 1e-9)) / std::log(reach);
    const double length = std::clamp(share, -1.0, 1.0) * rail.width() / 2;
    if (std::abs(ratio - 1) >= same) {
        QRectF bar(middle, rail.top(), length, rail.height());
        bar = bar.normalized();
        painter.fillRect(bar, theme(Role::ink2));
        if (std::abs(share) > 1) {
            const double tip = share > 0 ? bar.right() + 6 : bar.left() - 6, end = share > 0 ? bar.right() : bar.left();
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme(Role::ink2));
            painter.drawPolygon(QPolygonF({{end, rail.top() - 2}, {tip, rail.center().y()}, {end, rail.bottom() + 2}}));
            painter.setRenderHint(QPainter::Antialiasing, false);
        }
    }
    paint_hairline(painter, {middle, rail.top() - 3}, {middle, rail.bottom() + 3}, theme(Role::ink));
}

void paint_row(QPainter& painter, const QRectF& box, const ChangeBarsView& v, const ChangeBarsView::Row& row,
               const Theme& theme) {
    const bool beside = v.note_beside || v.compact;
    double left = box.left() + margin;
    if (row.state) {
        paint_state(painter, QRectF(left, box.top() + (beside ? 10 : 5), 16, 16), *row.state, theme);
        left += 22;
    }
    const double names = box.left() + v.name_width - left - 6;
    paint_text(painter, QRectF(left, box.top() + (beside ? 0 : 3), names, beside ? box.height() : 20), row.name,
               TextStyle::head, theme(Role::ink));
    if (!beside && !row.note.isEmpty())
        paint_text(painter, QRectF(left, box.top() + 22, names, 18), row.note, TextStyle::small, theme(Role::ink2));
    double x = box.left() + v.name_width;
    for (const ChangeBarsView::Cell& cell : row.cells) {
        const QRectF place(x, box.top(), v.column_width - margin, box.height());
        const bool bar = cell.ratio.has_value();
        const bool still = bar && std::abs(*cell.ratio - 1) < same;
        paint_text(painter,
                   QRectF(place.left(), place.top() + (beside ? 2 : 4), place.width(), beside && !bar ? 32 : 18),
                   cell.text, TextStyle::value_small, theme(still ? Role::ink3 : Role::ink));
        if (bar)
            paint_bar(painter, QRectF(place.left(), place.top() + (beside ? 23 : 27), place.width() - 6, 8),
                      *cell.ratio, v.reach, theme);
        x += v.column_width;
    }
    if (beside && !row.note.isEmpty())
        paint_paragraph(painter, QRectF(x + 6, box.top() + 2, box.right() - x - 6 - margin, box.height() - 3), row.note,
                        TextStyle::small, theme(Role::ink2), Qt::AlignLeft | Qt::AlignVCenter);
}

} // namespace

QString ratio_words(double ratio) {
    if (std::abs(ratio - 1) < same)
        return QObject::tr("same");
    if (ratio > 2.5 || ratio < 0.4)
        return u"× "_s + screen_number(ratio, 2);
    const double percent = 100 * (ratio - 1);
    return (percent < 0 ? u"−"_s : u"+"_s) + screen_number(std::abs(percent), 2) + u" %"_s;
}

int ChangeBarsView::height() const {
    return static_cast<int>(header_height) + static_cast<int>(rows.size()) * row_height() + 1;
}

int ChangeBarsView::width() const {
    return static_cast<int>(name_width + static_cast<double>(columns.size()) * column_width) + (note_beside ? 220 : 0);
}

int ChangeBarsView::row_at(double y) const {
    const int row = static_cast<int>(std::floor((y - header_height) / row_height()));
    return row >= 0 && row < static_cast<int>(rows.size()) ? row : -1;
}

void paint_change_bars(QPainter& painter, const QRectF& box, const ChangeBarsView& v, const Theme& theme) {
    double x = box.left() + v.name_width;
    for (const QString& column : v.columns) {
        paint_text(painter, QRectF(x, box.top(), v.column_width - 4, header_height - 4), column, TextStyle::small,
                   theme(Role::ink2));
        x += v.column_width;
    }
    double y = box.top() + header_height;
    int index = 0;
    for (const ChangeBarsView::Row& row : v.rows) {
        const QRectF place(box.left(), y, box.width(), v.row_height());
        paint_hairline(painter, place.topLeft(), place.topRight(), theme(Role::hair));
        if (v.choosable && index == v.chosen) {
            painter.fillRect(place.adjusted(0, 1, 0, 0), theme(Role::raised));
            painter.fillRect(QRectF(place.left(), place.top() + 1, 4, place.height() - 1), theme(Role::accent));
        }
        paint_row(painter, place, v, row, theme);
        y += v.row_height();
        ++index;
    }
    paint_hairline(painter, {box.left(), y}, {box.right(), y}, theme(Role::hair));
}

ChangeBars::ChangeBars(const QString& name, QWidget* parent) : Instrument(name, tr("Changes"), parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ChangeBars::show_view(ChangeBarsView view) {
    view_ = std::move(view);
    setFocusPolicy(view_.choosable ? Qt::StrongFocus : Qt::NoFocus);
    describe();
    updateGeometry();
    update();
}

void ChangeBars::describe() {
    QStringList rows;
    for (std::size_t i = 0; i < view_.rows.size(); ++i) {
        if (view_.choosable && static_cast<int>(i) != view_.chosen)
            continue;
        const auto& row = view_.rows[i];
        QStringList parts;
        for (std::size_t c = 0; c < row.cells.size() && static_cast<qsizetype>(c) < view_.columns.size(); ++c)
            parts << u"%1 %2"_s.arg(view_.columns[static_cast<qsizetype>(c)], row.cells[c].text);
        if (!row.note.isEmpty())
            parts << row.note;
        rows << u"%1: %2"_s.arg(row.name, parts.join(u", "_s));
    }
    speak(rows.join(u"; "_s));
}

void ChangeBars::choose(int row) {
    if (!view_.choosable || row < 0 || row >= static_cast<int>(view_.rows.size()) || row == view_.chosen)
        return;
    view_.chosen = row;
    describe();
    update();
    Q_EMIT chosen(row);
}

void ChangeBars::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paint_change_bars(painter, QRectF(rect()), view_, theme());
    if (hasFocus() && view_.choosable && !view_.rows.empty()) {
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(0, header_height + view_.chosen * view_.row_height(), width(), view_.row_height())
                             .adjusted(1, 2, -1, -1));
    }
}

void ChangeBars::mousePressEvent(QMouseEvent* event) {
    choose(view_.row_at(event->position().y()));
}

void ChangeBars::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const int row = view_.row_at(event->position().y()); view_.choosable && row >= 0) {
        choose(row);
        Q_EMIT taken(row);
    }
}

void ChangeBars::keyPressEvent(QKeyEvent* event) {
    if (view_.choosable && (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down))
        choose(view_.chosen + (event->key() == Qt::Key_Up ? -1 : 1));
    else if (view_.choosable && !view_.rows.empty() &&
             (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter))
        Q_EMIT taken(view_.chosen);
    else
        QWidget::keyPressEvent(event);
}

} // namespace finch::app

#include "moc_change_bars.cpp"
