// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/sheet_view.h"

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

constexpr double left_margin = 62, right_margin = 62, top_margin = 22, bottom_margin = 40, mat_rim = 8;

QString de_text(double de) {
    return de >= 9.95 ? QString::number(std::lround(de)) : QString::number(de, 'f', 1);
}

void paint_left_out(QPainter& painter, const QRectF& r, const Theme& theme, bool dashed) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme(Role::casing), 1, dashed ? Qt::DashLine : Qt::SolidLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(r.adjusted(0.5, 0.5, -0.5, -0.5));
    painter.setPen(QPen(theme(Role::casing), 1));
    painter.drawLine(r.topLeft() + QPointF(9, 8), r.bottomRight() - QPointF(9, 8));
    painter.drawLine(r.topRight() + QPointF(-9, 8), r.bottomLeft() + QPointF(9, -8));
}

void paint_fate(QPainter& painter, const QRectF& r, const SheetView::Cell& c, const Theme& theme) {
    // Over the mat, so fixed tag colours: what would happen instead of a colour.
    painter.fillRect(r, c.fate == CellFate::burns ? QColor(theme(Role::tag_ink)) : theme(Role::tag_ground));
    paint_hatch(painter, r, theme(Role::mat), 6);
    const QString word = c.fate == CellFate::burns           ? u"burns"_s
                         : c.fate == CellFate::shows_nothing ? u"nothing"_s
                                                             : u"cannot"_s;
    const double w = text_width(word, TextStyle::small) + 8;
    const QRectF tag(r.center().x() - w / 2, r.center().y() - 8, w, 16);
    painter.fillRect(tag, theme(Role::tag_ground));
    paint_text(painter, tag, word, TextStyle::small, theme(Role::tag_ink), Qt::AlignCenter);
}

