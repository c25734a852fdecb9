// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/dxf_reader.h"

#include "formats/dxf_pairs.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <QColor>
#include <set>

namespace finch {
namespace {

constexpr int deepest_insert = 16;
constexpr std::size_t most_drawn = 400'000, most_dxf_findings = 200, most_knots = 100'000;

/// x' = a x + c y + e, y' = b x + d y + f.
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    [[nodiscard]] PointMm at(double x, double y) const { return {a * x + c * y + e, b * x + d * y + f}; }
    [[nodiscard]] PointMm turned(double x, double y) const { return {a * x + c * y, b * x + d * y}; }
    [[nodiscard]] Affine after(const Affine& first) const {
        const PointMm x = turned(first.a, first.b), y = turned(first.c, first.d), o = at(first.e, first.f);
        return {x.x, x.y, y.x, y.y, o.x, o.y};
    }
};

/// Length of $INSUNITS in mm; 0 = it does not say.
double units_mm(int code) {
    constexpr std::array<double, 15> mm{0,       25.4,   304.8, 1609344, 1,    10,   1000, 1e6,
                                        25.4e-6, 0.0254, 914.4, 1e-7,    1e-6, 1e-3, 100};
    return code >= 0 && code < static_cast<int>(mm.size()) ? mm[static_cast<std::size_t>(code)] : 0;
}

/// The colour of a number, as screens show it.
std::string numbered_colour(int n) {
    constexpr std::array<const char*, 10> first{"#000000", "#ff0000", "#ffff00", "#00ff00", "#00ffff",
                                                "#0000ff", "#ff00ff", "#000000", "#808080", "#c0c0c0"};
    n = std::abs(n);
    if (n < 10)
        return first[static_cast<std::size_t>(n)];
    if (n >= 250)
        return QColor::fromHsv(0, 0, std::min(255, 51 + 41 * (n - 250))).name().toStdString();
    // 24 hues of ten each: five values, with full and half saturation.
    constexpr std::array values{255, 189, 129, 104, 79};
    return QColor::fromHsv((n / 10 - 1) * 15, n % 2 == 0 ? 255 : 127, values.at(static_cast<std::size_t>(n % 10 / 2)))
        .name()
        .toStdString();
}

class DxfDrawing {
public:
    DxfDrawing(const std::vector<DxfThing>& things, std::optional<double> unit_mm, double coarser)
        : things_(things), unit_mm_(unit_mm), coarser_(coarser) {}

    Expected<Artwork> read(int broken_line) {
        sort_out();
        if (broken_line > 0)
            tell("broken_off",
                 fmt::format("The file breaks off in line {}; what stands before that was kept.", broken_line));
        if (!unit_mm_) {
            unit_mm_ = units_mm(insunits_);
            if (*unit_mm_ <= 0) {
                unit_mm_ = 1;
                tell("units_assumed", "The file does not say its unit of length: millimetres were assumed. Check a "
                                      "length that you know.");
            }
        }
        const Affine to_mm{*unit_mm_, 0, 0, *unit_mm_, 0, 0};
        draw_all(entities_, to_mm, "0", 7, 0);
        if (too_much_)
            return failure("dxf.too_much", "The drawing holds more than can be worked with at once.",
                           "Split it, or simplify its curves where it was drawn.");
        for (const auto& [kind, count] : unread_)
            tell("not_read",
                 fmt::format("The program does not read {} ({} of them, the first in line {}); the rest was "
                             "kept.",
                             kind, count.first, count.second));
        lay_page();
        return std::move(art_);
    }

private:
    struct Block {
        PointMm base;
        std::vector<const DxfThing*> entities;
    };
    struct Layer {
        int colour = 7;
        bool off = false;
    };

    void tell(const std::string& code, const std::string& text) {
        if (art_.findings.size() < most_dxf_findings && told_.insert(code + text).second)
            art_.findings.push_back({code, {}, {}, {}, false, text});
    }

