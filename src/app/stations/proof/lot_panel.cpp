// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/lot_panel.h"

#include "physics/colour_difference.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString dose_words(double factor) {
    const int percent = static_cast<int>(std::lround(100 * (factor - 1)));
    return percent == 0 ? QObject::tr("as it is")
                        : (percent > 0 ? u"+"_s : u"\u2212"_s) + QString::number(std::abs(percent)) + u" %"_s;
}

State state_of(LotVerdict verdict) {
    switch (verdict) {
    case LotVerdict::same:
        return State::ok;
    case LotVerdict::dose:
        return State::warn;
    case LotVerdict::different:
        return State::fail;
    case LotVerdict::unsure:
        break;
    }
    return State::unknown;
}

} // namespace

LotView lot_view(const Round& round) {
    LotView v;
    const ProofSheet& sheet = round.sheet;
    v.expected = sheet.lot->expected;
    v.accept_de = sheet.lot->accept_de;
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        v.cells.push_back({sheet.own[i].power_percent / sheet.base.setting.power_percent, {}});
        if (round.reading && round.reading->cells.at(i).state == CellState::read)
            v.cells.back().read = round.reading->cells[i].lab;
    }
    v.note = QObject::tr("Five cells of the recipe with less and more dose. A cell passes within %1 CIEDE2000 of what "
                         "was expected. The verdict follows from the photograph.")
                 .arg(screen_number(v.accept_de, 2));
    if (!round.reading)
        return v;
    const auto finding = judge_lot_check(sheet, *round.reading);
    if (finding)
        v.finding = *finding;
    else
        v.note = from_utf8(finding.error().message + " " + finding.error().fix);
    return v;
}

LotPanel::LotPanel(QWidget* parent) : Instrument(u"lot_panel"_s, tr("Lot check"), parent) {
    setFixedWidth(320);
    setMinimumHeight(300);
}

void LotPanel::show_view(LotView view) {
    view_ = std::move(view);
    speak((view_.finding ? from_utf8(view_.finding->words) : view_.note) + u" "_s + view_.course);
    update();
}

void LotPanel::paint_path(QPainter& painter, const QRectF& box) const {
    const Theme& t = theme();
    const LotFinding& f = *view_.finding;
    double most = 2 * view_.accept_de;
    for (const auto& c : view_.cells)
        if (c.read)
            most = std::max(most, 1.1 * delta_e00(*c.read, view_.expected));
    const double low = std::log(f.path.front().first), high = std::log(f.path.back().first);
    const auto x = [&](double dose) {
        return box.left() + 12 + (std::log(dose) - low) / (high - low) * (box.width() - 24);
    };
    const auto y = [&](double de) { return box.bottom() - std::min(de, most) / most * box.height(); };
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(box, t(Role::field));
    painter.fillRect(QRectF(box.left(), y(view_.accept_de), box.width(), box.bottom() - y(view_.accept_de)),
                     t(Role::band2));
    painter.fillRect(
        QRectF(x(f.best_dose_low), box.top(), std::max(1.0, x(f.best_dose_high) - x(f.best_dose_low)), box.height()),
        t(Role::band1));
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF line;
    for (const auto& [dose, lab] : f.path)
        line << QPointF(x(dose), y(delta_e00(lab, view_.expected)));
    painter.setPen(QPen(t(Role::ink), 1.5));
    painter.drawPolyline(line);
    painter.setPen(QPen(t(Role::casing), 1));
    painter.setBrush(t(Role::series1));
    for (const auto& c : view_.cells)
        if (c.read)
            painter.drawEllipse(QPointF(x(c.dose), y(delta_e00(*c.read, view_.expected))), 4, 4);
    painter.setBrush(t(Role::accent));
    painter.drawEllipse(QPointF(x(f.best_dose), y(f.best_de)), 5, 5);
    paint_text(painter, {box.left() + 4, box.top() + 1, 120, 16}, u"ΔE₀₀ "_s + QString::number(most, 'f', 0),
               TextStyle::value_small, t(Role::ink2));
    paint_text(painter, {box.right() - 124, y(view_.accept_de) - 17, 120, 16},
               tr("passes up to %1").arg(screen_number(view_.accept_de, 2)), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
}

void LotPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width(), each = w / static_cast<double>(std::max<std::size_t>(1, view_.cells.size()));
    paint_text(painter, {0, 0, w, 20}, tr("Lot check"), TextStyle::section, t(Role::ink));
    painter.fillRect(QRectF(0, 26, w, 26), to_qcolor(view_.expected));
    paint_text(painter, {6, 26, w - 12, 26}, tr("expected"), TextStyle::small, ink_on(view_.expected));
    for (std::size_t i = 0; i < view_.cells.size(); ++i) {
        const auto& c = view_.cells[i];
        const QRectF cell(static_cast<double>(i) * each, 52, each, 34);
        painter.fillRect(cell, c.read ? to_qcolor(*c.read) : t(Role::sunken));
        paint_text(painter, {cell.left(), 88, each, 18}, dose_words(c.dose), TextStyle::small, t(Role::ink2),
                   Qt::AlignCenter);
    }
    if (!view_.finding) {
        paint_paragraph(painter, {0, 116, w, height() - 116.0}, view_.note, TextStyle::body, t(Role::ink2));
        return;
    }
    paint_path(painter, {0, 112, w, 84});
    paint_state(painter, {0, 208, 18, 18}, state_of(view_.finding->verdict), t);
    const double taken = paint_paragraph(painter, {26, 206, w - 26, height() - 206.0}, from_utf8(view_.finding->words),
                                         TextStyle::body, t(Role::ink));
    if (view_.course.isEmpty())
        return;
    const double top = 206 + taken + 12;
    paint_hairline(painter, {0, top - 4}, {w, top - 4}, t(Role::hair));
    paint_state(painter, {0, top + 2, 18, 18}, view_.course_state, t);
    paint_paragraph(painter, {26, top, w - 26, height() - top}, view_.course, TextStyle::body, t(Role::ink));
}

} // namespace finch::app

#include "moc_lot_panel.cpp"
