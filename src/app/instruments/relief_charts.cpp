// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/relief_charts.h"

#include <algorithm>
#include <cmath>
#include <QMouseEvent>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int section_height = 78, histogram_height = 58;
constexpr double grey_step = 0.01, handle = 8, least_between = 0.01;

} // namespace

SectionChart::SectionChart(QWidget* parent) : Instrument(u"relief_section"_s, tr("Section S to S"), parent) {
    setFixedHeight(section_height);
}

void SectionChart::show_section(ReliefSection section) {
    section_ = std::move(section);
    double deepest = 0;
    for (const double d : section_.depth_um)
        deepest = std::max(deepest, d);
    speak(tr("Deepest %1 µm").arg(screen_number(std::round(deepest))));
    update();
}

void SectionChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF box(0.5, 0.5, width() - 1, height() - 1);
    painter.fillRect(box, t(Role::field));
    const auto& z = section_.depth_um;
    if (z.size() > 1 && section_.deepest_um > 0) {
        const double sky = 14, ground = box.height() - 10, per_um = (ground - sky) / section_.deepest_um;
        QPainterPath metal;
        metal.moveTo(box.bottomLeft());
        for (std::size_t i = 0; i < z.size(); ++i)
            metal.lineTo(box.left() + box.width() * static_cast<double>(i) / static_cast<double>(z.size() - 1),
                         box.top() + sky + per_um * z[i]);
        metal.lineTo(box.bottomRight());
        metal.closeSubpath();
        painter.setRenderHint(QPainter::Antialiasing);
        painter.fillPath(metal, t(Role::band3));
        painter.setPen(QPen(t(Role::ink), 1.2));
        painter.drawPath(metal);
        painter.setPen(QPen(t(Role::rule), 1, Qt::DashLine));
        painter.drawLine(QPointF(box.left(), box.top() + sky), QPointF(box.right(), box.top() + sky));
        const double steeper = per_um * 1000 / (box.width() / section_.width_mm);
        const QString words = tr("depth %1 times larger than width").arg(screen_number(std::round(steeper)));
        paint_text(painter, QRectF(box.left() + 6, box.top(), box.width() - 12, sky), words, TextStyle::small,
                   t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    }
    painter.setPen(QPen(t(Role::hair), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box);
}

GreyHistogram::GreyHistogram(QWidget* parent) : Instrument(u"relief_greys"_s, tr("Greys of the picture"), parent) {
    setFixedHeight(histogram_height);
    setFocusPolicy(Qt::StrongFocus);
}

void GreyHistogram::show_greys(const GreyUse* use, double black, double white, std::vector<double> curve) {
    any_ = use != nullptr;
    if (any_)
        use_ = *use;
    black_ = black;
    white_ = white;
    curve_ = std::move(curve);
    speak(any_ ? tr("Used from %1 to %2; black at %3, white at %4")
                     .arg(screen_number(use_.darkest), screen_number(use_.lightest), screen_number(black_),
                          screen_number(white_))
               : QString());
    update();
}

void GreyHistogram::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF box(0.5, 0.5, width() - 1, height() - handle - 1);
    painter.fillRect(box, t(Role::field));
    const auto x = [&](double grey) { return box.left() + box.width() * grey; };
    if (any_) {
        // By the root, so that the few greys of a slope are seen beside those of a plain ground.
        double most = 1e-9;
        for (const double s : use_.share)
            most = std::max(most, s);
        const double w = box.width() / GreyUse::bins;
        for (int i = 0; i < GreyUse::bins; ++i) {
            const double h = (box.height() - 4) * std::sqrt(use_.share.at(static_cast<std::size_t>(i)) / most);
            painter.fillRect(QRectF(box.left() + w * i, box.bottom() - h, w + 0.3, h), t(Role::band4));
        }
        for (const QRectF& unused : {QRectF(x(0), box.top(), x(black_) - x(0), box.height()),
                                     QRectF(x(white_), box.top(), x(1) - x(white_), box.height())})
            if (unused.width() > 1)
                paint_hatch(painter, unused, t(Role::hatch));
        painter.setRenderHint(QPainter::Antialiasing);
        if (curve_.size() > 1) {
            QPainterPath path;
            for (std::size_t i = 0; i < curve_.size(); ++i) {
                const QPointF p(x(static_cast<double>(i) / static_cast<double>(curve_.size() - 1)),
                                box.top() + 2 + (box.height() - 4) * curve_[i]);
                i == 0 ? path.moveTo(p) : path.lineTo(p);
            }
            painter.setPen(QPen(t(Role::ink), 1.4));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(path);
        }
        for (const double at : {black_, white_}) {
            paint_hairline(painter, {x(at), box.top()}, {x(at), box.bottom()}, t(Role::accent));
            paint_pointer(painter, {x(at), box.bottom()}, handle, 180, t(Role::accent), t(Role::ink));
        }
    }
    painter.setPen(QPen(hasFocus() ? t(Role::accent) : t(Role::hair), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box);
}

void GreyHistogram::drag(double px) {
    if (!any_)
        return;
    const double grey = std::round(1000 * std::clamp(px / (width() - 1), 0.0, 1.0)) / 1000;
    if (white_held_)
        Q_EMIT white_asked(std::max(grey, black_ + least_between));
    else
        Q_EMIT black_asked(std::min(grey, white_ - least_between));
}

void GreyHistogram::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const double grey = event->position().x() / (width() - 1);
    white_held_ = std::abs(grey - white_) < std::abs(grey - black_);
    drag(event->position().x());
}

void GreyHistogram::mouseMoveEvent(QMouseEvent* event) {
    drag(event->position().x());
}

void GreyHistogram::keyPressEvent(QKeyEvent* event) {
    if (!any_ || (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right))
        return QWidget::keyPressEvent(event);
    white_held_ = (event->modifiers() & Qt::ShiftModifier) != 0;
    const double by = event->key() == Qt::Key_Left ? -grey_step : grey_step;
    drag(((white_held_ ? white_ : black_) + by) * (width() - 1));
}

} // namespace finch::app

#include "moc_relief_charts.cpp"
