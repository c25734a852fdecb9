// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/heat_strip.h"

#include "quantity/format.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int strip_least = 270;
constexpr double names_wide = 168, strip_head = 6, time_axis = 24, between_rows = 12;

} // namespace

HeatStrip::HeatStrip(QWidget* parent)
    : Instrument(u"heat_strip"_s, tr("Warmth of the plate at each beginning"), parent) {
    setMinimumHeight(strip_least);
}

void HeatStrip::show_rows(std::vector<Row> rows) {
    rows_ = std::move(rows);
    QStringList spoken;
    for (const Row& r : rows_)
        spoken << tr("%1: warmest beginning %2").arg(r.name, r.value);
    speak(spoken.join(u"; "_s));
    update();
}

void HeatStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    double longest = 0, warmest = 1e-9;
    for (const Row& r : rows_)
        for (const Mark& m : r.marks) {
            longest = std::max(longest, m.from_s + m.seconds);
            warmest = std::max(warmest, m.preheat_k);
        }
    if (rows_.empty() || longest <= 0) {
        paint_text(painter, rect(), tr("Being worked out"), TextStyle::body, t(Role::ink2), Qt::AlignCenter);
        return;
    }
    const double right = width() - 12.0, n = static_cast<double>(rows_.size());
    const double high = (height() - strip_head - time_axis - (n - 1) * between_rows) / n;
    const auto x = [&](double s) { return names_wide + (right - names_wide) * s / longest; };
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const Row& r = rows_[i];
        const double top = strip_head + static_cast<double>(i) * (high + between_rows), low = top + high;
        painter.fillRect(QRectF(names_wide, top, right - names_wide, high), t(Role::field));
        paint_text(painter, QRectF(0, top, names_wide - 14, 20), r.name, TextStyle::head, t(Role::ink),
                   Qt::AlignLeft | Qt::AlignTop);
        paint_state(painter, QRectF(0, top + 24, 16, 16), r.state, t);
        paint_text(painter, QRectF(22, top + 22, names_wide - 36, 20), r.value, TextStyle::value, t(Role::ink),
                   Qt::AlignLeft | Qt::AlignVCenter);
        painter.setRenderHint(QPainter::Antialiasing, false);
        for (const Mark& m : r.marks) {
            const double h = (high - 6) * std::clamp(m.preheat_k / warmest, 0.0, 1.0);
            const QRectF bar(std::round(x(m.from_s)), std::round(low - h),
                             std::max(1.0, std::round(x(m.from_s + m.seconds)) - std::round(x(m.from_s)) - 1),
                             std::round(h));
            painter.fillRect(bar, m.preheat_k > 0.999 * warmest ? t(Role::danger) : t(Role::series1));
        }
        paint_hairline(painter, {names_wide, low}, {right, low}, t(Role::rule));
    }
    const double y = height() - time_axis + 4;
    for (const double share : {0.0, 0.5, 1.0}) {
        const QString words = screen_duration(share * longest);
        const double w = text_width(words, TextStyle::small);
        paint_text(painter, QRectF(std::max(names_wide, std::min(x(share * longest) - w / 2, right - w)), y, w + 2, 18),
                   words, TextStyle::small, t(Role::ink2));
    }
}

} // namespace finch::app

#include "moc_heat_strip.cpp"
