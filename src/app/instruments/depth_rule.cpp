// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/depth_rule.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

void paint_depth_rule(QPainter& painter, const QRectF& box, const DepthMark& m, const Theme& theme) {
    const double most = 1.5 * m.wanted;
    const auto y = [&](double um) { return box.top() + 1 + (box.height() - 2) * std::clamp(um / most, 0.0, 1.0); };
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(box, theme(Role::tag_ground));
    const double top = y(m.wanted - m.within);
    painter.fillRect(QRectF(box.left() + 1, top, box.width() - 2, std::max(2.0, y(m.wanted + m.within) - top)),
                     theme(Role::mat));
    if (m.predicted)
        painter.fillRect(QRectF(box.left(), std::round(y(*m.predicted)) - 0.5, box.width(), 1), theme(Role::tag_ink));
    if (m.measured) {
        const double at = std::round(y(*m.measured));
        painter.fillRect(QRectF(box.left() - 2, at - 2, box.width() + 4, 4), theme(Role::casing));
        painter.fillRect(QRectF(box.left() - 1, at - 1, box.width() + 2, 2), theme(Role::needle_on_picture));
    }
    painter.setPen(QPen(theme(Role::casing), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
}

void paint_grooves(QPainter& painter, const QRectF& box, double wanted_um, double within_um,
                   const std::vector<Groove>& grooves, const Theme& theme) {
    double most = wanted_um + within_um;
    for (const Groove& g : grooves)
        most = std::max(most, g.um.value_or(0));
    constexpr double sky = 4;
    const auto y = [&](double um) {
        return std::round(box.top() + sky + (box.height() - sky) * std::clamp(um / (1.25 * most), 0.0, 1.0));
    };
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.fillRect(box.adjusted(0, sky, 0, 0), theme(Role::mat));
    const double w = box.width() / static_cast<double>(std::max<std::size_t>(1, grooves.size()));
    for (std::size_t i = 0; i < grooves.size(); ++i) {
        const QRectF slot(box.left() + static_cast<double>(i) * w + 0.14 * w, box.top() + sky, 0.72 * w,
                          box.height() - sky);
        if (grooves[i].um)
            painter.fillRect(QRectF(slot.left(), slot.top(), slot.width(), y(*grooves[i].um) - slot.top()),
                             theme(Role::surface));
        else
            paint_hatch(painter, slot.adjusted(0, 0, 0, -6), theme(Role::tag_ground), 6);
    }
    painter.setPen(QPen(theme(Role::tag_ink), 1, Qt::DashLine));
    for (const double um : {wanted_um - within_um, wanted_um + within_um})
        painter.drawLine(QPointF(box.left(), y(um) + 0.5), QPointF(box.right(), y(um) + 0.5));
    paint_hairline(painter, {box.left(), box.top() + sky - 0.5}, {box.right(), box.top() + sky - 0.5},
                   theme(Role::ink));
}

QString um_text(double um) {
    return (um < 9.95 ? QString::number(um, 'f', 1) : screen_number(um, 3)) + u" µm"_s;
}

} // namespace finch::app
