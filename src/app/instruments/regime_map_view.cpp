// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/regime_map_view.h"

#include "app/session/text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// Grey of an effect that has no colour of its own; neutral, so that films are judged without bias.
int grey_of(Effect effect, float depth_um) {
    switch (effect) {
    case Effect::none:
    case Effect::coat_kept:
        return 214;
    case Effect::tint:
    case Effect::under_fused:
        return 200;
    case Effect::polishes:
    case Effect::cleans:
    case Effect::bleaches:
        return 236;
    case Effect::frosts:
    case Effect::partly_strips:
        return 222;
    case Effect::strips:
        return 244;
    case Effect::bonds:
        return 60;
    case Effect::darkens:
        return 76;
    case Effect::through:
        return 40;
    case Effect::blown_off:
        return 160;
    case Effect::removes:
        // Deeper is darker: a step for each doubling, so that equal depths show as equal greys.
        return std::clamp(static_cast<int>(196 - 12 * std::round(std::log2(std::max(0.5F, depth_um)))), 60, 200);
    case Effect::melts:
    case Effect::strips_and_marks:
        return 140;
    case Effect::over_burns:
        return 110;
    case Effect::colour:
    case Effect::dark:
    case Effect::no_bond:
    case Effect::not_modelled:
        break;
    }
    return 180;
}

bool spoils(Effect e, bool removal_wanted) {
    return ((e == Effect::removes || e == Effect::through) && !removal_wanted) || e == Effect::melts ||
           e == Effect::strips_and_marks || e == Effect::over_burns || e == Effect::blown_off;
}

QRgb ground_of(const MapCell& c, Effect effect) {
    if (is_film(effect) && c.has_film)
        return to_qcolor(c.lab).rgb();
    const int grey = grey_of(effect, c.depth_um);
    return qRgb(grey, grey, grey);
}

QImage field_image(const RegimeMap& map) {
    QImage image(map.side, map.side, QImage::Format_RGB32);
    for (int y = 0; y < map.side; ++y)
        for (int x = 0; x < map.side; ++x) {
            const MapCell& c = map.at(x, y);
            // A border is as soft as it is uncertain: the second effect shows through by its share.
            const QRgb first = ground_of(c, c.effect), second = ground_of(c, c.next);
            const double t = c.next_share > 0 ? c.next_share / (c.share + c.next_share) : 0;
            const auto mix = [t](int a, int b) { return static_cast<int>(std::lround((1 - t) * a + t * b)); };
            image.setPixel(x, map.side - 1 - y,
                           qRgb(mix(qRed(first), qRed(second)), mix(qGreen(first), qGreen(second)),
                                mix(qBlue(first), qBlue(second))));
        }
    return image;
}

void paint_borders(QPainter& painter, const QRectF& f, const RegimeMap& map) {
    painter.setPen(QPen(QColor(0, 0, 0, 110), 1));
    const double w = f.width() / map.side, h = f.height() / map.side;
    const auto px = [&](double x) { return f.left() + x * w; };
    const auto py = [&](double y) { return f.bottom() - y * h; };
    for (int y = 0; y < map.side; ++y)
        for (int x = 0; x < map.side; ++x) {
            if (x + 1 < map.side && map.at(x, y).effect != map.at(x + 1, y).effect)
                painter.drawLine(QPointF(px(x + 1), py(y)), QPointF(px(x + 1), py(y + 1)));
            if (y + 1 < map.side && map.at(x, y).effect != map.at(x, y + 1).effect)
                painter.drawLine(QPointF(px(x), py(y + 1)), QPointF(px(x + 1), py(y + 1)));
        }
}