    /// Sections: units, layers, blocks, entities.
    void sort_out() {
        std::string_view section;
        Block* block = nullptr;
        for (const DxfThing& t : things_) {
            if (t.kind == "SECTION") {
                section = t.text(2);
                if (section == "HEADER")
                    header(t);
            } else if (t.kind == "ENDSEC")
                section = {};
            else if (section == "TABLES" && t.kind == "LAYER") {
                const int colour = static_cast<int>(t.number(62, 7));
                layers_[std::string(t.text(2))] = {std::abs(colour),
                                                   colour < 0 || (static_cast<int>(t.number(70)) & 1) != 0};
            } else if (section == "BLOCKS") {
                if (t.kind == "BLOCK") {
                    block = &blocks_[std::string(t.text(2))];
                    *block = {{t.number(10), t.number(20)}, {}};
                } else if (t.kind == "ENDBLK")
                    block = nullptr;
                else if (block != nullptr)
                    block->entities.push_back(&t);
            } else if (section == "ENTITIES")
                entities_.push_back(&t);
        }
    }
    void header(const DxfThing& t) {
        for (std::size_t i = 0; i + 1 < t.pairs.size(); ++i)
            if (t.pairs[i].code == 9 && t.pairs[i].text == "$INSUNITS")
                insunits_ = static_cast<int>(dxf_number(t.pairs[i + 1].text).value_or(0));
    }

    void draw_all(const std::vector<const DxfThing*>& list, const Affine& to, const std::string& layer, int colour,
                  int deep) {
        for (std::size_t i = 0; i < list.size() && !too_much_; ++i) {
            const DxfThing& t = *list[i];
            if (++drawn_ > most_drawn) {
                too_much_ = true;
                return;
            }
            if (t.kind == "VERTEX" || t.kind == "SEQEND" || t.kind == "ATTRIB")
                continue; // of the polyline or insert before
            std::vector<const DxfThing*> vertices;
            if (t.kind == "POLYLINE")
                for (std::size_t k = i + 1; k < list.size() && list[k]->kind == "VERTEX"; ++k)
                    vertices.push_back(list[k]);
            draw(t, vertices, to, layer, colour, deep);
        }
    }
    void draw(const DxfThing& t, const std::vector<const DxfThing*>& vertices, Affine to, const std::string& by_layer,
              int by_colour, int deep) {
        const std::string own_layer(t.text(8));
        // In a block the layer 0 stands for the one that the block is put on.
        const std::string layer = (own_layer.empty() || own_layer == "0") && deep > 0 ? by_layer
                                  : own_layer.empty()                                 ? "0"
                                                                                      : own_layer;
        const auto known = layers_.find(layer);
        int colour = static_cast<int>(t.number(62, 256));
        if (colour == 256)
            colour = known == layers_.end() ? 7 : known->second.colour;
        else if (colour == 0)
            colour = by_colour;
        if ((known != layers_.end() && known->second.off) || t.number(60) != 0) {
            tell("hidden", fmt::format("Layer \"{}\" is switched off or holds hidden things: they were left out.",
                                       layer.substr(0, 60)));
            return;
        }
        if (t.number(230, 1) < 0) // drawn from behind: x runs the other way
            to = to.after({-1, 0, 0, 1, 0, 0});
        std::string paint = numbered_colour(colour);
        if (t.has(420))
            paint = QColor::fromRgb(static_cast<QRgb>(std::clamp(t.number(420), 0.0, 16777215.0))).name().toStdString();
        const auto put = [&](Outline outline) { add(t, std::move(outline), layer, paint); };
        if (t.kind == "INSERT")
            insert(t, to, layer, colour, deep);
        else if (t.kind == "LINE")
            put({{to.at(t.number(10), t.number(20)), to.at(t.number(11), t.number(21))}, false});
        else if (t.kind == "CIRCLE" || t.kind == "ARC")
            arc(t, to, put);
        else if (t.kind == "ELLIPSE")
            ellipse(t, to, put);
        else if (t.kind == "LWPOLYLINE")
            light_polyline(t, to, put);
        else if (t.kind == "POLYLINE")
            polyline(t, vertices, to, put);
        else if (t.kind == "SPLINE")
            spline(t, to, put);
        else {
            auto& [count, line] = unread_[std::string(t.kind.substr(0, 40))];
            line = count++ == 0 ? t.line : line;
        }
    }