void paint_cell(QPainter& painter, const QRectF& r, const SheetView::Cell& c, const SheetView& v, const Theme& theme) {
    if (c.other) // smaller, so that nobody takes it for this round's
        return painter.fillRect(r.adjusted(0.28 * r.width(), 0.28 * r.height(), -0.28 * r.width(), -0.28 * r.height()),
                                to_qcolor(*c.other));
    if (c.bare) {
        painter.setPen(QPen(theme(Role::casing), 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        return painter.drawRect(r.adjusted(0.5, 0.5, -0.5, -0.5));
    }
    if (c.left_out)
        return paint_left_out(painter, r, theme, true);
    if (!c.measured && !c.hidden && c.fate != CellFate::marks)
        return paint_fate(painter, r, c, theme);
    const Lab plain{50, 0, 0};
    const Lab up = c.predicted.value_or(plain);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(r, to_qcolor(up));
    if (!v.read && c.risk >= 0.1) {
        // How likely it is spoiled: the hatched part of the foot.
        const QRectF strip(r.left(), r.bottom() - 6, r.width() * c.risk, 6);
        painter.fillRect(strip, theme(Role::tag_ground));
        paint_hatch(painter, strip, theme(Role::tag_ink), 4);
    }
    if (c.measured || c.hidden) { // else nothing is known of it but what was predicted
        QPainterPath lower(r.topRight());
        lower.lineTo(r.bottomRight());
        lower.lineTo(r.bottomLeft());
        lower.closeSubpath();
        painter.save();
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setClipPath(lower);
        painter.fillRect(r, c.measured ? to_qcolor(*c.measured) : theme(Role::tag_ground));
        if (c.hidden)
            paint_hatch(painter, r, theme(Role::mat), 5);
        painter.restore();
    }
    const bool roomy = r.width() > 30 && r.height() > 26;
    if (c.depth) {
        paint_depth_rule(painter, QRectF(r.left() + 4, r.top() + 4, 8, r.height() - 8), *c.depth, theme);
        if (c.depth->predicted && roomy && r.width() > 70)
            paint_text(painter, r.adjusted(17, 2, 0, 0), um_text(*c.depth->predicted), TextStyle::value_small,
                       ink_on(up), Qt::AlignLeft | Qt::AlignTop);
    } else if (!c.label.isEmpty() && roomy)
        paint_text(painter, r.adjusted(5, 2, 0, 0), c.label, TextStyle::value_small, ink_on(up),
                   Qt::AlignLeft | Qt::AlignTop);
    else if (c.predicted_de && roomy)
        paint_text(painter, r.adjusted(5, 2, 0, 0), de_text(*c.predicted_de), TextStyle::value_small, ink_on(up),
                   Qt::AlignLeft | Qt::AlignTop);
    if (c.spoiled) {
        // Struck out, so that nobody takes its colour for a film's.
        painter.save();
        painter.setRenderHint(QPainter::Antialiasing);
        for (const auto& [pen, width] : {std::pair{Role::casing, 4.0}, {Role::tag_ground, 2.0}}) {
            painter.setPen(QPen(theme(pen), width));
            painter.drawLine(r.topLeft() + QPointF(4, 4), r.bottomRight() - QPointF(4, 4));
            painter.drawLine(r.topRight() + QPointF(-4, 4), r.bottomLeft() + QPointF(4, -4));
        }
        painter.restore();
    } else if (c.depth) {
        if (c.depth->measured && roomy && r.width() > 70)
            paint_text(painter, r.adjusted(0, 0, -5, -2), um_text(*c.depth->measured), TextStyle::value_bold,
                       ink_on(v.read ? c.measured.value_or(plain) : up), Qt::AlignRight | Qt::AlignBottom);
    } else if (c.measured && c.measured_de)
        paint_text(painter, r.adjusted(0, 0, -5, -2), de_text(*c.measured_de), TextStyle::value_bold,
                   ink_on(*c.measured), Qt::AlignRight | Qt::AlignBottom);
    if (c.hidden && !c.depth)
        paint_text(painter, r.adjusted(0, 0, -6, -2), u"?"_s, TextStyle::value_bold, theme(Role::tag_ink),
                   Qt::AlignRight | Qt::AlignBottom);
}

void paint_rank(QPainter& painter, const QRectF& r, int rank, const Theme& theme) {
    // In the free upper right corner, so that neither of the two numbers is covered.
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF c(r.right() - 11, r.top() + 11);
    painter.setPen(QPen(theme(Role::casing), 1));
    painter.setBrush(theme(Role::tag_ground));
    painter.drawEllipse(c, 8.5, 8.5);
    paint_text(painter, QRectF(c.x() - 9, c.y() - 9, 18, 18), QString::number(rank), TextStyle::value_small,
               theme(Role::tag_ink), Qt::AlignCenter);
}

void paint_lines(QPainter& painter, const SheetGeometry& g, const SheetView& v, const Theme& theme) {
    const auto at = [&](const LevelLine::Point& p) {
        return QPointF(g.grid.left() + g.cell_w / 2 + p.column * g.pitch_x,
                       g.grid.top() + g.cell_h / 2 + p.row * g.pitch_y);
    };
    painter.setRenderHint(QPainter::Antialiasing);
    for (const bool casing : {true, false}) {
        painter.setPen(QPen(casing ? theme(Role::casing) : theme(Role::tag_ground), casing ? 3 : 1.2));
        for (const auto& line : v.lines)
            for (std::size_t i = 0; i < line.from.size(); ++i)
                painter.drawLine(at(line.from[i]), at(line.to[i]));
    }
    // The label stands where the line leaves the sheet at the top or at the right.
    double last_x = -1e9, last_y = -1e9;
    for (const auto& line : v.lines) {
        const LevelLine::Point* end = nullptr;
        bool top = false;
        for (const auto* points : {&line.from, &line.to})
            for (const auto& p : *points) {
                if (p.row < -0.49 && (end == nullptr || !top)) {
                    end = &p;
                    top = true;
                } else if (!top && p.column > static_cast<double>(v.columns) - 0.51)
                    end = &p;
            }
        if (end == nullptr)
            continue;
        const QPointF e = at(*end);
        if (top && std::abs(e.x() - last_x) > 60) {
            paint_text(painter, QRectF(e.x() - 40, g.grid.top() - mat_rim - 18, 80, 16), line.label, TextStyle::small,
                       theme(Role::ink), Qt::AlignCenter);
            last_x = e.x();
        } else if (!top && std::abs(e.y() - last_y) > 16) {
            paint_text(painter, QRectF(g.grid.right() + mat_rim + 6, e.y() - 8, right_margin - 4, 16), line.label,
                       TextStyle::small, theme(Role::ink));
            last_y = e.y();
        }
    }
}

void paint_axes(QPainter& painter, const QRectF& box, const SheetGeometry& g, const SheetView& v, const Theme& theme) {
    // Narrow columns carry their number alone, every second one if need be.
    const bool narrow = g.pitch_x < 54;
    for (std::size_t c = 0; c < v.columns; ++c) {
        const QRectF cell = g.cell(c, v.rows - 1);
        const QRectF below(cell.left() - 4, g.grid.bottom() + mat_rim + 4, g.pitch_x, 16);
        const QString letter = QString(QChar(static_cast<char16_t>(u'A' + c)));
        if (narrow) {
            if (g.pitch_x > 34 || c % 2 == 0)
                paint_text(painter, below.adjusted(-12, 0, 12, 0),
                           v.across_values[c].isEmpty() ? letter : v.across_values[c], TextStyle::value_small,
                           theme(Role::ink), Qt::AlignHCenter | Qt::AlignVCenter);
            continue;
        }
        const double w = text_width(v.across_values[c], TextStyle::value) + 16;
        const double x = below.center().x() - std::min(w, below.width()) / 2;
        paint_text(painter, QRectF(x, below.top(), 12, 16), letter, TextStyle::small, theme(Role::ink3));
        paint_text(painter, QRectF(x + 14, below.top(), below.width(), 16), v.across_values[c], TextStyle::value,
                   theme(Role::ink));
    }
    for (std::size_t r = 0; r < v.rows; ++r) {
        const QRectF cell = g.cell(0, r);
        const QRectF beside(box.left(), cell.center().y() - 8, left_margin - mat_rim - 8, 16);
        paint_text(painter, QRectF(beside.left(), beside.top(), 12, 16), QString::number(r + 1), TextStyle::small,
                   theme(Role::ink3));
        paint_text(painter, beside.adjusted(12, 0, 0, 0), v.down_values[r], TextStyle::value, theme(Role::ink),
                   Qt::AlignRight | Qt::AlignVCenter);
    }
    const double legend = g.grid.bottom() + mat_rim + 21;
    const double name =
        paint_text(painter, QRectF(g.grid.left(), legend, 220, 16), v.across_name, TextStyle::head, theme(Role::ink));
    paint_text(painter, QRectF(g.grid.left() + name + 5, legend, 80, 16), v.across_unit, TextStyle::small,
               theme(Role::ink2));
    paint_text(painter, QRectF(box.left(), box.top() - 2, left_margin + 40, 16), v.down_name, TextStyle::head,
               theme(Role::ink));
    paint_text(painter, QRectF(box.left(), box.top() + 13, left_margin - mat_rim - 8, 14), v.down_unit,
               TextStyle::small, theme(Role::ink2));
    if (!v.lines.empty() && g.cell_h > 24) {
        painter.setFont(text_font(TextStyle::small));
        painter.setPen(theme(Role::ink2));
        painter.drawText(QRectF(g.grid.right() + mat_rim + 6, box.top() - 2, right_margin + 6, 34),
                         Qt::AlignLeft | Qt::AlignTop, v.lines_unit);
    }
}

} // namespace

QRectF SheetGeometry::cell(std::size_t column, std::size_t row) const {
    return {std::round(grid.left() + static_cast<double>(column) * pitch_x),
            std::round(grid.top() + static_cast<double>(row) * pitch_y), std::round(cell_w), std::round(cell_h)};
}

SheetGeometry sheet_geometry(const QRectF& box, const SheetView& v) {
    SheetGeometry g;
    const QRectF room =
        box.adjusted(left_margin + mat_rim, top_margin + mat_rim, -right_margin - mat_rim, -bottom_margin - mat_rim);
    const auto columns = static_cast<double>(std::max<std::size_t>(1, v.columns)),
               rows = static_cast<double>(std::max<std::size_t>(1, v.rows));
    g.pitch_x = std::min((room.width() + 4) / columns, 120.0);
    g.pitch_y = std::min((room.height() + 4) / rows, 84.0);
    g.cell_w = g.pitch_x - 4;
    g.cell_h = g.pitch_y - 4;
    g.grid = QRectF(room.left(), room.top(), columns * g.pitch_x - 4, rows * g.pitch_y - 4);
    return g;
}

void paint_sheet(QPainter& painter, const QRectF& box, const SheetView& v, const Theme& theme) {
    if (v.columns == 0 || v.rows == 0)
        return;
    const SheetGeometry g = sheet_geometry(box, v);
    painter.fillRect(g.grid.adjusted(-mat_rim, -mat_rim, mat_rim, mat_rim), theme(Role::mat));
    for (std::size_t i = 0; i < v.cells.size(); ++i)
        paint_cell(painter, g.cell(i % v.columns, i / v.columns), v.cells[i], v, theme);
    if (g.cell_h > 24)
        paint_lines(painter, g, v, theme);
    for (std::size_t i = 0; i < v.cells.size(); ++i)
        if (v.cells[i].rank > 0)
            paint_rank(painter, g.cell(i % v.columns, i / v.columns), v.cells[i].rank, theme);
    if (v.chosen && *v.chosen < v.cells.size()) {
        const QRectF r = g.cell(*v.chosen % v.columns, *v.chosen / v.columns);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme(Role::casing), 5));
        painter.drawRoundedRect(r.adjusted(-1.5, -1.5, 1.5, 1.5), 3, 3);
        painter.setPen(QPen(theme(Role::needle_on_picture), 2.5));
        painter.drawRoundedRect(r.adjusted(-1.5, -1.5, 1.5, 1.5), 3, 3);
    }
    paint_axes(painter, box, g, v, theme);
}

