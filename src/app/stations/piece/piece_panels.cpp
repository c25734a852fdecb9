// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_panels.h"

#include "app/session/text.h"
#include "quantity/format.h"

#include "app/theme/label.h"

#include <algorithm>
#include <cmath>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double layer_head = 24, layer_row = 44, finding_row = 34;

template <typename Rows>
std::optional<std::size_t> chosen_row(const Rows& rows) {
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (rows[i].chosen)
            return i;
    return std::nullopt;
}

/// The row that an arrow key goes to; nothing where it is another key.
template <typename Rows>
std::optional<std::size_t> next_row(const Rows& rows, int key) {
    if (rows.empty() || (key != Qt::Key_Up && key != Qt::Key_Down))
        return std::nullopt;
    const auto at = chosen_row(rows);
    if (!at)
        return 0;
    return key == Qt::Key_Up ? (*at > 0 ? *at - 1 : 0) : std::min(*at + 1, rows.size() - 1);
}

} // namespace

LayerList::LayerList(QWidget* parent) : Instrument(u"layers"_s, tr("Layers in the order of marking"), parent) {
    setFocusPolicy(Qt::StrongFocus);
}

void LayerList::show_rows(std::vector<LayerRowView> rows) {
    rows_ = std::move(rows);
    setFixedHeight(
        static_cast<int>(layer_head + layer_row * static_cast<double>(std::max<std::size_t>(rows_.size(), 1))));
    QStringList spoken;
    for (const LayerRowView& r : rows_)
        spoken
            << tr("%1%2, %3, %4 mm², %5").arg(r.chosen ? tr("chosen: ") : QString(), r.name, r.recipe, r.area, r.time);
    speak(spoken.join(u"; "_s));
    update();
}

void LayerList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width(), time_at = w - 84, area_at = w - 180;
    paint_text(painter, QRectF(0, 0, area_at, 20), tr("Order of work"), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(area_at, 0, 84, 20), tr("area, mm²"), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(time_at, 0, 84, 20), tr("time"), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_hairline(painter, {0, layer_head - 1}, {w, layer_head - 1}, t(Role::rule));
    if (rows_.empty())
        paint_text(painter, QRectF(0, layer_head, w, layer_row), tr("No drawing yet."), TextStyle::body, t(Role::ink2));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const LayerRowView& r = rows_[i];
        const QRectF box(0, layer_head + layer_row * static_cast<double>(i), w, layer_row);
        if (r.chosen) {
            painter.fillRect(box, t(Role::raised));
            painter.fillRect(QRectF(box.left(), box.top() + 1, 3, box.height() - 2), t(Role::accent));
            if (hasFocus()) {
                painter.setPen(QPen(t(Role::accent), 1));
                painter.drawRect(box.adjusted(0.5, 0.5, -1.5, -1.5));
            }
        }
        paint_text(painter, QRectF(8, box.top(), 18, layer_row), QString::number(i + 1), TextStyle::value_small,
                   t(Role::ink2));
        QPainterPath sample;
        sample.addRect(QRectF(28.5, box.top() + 9.5, 25, 25));
        paint_texture(painter, sample, r.texture, r.guide, t);
        const QColor ink = r.guide ? t(Role::ink2) : t(Role::ink);
        const QFontMetricsF fit(text_font(TextStyle::head)), small(text_font(TextStyle::small));
        paint_text(painter, QRectF(64, box.top() + 3, area_at - 60, 20),
                   fit.elidedText(r.name, Qt::ElideRight, area_at - 64), TextStyle::head, ink);
        paint_text(painter, QRectF(64, box.top() + 22, w - 68, 18), small.elidedText(r.recipe, Qt::ElideRight, w - 68),
                   TextStyle::small, r.settled ? t(Role::ink2) : t(Role::warn));
        paint_text(painter, QRectF(area_at, box.top() + 3, 84, 20), r.area, TextStyle::value, ink,
                   Qt::AlignRight | Qt::AlignVCenter);
        paint_text(painter, QRectF(time_at, box.top() + 3, 84, 20), r.time, TextStyle::value, ink,
                   Qt::AlignRight | Qt::AlignVCenter);
        paint_hairline(painter, {0, box.bottom() - 0.5}, {w, box.bottom() - 0.5}, t(Role::hair));
    }
}

