// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/pulse_stamp.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

void paint_pulse_stamp(QPainter& painter, const QRectF& box, const StampView& v, const Theme& theme) {
    painter.save();
    painter.fillRect(box, theme(Role::field));
    painter.setPen(QPen(theme(Role::hair), 1));
    painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
    painter.setClipRect(box.adjusted(1, 1, -1, -1));
    painter.setRenderHint(QPainter::Antialiasing);
    // One scale for the drawing and its bar: 100 µm are 100 px unless the spot is too large for the box.
    const double scale = std::min(1.0, (box.height() - 14) / std::max(v.spot_um, 1.0));
    const double d = v.spot_um * scale;
    const double room = box.width() - 130;
    const double along = v.pulse_pitch_um * scale, across = v.hatch_pitch_um * scale;
    const int pulses = std::clamp(static_cast<int>((room - d) / std::max(along, 0.05)) + 1, 1, 40);
    const int lines = std::clamp(static_cast<int>((box.height() - 10 - d) / std::max(across, 0.05)) + 1, 1, 8);
    const double left = box.left() + 12 + d / 2;
    const double top = box.center().y() - (lines - 1) * across / 2;
    QColor thin = theme(Role::ink);
    thin.setAlphaF(pulses * lines > 60 ? 0.30f : 0.65f);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(thin, 0.8));
    for (int line = 0; line < lines; ++line)
        for (int p = 0; p < pulses; ++p)
            painter.drawEllipse(QPointF(left + p * along, top + line * across), d / 2, d / 2);
    painter.setPen(QPen(theme(Role::accent), 2));
    painter.drawEllipse(QPointF(left + (pulses - 1) * along, top + (lines - 1) * across), d / 2, d / 2);
    const double bar = 100 * scale;
    const QPointF end(box.right() - 12, box.bottom() - 12);
    painter.setPen(QPen(theme(Role::ink), 1.5));
    painter.drawLine(end - QPointF(bar, 0), end);
    painter.drawLine(end - QPointF(bar, 4), end - QPointF(bar, -4));
    painter.drawLine(end - QPointF(0, 4), end + QPointF(0, 4));
    painter.restore();
    paint_text(painter, QRectF(end.x() - 100, end.y() - 22, 100, 16), u"100 µm"_s, TextStyle::value_small,
               theme(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
}

void PulseStamp::show_view(const StampView& view) {
    view_ = view;
    speak(
        tr("spot %1 µm, pulses %2 µm apart, lines %3 µm apart")
            .arg(screen_number(view.spot_um), screen_number(view.pulse_pitch_um), screen_number(view.hatch_pitch_um)));
    setToolTip(accessibleDescription());
    update();
}

void PulseStamp::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paint_pulse_stamp(painter, QRectF(rect()), view_, theme());
}

} // namespace finch::app

#include "moc_pulse_stamp.cpp"