SheetWidget::SheetWidget(const QString& name, QWidget* parent) : Instrument(name, tr("Proof sheet"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(420, 240);
    speak(tr("no sheet"));
}

void SheetWidget::show_view(SheetView view) {
    view_ = std::move(view);
    QString text = tr("%1 by %2 cells").arg(view_.columns).arg(view_.rows);
    if (view_.chosen && *view_.chosen < view_.cells.size())
        text += tr(", chosen %1").arg(view_.cells[*view_.chosen].tip);
    speak(text);
    update();
}

QPoint SheetWidget::cell_point(std::size_t cell) const {
    return sheet_geometry(QRectF(rect()), view_).cell(cell % view_.columns, cell / view_.columns).center().toPoint();
}

std::optional<std::size_t> SheetWidget::cell_at(QPointF point) const {
    const SheetGeometry g = sheet_geometry(QRectF(rect()), view_);
    for (std::size_t i = 0; i < view_.cells.size(); ++i)
        if (g.cell(i % view_.columns, i / view_.columns).contains(point))
            return i;
    return std::nullopt;
}

void SheetWidget::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paint_sheet(painter, QRectF(rect()), view_, theme());
    if (hasFocus()) {
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(sheet_geometry(QRectF(rect()), view_).grid.adjusted(-9, -9, 9, 9));
    }
}

