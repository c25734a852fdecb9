// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/focus_chart.h"

#include <algorithm>
#include <cmath>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double gutter = 78, axis_height = 22, between = 12;

/// One scale of offsets for all three bands.
struct Scale {
    double left, width, from, to;
    [[nodiscard]] double x(double offset) const { return left + (offset - from) / (to - from) * width; }
};

QString signed_number(double v, int digits = 1) {
    const double rounded = std::round(v * std::pow(10, digits)) / std::pow(10, digits);
    return (rounded > 0   ? u"+"_s
            : rounded < 0 ? u"\u2212"_s
                          : QString()) +
           QString::number(std::abs(rounded), 'f', digits);
}

double step_of_scale(double range) {
    for (const double step : {0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0})
        if (range / step <= 9)
            return step;
    return 20;
}

void paint_name(QPainter& p, double top, const QString& name, const QString& unit, const Theme& t) {
    paint_text(p, {0, top, gutter - 8, 18}, name, TextStyle::head, t(Role::ink));
    paint_text(p, {0, top + 18, gutter - 8, 16}, unit, TextStyle::small, t(Role::ink2));
}

/// The marks of one offset stand over one another.
void paint_marks(QPainter& p, const QRectF& box, const FocusChartView& v, const Scale& s, const Theme& t) {
    p.fillRect(box, t(Role::mat));
    std::vector<double> offsets;
    for (const auto& m : v.marks)
        offsets.push_back(m.offset);
    std::ranges::sort(offsets);
    std::size_t most = 1;
    for (std::size_t i = 0, high = 1; i + 1 < offsets.size(); ++i) {
        high = offsets[i + 1] - offsets[i] < 1e-6 ? high + 1 : 1;
        most = std::max(most, high);
    }
    offsets.erase(std::unique(offsets.begin(), offsets.end(), [](double a, double b) { return b - a < 1e-6; }),
                  offsets.end());
    const double wide = std::max(4.0, s.width / static_cast<double>(std::max<std::size_t>(offsets.size(), 2)) - 4);
    const double high = (box.height() - 4) / static_cast<double>(most);
    for (const double offset : offsets) {
        double y = box.top() + 3;
        for (const auto& m : v.marks)
            if (std::abs(m.offset - offset) < 1e-6) {
                const QRectF patch(std::max(box.left() + 2, s.x(offset) - wide / 2), y, 0, high - 2);
                const QRectF cell(patch.left(), y, std::min(wide, box.right() - 2 - patch.left()), high - 2);
                p.fillRect(cell, to_qcolor(m.lab));
                if (m.doubtful)
                    paint_state(p, {cell.center().x() - 6, cell.center().y() - 6, 12, 12}, State::unknown, t);
                y += high;
            }
    }
}

void paint_apart(QPainter& p, const QRectF& box, const FocusChartView& v, const Scale& s, const Theme& t) {
    double most = 2 * v.accept_de;
    for (const auto& m : v.marks)
        most = std::max(most, m.apart_de);
    for (const auto& l : v.looks)
        most = std::max(most, l.apart_de);
    most *= 1.06;
    const auto y = [&](double de) { return box.top() + 4 + std::min(de, most) / most * (box.height() - 8); };
    p.setRenderHint(QPainter::Antialiasing, false);
    QPen dashed(t(Role::ink2), 1, Qt::DashLine);
    p.setPen(dashed);
    p.drawLine(QPointF(box.left(), std::round(y(v.accept_de)) + 0.5),
               QPointF(box.right(), std::round(y(v.accept_de)) + 0.5));
    for (const double share : {0.0, 0.5, 1.0}) {
        const double de = most / 1.06 * share;
        paint_text(p, {0, y(de) - 9, gutter - 6, 18}, QString::number(de, 'f', 0), TextStyle::value_small,
                   t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    }
    p.setRenderHint(QPainter::Antialiasing);
    p.save();
    p.setClipRect(box);
    const auto curve = [&](double middle, const QPen& pen) {
        QPainterPath path;
        bool begun = false;
        for (int side : {-1, 1})
            for (std::size_t k = 0; k < v.looks.size(); ++k) {
                const auto& l = side < 0 ? v.looks[v.looks.size() - 1 - k] : v.looks[k];
                const QPointF at(s.x(middle + side * l.off), y(l.apart_de));
                begun ? path.lineTo(at) : path.moveTo(at);
                begun = true;
            }
        p.setBrush(Qt::NoBrush);
        p.setPen(pen);
        p.drawPath(path);
    };
    curve(v.near_best, QPen(t(v.sides ? Role::series1 : Role::ink), 2));
    if (v.sides)
        curve(v.far_best, QPen(t(Role::series2), 2, Qt::DashLine));
    for (const auto& m : v.marks) {
        const QPointF at(s.x(m.offset), y(m.apart_de));
        p.setPen(QPen(t(m.doubtful ? Role::ink : Role::casing), 1));
        p.setBrush(m.doubtful ? QBrush(Qt::NoBrush) : QBrush(t(m.far_side && v.sides ? Role::series2 : Role::series1)));
        if (m.far_side && v.sides)
            p.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7));
        else
            p.drawEllipse(at, 4, 4);
    }
    p.restore();
    const QString words = QObject::tr("passes up to %1").arg(QString::number(v.accept_de, 'f', 1));
    paint_text(p, {box.right() - 130, y(v.accept_de) + 1, 124, 18}, words, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
}

