// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/relief_view.h"

#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <QMouseEvent>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double left_ruler = 34, right_ruler = 12, low_ruler = 24, compass_radius = 26, lamp_height = 0.55;
constexpr double deepest_share = 0.05; ///< of the width, as which the deepest place is drawn
constexpr int scrubber_height = 66, scrubber_wedge = 26;

double depth_of(const ReliefPicture& p, int count) {
    const auto k = static_cast<std::size_t>(std::min(count, p.layers_done));
    return p.depth_um.empty() ? 0 : p.depth_um[std::min(k, p.depth_um.size() - 1)];
}

/// Between the numbers of a ruler: 1, 2 or 5 times a power of ten, at most six to its length.
double ruler_step(double length) {
    const double ten = std::pow(10, std::floor(std::log10(length / 6)));
    for (const double step : {ten, 2 * ten, 5 * ten})
        if (length / step <= 6)
            return step;
    return 10 * ten;
}

} // namespace

double shown_steeper(const ReliefPicture& p) {
    if (p.map == nullptr || p.depth_um.empty() || p.depth_um.back() <= 0)
        return 1;
    const double width_um = 1000 * p.map->pixel_mm * p.map->width;
    return std::max(1.0, std::round(deepest_share * width_um / p.depth_um.back()));
}

ScreenRelief screen_relief(const ReliefPicture& p, QSize size) {
    ScreenRelief out{size, {}, 1e-6F, 1};
    if (p.map == nullptr || size.isEmpty())
        return out;
    const ReliefMap& m = *p.map;
    const int w = size.width(), h = size.height();
    out.pixel_um = 1000 * m.pixel_mm * m.width / w;
    std::vector<float> depth; // um by count
    for (int c = 0; c <= m.layers; ++c)
        depth.push_back(static_cast<float>(depth_of(p, c)));
    out.deepest_um = std::max(out.deepest_um, depth.back());
    // A screen pixel is the mean of what it covers, so that fine steps do not flicker.
    out.depth_um.resize(static_cast<std::size_t>(w) * static_cast<std::size_t>(h));
    const auto from = [](int i, int of, int n) { return static_cast<int>(static_cast<long long>(i) * n / of); };
    for (int y = 0; y < h; ++y) {
        const int y0 = from(y, h, m.height()), y1 = std::max(y0 + 1, from(y + 1, h, m.height()));
        for (int x = 0; x < w; ++x) {
            const int x0 = from(x, w, m.width), x1 = std::max(x0 + 1, from(x + 1, w, m.width));
            float sum = 0;
            for (int v = y0; v < y1; ++v)
                for (int u = x0; u < x1; ++u)
                    sum += depth[static_cast<std::size_t>(
                        m.counts[static_cast<std::size_t>(v) * static_cast<std::size_t>(m.width) +
                                 static_cast<std::size_t>(u)])];
            out.depth_um[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x)] =
                sum / static_cast<float>((y1 - y0) * (x1 - x0));
        }
    }
    return out;
}

QImage lit_relief(const ScreenRelief& relief, double light_deg, double steeper) {
    QImage out(relief.size, QImage::Format_RGB32);
    if (relief.depth_um.empty())
        return out;
    const int w = relief.size.width(), h = relief.size.height();
    const auto lx = static_cast<float>(std::cos(light_deg * pi / 180)),
               ly = static_cast<float>(std::sin(light_deg * pi / 180));
    const auto slope = static_cast<float>(steeper / (2 * relief.pixel_um));
    for (int y = 0; y < h; ++y) {
        auto* row = reinterpret_cast<QRgb*>(out.scanLine(y)); // NOLINT: rows of this format are of QRgb
        const auto line = [&](int of) {
            return relief.depth_um.data() +
                   static_cast<std::size_t>(std::clamp(of, 0, h - 1)) * static_cast<std::size_t>(w);
        };
        const float *up = line(y - 1), *here = line(y), *down = line(y + 1);
        for (int x = 0; x < w; ++x) {
            // Depths grow downwards: a place that is deeper to the right faces right.
            const float gx = slope * (here[std::min(x + 1, w - 1)] - here[std::max(x - 1, 0)]),
                        gy = slope * (up[x] - down[x]);
            const float shade =
                (static_cast<float>(lamp_height) + gx * lx + gy * ly) / std::sqrt(1 + gx * gx + gy * gy);
            // What lies deep is seen darker, too: light reaches it from fewer sides.
            const float base = 190 - 70 * here[x] / relief.deepest_um;
            const int v = std::clamp(static_cast<int>(base * shade / static_cast<float>(lamp_height)), 12, 250);
            row[x] = qRgb(v, v, v);
        }
    }
    return out;
}

ReliefView::ReliefView(QWidget* parent) : Instrument(u"relief"_s, tr("Relief, lit from the side"), parent) {
    setMinimumSize(320, 320);
    setFocusPolicy(Qt::StrongFocus);
}

void ReliefView::show_picture(ReliefPicture picture) {
    picture_ = std::move(picture);
    on_screen_ = {};
    tell();
    update();
}

