// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/film_steps.h"

#include "app/instruments/drawing_view.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QLocale>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double row_height = 37, axis_height = 26, words_wide = 372, bar_high = 18;
constexpr int dense_texture = 1;

/// Between the numbers of the axis, in minutes: at most eight of them.
double axis_step(double minutes) {
    for (const double step : {1.0, 2.0, 5.0, 10.0, 20.0, 30.0, 60.0, 120.0})
        if (minutes / step <= 8)
            return step;
    return std::ceil(minutes / 8 / 60) * 60;
}

void paint_span(QPainter& painter, const QRectF& box, FilmStepsPicture::Span::Kind kind, const Theme& t) {
    using Kind = FilmStepsPicture::Span::Kind;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(box, kind == Kind::hands ? t(Role::band3) : t(Role::field));
    if (kind == Kind::wait)
        paint_hatch(painter, box, t(Role::tick), 6);
    if (kind == Kind::beam) {
        QPainterPath path;
        path.addRect(box);
        paint_texture(painter, path, dense_texture, false, t);
    }
    painter.setPen(QPen(t(Role::ink), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box);
    painter.restore();
}

} // namespace

FilmSteps::FilmSteps(QWidget* parent) : Instrument(u"film_steps"_s, tr("Steps, and when they are"), parent) {
    setFocusPolicy(Qt::StrongFocus);
}

QSize FilmSteps::sizeHint() const {
    return {900, static_cast<int>(row_height * static_cast<double>(picture_.steps.size()) + axis_height)};
}

void FilmSteps::show_picture(FilmStepsPicture picture) {
    picture_ = std::move(picture);
    setFixedHeight(sizeHint().height());
    QStringList spoken;
    for (std::size_t i = 0; i < picture_.steps.size(); ++i) {
        const auto& s = picture_.steps[i];
        static constexpr std::array stands{QT_TR_NOOP("done"), QT_TR_NOOP("skipped"), QT_TR_NOOP("now"),
                                           QT_TR_NOOP("later")};
        spoken << tr("%1 %2, %3, %4. %5 %6")
                      .arg(i + 1)
                      .arg(s.title, tr(stands.at(static_cast<std::size_t>(s.stand))), s.minutes, s.text, s.caution);
    }
    speak(spoken.join(u' '));
    update();
}