void paint_beam(QPainter& p, const QRectF& box, const FocusChartView& v, const Scale& s, const Theme& t) {
    const auto half = [&](double offset) {
        return 0.5 * v.spot_um * std::hypot(1.0, (offset - v.best) / v.rayleigh_mm);
    };
    const double widest = std::max(half(v.from), half(v.to)), middle = box.center().y();
    const double scale = (box.height() / 2 - 5) / widest;
    QPolygonF beam, lower;
    for (int i = 0; i <= 60; ++i) {
        const double offset = v.from + (v.to - v.from) * i / 60;
        beam << QPointF(s.x(offset), middle - scale * half(offset));
        lower.prepend(QPointF(s.x(offset), middle + scale * half(offset)));
    }
    p.setRenderHint(QPainter::Antialiasing);
    QColor fill = t(Role::accent);
    fill.setAlphaF(0.18F);
    p.setPen(Qt::NoPen);
    p.setBrush(fill);
    p.drawPolygon(beam + lower);
    p.setPen(QPen(t(Role::accent), 1.5));
    p.drawPolyline(beam);
    p.drawPolyline(lower);
    paint_hairline(p, {box.left(), middle}, {box.right(), middle}, t(Role::rule));
    paint_text(p, {box.left() + 6, middle - 20, 160, 18}, QObject::tr("head lower"), TextStyle::small, t(Role::ink2));
    paint_text(p, {box.right() - 166, middle - 20, 160, 18}, QObject::tr("head higher"), TextStyle::small,
               t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    const double y = box.bottom() - 12;
    p.setPen(QPen(t(Role::ink), 1.5));
    p.drawLine(QPointF(s.x(v.best - v.holds), y), QPointF(s.x(v.best + v.holds), y));
    for (const double side : {-1.0, 1.0})
        p.drawLine(QPointF(s.x(v.best + side * v.holds), y - 5), QPointF(s.x(v.best + side * v.holds), y + 5));
    paint_text(p, {s.x(v.best + v.holds) + 6, y - 9, 120, 18}, u"±"_s + QString::number(v.holds, 'f', 2) + u" mm"_s,
               TextStyle::value_small, t(Role::ink));
}

} // namespace

FocusChart::FocusChart(const QString& name, QWidget* parent) : Instrument(name, tr("Focus ladder"), parent) {
    setMinimumSize(420, 300);
}

void FocusChart::show_view(FocusChartView view) {
    view_ = std::move(view);
    speak(!view_.empty.isEmpty() ? view_.empty
                                 : tr("%1 marks; best focus at %2 mm, within %3; the mark holds %4 mm to each side")
                                       .arg(view_.marks.size())
                                       .arg(signed_number(view_.best, 2), QString::number(view_.spread, 'f', 2),
                                            QString::number(view_.holds, 'f', 2)));
    update();
}

void FocusChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const Theme& t = theme();
    const FocusChartView& v = view_;
    if (!v.empty.isEmpty() || v.marks.empty()) {
        p.fillRect(rect(), t(Role::field));
        paint_paragraph(p, QRectF(rect()).adjusted(24, 24, -24, -24), v.empty, TextStyle::body, t(Role::ink2),
                        Qt::AlignCenter);
        return;
    }
    const double high = height() - axis_height - 2 * between - 10;
    const QRectF marks(gutter, 10, width() - gutter - 1, 0.22 * high);
    const QRectF apart(gutter, marks.bottom() + between, marks.width(), 0.48 * high);
    const QRectF beam(gutter, apart.bottom() + between, marks.width(), 0.30 * high);
    // Half a step of room, so that the first and last patch are whole.
    const double room = 0.04 * (v.to - v.from);
    const Scale s{gutter, marks.width(), v.from - room, v.to + room};
    for (const QRectF& box : {apart, beam})
        p.fillRect(box, t(Role::field));
    paint_marks(p, marks, v, s, t);
    const auto clipped = [&](double x) { return std::clamp(x, marks.left(), marks.right()); };
    for (const QRectF& box : {apart, beam}) {
        const double a = clipped(s.x(v.best - v.holds)), b = clipped(s.x(v.best + v.holds));
        p.fillRect(QRectF(a, box.top(), b - a, box.height()), t(Role::band1));
    }
    p.save();
    const double step = step_of_scale(v.to - v.from);
    for (double at = std::ceil(v.from / step) * step; at <= v.to + 1e-9; at += step) {
        for (const QRectF& box : {apart, beam})
            paint_hairline(p, {s.x(at), box.top()}, {s.x(at), box.bottom()}, t(Role::hair));
        paint_text(p, {s.x(at) - 30, beam.bottom() + 3, 60, 18}, signed_number(at), TextStyle::value_small,
                   t(Role::ink2), Qt::AlignCenter);
    }
    paint_text(p, {0, beam.bottom() + 3, gutter - 8, 18}, tr("offset, mm"), TextStyle::small, t(Role::ink2));
    p.restore();
    paint_apart(p, apart, v, s, t);
    paint_beam(p, beam, v, s, t);
    paint_name(p, marks.top(), tr("As read"), tr("%n marks", nullptr, static_cast<int>(v.marks.size())), t);
    paint_name(p, apart.top() + 18, tr("Apart"), u"ΔE₀₀"_s, t);
    paint_name(p, beam.top(), tr("Beam"), tr("%1 µm").arg(QString::number(v.spot_um, 'f', 0)), t);
    for (const QRectF& box : {apart, beam}) {
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setPen(QPen(t(Role::rule), 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(box.adjusted(0, 0, -1, -1));
    }
    // The gilt needle: where the best focus is.
    const double x = clipped(s.x(v.best));
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(t(Role::accent), 3));
    p.drawLine(QPointF(x, marks.bottom() + 2), QPointF(x, beam.bottom()));
    paint_pointer(p, {x, marks.bottom() + between - 1}, 10, 180, t(Role::accent), t(Role::casing));
}

FieldMap::FieldMap(const QString& name, QWidget* parent) : Instrument(name, tr("Best focus over the field"), parent) {
    setMinimumSize(220, 200);
}

void FieldMap::show_view(FieldMapView view) {
    view_ = std::move(view);
    QStringList spoken;
    for (const auto& p : view_.places)
        spoken << signed_number(p.best, 2);
    speak(spoken.isEmpty() ? view_.note
                           : tr("Against the middle, row by row from the upper left: %1 mm").arg(spoken.join(u", "_s)));
    update();
}

void FieldMap::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const Theme& t = theme();
    const double side = std::min<double>(width() - 2, height() - 24);
    const QRectF field(std::round((width() - side) / 2), 2, side, side);
    p.fillRect(field, t(Role::field));
    p.setPen(QPen(t(Role::rule), 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(field.adjusted(0, 0, -1, -1));
    const double inner = side / 2 - 34;
    const auto at = [&](double x, double y, double reach) {
        return QPointF(field.center().x() + x * reach, field.center().y() + y * reach);
    };
    for (const auto& d : view_.dots) {
        const QPointF c = at(d.x, d.y, side / 2);
        p.fillRect(QRectF(c.x() - 4, c.y() - 4, 8, 8), to_qcolor(d.lab));
    }
    if (view_.places.empty())
        paint_paragraph(p, field.adjusted(16, side * 0.62, -16, -8), view_.note, TextStyle::small, t(Role::ink2),
                        Qt::AlignHCenter | Qt::AlignTop);
    for (const auto& place : view_.places) {
        const QPointF c = at(place.x, place.y, inner);
        const QString text = signed_number(place.best, 2);
        const double w = text_width(text, TextStyle::value_bold) + 12;
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(Qt::NoPen);
        p.setBrush(t(Role::tag_ground));
        p.drawRoundedRect(QRectF(c.x() - w / 2, c.y() - 11, w, 22), 3, 3);
        paint_text(p, {c.x() - w / 2, c.y() - 11, w, 22}, text, TextStyle::value_bold, t(Role::tag_ink),
                   Qt::AlignCenter);
    }
    paint_text(p, {0, field.bottom() + 2, double(width()), 18},
               tr("field of %1 mm from above; mm against its middle").arg(QString::number(view_.field_mm, 'f', 0)),
               TextStyle::small, t(Role::ink2), Qt::AlignCenter);
}

} // namespace finch::app

#include "moc_focus_chart.cpp"