/// Words on the map. None covers another: what finds no place is left out.
class Tags {
public:
    Tags(QPainter& painter, const QRectF& field, const Theme& theme)
        : painter_(painter), field_(field), theme_(theme) {}
    /// Sets the text at the first of the places that is free.
    void set(const QString& text, const std::vector<QPointF>& places) {
        const double w = text_width(text, TextStyle::small) + 10;
        for (const QPointF& centre : places) {
            QRectF box(centre.x() - w / 2, centre.y() - 9, w, 18);
            box.moveLeft(
                std::clamp(box.left(), field_.left() + 3, std::max(field_.left() + 3, field_.right() - w - 3)));
            box.moveTop(std::clamp(box.top(), field_.top() + 3, std::max(field_.top() + 3, field_.bottom() - 21)));
            const QRectF with_margin = box.adjusted(-3, -3, 3, 3);
            if (std::any_of(taken_.begin(), taken_.end(), [&](const QRectF& t) { return t.intersects(with_margin); }))
                continue;
            taken_.push_back(box);
            painter_.fillRect(box, theme_(Role::tag_ground));
            painter_.setPen(QPen(theme_(Role::tag_ink), 1));
            painter_.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
            paint_text(painter_, box, text, TextStyle::small, theme_(Role::tag_ink), Qt::AlignCenter);
            return;
        }
    }

private:
    QPainter& painter_;
    QRectF field_;
    const Theme& theme_;
    std::vector<QRectF> taken_;
};

/// The name of each effect where there is most of it.
void paint_names(Tags& tags, const QRectF& f, const RegimeMap& map) {
    struct Place {
        double x = 0, y = 0;
        int count = 0;
    };
    std::array<Place, effect_count> places;
    for (int y = 0; y < map.side; ++y)
        for (int x = 0; x < map.side; ++x) {
            Place& p = places.at(static_cast<std::size_t>(map.at(x, y).effect));
            p.x += x;
            p.y += y;
            ++p.count;
        }
    for (std::size_t i = 0; i < places.size(); ++i) {
        const Place& p = places.at(i);
        if (p.count < map.side * map.side / 60)
            continue;
        // The mean may lie outside a crescent: the cells of that effect nearest to it carry the name.
        const double mx = p.x / p.count, my = p.y / p.count;
        std::vector<std::pair<double, QPointF>> cells;
        for (int y = 0; y < map.side; y += 2)
            for (int x = 0; x < map.side; x += 2)
                if (map.at(x, y).effect == static_cast<Effect>(i))
                    cells.emplace_back(std::hypot(x - mx, y - my),
                                       QPointF(f.left() + (x + 0.5) / map.side * f.width(),
                                               f.bottom() - (y + 0.5) / map.side * f.height()));
        std::stable_sort(cells.begin(), cells.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<QPointF> points(cells.size());
        std::transform(cells.begin(), cells.end(), points.begin(), [](const auto& c) { return c.second; });
        tags.set(from_utf8(word(static_cast<Effect>(i))), points);
    }
}

struct LineTag {
    QString text;
    std::vector<QPointF> places;
};
/// Returns the tags, which lie over all lines and leave the names their places.
std::vector<LineTag> paint_equal_lines(QPainter& painter, const QRectF& f, const RegimeMap& map, const Theme& t) {
    const MapField solid = solid_field(map);
    std::vector<LineTag> tags;
    for (const MapField field : {solid, MapField::dose}) {
        const int count = field == MapField::dose ? 3 : field == MapField::depth ? 4 : 2;
        for (const MapLine& line : equal_lines(map, field, count)) {
            for (const auto& [width, colour] : {std::pair{2.6, t(Role::casing)}, std::pair{1.2, t(Role::tag_ground)}}) {
                painter.setPen(QPen(colour, width));
                for (const auto& [a, b] : line.pieces) {
                    const QPointF from(f.left() + a.x * f.width(), f.bottom() - a.y * f.height());
                    // Dashed by place, because the pieces come in no order.
                    if (field == MapField::dose && static_cast<int>((from.x() - from.y() + 4000) / 8) % 2 == 0)
                        continue;
                    painter.drawLine(from, QPointF(f.left() + b.x * f.width(), f.bottom() - b.y * f.height()));
                }
            }
            if (line.pieces.empty())
                continue;
            // Pulses are lettered at the foot of their line, doses at its head, or as near to it as there is place.
            std::vector<QPointF> places;
            for (const auto& [from, to] : line.pieces)
                places.emplace_back(f.left() + from.x * f.width(), f.bottom() - from.y * f.height());
            std::stable_sort(places.begin(), places.end(), [&](const QPointF& a, const QPointF& b) {
                return field == MapField::dose ? a.y() < b.y() : a.y() > b.y();
            });
            tags.push_back({screen_number(line.level, 3) + (field == MapField::pulses  ? u" pulses/mm²"_s
                                                            : field == MapField::depth ? u" µm deep"_s
                                                                                       : u" J/mm²"_s),
                            std::move(places)});
        }
    }
    return tags;
}

void paint_ticks(QPainter& painter, const QRectF& f, const MapAxis& axis, bool across, const QString& unit,
                 const Theme& t) {
    std::vector<double> marks;
    if (axis.by_ratio) {
        for (double decade = std::pow(10, std::floor(std::log10(axis.low))); decade <= axis.high; decade *= 10)
            for (const double lead : {1.0, 2.0, 5.0})
                if (decade * lead >= axis.low && decade * lead <= axis.high)
                    marks.push_back(decade * lead);
        if (marks.size() < 2)
            marks = {axis.low, axis.high};
    } else {
        for (int i = 0; i <= 4; ++i)
            marks.push_back(axis.low + (axis.high - axis.low) * i / 4);
    }
    // The unit stands at the end of the axis, and no number in its place.
    const double unit_from = f.right() - text_width(unit, TextStyle::small) - 8;
    double last = -1e9;
    for (const double v : marks) {
        const double s = axis.share(v);
        const QString text = screen_number(v * traits(axis.knob).screen_factor, 3);
        if (across) {
            const double x = f.left() + s * f.width();
            paint_hairline(painter, {x, f.bottom()}, {x, f.bottom() + 5}, t(Role::tick));
            if (x - last < 38 || x + text_width(text, TextStyle::value_small) / 2 > unit_from)
                continue;
            last = x;
            paint_text(painter, QRectF(x - 30, f.bottom() + 6, 60, 16), text, TextStyle::value_small, t(Role::ink2),
                       Qt::AlignHCenter | Qt::AlignTop);
        } else {
            const double y = f.bottom() - s * f.height();
            paint_hairline(painter, {f.left() - 5, y}, {f.left(), y}, t(Role::tick));
            paint_text(painter, QRectF(f.left() - 48, y - 8, 40, 16), text, TextStyle::value_small, t(Role::ink2),
                       Qt::AlignRight | Qt::AlignVCenter);
        }
    }
    if (across)
        paint_text(painter, QRectF(f.right() - 60, f.bottom() + 6, 60, 16), unit, TextStyle::small, t(Role::ink2),
                   Qt::AlignRight | Qt::AlignTop);
}

} // namespace

