// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/answer_panel.h"

#include "app/instruments/paint.h"
#include "app/session/text.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {
constexpr double answer_inset = 14, plot_height = 72, plot_name_height = 20;
} // namespace

AnswerPanel::AnswerPanel(QWidget* parent) : Instrument(u"answer_panel"_s, tr("Answer of the sheet"), parent) {
    setFixedWidth(320);
    setMinimumHeight(260);
}

void AnswerPanel::show_view(AnswerView view) {
    view_ = std::move(view);
    speak(view_.words);
    update();
}

double AnswerPanel::x_of(double value) const {
    const auto on = [&](double v) { return view_.by_ratio ? std::log(std::max(v, 1e-9)) : v; };
    const double low = on(view_.x_low), high = on(view_.x_high);
    const double share = high > low ? (on(value) - low) / (high - low) : 0.5;
    return answer_inset + std::clamp(share, -0.04, 1.04) * (width() - 2 * answer_inset);
}

void AnswerPanel::paint_plot(QPainter& painter, const QRectF& box, const AnswerPlot& plot) const {
    const Theme& t = theme();
    const auto y = [&](double v) {
        return box.bottom() - 6 - std::clamp((v - plot.low) / (plot.high - plot.low), 0.0, 1.0) * (box.height() - 12);
    };
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(box, t(Role::field));
    if (plot.passes_to)
        painter.fillRect(QRectF(box.left(), y(*plot.passes_to), box.width(), box.bottom() - y(*plot.passes_to)),
                         t(Role::band2));
    if (const auto& f = plot.found) {
        painter.fillRect(QRectF(x_of(f->from), box.top(), std::max(1.0, x_of(f->to) - x_of(f->from)), box.height()),
                         t(Role::band1));
        painter.fillRect(QRectF(x_of(f->at) - 1, box.top(), 2, box.height()), t(Role::accent));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(t(Role::ink2), 1));
    QPolygonF line;
    for (const AnswerPlot::Dot& d : plot.dots)
        line << QPointF(x_of(d.x), y(d.y));
    if (plot.joined)
        painter.drawPolyline(line);
    for (const AnswerPlot::Dot& d : plot.dots) {
        if (d.chosen) {
            painter.setPen(QPen(t(Role::accent), 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(QPointF(x_of(d.x), y(d.y)), 8, 8);
        }
        painter.setPen(QPen(t(Role::casing), 1));
        painter.setBrush(d.colour ? to_qcolor(*d.colour) : t(Role::series1));
        painter.drawEllipse(QPointF(x_of(d.x), y(d.y)), 5, 5);
    }
}

void AnswerPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width();
    paint_text(painter, {0, 0, w, 20}, view_.title, TextStyle::section, t(Role::ink));
    double top = 24;
    for (const AnswerPlot& plot : view_.plots) {
        paint_text(painter, {0, top, w, plot_name_height}, plot.name, TextStyle::small, t(Role::ink2));
        paint_text(painter, {0, top, w, plot_name_height},
                   u"%1 \u2013 %2"_s.arg(screen_number(plot.low, 3), screen_number(plot.high, 3)),
                   TextStyle::value_small, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
        paint_plot(painter, {0, top + plot_name_height, w, plot_height}, plot);
        top += plot_name_height + plot_height + 4;
    }
    if (!view_.plots.empty()) {
        for (const double tick : view_.ticks)
            paint_text(painter, {std::clamp(x_of(tick) - 30, -14.0, w - 46), top, 60, 16}, screen_number(tick, 3),
                       TextStyle::value_small, t(Role::ink2), Qt::AlignCenter);
        paint_text(painter, {0, top + 16, w, 16}, view_.x_name, TextStyle::small, t(Role::ink2), Qt::AlignCenter);
        top += 42;
    }
    paint_state(painter, {0, top + 2, 18, 18}, view_.state, t);
    paint_paragraph(painter, {26, top, w - 26, height() - top}, view_.words, TextStyle::body, t(Role::ink));
}

} // namespace finch::app

#include "moc_answer_panel.cpp"
