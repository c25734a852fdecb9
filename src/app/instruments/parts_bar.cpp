// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/parts_bar.h"

#include "app/instruments/drawing_view.h"

#include <algorithm>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

PartsBar::PartsBar(const QString& object_name, const QString& title, bool values_shown, QWidget* parent)
    : Instrument(object_name, title, parent), values_shown_(values_shown) {
    setFixedHeight(30);
}

void PartsBar::show_parts(std::vector<Part> parts) {
    parts_ = std::move(parts);
    std::erase_if(parts_, [](const Part& p) { return !(p.size > 0); });
    QStringList spoken;
    for (const Part& p : parts_)
        spoken << p.name + u' ' + p.value;
    speak(spoken.join(u", "_s));
    setToolTip(spoken.join(u'\n'));
    update();
}

void PartsBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    double total = 0, x = 0.5;
    for (const Part& p : parts_)
        total += p.size;
    if (parts_.empty()) {
        painter.setPen(QPen(t(Role::hair), 1, Qt::DashLine));
        painter.drawRect(QRectF(0.5, 0.5, width() - 1, height() - 1));
    }
    for (const Part& p : parts_) {
        const double w = (width() - 1) * p.size / total;
        QPainterPath part;
        part.addRect(QRectF(x, 0.5, w, height() - 1));
        painter.fillPath(part, t(Role::field));
        paint_texture(painter, part, p.texture, false, t);
        const QString words = values_shown_ ? p.name + u' ' + p.value : p.name;
        const double wanted = text_width(words, TextStyle::small) + 12;
        if (wanted < w - 8) {
            const QRectF tag(x + 6, 5, wanted, 20);
            painter.fillRect(tag, t(Role::tag_ground));
            paint_text(painter, tag, words, TextStyle::small, t(Role::tag_ink), Qt::AlignCenter);
        }
        x += w;
    }
}

} // namespace finch::app

#include "moc_parts_bar.cpp"