MapField solid_field(const RegimeMap& map) {
    const auto cut =
        std::count_if(map.cells.begin(), map.cells.end(), [](const MapCell& c) { return c.effect == Effect::removes; });
    return cut > map.side * map.side / 3 ? MapField::depth : MapField::pulses;
}

QRectF regime_field(const QRectF& box) {
    return box.adjusted(48, 2, -8, -26);
}

void paint_map_ground(QPainter& painter, const QRectF& box, const RegimeMapView& v, const Theme& t) {
    const QRectF f = regime_field(box);
    const RegimeMap& map = *v.map;
    painter.save();
    painter.setClipRect(f);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, map.block == 1);
    painter.drawImage(f, field_image(map));
    for (int y = 0; y < map.side; ++y) {
        // Hatched where the mark is spoiled, in runs.
        int x = 0;
        while (x < map.side) {
            if (!spoils(map.at(x, y).effect, v.removal_wanted)) {
                ++x;
                continue;
            }
            const int from = x;
            while (x < map.side && spoils(map.at(x, y).effect, v.removal_wanted))
                ++x;
            const QRectF run(f.left() + from * f.width() / map.side, f.bottom() - (y + 1) * f.height() / map.side,
                             (x - from) * f.width() / map.side, f.height() / map.side + 0.5);
            paint_hatch(painter, run, QColor(90, 90, 90), 7);
        }
    }
    paint_borders(painter, f, map);
    if (v.finished) {
        painter.setRenderHint(QPainter::Antialiasing);
        Tags tags(painter, f, t);
        const auto line_tags = paint_equal_lines(painter, f, map, t);
        paint_names(tags, f, map);
        for (const LineTag& tag : line_tags)
            tags.set(tag.text, tag.places);
    }
    painter.restore();
}

