// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_paint.h"

#include "formats/svg_path.h"

#include <algorithm>
#include <cmath>
#include <QPainterPathStroker>

namespace finch {
namespace {

constexpr double same_mm = 1e-7;
constexpr double most_dashes = 100'000;
constexpr double stroked_width = 1000; // of the pen while stroking, so that nothing is near the library's own grain

std::string_view value(const SvgDeclarations& d, const char* name) {
    const auto it = d.find(name);
    return it == d.end() ? std::string_view{} : std::string_view(it->second);
}

QPainterPath polyline(const std::vector<Outline>& lines, const QTransform& to) {
    QPainterPath out;
    for (const Outline& o : lines) {
        out.moveTo(to.map(QPointF(o.points.front().x, o.points.front().y)));
        for (std::size_t i = 1; i < o.points.size(); ++i)
            out.lineTo(to.map(QPointF(o.points[i].x, o.points[i].y)));
        if (o.closed)
            out.closeSubpath();
    }
    return out;
}

} // namespace

StrokeLook stroke_look(const SvgDeclarations& d, double diagonal, double font_size,
                       const std::function<void(const std::string&)>& unread) {
    StrokeLook out;
    if (const auto s = value(d, "stroke-width"); !s.empty()) {
        if (const auto w = svg_length(s, diagonal, font_size))
            out.width = std::max(*w, 0.0);
        else
            unread("stroke-width \"" + std::string(s) + "\"");
    }
    const auto cap = value(d, "stroke-linecap"), join = value(d, "stroke-linejoin");
    out.cap = cap == "round" ? Qt::RoundCap : cap == "square" ? Qt::SquareCap : Qt::FlatCap;
    out.join = join == "round" ? Qt::RoundJoin : join == "bevel" ? Qt::BevelJoin : Qt::SvgMiterJoin;
    if (join == "arcs" || join == "miter-clip")
        unread("stroke-linejoin \"" + std::string(join) + "\"");
    if (const auto s = value(d, "stroke-miterlimit"); !s.empty())
        if (const auto v = svg_length(s, 1); v && *v >= 1)
            out.miter_limit = *v;
    if (const auto s = value(d, "stroke-dasharray"); !s.empty() && s != "none") {
        SvgScan scan(s);
        for (scan.skip_separator(); !scan.at_end(); scan.skip_separator()) {
            const auto from = scan.where();
            while (!scan.at_end() && scan.peek() != ',' && static_cast<unsigned char>(scan.peek()) > ' ')
                scan.take();
            const auto v = svg_length(s.substr(from, scan.where() - from), diagonal, font_size);
            if (!v || *v < 0) {
                unread("stroke-dasharray \"" + std::string(s.substr(0, 40)) + "\"");
                out.dashes.clear();
                break;
            }
            out.dashes.push_back(*v);
        }
        double sum = 0;
        for (const double v : out.dashes)
            sum += v;
        if (!(sum > 0))
            out.dashes.clear();
        if (out.dashes.size() % 2 == 1) {
            const auto once = out.dashes;
            out.dashes.insert(out.dashes.end(), once.begin(), once.end());
        }
        if (const auto v = svg_length(value(d, "stroke-dashoffset"), diagonal, font_size))
            out.dash_offset = *v;
    }
    return out;
}

std::vector<Outline> chords(const QPainterPath& path, const QTransform& to_mm, double coarser) {
    std::vector<Outline> out;
    const auto mapped = [&](int i) {
        const QPointF p = to_mm.map(QPointF(path.elementAt(i)));
        return PointMm{p.x(), p.y()};
    };
    for (int i = 0; i < path.elementCount(); ++i) {
        const QPainterPath::Element& e = path.elementAt(i);
        if (e.type == QPainterPath::MoveToElement)
            out.emplace_back();
        if (out.empty())
            continue;
        std::vector<PointMm>& points = out.back().points;
        if (e.type == QPainterPath::CurveToElement && i + 2 < path.elementCount()) {
            add_cubic(points, mapped(i), mapped(i + 1), mapped(i + 2), coarser);
            i += 2;
        } else
            points.push_back(mapped(i));
    }
    for (Outline& o : out) {
        const PointMm &a = o.points.front(), &b = o.points.back();
        if (o.points.size() > 2 && std::hypot(a.x - b.x, a.y - b.y) < same_mm) {
            o.closed = true;
            o.points.pop_back();
        }
    }
    std::erase_if(out, [](const Outline& o) { return o.points.size() < 2; });
    return out;
}

StrokeArea stroke_area(const QPainterPath& path, const StrokeLook& look, const QTransform& to_mm, double coarser) {
    StrokeArea out;
    out.lines = chords(path, to_mm, coarser);
    // Singular values of the transform: how the pen's circle lies on the page.
    const double a = to_mm.m11(), b = to_mm.m12(), c = to_mm.m21(), d = to_mm.m22();
    const double sum = a * a + b * b + c * c + d * d, det = std::abs(a * d - b * c);
    const double root = std::sqrt(std::max(0.0, sum * sum - 4 * det * det));
    out.narrowest_mm = look.width * std::sqrt(std::max(0.0, 0.5 * (sum - root)));
    if (!(out.narrowest_mm > 1e-9) || out.lines.empty())
        return out;
    // The page's chords, seen from the path's own units and scaled so that the pen has a handy width there.
    bool turns = false;
    const double up = stroked_width / look.width;
    const QTransform to_pen = to_mm.inverted(&turns) * QTransform::fromScale(up, up);
    if (!turns)
        return out;
    const QTransform from_pen = QTransform::fromScale(1 / up, 1 / up) * to_mm;
    const QPainterPath pen_path = polyline(out.lines, to_pen);
    QPainterPathStroker stroker;
    stroker.setWidth(stroked_width);
    stroker.setCapStyle(look.cap);
    stroker.setJoinStyle(look.join);
    stroker.setMiterLimit(look.miter_limit);
    stroker.setCurveThreshold(1e-3);
    if (!look.dashes.empty()) {
        double period = 0;
        QList<qreal> pattern;
        for (const double v : look.dashes) {
            period += v;
            pattern << std::max(v, 1e-6 * look.width) / look.width;
        }
        double length = 0;
        for (const Outline& o : chords(pen_path, {}))
            length += length_mm(o) / up;
        out.fine = length / period * static_cast<double>(look.dashes.size()) < most_dashes;
        if (out.fine) {
            stroker.setDashPattern(pattern);
            stroker.setDashOffset(look.dash_offset / look.width);
        }
    }
    const QPainterPath area = stroker.createStroke(pen_path);
    out.outlines = chords(area, from_pen, coarser);
    for (Outline& o : out.outlines)
        o.closed = true;
    return out;
}

} // namespace finch
