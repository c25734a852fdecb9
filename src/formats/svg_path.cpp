// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_path.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double most_number = 1e9;

bool is_space(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f';
}

/// An arc about the origin of a circle of radius one, from angle to angle, put into place by `to`.
void add_unit_arc(QPainterPath& path, const QTransform& to, double from, double by) {
    const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(by) / (0.25 * std::numbers::pi) - 1e-9)));
    const double each = by / pieces, k = 4.0 / 3 * std::tan(0.25 * each);
    for (int i = 0; i < pieces; ++i) {
        const double a = from + i * each, b = a + each;
        const QPointF start(std::cos(a), std::sin(a)), end(std::cos(b), std::sin(b));
        path.cubicTo(to.map(QPointF(start.x() - k * start.y(), start.y() + k * start.x())),
                     to.map(QPointF(end.x() + k * end.y(), end.y() - k * end.x())), to.map(end));
    }
}

/// Walks through the commands of a path.
class PathReader {
public:
    explicit PathReader(std::string_view d) : scan_(d) {}

    SvgPath read() {
        scan_.skip_space();
        char command = '\0';
        while (!scan_.at_end()) {
            const std::size_t at = scan_.where();
            if (std::isalpha(static_cast<unsigned char>(scan_.peek())) != 0)
                command = scan_.take();
            else if (command == 'M' || command == 'm')
                command = command == 'M' ? 'L' : 'l';
            else if (command == '\0' || command == 'Z' || command == 'z')
                return broken(at);
            if (!started_ && command != 'M' && command != 'm')
                return broken(at);
            if (!one(command))
                return broken(at);
            scan_.skip_separator();
        }
        return std::move(out_);
    }

private:
    SvgPath broken(std::size_t at) {
        out_.broken_at = at;
        return std::move(out_);
    }
    /// After a closed subpath the next begins where that began.
    void begin_if_closed() {
        if (!open_) {
            out_.path.moveTo(start_);
            open_ = true;
        }
    }
    template <std::size_t N>
    std::optional<std::array<double, N>> numbers() {
        std::array<double, N> v{};
        for (double& x : v) {
            scan_.skip_separator();
            const auto n = scan_.number();
            if (!n)
                return std::nullopt;
            x = *n;
        }
        return v;
    }
    [[nodiscard]] QPointF point(double x, double y, bool relative) const {
        return relative ? at_ + QPointF(x, y) : QPointF(x, y);
    }
    void line_to(const QPointF& p) {
        begin_if_closed();
        out_.path.lineTo(p);
        at_ = last_control_ = p;
        curve_ = 'L';
    }
    void cubic_to(const QPointF& one, const QPointF& two, const QPointF& end) {
        begin_if_closed();
        out_.path.cubicTo(one, two, end);
        at_ = end;
        last_control_ = two;
        curve_ = 'C';
    }
    void quad_to(const QPointF& control, const QPointF& end) {
        const QPointF from = at_;
        cubic_to(from + (control - from) * 2 / 3, end + (control - end) * 2 / 3, end);
        last_control_ = control;
        curve_ = 'Q';
    }
    [[nodiscard]] QPointF mirrored(char kind) const { return curve_ == kind ? 2 * at_ - last_control_ : at_; }

    bool one(char command) {
        const bool rel = std::islower(static_cast<unsigned char>(command)) != 0;
        switch (std::toupper(static_cast<unsigned char>(command))) {
        case 'M': {
            const auto v = numbers<2>();
            if (!v)
                return false;
            at_ = start_ = last_control_ = point((*v)[0], (*v)[1], rel);
            out_.path.moveTo(at_);
            started_ = open_ = true;
            curve_ = 'M';
            return true;
        }
        case 'Z':
            begin_if_closed();
            out_.path.lineTo(start_);
            open_ = false;
            at_ = last_control_ = start_;
            curve_ = 'Z';
            return true;
        case 'L':
            if (const auto v = numbers<2>())
                return line_to(point((*v)[0], (*v)[1], rel)), true;
            return false;
        case 'H':
            if (const auto v = numbers<1>())
                return line_to({rel ? at_.x() + (*v)[0] : (*v)[0], at_.y()}), true;
            return false;
        case 'V':
            if (const auto v = numbers<1>())
                return line_to({at_.x(), rel ? at_.y() + (*v)[0] : (*v)[0]}), true;
            return false;
        case 'C':
            if (const auto v = numbers<6>())
                return cubic_to(point((*v)[0], (*v)[1], rel), point((*v)[2], (*v)[3], rel),
                                point((*v)[4], (*v)[5], rel)),
                       true;
            return false;
        case 'S':
            if (const auto v = numbers<4>())
                return cubic_to(mirrored('C'), point((*v)[0], (*v)[1], rel), point((*v)[2], (*v)[3], rel)), true;
            return false;
        case 'Q':
            if (const auto v = numbers<4>())
                return quad_to(point((*v)[0], (*v)[1], rel), point((*v)[2], (*v)[3], rel)), true;
            return false;
        case 'T':
            if (const auto v = numbers<2>())
                return quad_to(mirrored('Q'), point((*v)[0], (*v)[1], rel)), true;
            return false;
        case 'A':
            return arc(rel);
        default:
            return false;
        }
    }
    bool arc(bool rel) {
        const auto radii = numbers<3>();
        if (!radii)
            return false;
        scan_.skip_separator();
        const auto large = scan_.flag();
        scan_.skip_separator();
        const auto sweep = scan_.flag();
        const auto end = numbers<2>();
        if (!large || !sweep || !end)
            return false;
        const QPointF to = point((*end)[0], (*end)[1], rel);
        begin_if_closed();
        add_arc(out_.path, to, (*radii)[0], (*radii)[1], (*radii)[2], *large, *sweep);
        at_ = last_control_ = to;
        curve_ = 'A';
        return true;
    }