void paint_map_places(QPainter& painter, const QRectF& box, const RegimeMapView& v, const Theme& t) {
    const QRectF f = regime_field(box);
    const RegimeMap& map = *v.map;
    painter.save();
    painter.setClipRect(f);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const RegimeMapView::Dot& dot : v.tested) {
        const QPointF at(f.left() + dot.x * f.width(), f.bottom() - dot.y * f.height());
        painter.setPen(QPen(Qt::black, 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 6.5, 6.5);
        painter.setPen(QPen(t(Role::tag_ground), 1.5));
        painter.setBrush(to_qcolor(dot.lab));
        painter.drawEllipse(at, 6, 6);
    }
    const QPointF here(f.left() + v.x * f.width(), f.bottom() - v.y * f.height());
    for (const auto& [width, colour] : {std::pair{5.0, t(Role::casing)}, std::pair{2.5, t(Role::needle_on_picture)}}) {
        painter.setPen(QPen(colour, width));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(here, 11, 11);
        for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
            painter.drawLine(here + 6 * d, here + 18 * d);
    }
    painter.restore();
    painter.setPen(QPen(t(Role::rule), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(f.adjusted(-0.5, -0.5, 0.5, 0.5));
    paint_ticks(painter, f, map.across, true, v.across_unit, t);
    paint_ticks(painter, f, map.down, false, v.down_unit, t);
    paint_text(painter, QRectF(box.left(), f.top() + 14, 40, 16), v.down_unit, TextStyle::small, t(Role::ink2),
               Qt::AlignLeft | Qt::AlignVCenter);
}

RegimeMapWidget::RegimeMapWidget(const QString& name, QWidget* parent) : Instrument(name, tr("Regime map"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 200);
}

void RegimeMapWidget::show_view(RegimeMapView view) {
    view_ = std::move(view);
    speak(tr("%1 against %2: %3").arg(view_.down_name, view_.across_name, view_.here));
    update();
}

void RegimeMapWidget::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const QRectF f = regime_field(rect());
    painter.fillRect(f, theme()(Role::field));
    if (view_.map == nullptr || view_.map->cells.empty()) {
        paint_text(painter, f, tr("Computing the map …"), TextStyle::body, theme()(Role::ink2), Qt::AlignCenter);
    } else {
        // The ground stays while only the recipe moves: drawing it takes longer than a frame.
        const Ground ground{view_.map, view_.finished, view_.removal_wanted, size(), devicePixelRatioF(), &theme()};
        if (!(ground == ground_)) {
            ground_ = ground;
            ground_picture_ = QPixmap(size() * devicePixelRatioF());
            ground_picture_.setDevicePixelRatio(devicePixelRatioF());
            ground_picture_.fill(Qt::transparent);
            QPainter on_ground(&ground_picture_);
            paint_map_ground(on_ground, rect(), view_, theme());
        }
        painter.drawPixmap(0, 0, ground_picture_);
        paint_map_places(painter, rect(), view_, theme());
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.drawRect(regime_field(rect()).adjusted(-2, -2, 2, 2));
    }
}

void RegimeMapWidget::go_to(QPointF at) {
    const QRectF f = regime_field(rect());
    Q_EMIT moved(std::clamp((at.x() - f.left()) / f.width(), 0.0, 1.0),
                 std::clamp((f.bottom() - at.y()) / f.height(), 0.0, 1.0));
}

void RegimeMapWidget::mousePressEvent(QMouseEvent* event) {
    if (regime_field(rect()).contains(event->position()))
        go_to(event->position());
}

void RegimeMapWidget::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        go_to(event->position());
}

void RegimeMapWidget::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 0.02;
    double x = view_.x, y = view_.y;
    switch (event->key()) {
    case Qt::Key_Left:
        x -= step;
        break;
    case Qt::Key_Right:
        x += step;
        break;
    case Qt::Key_Up:
        y += step;
        break;
    case Qt::Key_Down:
        y -= step;
        break;
    default:
        return Instrument::keyPressEvent(event);
    }
    Q_EMIT moved(std::clamp(x, 0.0, 1.0), std::clamp(y, 0.0, 1.0));
}

} // namespace finch::app

#include "moc_regime_map_view.cpp"
