// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/control_chart.h"

#include "app/instruments/paint.h"
#include "app/session/text.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {
constexpr double chart_left = 56, chart_right = 12, off_height = 56, caption_height = 20, dates_height = 20;
constexpr std::size_t most_shown = 60;
} // namespace

ControlChart::ControlChart(QWidget* parent) : Instrument(u"control_chart"_s, tr("Control over the days"), parent) {
    setMinimumSize(560, 280);
}

void ControlChart::show_view(ControlView view) {
    // The newest are what one looks for.
    if (view.days.size() > most_shown)
        view.days.erase(view.days.begin(), view.days.end() - most_shown);
    view_ = std::move(view);
    speak(view_.words);
    update();
}

void ControlChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width(), h = height();
    const QRectF dose(chart_left, caption_height, w - chart_left - chart_right,
                      h - 2 * caption_height - off_height - dates_height - 4);
    const QRectF off(chart_left, dose.bottom() + caption_height + 4, dose.width(), off_height);
    double most = 3, most_off = 3;
    for (const ControlView::Day& d : view_.days) {
        most = std::max(most, 1.15 * std::abs(d.percent));
        if (d.usual) // the first bands are as wide as three days leave them
            most = std::max(most, std::min(12.0, 1.05 * std::max(-d.usual->first, d.usual->second)));
        most_off = std::max(most_off, 1.1 * d.off_de);
    }
    const double each = dose.width() / static_cast<double>(std::max<std::size_t>(8, view_.days.size()));
    const auto x = [&](std::size_t i) { return dose.left() + (static_cast<double>(i) + 0.5) * each; };
    const auto y = [&](double percent) {
        return dose.center().y() - std::clamp(percent / most, -1.0, 1.0) * dose.height() / 2;
    };
    paint_text(painter, {chart_left, 0, dose.width(), caption_height},
               tr("What the bench gives, against where the recipe was proven"), TextStyle::small, t(Role::ink2));
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(dose, t(Role::field));
    painter.fillRect(off, t(Role::field));
    for (std::size_t i = 0; i < view_.days.size(); ++i)
        if (const auto& usual = view_.days[i].usual)
            painter.fillRect(QRectF(x(i) - each / 2, y(usual->second), each, y(usual->first) - y(usual->second)),
                             t(Role::band2));
    paint_hairline(painter, {dose.left(), y(0)}, {dose.right(), y(0)}, t(Role::rule));
    const double step = most > 12 ? 10 : most > 6 ? 5 : 2;
    for (double p = -std::floor(most / step) * step; p <= most; p += step)
        paint_text(painter, {0, y(p) - 8, chart_left - 8, 16},
                   (p > 0   ? u"+"_s
                    : p < 0 ? u"\u2212"_s
                            : QString()) +
                       QString::number(std::abs(p)) + u" %"_s,
                   TextStyle::value_small, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, {chart_left, off.top() - caption_height, off.width(), caption_height},
               tr("Beside the path of its colours, CIEDE2000"), TextStyle::small, t(Role::ink2));
    paint_text(painter, {0, off.top() - 2, chart_left - 8, 16}, screen_number(most_off, 2), TextStyle::value_small,
               t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    for (std::size_t i = 0; i < view_.days.size(); ++i) {
        const double high = view_.days[i].off_de / most_off * off.height(), wide = std::min(10.0, each - 2);
        painter.fillRect(QRectF(x(i) - wide / 2, off.bottom() - high, wide, high), t(Role::series2));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF line;
    for (std::size_t i = 0; i < view_.days.size(); ++i)
        line << QPointF(x(i), y(view_.days[i].percent));
    painter.setPen(QPen(t(Role::ink2), 1));
    painter.drawPolyline(line);
    double written = -100;
    for (std::size_t i = 0; i < view_.days.size(); ++i) {
        const ControlView::Day& d = view_.days[i];
        const QPointF at(x(i), y(d.percent));
        if (d.alarm)
            paint_state(painter, {at.x() - 9, at.y() - 9, 18, 18}, State::warn, t);
        else {
            painter.setPen(QPen(d.counts ? t(Role::casing) : t(Role::series1), d.counts ? 1 : 1.5));
            painter.setBrush(d.counts ? QBrush(t(Role::series1)) : QBrush(t(Role::field)));
            painter.drawEllipse(at, 4.5, 4.5);
        }
        if (x(i) - written > 52 || i + 1 == view_.days.size()) {
            if (x(i) - written > 52)
                paint_text(painter, {x(i) - 26, off.bottom() + 2, 52, dates_height}, d.when, TextStyle::value_small,
                           t(Role::ink2), Qt::AlignCenter);
            written = x(i);
        }
    }
}

} // namespace finch::app

#include "moc_control_chart.cpp"
