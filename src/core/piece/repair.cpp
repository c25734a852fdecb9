// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/repair.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <numeric>
#include <tuple>

namespace finch {
namespace {

constexpr double met_mm = 1e-4; // ends nearer than this meet: a gap that small is a rounded number, not a fault
constexpr std::size_t most_of_a_kind = 60;
constexpr std::size_t most_pairs = 20'000'000;

double apart(const PointMm& a, const PointMm& b) {
    return std::hypot(a.x - b.x, a.y - b.y);
}

/// Ends of open outlines by place.
class Ends {
public:
    Ends(const std::vector<Outline*>& lines, double within) : cell_(std::max(within, 1e-6)) {
        for (std::size_t i = 0; i < lines.size(); ++i)
            for (const bool front : {true, false}) {
                const PointMm& p = front ? lines[i]->points.front() : lines[i]->points.back();
                by_cell_[key(p)].push_back({p, i, front});
            }
    }
    struct End {
        PointMm at;
        std::size_t line;
        bool front;
    };
    /// The nearest end within reach of lines that are not taken.
    [[nodiscard]] std::optional<End> nearest(const PointMm& p, const std::vector<bool>& taken) const {
        std::optional<End> best;
        const auto [cx, cy] = key(p);
        for (long long dx = -1; dx <= 1; ++dx)
            for (long long dy = -1; dy <= 1; ++dy)
                if (const auto it = by_cell_.find({cx + dx, cy + dy}); it != by_cell_.end())
                    for (const End& e : it->second)
                        if (const double d = apart(e.at, p);
                            !taken[e.line] && d <= cell_ && (!best || d < apart(best->at, p)))
                            best = e;
        return best;
    }

private:
    [[nodiscard]] std::pair<long long, long long> key(const PointMm& p) const {
        return {std::llround(p.x / cell_), std::llround(p.y / cell_)};
    }
    double cell_;
    std::map<std::pair<long long, long long>, std::vector<End>> by_cell_;
};

/// Whether two outlines run over the same points, forwards or backwards, wherever they begin.
bool same_run(const Outline& a, const Outline& b) {
    const std::size_t n = a.points.size();
    if (b.points.size() != n || a.closed != b.closed)
        return false;
    const auto near = [](const PointMm& p, const PointMm& q) { return apart(p, q) < met_mm; };
    for (std::size_t from = 0; from < (a.closed ? n : 1); ++from)
        for (const bool back : {false, true}) {
            // An open one begins at one end or at the other.
            const std::size_t first = !a.closed && back ? n - 1 : from;
            if (!near(a.points[0], b.points[first]))
                continue;
            std::size_t i = 0;
            while (i < n && near(a.points[i], b.points[(first + (back ? n - i : i)) % n]))
                ++i;
            if (i == n)
                return true;
        }
    return false;
}

class Repair {
public:
    Repair(Artwork art, const RepairRules& rules) : art_(std::move(art)), rules_(rules) {}

    Expected<MendedArt> run() {
        for (std::size_t l = 0; l < art_.layers.size(); ++l) {
            std::vector<Outline*> loose;
            std::vector<ArtShape*> doubles;
            for (ArtShape& s : art_.shapes)
                if (s.layer == l) {
                    if (s.rule == FillRule::nested)
                        for (Outline& o : s.outlines)
                            loose.push_back(&o);
                    else
                        doubles.push_back(&s);
                }
            keep_once(l, loose);
            join(l, loose, true);
            doubled_areas(l, doubles);
            for (ArtShape* s : doubles)
                if (s->lines.empty()) {
                    std::vector<Outline*> own;
                    for (Outline& o : s->outlines)
                        own.push_back(&o);
                    join(l, own, false);
                }
        }
        for (ArtShape& s : art_.shapes)
            std::erase_if(s.outlines, [](const Outline& o) { return o.points.empty(); });
        std::erase_if(art_.shapes, [](const ArtShape& s) { return s.outlines.empty(); });
        crossings();
        MendedArt out;
        for (std::size_t l = 0; l < art_.layers.size(); ++l) {
            auto region = region_of(art_, l);
            if (!region)
                return tl::unexpected(region.error());
            if (const auto fine = small_things(l, *region); !fine)
                return tl::unexpected(fine.error());
            out.regions.push_back(std::move(*region));
        }
        out.art = std::move(art_);
        return out;
    }

private:
    void tell(const std::string& code, std::size_t layer, const PointMm& at, std::optional<double> gap, bool closed,
              std::string text) {
        std::size_t& told = told_[code];
        if (++told <= most_of_a_kind)
            art_.findings.push_back({code, layer, at, gap, closed, std::move(text)});
        else if (told == most_of_a_kind + 1)
            art_.findings.push_back({code, layer, std::nullopt, std::nullopt, closed, "There are more of this kind."});
    }