void ReliefView::tell() {
    speak(picture_.map == nullptr ? picture_.empty
                                  : tr("%1 of %2 layers; light from %3 degrees; section at row %4 of %5")
                                        .arg(picture_.layers_done)
                                        .arg(picture_.map->layers)
                                        .arg(std::lround(light_deg_))
                                        .arg(section_row() + 1)
                                        .arg(picture_.map->height()));
}

int ReliefView::section_row() const {
    return picture_.map == nullptr
               ? 0
               : std::clamp(static_cast<int>(section_ * picture_.map->height()), 0, picture_.map->height() - 1);
}

QRectF ReliefView::box() const {
    const double w = width() - left_ruler - right_ruler, h = height() - low_ruler - 4;
    if (picture_.map == nullptr)
        return {left_ruler, 2, w, h};
    const double ratio = static_cast<double>(picture_.map->height()) / picture_.map->width;
    const double shown = std::floor(std::min(w, h / ratio));
    return {left_ruler, 2, shown, std::floor(shown * ratio)};
}

QPointF ReliefView::compass() const {
    const QRectF b = box();
    return {b.right() - compass_radius - 10, b.top() + compass_radius + 10};
}

void ReliefView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF b = box();
    painter.fillRect(b, t(Role::field));
    if (picture_.map == nullptr) {
        paint_paragraph(painter, b.adjusted(32, 0, -32, 0), picture_.empty, TextStyle::body, t(Role::ink2),
                        Qt::AlignCenter);
        painter.setPen(QPen(t(Role::hair), 1));
        painter.drawRect(b.adjusted(0.5, 0.5, -0.5, -0.5));
        return;
    }
    const QSize pixels = (b.size() * devicePixelRatioF()).toSize();
    if (on_screen_.size != pixels) {
        on_screen_ = screen_relief(picture_, pixels);
        image_ = {};
    }
    if (image_.isNull() || imaged_light_ != light_deg_) {
        image_ = lit_relief(on_screen_, light_deg_, shown_steeper(picture_));
        imaged_light_ = light_deg_;
    }
    painter.drawImage(b, image_);
    // Rulers from the lower left corner.
    const ReliefMap& m = *picture_.map;
    const double wide = m.pixel_mm * m.width, high = m.pixel_mm * m.height();
    const double step = ruler_step(wide);
    for (double v = 0; v <= wide + 1e-9; v += step) {
        const double x = b.left() + b.width() * v / wide;
        paint_hairline(painter, {x, b.bottom()}, {x, b.bottom() + 4}, t(Role::tick));
        paint_text(painter, QRectF(x - 30, b.bottom() + 4, 60, 18), screen_number(v), TextStyle::value_small,
                   t(Role::ink2), Qt::AlignHCenter | Qt::AlignVCenter);
    }
    paint_text(painter, QRectF(0, b.bottom() + 4, left_ruler - 9, 18), u"mm"_s, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    for (double v = 0; v <= high + 1e-9; v += step) {
        const double y = b.bottom() - b.height() * v / high;
        paint_hairline(painter, {b.left() - 4, y}, {b.left(), y}, t(Role::tick));
        paint_text(painter, QRectF(0, std::max(0.0, y - 9), left_ruler - 7, 18), screen_number(v),
                   TextStyle::value_small, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    // The section, on any ground.
    const double y = b.top() + b.height() * section_;
    painter.setPen(QPen(t(Role::casing), 3));
    painter.drawLine(QPointF(b.left(), y), QPointF(b.right(), y));
    painter.setPen(QPen(t(Role::needle_on_picture), 1.4, Qt::DashDotLine));
    painter.drawLine(QPointF(b.left(), y), QPointF(b.right(), y));
    for (const double x : {b.left() + 4, b.right() - 24}) {
        const QRectF tag(x, std::max(b.top() + 2, std::min(y - 10, b.bottom() - 22)), 20, 20);
        painter.fillRect(tag, t(Role::tag_ground));
        paint_text(painter, tag, u"S"_s, TextStyle::small, t(Role::tag_ink), Qt::AlignCenter);
    }
    // Where the light comes from.
    const QPointF c = compass();
    painter.setPen(QPen(t(Role::ink), 1));
    painter.setBrush(t(Role::tag_ground));
    painter.drawEllipse(c, compass_radius, compass_radius);
    const QPointF lamp =
        c + 0.62 * compass_radius * QPointF(std::cos(light_deg_ * pi / 180), -std::sin(light_deg_ * pi / 180));
    painter.setPen(QPen(t(Role::tag_ink), 1.4));
    painter.drawLine(c, lamp);
    painter.setBrush(t(Role::accent));
    painter.drawEllipse(lamp, 5.5, 5.5);
    if (hasFocus()) {
        painter.setPen(QPen(t(Role::accent), 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(b.adjusted(0.75, 0.75, -0.75, -0.75));
    }
}

void ReliefView::drag(QPointF to) {
    if (picture_.map == nullptr)
        return;
    if (drag_ == Drag::light) {
        const QPointF d = to - compass();
        if (std::hypot(d.x(), d.y()) > 2)
            light_deg_ = std::fmod(360 + std::atan2(-d.y(), d.x()) * 180 / pi, 360.0);
    } else {
        section_ = std::clamp((to.y() - box().top()) / box().height(), 0.0, 1.0);
        Q_EMIT section_moved();
    }
    tell();
    update();
}

void ReliefView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const QPointF d = event->position() - compass();
    drag_ = std::hypot(d.x(), d.y()) < compass_radius + 4 ? Drag::light : Drag::section;
    drag(event->position());
}

void ReliefView::mouseMoveEvent(QMouseEvent* event) {
    if (drag_ != Drag::nothing)
        drag(event->position());
}

void ReliefView::mouseReleaseEvent(QMouseEvent*) {
    drag_ = Drag::nothing;
}

void ReliefView::keyPressEvent(QKeyEvent* event) {
    constexpr double turn = 15, move = 0.02;
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
        light_deg_ = std::fmod(360 + light_deg_ + (event->key() == Qt::Key_Left ? turn : -turn), 360.0);
    else if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
        section_ = std::clamp(section_ + (event->key() == Qt::Key_Up ? -move : move), 0.0, 1.0);
        Q_EMIT section_moved();
    } else
        return QWidget::keyPressEvent(event);
    tell();
    update();
}

LayerScrubber::LayerScrubber(QWidget* parent) : Instrument(u"relief_layers"_s, tr("Layers done"), parent) {
    setFixedHeight(scrubber_height);
    setFocusPolicy(Qt::StrongFocus);
}

void LayerScrubber::show_progress(LayerProgress progress) {
    progress_ = std::move(progress);
    speak(progress_.words);
    update();
}

void LayerScrubber::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const auto& depth = progress_.depth_um;
    const double left = left_ruler, right = width() - 10.0, top = 22, low = top + scrubber_wedge;
    paint_text(painter, QRectF(left, 0, right - left, 20), progress_.words, TextStyle::head, t(Role::ink));
    painter.fillRect(QRectF(left, top, right - left, low - top), t(Role::field));
    if (depth.size() > 1 && depth.back() > 0) {
        const auto x = [&](double layer) {
            return left + (right - left) * layer / static_cast<double>(depth.size() - 1);
        };
        QPainterPath wedge;
        wedge.moveTo(left, top);
        for (std::size_t k = 0; k < depth.size(); ++k)
            wedge.lineTo(x(static_cast<double>(k)), top + (low - top) * depth[k] / depth.back());
        wedge.lineTo(right, top);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.fillPath(wedge, t(Role::band3));
        double free_from = left - 1;
        for (const auto& stage : progress_.stages) {
            const double at = x(stage.layer), w = text_width(stage.name, TextStyle::small);
            paint_hairline(painter, {at, top}, {at, low + 4}, t(Role::ink));
            const double from = std::clamp(at + 3, free_from, std::max(free_from, right - w));
            if (from + w <= right + 1)
                paint_text(painter, QRectF(from, low + 1, w + 2, 17), stage.name, TextStyle::small, t(Role::ink2));
            free_from = from + w + 10;
        }
        paint_pointer(painter, {x(progress_.layers_done), low}, 11, 180, t(Role::accent), t(Role::ink));
        paint_hairline(painter, {x(progress_.layers_done), top}, {x(progress_.layers_done), low}, t(Role::accent));
    }
    painter.setPen(QPen(hasFocus() ? t(Role::accent) : t(Role::rule), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(left - 0.5, top - 0.5, right - left + 1, low - top + 1));
}

void LayerScrubber::ask_at(double x) {
    const double right = width() - 10.0;
    if (progress_.depth_um.size() > 1)
        Q_EMIT asked(std::clamp(static_cast<int>(std::lround((x - left_ruler) / (right - left_ruler) *
                                                             static_cast<double>(progress_.depth_um.size() - 1))),
                                0, static_cast<int>(progress_.depth_um.size()) - 1));
}

void LayerScrubber::mousePressEvent(QMouseEvent* event) {
    setFocus();
    ask_at(event->position().x());
}

void LayerScrubber::mouseMoveEvent(QMouseEvent* event) {
    ask_at(event->position().x());
}

void LayerScrubber::keyPressEvent(QKeyEvent* event) {
    const int n = static_cast<int>(progress_.depth_um.size()) - 1, at = progress_.layers_done;
    const int to = event->key() == Qt::Key_Left       ? at - 1
                   : event->key() == Qt::Key_Right    ? at + 1
                   : event->key() == Qt::Key_PageUp   ? at + std::max(1, n / 10)
                   : event->key() == Qt::Key_PageDown ? at - std::max(1, n / 10)
                   : event->key() == Qt::Key_Home     ? 0
                   : event->key() == Qt::Key_End      ? n
                                                      : -1000;
    if (to == -1000 || n < 1)
        return QWidget::keyPressEvent(event);
    Q_EMIT asked(std::clamp(to, 0, n));
}

} // namespace finch::app

#include "moc_relief_view.cpp"
