// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/region.h"

#include <algorithm>
#include <cmath>
#include <polyclipping/clipper.hpp>

namespace finch {
namespace {

namespace cl = ClipperLib;

constexpr double per_mm = 1e6; // the grid of the polygon library: one nanometre
constexpr std::size_t most_nested = 100'000;
constexpr double arc_within = 50; // nanometres by which round corners of an offset are chords

cl::Path to_grid(const std::vector<PointMm>& points) {
    cl::Path out;
    out.reserve(points.size());
    for (const PointMm& p : points)
        out.emplace_back(static_cast<cl::cInt>(std::llround(p.x * per_mm)),
                         static_cast<cl::cInt>(std::llround(p.y * per_mm)));
    return out;
}

Region from_grid(const cl::Paths& paths) {
    Region out;
    for (const cl::Path& path : paths) {
        if (path.size() < 3)
            continue;
        std::vector<PointMm>& ring = out.rings.emplace_back();
        for (const cl::IntPoint& p : path)
            ring.push_back({static_cast<double>(p.X) / per_mm, static_cast<double>(p.Y) / per_mm});
    }
    return out;
}

cl::Paths to_grid(const Region& region) {
    cl::Paths out;
    for (const auto& ring : region.rings)
        out.push_back(to_grid(ring));
    return out;
}

/// The library reports what it cannot do by throwing; here it becomes an error.
template <typename Work>
Expected<cl::Paths> clipped(Work&& work) {
    try {
        cl::Paths out;
        if (work(out))
            return out;
    } catch (const cl::clipperException&) { // NOLINT(bugprone-empty-catch): told below
    }
    return failure("region.failed", "The outlines cannot be untangled into an area.",
                   "Look for outlines that cross themselves many times, or that lie far outside the page.");
}

/// Of unions and differences; nothing of nothing.
Expected<cl::Paths> joined(cl::ClipType type, const cl::Paths& one, const cl::Paths& other, cl::PolyFillType rule) {
    return clipped([&](cl::Paths& out) {
        cl::Clipper clipper;
        if (!clipper.AddPaths(one, cl::ptSubject, true))
            return true; // nothing but lines without an inside; the library calls that a failure
        clipper.AddPaths(other, cl::ptClip, true);
        return clipper.Execute(type, out, rule, cl::pftNonZero);
    });
}

/// Outlines inside of others are holes, islands in those are filled again. Those that cross are one area. Of very many
/// it is not asked which lies in which: by crossings they come out the same unless they cross.
Expected<cl::Paths> nested(cl::Paths paths) {
    if (paths.size() > most_nested)
        return joined(cl::ctUnion, paths, {}, cl::pftEvenOdd);
    struct Ring {
        cl::Path path;
        double area = 0;
        cl::IntRect box{};
        std::size_t level = 0;
        [[nodiscard]] bool reaches(const Ring& o) const {
            return box.left <= o.box.left && box.top <= o.box.top && box.right >= o.box.right &&
                   box.bottom >= o.box.bottom;
        }
    };
    std::vector<Ring> rings;
    for (cl::Path& p : paths) {
        if (p.size() < 3)
            continue;
        if (!cl::Orientation(p))
            cl::ReversePath(p);
        cl::IntRect r{p[0].X, p[0].Y, p[0].X, p[0].Y};
        for (const cl::IntPoint& q : p)
            r = {std::min(r.left, q.X), std::min(r.top, q.Y), std::max(r.right, q.X), std::max(r.bottom, q.Y)};
        const double area = std::abs(cl::Area(p));
        rings.push_back({std::move(p), area, r, 0});
    }
    std::ranges::stable_sort(rings, std::greater{}, &Ring::area);
    const auto where = [](const Ring& outer, const cl::IntPoint& p) { return cl::PointInPolygon(p, outer.path); };
    std::size_t deepest = 0;
    for (std::size_t i = 0; i < rings.size(); ++i) {
        Ring& inner = rings[i];
        for (std::size_t k = 0; k < i; ++k) {
            const Ring& outer = rings[k];
            // Boxes first: of most pairs that is all that is looked at.
            if (!outer.reaches(inner))
                continue;
            if (inner.reaches(outer) && inner.path.size() == outer.path.size() &&
                outer.area - inner.area < 1e-9 * outer.area &&
                std::ranges::all_of(inner.path, [&](const cl::IntPoint& p) { return where(outer, p) == -1; }))
                inner.level = outer.level; // drawn twice: an area, not its own hole
            else if (std::ranges::all_of(inner.path, [&](const cl::IntPoint& p) { return where(outer, p) != 0; }))
                ++inner.level;
        }
        deepest = std::max(deepest, inner.level);
    }
    cl::Paths out;
    for (std::size_t l = 0; l <= deepest; ++l) {
        cl::Paths ring;
        for (const Ring& r : rings)
            if (r.level == l)
                ring.push_back(r.path);
        const auto next = l == 0 ? joined(cl::ctUnion, ring, {}, cl::pftNonZero)
                                 : joined(l % 2 == 0 ? cl::ctUnion : cl::ctDifference, out, ring, cl::pftNonZero);
        if (!next)
            return next;
        out = *next;
    }
    return out;
}

Expected<cl::Paths> area_of(const ArtShape& shape) {
    cl::Paths paths;
    for (const Outline& o : shape.outlines)
        if ((o.closed || shape.rule != FillRule::nested) && o.points.size() > 2)
            paths.push_back(to_grid(o.points));
    switch (shape.rule) {
    case FillRule::non_zero:
        return joined(cl::ctUnion, paths, {}, cl::pftNonZero);
    case FillRule::even_odd:
        return joined(cl::ctUnion, paths, {}, cl::pftEvenOdd);
    case FillRule::nested:
        break;
    }
    return nested(std::move(paths));
}

Expected<cl::Paths> offset(const cl::Paths& paths, double by_mm) {
    return clipped([&](cl::Paths& out) {
        cl::ClipperOffset off(2, arc_within);
        off.AddPaths(paths, cl::jtRound, cl::etClosedPolygon);
        off.Execute(out, by_mm * per_mm);
        return true;
    });
}

} // namespace

Expected<Region> region_of(std::span<const ArtShape* const> shapes) {
    cl::Paths all;
    // Outlines without a rule are nested together, whatever entity they came from.
    ArtShape loose;
    loose.rule = FillRule::nested;
    for (const ArtShape* s : shapes) {
        if (s->rule == FillRule::nested) {
            loose.outlines.insert(loose.outlines.end(), s->outlines.begin(), s->outlines.end());
            continue;
        }
        auto one = area_of(*s);
        if (!one)
            return tl::unexpected(one.error());
        all.insert(all.end(), std::make_move_iterator(one->begin()), std::make_move_iterator(one->end()));
    }
    if (!loose.outlines.empty()) {
        auto one = area_of(loose);
        if (!one)
            return tl::unexpected(one.error());
        all.insert(all.end(), one->begin(), one->end());
    }
    return joined(cl::ctUnion, all, {}, cl::pftNonZero).map(from_grid);
}

Expected<Region> region_of(const ArtShape& shape) {
    const ArtShape* one = &shape;
    return region_of(std::span(&one, 1));
}

Expected<Region> region_of(const Artwork& art, std::size_t layer) {
    std::vector<const ArtShape*> shapes;
    for (const ArtShape& s : art.shapes)
        if (s.layer == layer)
            shapes.push_back(&s);
    return region_of(shapes);
}

Expected<Region> united(std::span<const Region* const> regions) {
    cl::Paths all;
    for (const Region* r : regions)
        for (const auto& ring : r->rings)
            all.push_back(to_grid(ring));
    return joined(cl::ctUnion, all, {}, cl::pftNonZero).map(from_grid);
}

double area_mm2(const Region& region) {
    double twice = 0;
    for (const auto& ring : region.rings)
        for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
            twice += ring[k].x * ring[i].y - ring[i].x * ring[k].y;
    return 0.5 * twice;
}

double outline_mm(const Region& region) {
    double sum = 0;
    for (const auto& ring : region.rings)
        sum += length_mm({ring, true});
    return sum;
}

Expected<Region> common(const Region& one, const Region& other) {
    return joined(cl::ctIntersection, to_grid(one), to_grid(other), cl::pftEvenOdd).map(from_grid);
}

Expected<Region> within(const Region& region, const RectMm& b) {
    const cl::Paths box{
        to_grid(std::vector<PointMm>{{b.x, b.y}, {b.x + b.w, b.y}, {b.x + b.w, b.y + b.h}, {b.x, b.y + b.h}})};
    return joined(cl::ctIntersection, to_grid(region), box, cl::pftEvenOdd).map(from_grid);
}

Expected<Region> inset(const Region& region, double by_mm) {
    return offset(to_grid(region), -by_mm).map(from_grid);
}

Expected<Region> narrower_than(const Region& region, double width_mm) {
    const cl::Paths whole = to_grid(region);
    const auto eroded = offset(whole, -0.5 * width_mm);
    if (!eroded)
        return tl::unexpected(eroded.error());
    // A little wider again than it was: round corners must not be told as walls.
    const auto opened = offset(*eroded, 0.5 * width_mm * 1.02 + 1e-4);
    if (!opened)
        return tl::unexpected(opened.error());
    return joined(cl::ctDifference, whole, *opened, cl::pftNonZero).map(from_grid);
}

} // namespace finch
