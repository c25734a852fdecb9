// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/film_cards.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QRandomGenerator>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double rung_height = 19, tool_wide = 112, bar_wide = 96;
constexpr int look_high = 58;

/// Grey of a coat at a place: one that is wet mirrors the lamp, one that dries does so in patches. A picture of a look,
/// not of a measurement.
QImage coat_picture(int width, int height, int dryness) {
    QImage out(width, height, QImage::Format_RGB32);
    QRandomGenerator grain(7);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const double u = static_cast<double>(x) / width, v = static_cast<double>(y) / height;
            const double patch = std::sin(9 * u + 3 * v) * std::cos(7 * v - 4 * u) + 0.4 * std::sin(17 * u - 11 * v);
            const double wet = dryness == 0 ? 1 : dryness == 2 ? 0 : std::clamp(0.5 + 1.6 * patch, 0.0, 1.0);
            const double lamp = std::exp(-(std::pow((u - 0.28) / 0.1, 2) + std::pow((v - 0.3) / 0.16, 2))) +
                                0.5 * std::exp(-std::pow((u - v * 0.9 - 0.05) / 0.05, 2));
            const double dry = 158 + 22 * (grain.generateDouble() - 0.5),
                         damp = 78 + 34 * v + 150 * std::min(1.0, lamp);
            const int grey = std::clamp(static_cast<int>(wet * damp + (1 - wet) * dry), 0, 255);
            out.setPixelColor(x, y, QColor(grey, grey, grey));
        }
    return out;
}

} // namespace

DryLook::DryLook(QWidget* parent) : Instrument(u"dry_look"_s, tr("How it looks when it is dry"), parent) {
    setFixedHeight(look_high + 38);
    setMinimumWidth(270);
}

void DryLook::show_look(const QString& dry) {
    dry_ = dry;
    speak(tr("wet: a lamp mirrors in it, wait; patchy: some of it does, wait; dry: %1, mark").arg(dry_));
    update();
}

void DryLook::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const std::array words{tr("wet: wait"), tr("patchy: wait"), tr("%1: mark").arg(dry_)};
    constexpr std::array states{State::fail, State::warn, State::ok};
    const double w = std::floor((width() - 16.0) / 3);
    for (int i = 0; i < 3; ++i) {
        const QRectF box(i * (w + 8), 0, w, look_high);
        painter.fillRect(box, t(Role::mat));
        painter.drawImage(box.adjusted(4, 4, -4, -4).topLeft(),
                          coat_picture(static_cast<int>(w) - 8, look_high - 8, i));
        paint_state(painter, QRectF(box.left(), look_high + 6, 14, 14), states.at(static_cast<std::size_t>(i)), t);
        paint_paragraph(painter, QRectF(box.left() + 18, look_high + 5, w - 18, 32),
                        words.at(static_cast<std::size_t>(i)), TextStyle::small, t(Role::ink));
    }
}

ScratchLadder::ScratchLadder(QWidget* parent) : Instrument(u"scratch_ladder"_s, tr("Scratch ladder"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumWidth(300);
}

QSize ScratchLadder::sizeHint() const {
    return {320, static_cast<int>(rung_height * static_cast<double>(rungs_.size())) + 2};
}

void ScratchLadder::show_rungs(std::vector<Rung> rungs, bool can_grade) {
    rungs_ = std::move(rungs);
    can_grade_ = can_grade;
    setFixedHeight(sizeHint().height());
    QStringList spoken;
    for (const Rung& r : rungs_)
        spoken << r.tool + u": "_s +
                      (!r.grade         ? tr("not tried")
                       : *r.grade >= 1  ? tr("held")
                       : *r.grade > 0.1 ? tr("lightened")
                                        : tr("gone"));
    speak(spoken.join(u", "_s));
    update();
}

void ScratchLadder::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    double most = 1;
    for (const Rung& r : rungs_)
        most = std::max(most, r.weight);
    for (std::size_t i = 0; i < rungs_.size(); ++i) {
        const Rung& r = rungs_[i];
        const double top = rung_height * static_cast<double>(i);
        paint_text(painter, QRectF(0, top, tool_wide - 8, rung_height), r.tool, TextStyle::small, t(Role::ink),
                   Qt::AlignRight | Qt::AlignVCenter);
        const QRectF bar(tool_wide, top + 3, std::round(bar_wide * r.weight / most), rung_height - 6);
        painter.fillRect(bar, r.grade && *r.grade > 0.1 ? t(Role::band3) : t(Role::field));
        if (r.grade && *r.grade > 0.1 && *r.grade < 1)
            paint_hatch(painter, bar, t(Role::ink), 5);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(t(r.grade ? Role::ink : Role::tick), 1, r.grade ? Qt::SolidLine : Qt::DashLine));
        painter.drawRect(bar);
        const QString words = !r.grade         ? (r.expected ? tr("expected") : tr("not expected"))
                              : *r.grade >= 1  ? tr("held")
                              : *r.grade > 0.1 ? tr("lightened")
                                               : tr("gone");
        paint_text(painter, QRectF(tool_wide + bar_wide + 10, top, width() - tool_wide - bar_wide - 12, rung_height),
                   words, r.grade ? TextStyle::head : TextStyle::small, t(r.grade ? Role::ink : Role::ink2));
    }
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(t(Role::accent), 1));
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void ScratchLadder::go_on(std::size_t rung) {
    if (!can_grade_ || rung >= rungs_.size())
        return;
    const auto& g = rungs_[rung].grade;
    Q_EMIT graded(rung, !g         ? std::optional(1.0)
                        : *g >= 1  ? std::optional(0.5)
                        : *g > 0.1 ? std::optional(0.0)
                                   : std::nullopt);
}

void ScratchLadder::mousePressEvent(QMouseEvent* event) {
    setFocus();
    if (event->position().y() >= 0)
        go_on(static_cast<std::size_t>(event->position().y() / rung_height));
}

void ScratchLadder::keyPressEvent(QKeyEvent* event) {
    if (event->key() >= Qt::Key_1 && event->key() <= Qt::Key_9)
        return go_on(static_cast<std::size_t>(event->key() - Qt::Key_1));
    QWidget::keyPressEvent(event);
}

} // namespace finch::app

#include "moc_film_cards.cpp"
