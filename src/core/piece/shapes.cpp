// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/shapes.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numeric>

namespace finch {
namespace {

struct Box {
    double left = 1e300, low = 1e300, right = -1e300, high = -1e300, area = 0;
    [[nodiscard]] bool holds(const Box& o) const {
        return left <= o.left && low <= o.low && right >= o.right && high >= o.high;
    }
    [[nodiscard]] PointMm middle() const { return {0.5 * (left + right), 0.5 * (low + high)}; }
};

Box box_of(const std::vector<PointMm>& ring) {
    Box b;
    for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++) {
        b.left = std::min(b.left, ring[i].x), b.right = std::max(b.right, ring[i].x);
        b.low = std::min(b.low, ring[i].y), b.high = std::max(b.high, ring[i].y);
        b.area += 0.5 * (ring[k].x * ring[i].y - ring[i].x * ring[k].y);
    }
    b.area = std::abs(b.area);
    return b;
}

bool inside(const std::vector<PointMm>& ring, const PointMm& p) {
    bool in = false;
    for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
        if ((ring[i].y > p.y) != (ring[k].y > p.y) &&
            p.x < (ring[k].x - ring[i].x) * (p.y - ring[i].y) / (ring[k].y - ring[i].y) + ring[i].x)
            in = !in;
    return in;
}

/// From the lowest at the left on, each time the nearest that is left.
void nearest_first(std::vector<std::pair<PointMm, std::vector<std::size_t>>>& shapes) {
    constexpr std::size_t most_searched = 5000;
    std::ranges::stable_sort(shapes, [](const auto& a, const auto& b) {
        return std::pair(std::floor(a.first.y), a.first.x) < std::pair(std::floor(b.first.y), b.first.x);
    });
    for (std::size_t i = 1; i + 1 < shapes.size() && shapes.size() <= most_searched; ++i) {
        const PointMm at = shapes[i - 1].first;
        const auto far = [&](const auto& s) { return std::hypot(s.first.x - at.x, s.first.y - at.y); };
        std::iter_swap(shapes.begin() + static_cast<long>(i),
                       std::ranges::min_element(shapes.begin() + static_cast<long>(i), shapes.end(), {}, far));
    }
}

} // namespace

std::vector<std::vector<std::size_t>> shapes_of(const Region& region) {
    const auto& rings = region.rings;
    std::vector<std::size_t> order(rings.size()), shape(rings.size());
    std::iota(order.begin(), order.end(), std::size_t(0));
    if (rings.size() > most_told_apart)
        return {order};
    std::vector<Box> boxes;
    for (const auto& ring : rings)
        boxes.push_back(box_of(ring));
    std::vector<bool> hole(rings.size(), false);
    std::ranges::stable_sort(order, std::greater{}, [&](std::size_t r) { return boxes[r].area; });
    std::vector<std::pair<PointMm, std::vector<std::size_t>>> found;
    for (std::size_t i = 0; i < order.size(); ++i) {
        const std::size_t r = order[i];
        // The smallest that holds it: of those before, the last.
        for (std::size_t k = i; k-- > 0;)
            if (const std::size_t o = order[k]; boxes[o].holds(boxes[r]) && inside(rings[o], rings[r].front())) {
                hole[r] = !hole[o];
                shape[r] = shape[o];
                break;
            }
        if (!hole[r]) {
            shape[r] = found.size();
            found.emplace_back(boxes[r].middle(), std::vector<std::size_t>());
        }
        found[shape[r]].second.push_back(r);
    }
    nearest_first(found);
    std::vector<std::vector<std::size_t>> out;
    for (auto& [middle, those] : found)
        out.push_back(std::move(those));
    return out;
}

} // namespace finch
