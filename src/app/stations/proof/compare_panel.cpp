// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/compare_panel.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString one_digit(double v) {
    return QString::number(v, 'f', 1).replace(u'-', QChar(0x2212));
}

State state_of(Comparing finding) {
    switch (finding) {
    case Comparing::matters:
        return State::warn;
    case Comparing::does_not_matter:
        return State::ok;
    case Comparing::differs:
    case Comparing::cannot_tell:
        break;
    }
    return State::unknown;
}

} // namespace

CompareView compare_view(const Round& round) {
    const ProofSheet& sheet = round.sheet;
    CompareView v;
    const Recipe first = cell_recipe(sheet, 0), second = cell_recipe(sheet, sheet.columns());
    // Only what differs; the rest is the same for both.
    QStringList a, b;
    for (const Knob k : varied_knobs(sheet)) {
        const KnobTraits& t = traits(k);
        const auto value = [&](const Recipe& r) {
            return screen_number(t.get(r) * t.screen_factor, 4) + u" "_s + from_utf8(t.screen_unit);
        };
        a << value(first);
        b << value(second);
    }
    v.first = QObject::tr("row 1: %1").arg(a.join(u", "_s));
    v.second = QObject::tr("row 2: %1").arg(b.join(u", "_s));
    v.measure = from_utf8(word(sheet.paired->measure));
    v.matters = sheet.paired->matters;
    v.note =
        QObject::tr("%1 pairs, compared by %2. A difference matters from %3 on: that is settled. The verdict follows "
                    "from the photograph.")
            .arg(sheet.own.size() / 2)
            .arg(v.measure, screen_number(v.matters, 2));
    if (!round.reading)
        return v;
    const auto verdict = judge_comparison(sheet, *round.reading);
    if (verdict)
        v.verdict = *verdict;
    else
        v.note = from_utf8(verdict.error().message + " " + verdict.error().fix);
    return v;
}

ComparePanel::ComparePanel(QWidget* parent) : Instrument(u"compare_panel"_s, tr("Comparison"), parent) {
    setFixedWidth(224);
    setMinimumHeight(260);
}

void ComparePanel::show_view(CompareView view) {
    view_ = std::move(view);
    speak(view_.verdict ? q(view_.verdict->words) : view_.note);
    update();
}

void ComparePanel::paint_readings(QPainter& painter, const QRectF& box) const {
    const Theme& t = theme();
    const auto& pairs = view_.verdict->readings;
    double low = 1e9, high = -1e9;
    for (const auto& [a, b] : pairs) {
        low = std::min({low, a, b});
        high = std::max({high, a, b});
    }
    const double room = std::max(0.5, 0.08 * (high - low));
    low -= room;
    high += room;
    const auto x = [&](double v) { return box.left() + (v - low) / (high - low) * box.width(); };
    painter.fillRect(box, t(Role::field));
    painter.setRenderHint(QPainter::Antialiasing);
    const double upper = box.top() + 18, lower = box.bottom() - 18;
    painter.setPen(QPen(t(Role::hair), 1));
    for (const auto& [a, b] : pairs)
        painter.drawLine(QPointF(x(a), upper), QPointF(x(b), lower));
    painter.setPen(QPen(t(Role::casing), 1));
    for (const auto& [a, b] : pairs) {
        painter.setBrush(t(Role::series1));
        painter.drawEllipse(QPointF(x(a), upper), 4, 4);
        painter.setBrush(t(Role::series2)); // another shape too
        painter.drawRect(QRectF(x(b) - 3.5, lower - 3.5, 7, 7));
    }
    paint_text(painter, {box.left(), box.bottom() + 2, 60, 16}, one_digit(low), TextStyle::value_small, t(Role::ink2));
    paint_text(painter, {box.left(), box.bottom() + 2, box.width(), 16}, view_.measure, TextStyle::small, t(Role::ink2),
               Qt::AlignCenter);
    paint_text(painter, {box.right() - 60, box.bottom() + 2, 60, 16}, one_digit(high), TextStyle::value_small,
               t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
}

void ComparePanel::paint_difference(QPainter& painter, const QRectF& box) const {
    const Theme& t = theme();
    const ComparisonVerdict& v = *view_.verdict;
    const double reach = 1.15 * std::max({std::abs(v.low), std::abs(v.high), view_.matters, 0.2});
    const auto x = [&](double d) { return box.center().x() + d / reach * box.width() / 2; };
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(box, t(Role::field));
    painter.fillRect(QRectF(x(-view_.matters), box.top(), x(view_.matters) - x(-view_.matters), box.height()),
                     t(Role::band2));
    paint_hairline(painter, {x(0), box.top()}, {x(0), box.bottom()}, t(Role::rule));
    painter.setRenderHint(QPainter::Antialiasing);
    const double y = box.center().y();
    painter.setPen(QPen(t(Role::ink), 2));
    painter.drawLine(QPointF(x(v.low), y), QPointF(x(v.high), y));
    for (const double end : {v.low, v.high})
        painter.drawLine(QPointF(x(end), y - 6), QPointF(x(end), y + 6));
    painter.setPen(QPen(t(Role::casing), 1));
    painter.setBrush(t(Role::accent));
    painter.drawEllipse(QPointF(x(v.difference), y), 5, 5);
    paint_text(painter, {box.left(), box.bottom() + 2, box.width(), 16},
               tr("%1, from %2 to %3").arg(one_digit(v.difference), one_digit(v.low), one_digit(v.high)),
               TextStyle::value_small, t(Role::ink), Qt::AlignCenter);
}

void ComparePanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width();
    paint_text(painter, {0, 0, w, 20}, tr("Comparison"), TextStyle::section, t(Role::ink));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(t(Role::casing), 1));
    painter.setBrush(t(Role::series1));
    painter.drawEllipse(QPointF(6, 34), 4, 4);
    painter.setBrush(t(Role::series2));
    painter.drawRect(QRectF(2.5, 48.5, 7, 7));
    paint_text(painter, {18, 25, w - 18, 18}, view_.first, TextStyle::small, t(Role::ink));
    paint_text(painter, {18, 43, w - 18, 18}, view_.second, TextStyle::small, t(Role::ink));
    if (!view_.verdict) {
        paint_paragraph(painter, {0, 74, w, height() - 74.0}, view_.note, TextStyle::body, t(Role::ink2));
        return;
    }
    paint_readings(painter, {0, 72, w, 74});
    paint_text(painter, {0, 170, w, 18}, tr("Row 2 − row 1"), TextStyle::head, t(Role::ink));
    paint_text(painter, {0, 170, w, 18}, tr("grey: too small to matter"), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_difference(painter, {0, 192, w, 34});
    paint_state(painter, {0, 258, 18, 18}, state_of(view_.verdict->finding), t);
    paint_paragraph(painter, {26, 256, w - 26, height() - 256.0}, q(view_.verdict->words), TextStyle::body,
                    t(Role::ink));
}

} // namespace finch::app

#include "moc_compare_panel.cpp"