    /// Whether what was found at a place is to stay as it is drawn.
    [[nodiscard]] bool left(const PointMm& at) const {
        return std::ranges::any_of(rules_.as_drawn, [&](const PointMm& p) { return apart(p, at) < met_mm; });
    }
    void tell_left(std::size_t layer, const PointMm& at, double gap, bool loose) {
        tell("left_open", layer, at, gap, false,
             loose ? fmt::format("A gap of {:.3f} mm is left open: its outline encloses nothing.", gap)
                   : fmt::format("A gap of {:.3f} mm is left open; the file fills it as if a straight line closed it.",
                                 gap));
    }

    /// Outlines by what two of a kind share: number of points, and where their middle lies.
    class Alike {
    public:
        /// One that runs like this one and was kept before.
        [[nodiscard]] bool has(const Outline& o) const {
            const auto [n, x, y] = key(o);
            for (long long dx = -1; dx <= 1; ++dx)
                for (long long dy = -1; dy <= 1; ++dy)
                    if (const auto it = kept_.find({n, x + dx, y + dy}); it != kept_.end())
                        if (std::ranges::any_of(it->second, [&](const Outline* k) { return same_run(*k, o); }))
                            return true;
            return false;
        }
        void keep(const Outline& o) { kept_[key(o)].push_back(&o); }

    private:
        using Key = std::tuple<std::size_t, long long, long long>;
        static Key key(const Outline& o) {
            PointMm sum;
            for (const PointMm& p : o.points)
                sum = {sum.x + p.x, sum.y + p.y};
            const double cells = static_cast<double>(o.points.size()) * 10 * met_mm;
            return {o.points.size(), std::llround(sum.x / cells), std::llround(sum.y / cells)};
        }
        std::map<Key, std::vector<const Outline*>> kept_;
    };

    /// Lines that lie twice would be an area without width, there and back.
    void keep_once(std::size_t layer, std::vector<Outline*>& lines) {
        Alike alike;
        for (Outline* o : lines) {
            if (!alike.has(*o)) {
                alike.keep(*o);
                continue;
            }
            if (left(o->points.front())) {
                tell("left_double", layer, o->points.front(), {}, false,
                     fmt::format("A line of {:.2f} mm lies twice, and is left so.", length_mm(*o)));
                continue;
            }
            tell("doubled_line", layer, o->points.front(), {}, true,
                 fmt::format("A line of {:.2f} mm lies twice; it is kept once.", length_mm(*o)));
            o->points.clear();
        }
        std::erase_if(lines, [](const Outline* o) { return o->points.empty(); });
    }
    void doubled_areas(std::size_t layer, const std::vector<ArtShape*>& shapes) {
        Alike alike;
        for (const ArtShape* s : shapes) {
            if (s->outlines.size() != 1)
                continue;
            const Outline& o = s->outlines.front();
            if (alike.has(o))
                tell("doubled_line", layer, o.points.front(), {}, false,
                     fmt::format("{} lies twice; within one layer it is marked once.", s->name));
            else
                alike.keep(o);
        }
    }

