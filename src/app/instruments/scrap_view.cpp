// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/scrap_view.h"

#include "app/session/text.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double scrap_caption = 22, between_faces = 24;

void paint_mark(QPainter& painter, const QRectF& at, const ScrapPicture::Mark& mark, const Theme& t) {
    using Is = ScrapPicture::Mark::Is;
    if (mark.is == Is::used) {
        painter.fillRect(at, t(Role::band3));
        paint_hatch(painter, at, t(Role::hatch), 6);
    } else
        painter.fillRect(at, t(Role::surface));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(mark.is == Is::shown     ? QPen(t(Role::accent), 2.5)
                   : mark.is == Is::planned ? QPen(t(Role::ink2), 1, Qt::DashLine)
                                            : QPen(t(Role::rule), 1));
    painter.drawRect(at);
    const double w = text_width(mark.what, TextStyle::small) + 10;
    if (w > at.width() - 4 || at.height() < 22)
        return;
    const QRectF tag(at.center().x() - w / 2, at.center().y() - 9, w, 18);
    painter.fillRect(tag, mark.is == Is::used ? t(Role::tag_ground) : t(Role::surface));
    paint_text(painter, tag, mark.what, TextStyle::small, mark.is == Is::used ? t(Role::tag_ink) : t(Role::ink),
               Qt::AlignCenter);
}

} // namespace

ScrapView::ScrapView(QWidget* parent) : Instrument(u"scrap_view"_s, tr("Piece of scrap, both faces"), parent) {
    setMinimumSize(520, 220);
}

void ScrapView::show_picture(ScrapPicture picture) {
    picture_ = std::move(picture);
    speak(picture_.words);
    update();
}

void ScrapView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, false);
    const Theme& t = theme();
    const auto count = static_cast<double>(picture_.faces.size());
    if (!(picture_.width_mm > 0) || picture_.faces.empty()) {
        paint_paragraph(painter, QRectF(rect()), picture_.words, TextStyle::body, t(Role::ink2), Qt::AlignCenter);
        return;
    }
    const double room = (width() - (count - 1) * between_faces - 2) / count;
    const double scale = std::min(room / picture_.width_mm, (height() - scrap_caption - 2) / picture_.height_mm);
    for (std::size_t i = 0; i < picture_.faces.size(); ++i) {
        const ScrapPicture::Face& face = picture_.faces[i];
        const QPointF corner(1 + static_cast<double>(i) * (room + between_faces), scrap_caption);
        const auto on_face = [&](const QRectF& mm) { return QRectF(corner + scale * mm.topLeft(), scale * mm.size()); };
        const double name = paint_text(painter, {corner.x(), 0, room, scrap_caption}, tr("Face %1").arg(face.name),
                                       TextStyle::head, t(Role::ink));
        paint_text(painter, {corner.x() + name + 10, 0, room - name - 10, scrap_caption},
                   tr("%1 cm² bare").arg(screen_number(face.bare_cm2, 2)), TextStyle::small, t(Role::ink2));
        const QRectF all = on_face({0, 0, picture_.width_mm, picture_.height_mm});
        painter.fillRect(all, t(Role::field));
        painter.setClipRect(all.adjusted(-2, -2, 2, 2));
        if (face.largest.width() > 0) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(t(Role::ink3), 1, Qt::DotLine));
            const QRectF at = on_face(face.largest);
            painter.drawRect(at);
            const QString size =
                tr("%1 × %2 mm").arg(screen_number(face.largest.width(), 3), screen_number(face.largest.height(), 3));
            if (text_width(size, TextStyle::value_small) < at.width() - 8 && at.height() > 40)
                paint_text(painter, at.adjusted(5, 0, -5, -3), size, TextStyle::value_small, t(Role::ink2),
                           Qt::AlignRight | Qt::AlignBottom);
        }
        for (const ScrapPicture::Mark& m : face.marks)
            paint_mark(painter, on_face(m.where), m, t);
        painter.setClipping(false);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(t(Role::ink2), 1));
        painter.drawRect(all);
    }
}

} // namespace finch::app

#include "moc_scrap_view.cpp"
