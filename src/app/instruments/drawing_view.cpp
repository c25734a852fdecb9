// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/drawing_view.h"

#include <array>
#include <cmath>
#include <QMouseEvent>

namespace finch::app {

namespace {

constexpr double ruler = 38, half_number = 12, ring_radius = 8, under_ruler = 26;
constexpr std::array textures{Qt::HorPattern,   Qt::Dense4Pattern, Qt::CrossPattern,
                              Qt::FDiagPattern, Qt::VerPattern,    Qt::DiagCrossPattern};

} // namespace

void paint_texture(QPainter& painter, const QPainterPath& path, int texture, bool guide, const Theme& t) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    if (guide) {
        painter.setPen(QPen(t(Role::ink3), 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
    } else {
        QBrush brush(t(Role::ink), textures.at(static_cast<std::size_t>(texture) % textures.size()));
        // A pattern is made of whole pixels of the screen, whatever the drawing's scale.
        brush.setTransform(painter.worldTransform().inverted());
        painter.fillPath(path, t(Role::field)); // what lies under it must not shine through small letters
        painter.setPen(QPen(t(Role::ink), 1));
        painter.setBrush(brush);
    }
    painter.drawPath(path);
    painter.restore();
}

QString texture_name(int texture, bool guide) {
    static constexpr std::array names{
        QT_TRANSLATE_NOOP("finch", "lines across"),  QT_TRANSLATE_NOOP("finch", "dense"),
        QT_TRANSLATE_NOOP("finch", "grid"),          QT_TRANSLATE_NOOP("finch", "diagonal"),
        QT_TRANSLATE_NOOP("finch", "upright lines"), QT_TRANSLATE_NOOP("finch", "crossed diagonals")};
    return guide ? QObject::tr("dashed") : QObject::tr(names.at(static_cast<std::size_t>(texture) % names.size()));
}

DrawingView::DrawingView(QWidget* parent, const QString& name) : Instrument(name, tr("Drawing in the field"), parent) {
    setMinimumSize(320, 320);
    setFocusPolicy(Qt::ClickFocus);
}

void DrawingView::show_picture(DrawingPicture picture) {
    picture_ = std::move(picture);
    QStringList layers;
    for (const auto& l : picture_.layers)
        layers << tr("%1: %2").arg(l.name, texture_name(l.texture, l.guide));
    speak(picture_.layers.empty() ? picture_.empty
                                  : tr("%1 by %2 mm in a field of %3 mm; %4; places ringed: %5")
                                        .arg(screen_number(picture_.width_mm), screen_number(picture_.height_mm),
                                             screen_number(picture_.field_mm), layers.join(u", "))
                                        .arg(picture_.marks.size()));
    update();
}

/// A field is square: width that it has no use for is its neighbour's.
void DrawingView::resizeEvent(QResizeEvent*) {
    setMaximumWidth(std::max(minimumWidth(), height() + static_cast<int>(ruler + half_number - under_ruler)));
}

QRectF DrawingView::field_box() const {
    const double side = std::min(width() - ruler - half_number, height() - under_ruler - 8.0);
    return {ruler, 8, side, side};
}

/// Page to screen: y runs up on the page, and the page lies in the middle of the field.
QTransform DrawingView::to_screen() const {
    const QRectF box = field_box();
    const double page = std::max(picture_.width_mm, picture_.height_mm);
    const double shown = picture_.close_up && page > 0 ? 1.1 * page : std::max({picture_.field_mm, page, 1.0});
    const double scale = box.width() / shown;
    return QTransform(scale, 0, 0, -scale, box.center().x() - 0.5 * scale * picture_.width_mm,
                      box.center().y() + 0.5 * scale * picture_.height_mm);
}

void DrawingView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF box = field_box();
    const QTransform to = to_screen();
    painter.fillRect(box, t(Role::field));
    const QRectF page = to.mapRect(QRectF(0, 0, picture_.width_mm, picture_.height_mm));
    const double field_px = picture_.field_mm * to.m11();
    const QRectF field(box.center().x() - 0.5 * field_px, box.center().y() - 0.5 * field_px, field_px, field_px);
    if (picture_.layers.empty()) {
        paint_paragraph(painter, box.adjusted(32, 0, -32, 0), picture_.empty, TextStyle::body, t(Role::ink2),
                        Qt::AlignCenter);
    } else {
        painter.save();
        painter.setClipRect(box);
        painter.fillRect(page, t(Role::surface));
        for (const auto& l : picture_.layers)
            paint_texture(painter, to.map(l.area), l.texture, l.guide, t);
        // The chosen layer's edge, over everything.
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(Qt::NoBrush);
        for (const auto& l : picture_.layers)
            if (l.chosen) {
                painter.setPen(QPen(t(Role::accent), 1.6));
                painter.drawPath(to.map(l.area));
            }
        for (const auto& m : picture_.marks) {
            const double r = m.chosen ? ring_radius + 3 : ring_radius;
            painter.setPen(QPen(t(Role::casing), 5));
            painter.drawEllipse(to.map(m.at), r, r);
            painter.setPen(QPen(m.state == State::warn ? t(Role::warn) : t(Role::ok), 2));
            painter.drawEllipse(to.map(m.at), r, r);
        }
        if (!round_.isEmpty()) {
            painter.setPen(QPen(t(Role::accent), 1.6, Qt::DashLine));
            painter.drawPolygon(round_);
        }
        painter.restore();
    }
    painter.setPen(QPen(t(Role::ink), 1.5));
    painter.setBrush(Qt::NoBrush);
    if (field.width() > box.width() + 1) // the field's edge lies outside
        painter.setPen(QPen(t(Role::hair), 1));
    painter.drawRect(field.intersected(box.adjusted(-1, -1, 1, 1)));
    // Rulers from the middle of the field.
    const double reach = 0.5 * box.width() / to.m11(), step = reach > 120  ? 50
                                                              : reach > 40 ? 25
                                                              : reach > 15 ? 10
                                                              : reach > 4  ? 2
                                                              : reach > 1  ? 0.5
                                                                           : 0.1;
    for (double v = -std::floor(reach / step) * step; v <= reach; v += step) {
        const double x = box.center().x() + v * to.m11(), y = box.center().y() - v * to.m11();
        paint_hairline(painter, {x, box.bottom() + 2}, {x, box.bottom() + 7}, t(Role::tick));
        paint_hairline(painter, {box.left() - 7, y}, {box.left() - 2, y}, t(Role::tick));
        paint_text(painter, QRectF(x - 24, box.bottom() + 8, 48, 16), screen_number(v), TextStyle::value_small,
                   t(Role::ink2), Qt::AlignCenter);
        paint_text(painter, QRectF(0, y - 8, ruler - 9, 16), screen_number(v), TextStyle::value_small, t(Role::ink2),
                   Qt::AlignRight | Qt::AlignVCenter);
    }
    const QString words = picture_.layers.empty()
                              ? tr("field %1 mm").arg(screen_number(picture_.field_mm))
                              : tr("field %1 mm, page %2 × %3 mm")
                                    .arg(screen_number(picture_.field_mm), screen_number(picture_.width_mm),
                                         screen_number(picture_.height_mm));
    const QRectF tag(box.left() + 8, box.top() + 8, text_width(words, TextStyle::small) + 12, 20);
    painter.fillRect(tag, t(Role::tag_ground));
    paint_text(painter, tag, words, TextStyle::small, t(Role::tag_ink), Qt::AlignCenter);
}

void DrawingView::set_drawing_round(bool on) {
    drawing_round_ = on;
    round_.clear();
    setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void DrawingView::keyPressEvent(QKeyEvent* event) {
    if (drawing_round_ && event->key() == Qt::Key_Escape)
        set_drawing_round(false);
    else
        QWidget::keyPressEvent(event);
}

void DrawingView::mouseReleaseEvent(QMouseEvent*) {
    if (!drawing_round_ || round_.size() < 3)
        return;
    const QPolygonF line = to_screen().inverted().map(round_);
    round_.clear();
    update();
    Q_EMIT drawn_round(line);
}

void DrawingView::mouseMoveEvent(QMouseEvent* event) {
    constexpr double step_px = 3; // nearer places tell nothing new of a line drawn by hand
    if (drawing_round_ && (event->buttons() & Qt::LeftButton) != 0) {
        if (QLineF(round_.isEmpty() ? held_ : round_.back(), event->position()).length() >= step_px) {
            round_ << event->position();
            update();
        }
        return;
    }
    if ((event->buttons() & Qt::LeftButton) == 0 || picture_.layers.empty())
        return;
    const QTransform to_page = to_screen().inverted();
    const QPointF by = to_page.map(event->position()) - to_page.map(held_);
    held_ = event->position();
    Q_EMIT dragged(by);
}

void DrawingView::mousePressEvent(QMouseEvent* event) {
    held_ = event->position();
    if (drawing_round_) {
        round_ = QPolygonF({held_});
        return;
    }
    const QTransform to = to_screen();
    for (std::size_t i = 0; i < picture_.marks.size(); ++i)
        if (QLineF(to.map(picture_.marks[i].at), event->position()).length() <= ring_radius + 3)
            return Q_EMIT mark_asked(i);
    // The last one is on top.
    for (std::size_t i = picture_.layers.size(); i-- > 0;)
        if (to.map(picture_.layers[i].area).contains(event->position()))
            return Q_EMIT layer_asked(i);
}

HatchLens::HatchLens(QWidget* parent, const QString& name) : Instrument(name, tr("Hatch, as it will lie"), parent) {
    setFixedHeight(160);
}

void HatchLens::show_picture(std::optional<LensPicture> picture) {
    picture_ = std::move(picture);
    speak(picture_ ? picture_->words : QString());
    update();
}

void HatchLens::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    if (!picture_)
        return;
    const double d = height() - 12;
    const QRectF glass(2, 6, d, d);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath round;
    round.addEllipse(glass);
    painter.fillPath(round, t(Role::field));
    painter.save();
    painter.setClipPath(round);
    const double scale = d / picture_->across_mm;
    const QTransform to(scale, 0, 0, -scale, glass.center().x() - scale * picture_->at.x(),
                        glass.center().y() + scale * picture_->at.y());
    painter.setPen(QPen(t(Role::ink2), 1));
    painter.setBrush(t(Role::band2));
    painter.drawPath(to.map(picture_->area));
    painter.setPen(QPen(t(Role::tick), 1));
    for (const QLineF& run : picture_->before)
        painter.drawLine(to.map(run));
    painter.setPen(QPen(t(Role::ink), 1.4));
    for (const QLineF& run : picture_->runs)
        painter.drawLine(to.map(run));
    if (picture_->spot_mm > 0) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(t(Role::casing), 5));
        painter.drawEllipse(glass.center(), 0.5 * scale * picture_->spot_mm, 0.5 * scale * picture_->spot_mm);
        painter.setPen(QPen(t(Role::accent), 2.4));
        painter.drawEllipse(glass.center(), 0.5 * scale * picture_->spot_mm, 0.5 * scale * picture_->spot_mm);
    }
    painter.restore();
    painter.setPen(QPen(t(Role::ink), 1.5));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(glass);
    paint_paragraph(painter, QRectF(glass.right() + 16, 6, width() - glass.right() - 18, d), picture_->words,
                    TextStyle::body, t(Role::ink), Qt::AlignLeft | Qt::AlignVCenter);
}

} // namespace finch::app

#include "moc_drawing_view.cpp"