    void insert(const DxfThing& t, const Affine& to, const std::string& layer, int colour, int deep) {
        const auto it = blocks_.find(std::string(t.text(2)));
        if (it == blocks_.end()) {
            tell("no_such_part", fmt::format("Line {} puts the block \"{}\", which is not in the drawing.", t.line,
                                             t.text(2).substr(0, 40)));
            return;
        }
        if (deep >= deepest_insert) {
            tell("refers_to_itself",
                 fmt::format("The block \"{}\" holds itself and was left out.", t.text(2).substr(0, 40)));
            return;
        }
        const double a = t.number(50) * std::numbers::pi / 180, sx = t.number(41, 1), sy = t.number(42, 1);
        const int columns = static_cast<int>(std::clamp(t.number(70, 1), 1.0, 1000.0)),
                  rows = static_cast<int>(std::clamp(t.number(71, 1), 1.0, 1000.0));
        const Affine turn{std::cos(a), std::sin(a), -std::sin(a), std::cos(a), t.number(10), t.number(20)};
        for (int r = 0; r < rows && !too_much_; ++r)
            for (int c = 0; c < columns && !too_much_; ++c) {
                const Affine place{
                    sx, 0, 0, sy, c * t.number(44) - sx * it->second.base.x, r * t.number(45) - sy * it->second.base.y};
                draw_all(it->second.entities, to.after(turn.after(place)), layer, colour, deep + 1);
            }
    }
    template <typename Put>
    void arc(const DxfThing& t, const Affine& to, Put&& put) {
        const double r = std::abs(t.number(40)), from = t.kind == "ARC" ? t.number(50) * std::numbers::pi / 180 : 0;
        double by = t.kind == "ARC" ? std::fmod(t.number(51) * std::numbers::pi / 180 - from, 2 * std::numbers::pi)
                                    : 2 * std::numbers::pi;
        if (by <= 0)
            by += 2 * std::numbers::pi;
        curve(to, t.number(10), t.number(20), {r, 0}, {0, r}, from, by, put);
    }
    template <typename Put>
    void ellipse(const DxfThing& t, const Affine& to, Put&& put) {
        const double mx = t.number(11), my = t.number(21), ratio = t.number(40, 1);
        const double from = t.number(41, 0);
        double by = t.number(42, 2 * std::numbers::pi) - from;
        if (by <= 0)
            by += 2 * std::numbers::pi;
        curve(to, t.number(10), t.number(20), {mx, my}, {-my * ratio, mx * ratio}, from,
              std::min(by, 2 * std::numbers::pi), put);
    }
    template <typename Put>
    void curve(const Affine& to, double x, double y, PointMm one, PointMm two, double from, double by, Put&& put) {
        const PointMm centre = to.at(x, y), u = to.turned(one.x, one.y), v = to.turned(two.x, two.y);
        Outline o;
        o.closed = by > 2 * std::numbers::pi - 1e-9;
        o.points.push_back({centre.x + std::cos(from) * u.x + std::sin(from) * v.x,
                            centre.y + std::cos(from) * u.y + std::sin(from) * v.y});
        add_arc(o.points, centre, u, v, from, from + by, coarser_);
        if (o.closed && o.points.size() > 1)
            o.points.pop_back();
        put(std::move(o));
    }