    SvgScan scan_;
    SvgPath out_;
    QPointF at_, start_, last_control_;
    char curve_ = 'M';
    bool started_ = false, open_ = false;
};

} // namespace

void SvgScan::skip_space() {
    while (!at_end() && is_space(text_[at_]))
        ++at_;
}

void SvgScan::skip_separator() {
    skip_space();
    if (peek() == ',') {
        ++at_;
        skip_space();
    }
}

std::optional<double> SvgScan::number() {
    std::size_t from = at_;
    if (peek() == '+' && at_ + 1 < text_.size() && text_[at_ + 1] != '-')
        ++from;
    double v = 0;
    const auto [end, error] = std::from_chars(text_.data() + from, text_.data() + text_.size(), v);
    if (error != std::errc{} || !std::isfinite(v) || std::abs(v) > most_number)
        return std::nullopt;
    at_ = static_cast<std::size_t>(end - text_.data());
    return v;
}

std::optional<bool> SvgScan::flag() {
    if (peek() != '0' && peek() != '1')
        return std::nullopt;
    return take() == '1';
}

std::string_view SvgScan::word() {
    const std::size_t from = at_;
    while (std::isalpha(static_cast<unsigned char>(peek())) != 0 || peek() == '-')
        ++at_;
    return text_.substr(from, at_ - from);
}

SvgPath svg_path(std::string_view d) {
    return PathReader(d).read();
}

void add_arc(QPainterPath& path, const QPointF& end, double rx, double ry, double turn_deg, bool large, bool sweep) {
    const QPointF start = path.currentPosition();
    rx = std::abs(rx);
    ry = std::abs(ry);
    if (start == end)
        return;
    if (!(rx > 0) || !(ry > 0)) {
        path.lineTo(end);
        return;
    }
    // From the end points to the centre, as the format's appendix has it.
    const double a = std::fmod(turn_deg, 360) * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    const QPointF half = 0.5 * (start - end), middle = 0.5 * (start + end);
    const double x = c * half.x() + s * half.y(), y = c * half.y() - s * half.x();
    const double over = (x * x) / (rx * rx) + (y * y) / (ry * ry);
    if (over > 1) {
        rx *= std::sqrt(over);
        ry *= std::sqrt(over);
    }
    const double below = rx * rx * y * y + ry * ry * x * x;
    double k = std::sqrt(std::max(0.0, (rx * rx * ry * ry - below) / below));
    if (large == sweep)
        k = -k;
    const double cx = k * rx * y / ry, cy = -k * ry * x / rx;
    const double from = std::atan2((y - cy) / ry, (x - cx) / rx), to = std::atan2((-y - cy) / ry, (-x - cx) / rx);
    double by = to - from;
    if (sweep && by < 0)
        by += 2 * std::numbers::pi;
    else if (!sweep && by > 0)
        by -= 2 * std::numbers::pi;
    if (!std::isfinite(by) || !std::isfinite(cx) || !std::isfinite(cy)) {
        path.lineTo(end);
        return;
    }
    const QTransform place(rx * c, rx * s, -ry * s, ry * c, c * cx - s * cy + middle.x(), s * cx + c * cy + middle.y());
    add_unit_arc(path, place, from, by);
    path.setElementPositionAt(path.elementCount() - 1, end.x(), end.y());
}

void add_ellipse(QPainterPath& path, double cx, double cy, double rx, double ry) {
    path.moveTo(cx + rx, cy);
    add_unit_arc(path, QTransform(rx, 0, 0, ry, cx, cy), 0, 2 * std::numbers::pi);
    path.setElementPositionAt(path.elementCount() - 1, cx + rx, cy);
}

std::optional<QTransform> svg_transform(std::string_view text) {
    SvgScan scan(text);
    QTransform out;
    scan.skip_separator();
    while (!scan.at_end()) {
        const std::string_view name = scan.word();
        scan.skip_space();
        if (name.empty() || scan.take() != '(')
            return std::nullopt;
        std::vector<double> v;
        for (scan.skip_separator(); scan.peek() != ')'; scan.skip_separator()) {
            const auto n = scan.number();
            if (!n || v.size() == 6)
                return std::nullopt;
            v.push_back(*n);
        }
        scan.take();
        QTransform one;
        const std::size_t n = v.size();
        if (name == "matrix" && n == 6)
            one = QTransform(v[0], v[1], v[2], v[3], v[4], v[5]);
        else if (name == "translate" && (n == 1 || n == 2))
            one = QTransform::fromTranslate(v[0], n == 2 ? v[1] : 0);
        else if (name == "scale" && (n == 1 || n == 2))
            one = QTransform::fromScale(v[0], n == 2 ? v[1] : v[0]);
        else if (name == "rotate" && (n == 1 || n == 3)) {
            const double a = std::fmod(v[0], 360) * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
            const double x = n == 3 ? v[1] : 0, y = n == 3 ? v[2] : 0;
            one = QTransform(c, s, -s, c, x - c * x + s * y, y - s * x - c * y);
        } else if (name == "skewX" && n == 1)
            one = QTransform(1, 0, std::tan(v[0] * std::numbers::pi / 180), 1, 0, 0);
        else if (name == "skewY" && n == 1)
            one = QTransform(1, std::tan(v[0] * std::numbers::pi / 180), 0, 1, 0, 0);
        else
            return std::nullopt;
        out = one * out;
        scan.skip_separator();
    }
    return out;
}

} // namespace finch
