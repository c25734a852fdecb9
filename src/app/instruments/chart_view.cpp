// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/chart_view.h"

#include "app/session/text.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double patch_caption = 18, patch_gap = 6, much_apart = 3; ///< CIEDE2000, plain side by side

void paint_chart_patch(QPainter& painter, const QRectF& box, const ChartPicture::Patch& p, const Theme& t) {
    const QRectF colour(box.left(), box.top(), box.width(), box.height() - patch_caption);
    painter.fillRect(colour, t(Role::mat));
    const QRectF inner = colour.adjusted(3, 3, -3, -3);
    if (p.measured) {
        const QRectF left(inner.left(), inner.top(), inner.width() / 2, inner.height());
        painter.fillRect(left, to_qcolor(*p.measured));
        if (p.corrected)
            painter.fillRect(QRectF(left.right(), inner.top(), inner.right() - left.right(), inner.height()),
                             to_qcolor(*p.corrected));
        else
            paint_hatch(painter, QRectF(left.right(), inner.top(), inner.right() - left.right(), inner.height()),
                        t(Role::hatch), 5);
    } else {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(to_qcolor(p.asked), 2));
        painter.drawRect(inner.adjusted(1, 1, -1, -1));
    }
    const QRectF caption(box.left(), colour.bottom(), box.width(), patch_caption);
    paint_text(painter, caption, p.name, TextStyle::value_small, t(Role::ink2));
    if (p.corrected)
        paint_text(painter, caption, QString::number(p.apart, 'f', 1), TextStyle::value_small,
                   p.apart >= much_apart ? t(Role::danger) : t(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace

ChartView::ChartView(QWidget* parent) : Instrument(u"camera_chart"_s, tr("Places of known colour"), parent) {
    setMinimumSize(420, 260);
}

void ChartView::show_picture(ChartPicture picture) {
    picture_ = std::move(picture);
    speak(picture_.words);
    update();
}

void ChartView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, false);
    if (picture_.patches.empty() || picture_.columns == 0)
        return;
    const auto columns = static_cast<double>(picture_.columns);
    const auto rows = static_cast<double>((picture_.patches.size() + picture_.columns - 1) / picture_.columns);
    const double w = (width() - (columns - 1) * patch_gap) / columns;
    const double h = std::min((height() - (rows - 1) * patch_gap) / rows, w + patch_caption);
    for (std::size_t i = 0; i < picture_.patches.size(); ++i)
        paint_chart_patch(painter,
                          QRectF(static_cast<double>(i % picture_.columns) * (w + patch_gap),
                                 static_cast<double>(i / picture_.columns) * (h + patch_gap), w, h),
                          picture_.patches[i], theme());
}

} // namespace finch::app

#include "moc_chart_view.cpp"