void SheetWidget::mousePressEvent(QMouseEvent* event) {
    if (const auto cell = cell_at(event->position()))
        Q_EMIT chosen(*cell);
}

void SheetWidget::keyPressEvent(QKeyEvent* event) {
    if (view_.cells.empty())
        return QWidget::keyPressEvent(event);
    const auto at = static_cast<int>(view_.chosen.value_or(0));
    const int columns = static_cast<int>(view_.columns), rows = static_cast<int>(view_.rows);
    int column = at % columns, row = at / columns;
    switch (event->key()) {
    case Qt::Key_Left:
        --column;
        break;
    case Qt::Key_Right:
        ++column;
        break;
    case Qt::Key_Up:
        --row;
        break;
    case Qt::Key_Down:
        ++row;
        break;
    default:
        return QWidget::keyPressEvent(event);
    }
    column = std::clamp(column, 0, columns - 1);
    row = std::clamp(row, 0, rows - 1);
    Q_EMIT chosen(static_cast<std::size_t>(row * columns + column));
}

bool SheetWidget::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        if (const auto cell = cell_at(QPointF(help->pos())))
            QToolTip::showText(help->globalPos(), view_.cells[*cell].tip, this);
        else
            QToolTip::hideText();
        return true;
    }
    return QWidget::event(event);
}

} // namespace finch::app

#include "moc_sheet_view.cpp"