void LayerList::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const double row = std::floor((event->position().y() - layer_head) / layer_row);
    if (row >= 0 && row < static_cast<double>(rows_.size()))
        Q_EMIT asked(static_cast<std::size_t>(row));
}

void LayerList::keyPressEvent(QKeyEvent* event) {
    const bool up = event->key() == Qt::Key_Up, down = event->key() == Qt::Key_Down;
    if ((up || down) && (event->modifiers() & Qt::AltModifier) != 0)
        return Q_EMIT move_asked(up ? -1 : 1);
    if (event->key() == Qt::Key_Delete)
        return Q_EMIT guide_asked();
    if (event->key() == Qt::Key_F && event->modifiers() == Qt::NoModifier)
        return Q_EMIT fill_asked();
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        return Q_EMIT recipe_asked();
    if (const auto row = next_row(rows_, event->key()))
        return Q_EMIT asked(*row);
    QWidget::keyPressEvent(event);
}

FindingList::FindingList(QWidget* parent)
    : Instrument(u"artwork_findings"_s, tr("What is to be known of the drawing"), parent) {
    setFocusPolicy(Qt::StrongFocus);
}

void FindingList::show_rows(std::vector<FindingRowView> rows) {
    rows_ = std::move(rows);
    setFixedHeight(static_cast<int>(finding_row * static_cast<double>(rows_.size())) + 2);
    QStringList spoken;
    for (const FindingRowView& r : rows_)
        spoken << r.text;
    speak(spoken.join(u" "_s));
    update();
}

void FindingList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width();
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const FindingRowView& r = rows_[i];
        const QRectF box(0, finding_row * static_cast<double>(i), w, finding_row);
        if (r.chosen) {
            painter.fillRect(box, t(Role::raised));
            painter.fillRect(QRectF(box.left(), box.top() + 1, 3, box.height() - 2), t(Role::accent));
        }
        paint_state(painter, QRectF(8, box.center().y() - 8, 16, 16), r.state, t);
        paint_paragraph(painter, box.adjusted(32, 2, -4, -2), r.text, TextStyle::small,
                        r.placed ? t(Role::ink) : t(Role::ink2), Qt::AlignLeft | Qt::AlignVCenter);
    }
    if (hasFocus() && !rows_.empty()) {
        painter.setPen(QPen(t(Role::accent), 1));
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void FindingList::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const double row = std::floor(event->position().y() / finding_row);
    if (row >= 0 && row < static_cast<double>(rows_.size()))
        Q_EMIT asked(static_cast<std::size_t>(row));
}

void FindingList::keyPressEvent(QKeyEvent* event) {
    if (const auto row = next_row(rows_, event->key()))
        return Q_EMIT asked(*row);
    if (event->key() == Qt::Key_Space)
        return Q_EMIT other_asked();
    QWidget::keyPressEvent(event);
}

QDoubleSpinBox* add_number(QGridLayout* grid, const NumberField& field, QWidget* parent, QWidget* label) {
    auto* box = new QDoubleSpinBox(parent);
    box->setObjectName(field.name);
    box->setAccessibleName(field.label);
    box->setRange(field.low, field.high);
    box->setDecimals(field.decimals);
    box->setSuffix(field.unit.isEmpty() ? QString() : u' ' + field.unit);
    box->setValue(field.value);
    box->setKeyboardTracking(false);
    const int row = grid->rowCount();
    grid->addWidget(label != nullptr ? label : text_label(field.label, TextStyle::small, parent), row, 0);
    grid->addWidget(box, row, 1);
    return box;
}

} // namespace finch::app

#include "moc_piece_panels.cpp"