void FilmSteps::paint_step(QPainter& painter, std::size_t i, double left, double per_min) const {
    using Stand = FilmStepsPicture::Stand;
    const auto& s = picture_.steps[i];
    const Theme& t = theme();
    const double top = row_height * static_cast<double>(i), middle = top + row_height / 2;
    if (s.stand == Stand::now) {
        painter.fillRect(QRectF(0, top, width(), row_height), t(Role::raised));
        painter.fillRect(QRectF(0, top + 1, 3, row_height - 2), t(Role::accent));
    }
    paint_text(painter, QRectF(8, top, 16, row_height), QString::number(i + 1), TextStyle::value_small, t(Role::ink2));
    const QRectF sign(28, middle - 8, 16, 16);
    if (s.stand == Stand::now)
        paint_pointer(painter, {sign.right(), middle}, 14, -90, t(Role::accent), t(Role::ink));
    else if (s.stand == Stand::later) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(t(Role::tick), 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(sign.adjusted(2, 2, -2, -2));
    } else
        paint_state(painter, sign, s.stand == Stand::done ? State::ok : State::warn, t);
    const double minutes_wide = text_width(s.minutes, TextStyle::value) + 4;
    paint_text(painter, QRectF(54, top + 1, words_wide - 66 - minutes_wide, 20), s.title, TextStyle::head,
               t(Role::ink));
    paint_text(painter, QRectF(words_wide - 12 - minutes_wide, top + 1, minutes_wide, 20), s.minutes, TextStyle::value,
               t(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(54, top + 19, words_wide - 62, 16), s.text, TextStyle::small, t(Role::ink2));
    const double from = left + per_min * s.from_min, to = left + per_min * s.to_min;
    const bool past = s.stand == Stand::done || s.stand == Stand::skipped;
    const double bar_top = std::round(middle - bar_high / 2);
    if (past) // as it was, however it was planned
        paint_span(painter, QRectF(std::round(from), bar_top, std::max(2.0, std::round(to - from)), bar_high),
                   s.spans.empty() ? FilmStepsPicture::Span::Kind::hands : s.spans.back().kind, t);
    else {
        double x = from;
        for (const auto& span : s.spans) {
            const double w = per_min * span.minutes;
            paint_span(painter,
                       QRectF(std::round(x), bar_top, std::max(1.0, std::round(x + w) - std::round(x)), bar_high),
                       span.kind, t);
            x += w;
        }
    }
    if (s.range && !past) {
        const QRectF range(left + per_min * s.range->first, top + row_height - 6,
                           std::max(2.0, per_min * (s.range->second - s.range->first)), 3);
        painter.fillRect(range, t(Role::accent));
    }
}

/// Beside its bar, where there is room; over the line of the present.
void FilmSteps::paint_caution(QPainter& painter, std::size_t i, double left, double per_min) const {
    const auto& s = picture_.steps[i];
    const Theme& t = theme();
    const double middle = row_height * (static_cast<double>(i) + 0.5);
    const double from = left + per_min * s.from_min, to = left + per_min * s.to_min;
    if (s.caution.isEmpty())
        return;
    const double wanted = text_width(s.caution, TextStyle::small) + 26, right = to + 10;
    const double x = right + wanted < width() ? right : std::max(left + 4, from - wanted - 8);
    const double room = std::min(wanted, width() - x);
    painter.fillRect(QRectF(x - 2, middle - 10, room, 20),
                     s.stand == FilmStepsPicture::Stand::now ? t(Role::raised) : t(Role::surface));
    paint_state(painter, QRectF(x, middle - 7, 14, 14), State::warn, t);
    paint_text(painter, QRectF(x + 20, middle - 10, room - 22, 20), s.caution, TextStyle::small, t(Role::ink));
}

void FilmSteps::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    if (picture_.steps.empty())
        return;
    const double left = words_wide + 6, low = row_height * static_cast<double>(picture_.steps.size());
    const double last = std::max(picture_.steps.back().to_min, 1.0);
    const double per_min = (width() - left - 26) / last, step = axis_step(last);
    // Whole steps of the clock once it runs, else of the work.
    double first = 0;
    if (picture_.begun) {
        const double clock = picture_.began.time().msecsSinceStartOfDay() / 60000.0;
        first = std::ceil(clock / step - 1e-9) * step - clock;
    }
    for (double m = first; m <= last + 1e-9; m += step) {
        const double x = left + per_min * m;
        paint_hairline(painter, {x, 0}, {x, low + 4}, t(Role::hair));
        const QString words = picture_.begun ? picture_.began.addSecs(std::lround(60 * m)).toString(u"HH:mm"_s)
                                             : tr("%1 min").arg(QLocale::c().toString(m, 'f', 0));
        paint_text(painter, QRectF(x - 30, low + 5, 60, 18), words, TextStyle::value_small, t(Role::ink2),
                   Qt::AlignCenter);
    }
    // What the bars are, under the words.
    double at = 54;
    for (const auto& [kind, name] : {std::pair{FilmStepsPicture::Span::Kind::hands, tr("hands")},
                                     {FilmStepsPicture::Span::Kind::wait, tr("waits")},
                                     {FilmStepsPicture::Span::Kind::beam, tr("beam")}}) {
        paint_span(painter, QRectF(at, low + 8, 14, 12), kind, t);
        paint_text(painter, QRectF(at + 20, low + 5, 60, 18), name, TextStyle::small, t(Role::ink2));
        at += 40 + text_width(name, TextStyle::small);
    }
    for (std::size_t i = 0; i < picture_.steps.size(); ++i) {
        paint_step(painter, i, left, per_min);
        const double y = row_height * static_cast<double>(i + 1) - 1;
        paint_hairline(painter, {0, y}, {static_cast<double>(width()), y}, t(Role::hair));
    }
    if (picture_.begun) {
        const double x = std::max(left, std::min(left + per_min * picture_.now_min, width() - 4.0));
        paint_hairline(painter, {x, 0}, {x, low}, t(Role::ink));
        paint_pointer(painter, {x, low}, 12, 180, t(Role::accent), t(Role::ink));
    }
    for (std::size_t i = 0; i < picture_.steps.size(); ++i)
        paint_caution(painter, i, left, per_min);
    if (hasFocus()) {
        painter.setPen(QPen(t(Role::accent), 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void FilmSteps::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat())
        return Q_EMIT done_asked();
    QWidget::keyPressEvent(event);
}

} // namespace finch::app

#include "moc_film_steps.cpp"