    /// Joins open outlines whose ends meet, and closes those that come round. `loose`: without a rule of its own an
    /// open one encloses nothing; else the file closes it by a straight line.
    void join(std::size_t layer, const std::vector<Outline*>& all, bool loose) {
        std::vector<Outline*> open;
        for (Outline* o : all)
            if (!o->closed && o->points.size() > 1)
                open.push_back(o);
        if (open.empty())
            return;
        const Ends ends(open, rules_.close_mm);
        std::vector<bool> taken(open.size(), false);
        for (std::size_t i = 0; i < open.size(); ++i) {
            if (taken[i])
                continue;
            taken[i] = true;
            Outline& line = *open[i];
            double widest = 0;
            bool stays_open = false;
            PointMm widest_at = line.points.back();
            const auto gap_of = [&](double gap, const PointMm& at) {
                if (gap > widest) {
                    widest = gap;
                    widest_at = at;
                }
            };
            for (const bool forwards : {true, false}) {
                if (!forwards)
                    std::reverse(line.points.begin(), line.points.end());
                while (true) {
                    const PointMm tip = line.points.back();
                    const auto next = ends.nearest(tip, taken);
                    if (next && apart(next->at, tip) > met_mm && (left(tip) || left(next->at))) {
                        tell_left(layer, left(tip) ? tip : next->at, apart(next->at, tip), loose);
                        stays_open = true;
                        break;
                    }
                    const bool comes_round =
                        line.points.size() > 2 && apart(tip, line.points.front()) <= rules_.close_mm;
                    if (!next || (comes_round && apart(next->at, tip) >= apart(tip, line.points.front())))
                        break;
                    taken[next->line] = true;
                    std::vector<PointMm>& more = open[next->line]->points;
                    if (!next->front)
                        std::reverse(more.begin(), more.end());
                    gap_of(apart(tip, more.front()), tip);
                    line.points.insert(line.points.end(), more.begin() + (apart(tip, more.front()) < met_mm ? 1 : 0),
                                       more.end());
                    more.clear();
                }
            }
            const double gap = apart(line.points.front(), line.points.back());
            const bool round = gap <= rules_.close_mm && line.points.size() > 2 && length_mm(line) > 2 * gap;
            if (round && gap > met_mm && (left(line.points.back()) || left(line.points.front()))) {
                tell_left(layer, left(line.points.back()) ? line.points.back() : line.points.front(), gap, loose);
                stays_open = true;
            }
            const bool comes_round = round && !stays_open;
            if (comes_round) {
                gap_of(gap, line.points.back());
                line.closed = true;
                if (gap < met_mm)
                    line.points.pop_back();
                if (widest > met_mm)
                    tell("open_outline", layer, widest_at, widest, true,
                         fmt::format("An outline was open by {:.3f} mm; it was closed.", widest));
            } else if (stays_open) {
                if (widest > met_mm) // what else was joined of it
                    tell("open_outline", layer, widest_at, widest, true,
                         fmt::format("A gap of {:.3f} mm was closed.", widest));
            } else
                tell("open_outline", layer, line.points.back(), gap, false,
                     loose ? fmt::format("An outline is open by {:.3f} mm: it encloses nothing and is not filled.", gap)
                           : fmt::format(
                                 "An outline is open by {:.3f} mm; the file fills it as if a straight line closed it.",
                                 gap));
        }
    }

    void crossings() {
        for (const ArtShape& s : art_.shapes) {
            if (!s.lines.empty())
                continue; // the edge of a stroke crosses itself in every corner
            for (const Outline& o : s.outlines)
                if (const auto at = o.closed ? self_crossing(o, 4 * rules_.close_mm) : std::nullopt)
                    tell("self_crossing", s.layer, *at, {}, false,
                         fmt::format(
                             "{} crosses itself: what lies inside follows the file's fill rule, which may not be "
                             "what was meant.",
                             s.name));
        }
    }

