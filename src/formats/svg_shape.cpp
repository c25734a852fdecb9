// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_shape.h"

#include "formats/svg_path.h"

#include <algorithm>
#include <fmt/format.h>

namespace finch {
namespace {

/// A rectangle, its corners parts of ellipses.
QPainterPath rounded_rect(double left, double top, double w, double h, double rx, double ry) {
    QPainterPath path;
    if (!(w > 0 && h > 0))
        return path;
    rx = std::clamp(rx < 0 ? ry : rx, 0.0, w / 2);
    ry = std::clamp(ry < 0 ? rx : ry, 0.0, h / 2);
    if (!(rx > 0 && ry > 0)) {
        path.addRect(left, top, w, h);
        return path;
    }
    path.moveTo(left + rx, top);
    path.lineTo(left + w - rx, top);
    add_arc(path, {left + w, top + ry}, rx, ry, 0, false, true);
    path.lineTo(left + w, top + h - ry);
    add_arc(path, {left + w - rx, top + h}, rx, ry, 0, false, true);
    path.lineTo(left + rx, top + h);
    add_arc(path, {left, top + h - ry}, rx, ry, 0, false, true);
    path.lineTo(left, top + ry);
    add_arc(path, {left + rx, top}, rx, ry, 0, false, true);
    return path;
}

void tell_broken(const SvgElement& e, std::size_t at, const SvgTell& tell) {
    tell("path_broken", fmt::format("{} is not understood from character {} on; what stands before that was kept.",
                                    name_in_file(e), at + 1));
}

QPainterPath corners(const SvgElement& e, const SvgTell& tell) {
    QPainterPath path;
    SvgScan scan(e.get("points"));
    for (scan.skip_separator(); !scan.at_end(); scan.skip_separator()) {
        const auto x = scan.number();
        scan.skip_separator();
        const auto y = scan.number();
        if (!x || !y) {
            tell_broken(e, scan.where(), tell);
            break;
        }
        if (path.elementCount() == 0)
            path.moveTo(*x, *y);
        else
            path.lineTo(*x, *y);
    }
    if (e.name == "polygon" && path.elementCount() > 1)
        path.closeSubpath();
    return path;
}

} // namespace

std::string name_in_file(const SvgElement& element) {
    return element.get("id").empty() ? fmt::format("{} in line {}", element.name.substr(0, 30), element.line)
                                     : std::string(element.get("id").substr(0, 60));
}

double svg_attribute(const SvgElement& element, const char* name, double percent_of, double otherwise, double font_size,
                     const SvgTell& tell) {
    if (!element.has(name) || element.get(name) == "auto")
        return otherwise;
    if (const auto v = svg_length(element.get(name), percent_of, font_size))
        return *v;
    tell("not_read", fmt::format("The program does not read {} \"{}\" of {}; the rest was kept.", name,
                                 element.get(name).substr(0, 40), name_in_file(element)));
    return otherwise;
}

QPainterPath svg_shape(const SvgElement& e, const SvgView& view, double font_size, const SvgTell& tell) {
    const auto x = [&](const char* name, double otherwise = 0) {
        return svg_attribute(e, name, view.w, otherwise, font_size, tell);
    };
    const auto y = [&](const char* name, double otherwise = 0) {
        return svg_attribute(e, name, view.h, otherwise, font_size, tell);
    };
    QPainterPath path;
    if (e.name == "path") {
        SvgPath read = svg_path(e.get("d"));
        if (read.broken_at)
            tell_broken(e, *read.broken_at, tell);
        return read.path;
    }
    if (e.name == "rect")
        return rounded_rect(x("x"), y("y"), x("width"), y("height"), x("rx", -1), y("ry", -1));
    if (e.name == "circle") {
        if (const double r = svg_attribute(e, "r", view.diagonal(), 0, font_size, tell); r > 0)
            add_ellipse(path, x("cx"), y("cy"), r, r);
    } else if (e.name == "ellipse") {
        const double rx = x("rx", -1), ry = y("ry", -1);
        if (std::max(rx, ry) > 0 && rx != 0 && ry != 0)
            add_ellipse(path, x("cx"), y("cy"), rx < 0 ? ry : rx, ry < 0 ? rx : ry);
    } else if (e.name == "line") {
        path.moveTo(x("x1"), y("y1"));
        path.lineTo(x("x2"), y("y2"));
    } else
        path = corners(e, tell);
    return path;
}

std::optional<std::array<double, 4>> svg_view_box(const SvgElement& e) {
    SvgScan scan(e.get("viewBox"));
    std::array<double, 4> v{};
    for (double& x : v) {
        scan.skip_separator();
        const auto n = scan.number();
        if (!n)
            return std::nullopt;
        x = *n;
    }
    if (!(v[2] > 0) || !(v[3] > 0))
        return std::nullopt;
    return v;
}

QTransform svg_fitted(const SvgElement& e, const std::array<double, 4>& box, double w, double h) {
    const std::string_view text = e.get("preserveAspectRatio");
    double sx = w / box[2], sy = h / box[3], x = 0, y = 0;
    if (text.find("none") == std::string_view::npos) {
        const bool slice = text.find("slice") != std::string_view::npos;
        sx = sy = slice ? std::max(sx, sy) : std::min(sx, sy);
        const auto placed = [&](const char* low, const char* high, double room) {
            return text.find(low) != std::string_view::npos    ? 0
                   : text.find(high) != std::string_view::npos ? room
                                                               : room / 2;
        };
        x = placed("xMin", "xMax", w - sx * box[2]);
        y = placed("YMin", "YMax", h - sy * box[3]);
    }
    return QTransform(sx, 0, 0, sy, x - sx * box[0], y - sy * box[1]);
}

} // namespace finch
