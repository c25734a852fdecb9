// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/bench_drawings.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// A logarithmic axis from a value to a pixel.
struct LogAxis {
    double low, high, from, to;
    [[nodiscard]] double operator()(double v) const {
        return from + std::log(std::clamp(v, low, high) / low) / std::log(high / low) * (to - from);
    }
};

void dimension(QPainter& painter, QPointF a, QPointF b, const QColor& colour) {
    painter.setPen(QPen(colour, 1));
    painter.drawLine(a, b);
    for (const QPointF& p : {a, b})
        painter.drawLine(p - QPointF(3, 0), p + QPointF(3, 0));
}

} // namespace

void paint_source(QPainter& painter, const QRectF& box, const SourceView& v, const Theme& theme) {
    const QRectF plot(box.left() + 42, box.top() + 6, box.width() - 46, box.height() - 46);
    const LogAxis x{in_kilohertz(v.source.frequency_min),
                    std::max(in_kilohertz(v.source.frequency_max), 2 * in_kilohertz(v.source.frequency_min)),
                    plot.left(), plot.right()};
    const double top_mj = 2 * in_millijoules(v.source.largest_pulse);
    const LogAxis y{top_mj / 1000, top_mj, plot.bottom(), plot.top()};
    painter.fillRect(plot, theme(Role::field));
    const double power = in_watts(v.source.rated_power);
    const auto limit_at = [&](Time width, double khz) {
        return std::min(in_millijoules(pulse_energy_limit(v.source, width)), power / khz);
    };
    QPainterPath reach;
    const int steps = 60;
    for (int i = 0; i <= steps; ++i) {
        const double khz = x.low * std::pow(x.high / x.low, static_cast<double>(i) / steps);
        const QPointF p(x(khz), y(limit_at(v.source.pulse_width_max, khz)));
        i == 0 ? reach.moveTo(p) : reach.lineTo(p);
    }
    QPainterPath beyond = reach;
    beyond.lineTo(plot.topRight());
    beyond.lineTo(plot.topLeft());
    beyond.closeSubpath();
    painter.save();
    painter.setClipPath(beyond);
    paint_hatch(painter, plot, theme(Role::hatch), 5);
    painter.restore();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme(Role::ink), 1.5));
    painter.drawPath(reach);
    // What single pulse widths allow.
    const Time now_width = delivered_pulse_width(v.source, v.setting.pulse_width);
    std::vector<Time> widths{v.source.pulse_width_max};
    if (v.source.kind == SourceKind::variable_pulse_width) {
        widths.push_back(v.source.pulse_width_min);
        if (std::abs(in_nanoseconds(now_width - v.source.pulse_width_max)) > 1 &&
            std::abs(in_nanoseconds(now_width - v.source.pulse_width_min)) > 1)
            widths.push_back(now_width);
    }
    for (const Time& width : widths) {
        const double e = in_millijoules(pulse_energy_limit(v.source, width));
        const double end = std::min(x.high, power / e);
        QPen dash(theme(Role::ink2), 1, Qt::DashLine);
        painter.setPen(dash);
        painter.drawLine(QPointF(plot.left(), y(e)), QPointF(x(end), y(e)));
        // Above its line where the recipe's own line would run through it.
        const double recipe = pulse_output(v.source, v.setting).pulse_energy_j * 1e3;
        const bool above = y(recipe) > y(e) && y(recipe) < y(e) + 22;
        paint_text(painter, QRectF(plot.left() + 6, above ? y(e) - 17 : y(e) + 1, 80, 16),
                   u"%1 ns"_s.arg(screen_number(in_nanoseconds(width))), TextStyle::value_small, theme(Role::ink));
    }
    painter.setPen(QPen(theme(Role::rule), 1));
    painter.drawRect(plot);
    for (double d = 0.0001; d < 100; d *= 10)
        if (d >= y.low * 0.999 && d <= y.high) {
            paint_hairline(painter, {plot.left() - 6, y(d)}, {plot.left(), y(d)}, theme(Role::tick));
            paint_text(painter, QRectF(box.left() - 4, y(d) - 8, 38, 16), QString::number(d), TextStyle::value_small,
                       theme(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
        }
    for (double d = 1; d < 20000; d *= 10)
        if (d >= x.low * 0.999 && d <= x.high) {
            paint_hairline(painter, {x(d), plot.bottom()}, {x(d), plot.bottom() + 6}, theme(Role::tick));
            paint_text(painter, QRectF(std::min(x(d) - 25, box.right() - 44), plot.bottom() + 6, 50, 16),
                       QString::number(d), TextStyle::value_small, theme(Role::ink2), Qt::AlignCenter);
        }
    paint_text(painter, QRectF(box.left(), plot.bottom() + 23, box.width(), 16),
               QObject::tr("pulse energy mJ over frequency kHz"), TextStyle::small, theme(Role::ink2));
    const PulseOutput pulse = pulse_output(v.source, v.setting);
    const QPointF now(x(pulse.frequency_hz / 1e3), y(pulse.pulse_energy_j * 1e3));
    painter.setPen(QPen(theme(Role::accent), 1, Qt::DotLine));
    painter.drawLine(now, QPointF(now.x(), plot.bottom()));
    painter.drawLine(now, QPointF(plot.left(), now.y()));
    painter.setPen(QPen(theme(Role::ink), 1));
    painter.setBrush(theme(Role::accent));
    painter.drawEllipse(now, 5, 5);
    const QString text = QObject::tr("now %1 mJ").arg(screen_number(pulse.pulse_energy_j * 1e3, 2));
    const bool left = now.x() > plot.center().x();
    const double w = text_width(text, TextStyle::value_bold) + 6;
    const QRectF tag(left ? now.x() - w - 8 : now.x() + 8, std::min(now.y() + 5, plot.bottom() - 19), w, 17);
    painter.fillRect(tag, theme(Role::field));
    paint_text(painter, tag, text, TextStyle::value_bold, theme(Role::ink), Qt::AlignCenter);
}

void paint_field(QPainter& painter, const QRectF& box, const FieldView& v, const Theme& theme) {
    const double side = std::min(box.width() - 22, box.height() - 42);
    const QRectF plot(box.center().x() - side / 2, box.top() + 8, side, side);
    paint_hatch(painter, plot.adjusted(-9, -9, 9, 9), theme(Role::hatch), 5);
    painter.fillRect(plot, theme(Role::field));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme(Role::ink), 1.5));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(plot);
    const double scale = side / v.field_mm;
    painter.save();
    painter.setClipRect(plot);
    painter.translate(plot.center());
    painter.rotate(-v.longest.turn_deg);
    painter.setPen(QPen(theme(Role::ink), 1));
    painter.setBrush(theme(Role::band2));
    painter.drawRect(QRectF(-v.longest.length.value() * 1e3 * scale / 2, -v.bar_mm * scale / 2,
                            v.longest.length.value() * 1e3 * scale, v.bar_mm * scale));
    painter.restore();
    if (v.sheet_w_mm > 0) {
        painter.setPen(QPen(theme(Role::accent), 2));
        const QRectF sheet(plot.center().x() - v.sheet_w_mm * scale / 2, plot.center().y() - v.sheet_h_mm * scale / 2,
                           v.sheet_w_mm * scale, v.sheet_h_mm * scale);
        painter.drawRect(sheet);
        const QString text = QObject::tr("proof sheet");
        const double w = text_width(text, TextStyle::small) + 6;
        painter.fillRect(QRectF(sheet.left() + 2, sheet.top() + 2, w, 16), theme(Role::field));
        paint_text(painter, QRectF(sheet.left() + 5, sheet.top() + 2, w, 16), text, TextStyle::small, theme(Role::ink));
    }
    painter.setPen(QPen(theme(Role::ink2), 1, Qt::DotLine));
    painter.drawLine(QPointF(plot.center().x(), plot.top()), QPointF(plot.center().x(), plot.bottom()));
    painter.drawLine(QPointF(plot.left(), plot.center().y()), QPointF(plot.right(), plot.center().y()));
    painter.save();
    painter.setClipRect(plot);
    painter.translate(plot.center());
    painter.rotate(-v.longest.turn_deg);
    paint_text(painter, QRectF(-in_mm(v.longest.length) * scale / 2 + 24, -v.bar_mm * scale / 2 - 18, 120, 16),
               QObject::tr("bar %1 × %2 mm").arg(screen_number(in_mm(v.longest.length)), screen_number(v.bar_mm)),
               TextStyle::small, theme(Role::ink), Qt::AlignLeft | Qt::AlignVCenter);
    painter.restore();
    const QString half = screen_number(v.field_mm / 2);
    paint_text(painter, QRectF(plot.left() - 12, plot.bottom() + 10, 60, 16), u"\u2212"_s + half,
               TextStyle::value_small, theme(Role::ink2));
    paint_text(painter, QRectF(plot.center().x() - 20, plot.bottom() + 10, 40, 16), u"0"_s, TextStyle::value_small,
               theme(Role::ink2), Qt::AlignCenter);
    paint_text(painter, QRectF(plot.right() - 48, plot.bottom() + 10, 60, 16), half, TextStyle::value_small,
               theme(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
}

void paint_stock_side(QPainter& painter, const QRectF& box, const StockSideView& v, const Theme& theme) {
    painter.setRenderHint(QPainter::Antialiasing);
    const double x = box.left() + 64;
    const double floor = box.bottom() - 26;
    const double scale = (floor - box.top() - 70) / std::max(v.working_distance_mm + v.thickness_mm + 12, 1.0);
    const double jig = 12 * scale;
    const double part = std::max(1.5, v.thickness_mm * scale);
    const double surface = floor - jig - part;
    const double lens = surface - v.working_distance_mm * scale;
    painter.setPen(QPen(theme(Role::ink), 1.2));
    painter.setBrush(theme(Role::field));
    painter.drawRect(QRectF(x - 46, lens - 64, 92, 40));
    paint_text(painter, QRectF(x - 46, lens - 64, 92, 40), QObject::tr("head"), TextStyle::small, theme(Role::ink),
               Qt::AlignCenter);
    painter.setBrush(theme(Role::band2));
    painter.drawRect(QRectF(x - 27, lens - 24, 54, 24));
    QPainterPath cone(QPointF(x - 14, lens));
    cone.lineTo(x + 14, lens);
    cone.lineTo(x + 1, surface);
    cone.lineTo(x - 1, surface);
    cone.closeSubpath();
    QColor glow = theme(Role::accent);
    glow.setAlphaF(0.35f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(glow);
    painter.drawPath(cone);
    painter.setPen(QPen(theme(Role::ink), 1.2));
    painter.setBrush(theme(Role::band4));
    painter.drawRect(QRectF(x - 50, floor - jig, 100, jig));
    painter.setBrush(theme(Role::ink2));
    painter.drawRect(QRectF(x - 40, surface, 80, part));
    dimension(painter, {x + 62, lens}, {x + 62, surface}, theme(Role::ink));
    paint_text(painter, QRectF(x + 68, lens + 4, 90, 18), u"%1 mm"_s.arg(screen_number(v.working_distance_mm, 4)),
               TextStyle::value_bold, theme(Role::ink));
    paint_text(painter, QRectF(x + 68, lens + 21, 100, 16), QObject::tr("working distance"), TextStyle::small,
               theme(Role::ink2));
    // The surface through a glass: ten pixels a millimetre of error, a dashed line where focus was confirmed.
    const QPointF eye(box.right() - 48, floor - 62);
    QPainterPath round;
    round.addEllipse(eye, 44, 44);
    painter.save();
    painter.setClipPath(round);
    painter.fillRect(QRectF(eye.x() - 44, eye.y() - 44, 88, 88), theme(Role::field));
    const double now = eye.y() + std::clamp(v.surface_error_mm * 10, -30.0, 30.0);
    painter.fillRect(QRectF(eye.x() - 44, now, 88, 90), theme(Role::band3));
    painter.fillRect(QRectF(eye.x() - 44, now + std::clamp(v.thickness_mm * 10, 4.0, 26.0), 88, 90),
                     theme(Role::band4));
    painter.setPen(QPen(v.surface_error_mm != 0 ? theme(Role::warn) : theme(Role::ok), 1.5, Qt::DashLine));
    painter.drawLine(QPointF(eye.x() - 44, eye.y()), QPointF(eye.x() + 44, eye.y()));
    painter.setPen(QPen(theme(Role::ink), 1.5));
    painter.drawLine(QPointF(eye.x() - 44, now), QPointF(eye.x() + 44, now));
    paint_text(painter, QRectF(eye.x() - 30, eye.y() + 24, 60, 16), v.under_it.section(u' ', -1), TextStyle::small,
               theme(Role::ink), Qt::AlignCenter);
    painter.restore();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme(Role::ink), 1.2));
    painter.drawEllipse(eye, 44, 44);
    paint_text(painter, QRectF(eye.x() - 70, eye.y() + 47, 118, 16), QObject::tr("surface, 10 : 1"), TextStyle::small,
               theme(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
}

void paint_caustic(QPainter& painter, const QRectF& box, const CausticView& v, const Theme& theme) {
    const QRectF plot(box.left() + 30, box.top() + 6, box.width() - 32, box.height() - 30);
    const double reach =
        std::max({5.0, 2.2 * in_mm(v.waist.rayleigh), std::abs(v.surface_error_mm) * 1.4 + std::abs(v.offset_mm)});
    const auto y = [&](double z) { return plot.center().y() + z / reach * plot.height() / 2; };
    const double spot_end = in_micrometres(spot_at(v.waist, mm(reach)));
    const double width = plot.width() * 0.92 / spot_end; // px per µm across
    painter.fillRect(plot, theme(Role::field));
    painter.save();
    painter.setClipRect(plot);
    QPainterPath left, right;
    for (int i = 0; i <= 80; ++i) {
        const double z = -reach + 2 * reach * i / 80;
        const double half = in_micrometres(spot_at(v.waist, mm(z))) / 2 * width;
        const QPointF a(plot.center().x() - half, y(z)), b(plot.center().x() + half, y(z));
        i == 0 ? left.moveTo(a) : left.lineTo(a);
        i == 0 ? right.moveTo(b) : right.lineTo(b);
    }
    QPainterPath beam = left;
    beam.connectPath(right.toReversed());
    QColor glow = theme(Role::accent);
    glow.setAlphaF(0.22f);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillPath(beam, glow);
    QColor tolerance = theme(Role::tick);
    tolerance.setAlphaF(0.25f);
    painter.fillRect(QRectF(plot.left(), y(v.offset_mm - v.tolerance_mm), plot.width(),
                            y(v.offset_mm + v.tolerance_mm) - y(v.offset_mm - v.tolerance_mm)),
                     tolerance);
    painter.setPen(QPen(theme(Role::accent), 1.8));
    painter.drawPath(left);
    painter.drawPath(right);
    painter.setPen(QPen(theme(Role::ink2), 1, Qt::DashDotLine));
    painter.drawLine(QPointF(plot.center().x(), plot.top()), QPointF(plot.center().x(), plot.bottom()));
    const auto surface = [&](double z, const QPen& pen, const QString& name, bool above, const QColor& ink) {
        painter.setPen(pen);
        painter.drawLine(QPointF(plot.left(), y(z)), QPointF(plot.right(), y(z)));
        const double ty = above ? y(z) - 18 : y(z) + 2;
        paint_text(painter, QRectF(plot.left() + 5, ty, 90, 16), name, TextStyle::value_small, ink);
        paint_text(painter, QRectF(plot.right() - 75, ty, 70, 16),
                   u"%1 µm"_s.arg(screen_number(in_micrometres(spot_at(v.waist, mm(z))), 2)), TextStyle::value_bold,
                   ink, Qt::AlignRight | Qt::AlignVCenter);
    };
    surface(v.offset_mm, QPen(theme(Role::ink), 1.6), v.confirmed.isEmpty() ? QObject::tr("wanted") : v.confirmed,
            false, theme(Role::ink));
    if (std::abs(v.surface_error_mm) > 0.005)
        surface(v.offset_mm + v.surface_error_mm, QPen(theme(Role::warn), 2, Qt::DashLine), QObject::tr("now"),
                v.surface_error_mm < 0, theme(Role::warn));
    painter.restore();
    painter.setPen(QPen(theme(Role::rule), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(plot);
    paint_text(painter, QRectF(plot.center().x() + 6, plot.top() + 2, 80, 16), QObject::tr("to lens"), TextStyle::small,
               theme(Role::ink2));
    paint_text(painter, QRectF(plot.center().x() + 6, plot.bottom() - 19, 80, 16), QObject::tr("away"),
               TextStyle::small, theme(Role::ink2));
    const double step = reach > 12 ? 5 : reach > 6 ? 3 : 2;
    for (double z = -std::floor(reach / step) * step; z <= reach; z += step) {
        paint_hairline(painter, {plot.left() - 5, y(z)}, {plot.left(), y(z)}, theme(Role::tick));
        if (y(z) > plot.top() + 4 && y(z) < plot.bottom() - 4)
            paint_text(painter, QRectF(box.left() - 4, y(z) - 8, 27, 16),
                       z > 0 ? u"+"_s + screen_number(z) : screen_number(z), TextStyle::value_small, theme(Role::ink2),
                       Qt::AlignRight | Qt::AlignVCenter);
    }
    const double stretch = width / (plot.height() / 2 / reach) * 1000;
    paint_text(painter, QRectF(box.left(), plot.bottom() + 5, box.width(), 16),
               QObject::tr("offset in mm; width drawn %1 : 1").arg(screen_number(stretch, 2)), TextStyle::small,
               theme(Role::ink2));
}

} // namespace finch::app

#include "moc_bench_drawings.cpp"