    Expected<void> small_things(std::size_t layer, const Region& region) {
        const double spot = rules_.spot_mm, spot_area = 0.25 * std::numbers::pi * spot * spot;
        for (const auto& ring : region.rings)
            if (const double a = area_mm2({{ring}}); a > 0 && a < spot_area)
                tell("speck", layer, ring.front(), std::sqrt(a), false,
                     fmt::format("A speck of {:.4f} mm\u00b2 is smaller than the spot of {:.3f} mm.", a, spot));
        const auto thin = narrow_parts(region, spot);
        if (!thin)
            return tl::unexpected(thin.error());
        for (const NarrowPart& n : *thin)
            tell("narrow", layer, n.at, n.width_mm, false,
                 fmt::format("A part about {:.3f} mm wide is narrower than the spot of {:.3f} mm.", n.width_mm, spot));
        return {};
    }

    Artwork art_;
    const RepairRules& rules_;
    std::map<std::string, std::size_t> told_;
};

} // namespace

std::optional<PointMm> self_crossing(const Outline& outline, double hair_mm) {
    const auto& p = outline.points;
    const std::size_t n = p.size();
    if (n < 4)
        return std::nullopt;
    // Edges by their left end; each is held against those that begin before it ends.
    const auto left = [&](std::size_t i) { return std::min(p[i].x, p[(i + 1) % n].x); };
    const auto right = [&](std::size_t i) { return std::max(p[i].x, p[(i + 1) % n].x); };
    std::vector<std::size_t> order(n);
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::sort(order, {}, left);
    const auto side = [](const PointMm& a, const PointMm& b, const PointMm& c) {
        return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    };
    // From the first corner to each: how long the loop between two edges is.
    std::vector<double> along(n + 1, 0.0);
    for (std::size_t i = 0; i < n; ++i)
        along[i + 1] = along[i] + apart(p[i], p[(i + 1) % n]);
    const auto loop_mm = [&](std::size_t one, std::size_t other) {
        const double inside = along[std::max(one, other)] - along[std::min(one, other) + 1];
        return std::min(inside, along[n] - inside);
    };
    std::size_t pairs = 0;
    for (std::size_t u = 0; u < n; ++u) {
        const std::size_t i = order[u];
        const PointMm &a = p[i], &b = p[(i + 1) % n];
        for (std::size_t v = u + 1; v < n && left(order[v]) <= right(i); ++v) {
            if (++pairs > most_pairs)
                return std::nullopt;
            const std::size_t k = order[v];
            const PointMm &c = p[k], &d = p[(k + 1) % n];
            if ((i + 1) % n == k || (k + 1) % n == i || std::max(a.y, b.y) < std::min(c.y, d.y) ||
                std::max(c.y, d.y) < std::min(a.y, b.y))
                continue;
            const double s1 = side(a, b, c), s2 = side(a, b, d), s3 = side(c, d, a), s4 = side(c, d, b);
            if (s1 * s2 < 0 && s3 * s4 < 0 && loop_mm(i, k) > hair_mm) {
                const double t = s1 / (s1 - s2);
                return PointMm{c.x + t * (d.x - c.x), c.y + t * (d.y - c.y)};
            }
        }
    }
    return std::nullopt;
}

bool can_be_left(const ArtFinding& f) {
    return f.at && ((f.closed && (f.code == "open_outline" || f.code == "doubled_line")) || f.code == "left_open" ||
                    f.code == "left_double");
}

Expected<std::vector<NarrowPart>> narrow_parts(const Region& region, double width_mm) {
    return narrower_than(region, width_mm).map([&](const Region& thin) {
        // Every sharp corner ends narrower than that; a wall is long.
        constexpr double long_one = 20;
        std::vector<NarrowPart> out;
        for (const auto& ring : thin.rings)
            if (const double around = length_mm({ring, true}); around > long_one * width_mm)
                out.push_back({ring[ring.size() / 2], 2 * area_mm2({{ring}}) / around});
        return out;
    });
}

Expected<MendedArt> mended(Artwork art, const RepairRules& rules) {
    return Repair(std::move(art), rules).run();
}

} // namespace finch