    struct Corner {
        double x, y, bulge;
    };
    /// A bulge is the tangent of a quarter of the arc's angle.
    template <typename Put>
    void corners(const std::vector<Corner>& list, bool closed, const Affine& to, Put&& put) {
        Outline o;
        o.closed = closed;
        const std::size_t n = list.size();
        for (std::size_t i = 0; i < n; ++i) {
            const Corner& a = list[i];
            o.points.push_back(to.at(a.x, a.y));
            if (a.bulge == 0 || (i + 1 == n && !closed))
                continue;
            const Corner& b = list[(i + 1) % n];
            const double half = 0.5 * std::hypot(b.x - a.x, b.y - a.y);
            if (!(half > 0) || std::abs(a.bulge) < 1e-9 || std::abs(a.bulge) > 1e6)
                continue;
            const double k = (1 - a.bulge * a.bulge) / (4 * a.bulge); // centre off the chord's middle, in chords
            const double cx = 0.5 * (a.x + b.x) - k * (b.y - a.y), cy = 0.5 * (a.y + b.y) + k * (b.x - a.x);
            const double r = std::hypot(a.x - cx, a.y - cy), from = std::atan2(a.y - cy, a.x - cx);
            add_arc(o.points, to.at(cx, cy), to.turned(r, 0), to.turned(0, r), from, from + 4 * std::atan(a.bulge),
                    coarser_);
            o.points.pop_back(); // the next corner says it exactly
        }
        put(std::move(o));
    }
    template <typename Put>
    void light_polyline(const DxfThing& t, const Affine& to, Put&& put) {
        std::vector<Corner> list;
        for (const DxfPair& p : t.pairs)
            if (p.code == 10)
                list.push_back({dxf_number(p.text).value_or(0), 0, 0});
            else if (!list.empty() && p.code == 20)
                list.back().y = dxf_number(p.text).value_or(0);
            else if (!list.empty() && p.code == 42)
                list.back().bulge = dxf_number(p.text).value_or(0);
        corners(list, (static_cast<int>(t.number(70)) & 1) != 0, to, put);
    }
    template <typename Put>
    void polyline(const DxfThing& t, const std::vector<const DxfThing*>& vertices, const Affine& to, Put&& put) {
        const int flags = static_cast<int>(t.number(70));
        if ((flags & (16 | 64)) != 0) {
            auto& [count, line] = unread_["meshes"];
            line = count++ == 0 ? t.line : line;
            return;
        }
        std::vector<Corner> list;
        for (const DxfThing* v : vertices)
            if ((static_cast<int>(v->number(70)) & 16) == 0) // not the frame of a fitted curve
                list.push_back({v->number(10), v->number(20), v->number(42)});
        corners(list, (flags & 1) != 0, to, put);
    }
    /// By de Boor's rule at places even in each span; weights as a third coordinate.
    template <typename Put>
    void spline(const DxfThing& t, const Affine& to, Put&& put) {
        const std::vector<double> knots = t.numbers(40), xs = t.numbers(10), ys = t.numbers(20),
                                  weights = t.numbers(41);
        const auto degree = static_cast<std::size_t>(std::clamp(t.number(71, 3), 1.0, 12.0));
        const std::size_t n = std::min(xs.size(), ys.size());
        Outline o;
        if (n > degree && knots.size() == n + degree + 1 && n < most_knots && std::ranges::is_sorted(knots)) {
            const auto at = [&](double u, std::size_t span) {
                std::vector<std::array<double, 3>> d;
                for (std::size_t j = span - degree; j <= span; ++j) {
                    const double w = j < weights.size() && weights.size() == n ? weights[j] : 1;
                    d.push_back({xs[j] * w, ys[j] * w, w});
                }
                for (std::size_t r = 1; r <= degree; ++r)
                    for (std::size_t j = degree; j >= r; --j) {
                        const double low = knots[span - degree + j], high = knots[span + 1 + j - r];
                        const double s = high > low ? (u - low) / (high - low) : 0;
                        for (std::size_t k = 0; k < 3; ++k)
                            d[j][k] = (1 - s) * d[j - 1][k] + s * d[j][k];
                    }
                const double w = d[degree][2] != 0 ? d[degree][2] : 1;
                return to.at(d[degree][0] / w, d[degree][1] / w);
            };
            const std::size_t pieces = std::clamp<std::size_t>(200'000 / n, 4, 256);
            for (std::size_t span = degree; span < n; ++span)
                if (knots[span + 1] > knots[span])
                    for (std::size_t i = 0; i < pieces; ++i)
                        o.points.push_back(at(knots[span] + (knots[span + 1] - knots[span]) * static_cast<double>(i) /
                                                                static_cast<double>(pieces),
                                              span));
            if (!o.points.empty()) {
                std::size_t last = n - 1;
                while (last > degree && knots[last] >= knots[n])
                    --last;
                o.points.push_back(at(knots[n], last));
            }
        } else {
            const std::vector<double> fx = t.numbers(11), fy = t.numbers(21);
            for (std::size_t i = 0; i < std::min(fx.size(), fy.size()); ++i)
                o.points.push_back(to.at(fx[i], fy[i]));
            tell("rough_curve",
                 fmt::format("The curve in line {} has no full set of knots: {}.", t.line,
                             o.points.empty() ? "it was left out" : "straight lines join the points it goes through"));
        }
        if (o.points.size() > 2) {
            const double gap =
                std::hypot(o.points.front().x - o.points.back().x, o.points.front().y - o.points.back().y);
            if (gap < 1e-9 * (1 + length_mm(o)) || (static_cast<int>(t.number(70)) & 1) != 0) {
                o.closed = true;
                if (gap < 1e-9 * (1 + length_mm(o)))
                    o.points.pop_back();
            }
        }
        if (!o.points.empty())
            put(std::move(o));
    }

    void add(const DxfThing& t, Outline outline, const std::string& layer, const std::string& colour) {
        if (outline.points.size() < 2)
            return;
        points_ += outline.points.size();
        too_much_ = too_much_ || points_ > (coarser_ > 1 ? most_art_points : most_fine_points);
        // Drawings may lie anywhere on their sheet, but not so far out that their digits are lost.
        if (!std::ranges::all_of(outline.points,
                                 [](const PointMm& p) { return std::abs(p.x) < 1e7 && std::abs(p.y) < 1e7; })) {
            tell("too_far", fmt::format("The {} in line {} lies too far out and was left out.", t.kind, t.line));
            return;
        }
        ArtShape s;
        s.name = fmt::format("{} in line {}", t.kind, t.line);
        s.rule = FillRule::nested;
        s.layer = layer_of(art_, layer.substr(0, 80), colour);
        s.outlines.push_back(std::move(outline));
        art_.shapes.push_back(std::move(s));
    }
    void lay_page() {
        double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
        const auto each = [&](auto&& what) {
            for (ArtShape& s : art_.shapes)
                for (Outline& o : s.outlines)
                    for (PointMm& p : o.points)
                        what(p);
        };
        each([&](const PointMm& p) {
            left = std::min(left, p.x), right = std::max(right, p.x);
            low = std::min(low, p.y), high = std::max(high, p.y);
        });
        if (right < left)
            return;
        each([&](PointMm& p) { p = {p.x - left, p.y - low}; });
        art_.width_mm = right - left;
        art_.height_mm = high - low;
        if (std::max(art_.width_mm, art_.height_mm) >= farthest_mm) {
            art_.shapes.clear();
            tell("too_far", "The drawing is more than ten metres wide; check its unit of length.");
        }
    }

    const std::vector<DxfThing>& things_;
    std::optional<double> unit_mm_;
    double coarser_;
    Artwork art_;
    std::map<std::string, Layer> layers_;
    std::map<std::string, Block> blocks_;
    std::vector<const DxfThing*> entities_;
    std::map<std::string, std::pair<int, int>> unread_; ///< how many, and the first line
    std::set<std::string> told_;
    int insunits_ = 0;
    std::size_t points_ = 0, drawn_ = 0;
    bool too_much_ = false;
};

} // namespace

Expected<Artwork> read_dxf(std::string_view bytes, std::optional<double> unit_mm) {
    int broken_line = 0;
    const auto things = dxf_things(bytes, broken_line);
    if (!things)
        return tl::unexpected(things.error());
    auto art = DxfDrawing(*things, unit_mm, 1).read(broken_line);
    if (!art && art.error().code == "dxf.too_much")
        if (art = DxfDrawing(*things, unit_mm, coarse_chords).read(broken_line); art)
            art->findings.push_back(coarse_finding());
    return art;
}

} // namespace finch
