// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/surface_view.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

QImage lit_surface(const SurfacePatch& s, const Lab& tone) {
    QImage image(s.side, s.side, QImage::Format_RGB32);
    const QColor base = to_qcolor(tone);
    for (int y = 0; y < s.side; ++y)
        for (int x = 0; x < s.side; ++x) {
            const int l = std::max(0, x - 1), r = std::min(s.side - 1, x + 1), d = std::max(0, y - 1),
                      u = std::min(s.side - 1, y + 1);
            const double gx = (s.at(r, y) - s.at(l, y)) / ((r - l) * s.pixel_um);
            const double gy = (s.at(x, u) - s.at(x, d)) / ((u - d) * s.pixel_um);
            // Normal against a lamp low at the upper left.
            const double shade = (0.75 + 0.45 * gx - 0.45 * gy) / std::sqrt(1 + gx * gx + gy * gy);
            const double k = std::clamp(shade / 0.75, 0.15, 1.6);
            image.setPixelColor(x, s.side - 1 - y,
                                QColor(std::clamp(static_cast<int>(base.red() * k), 0, 255),
                                       std::clamp(static_cast<int>(base.green() * k), 0, 255),
                                       std::clamp(static_cast<int>(base.blue() * k), 0, 255)));
        }
    return image;
}

void paint_surface(QPainter& painter, const QRectF& box, const SurfaceView& v, const Theme& t) {
    painter.fillRect(box, t(Role::mat));
    const QRectF inner = box.adjusted(6, 6, -6, -6);
    double length_um = 0;
    if (v.patch != nullptr) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(inner, lit_surface(v.patch->surface, v.tone));
        length_um = v.patch->surface.side * v.patch->surface.pixel_um;
    } else if (!v.corner.empty()) {
        // The upper left corner of a fill: distance from the nearer edge decides.
        const int n = 96;
        QImage image(n, n, QImage::Format_RGB32);
        const double left = 0.3;
        for (int y = 0; y < n; ++y)
            for (int x = 0; x < n; ++x) {
                const double inside = std::min((x + 0.5) / n - left, 1 - left - (y + 0.5) / n) + left;
                const auto i = static_cast<std::size_t>(std::clamp(inside * static_cast<double>(v.corner.size()), 0.0,
                                                                   static_cast<double>(v.corner.size()) - 1));
                image.setPixelColor(x, y, to_qcolor(v.corner[i]));
            }
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(inner, image);
        length_um = v.corner_um;
    } else {
        paint_paragraph(painter, inner, v.words, TextStyle::small, ink_on({50, 0, 0}), Qt::AlignCenter);
        return;
    }
    const double bar = 100.0 / length_um * inner.width();
    if (bar < inner.width() * 0.9 && bar > 8) {
        const QRectF tag(inner.left() + 5, inner.bottom() - 23, bar + 60, 18);
        painter.fillRect(tag, t(Role::tag_ground));
        painter.fillRect(QRectF(tag.left() + 4, tag.center().y() - 1, bar, 2), t(Role::tag_ink));
        paint_text(painter, QRectF(tag.left() + bar + 8, tag.top(), 52, 18), u"100 µm"_s, TextStyle::small,
                   t(Role::tag_ink));
    }
}

SurfaceWidget::SurfaceWidget(const QString& name, QWidget* parent) : Instrument(name, tr("Simulated surface"), parent) {
    setMinimumSize(120, 120);
}

void SurfaceWidget::show_view(SurfaceView view) {
    view_ = std::move(view);
    speak(view_.words);
    update();
}

void SurfaceWidget::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const double side = std::min(width(), height());
    paint_surface(painter, QRectF(0, 0, side, side), view_, theme());
}

} // namespace finch::app

#include "moc_surface_view.cpp"
