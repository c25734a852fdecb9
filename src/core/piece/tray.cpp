// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/tray.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr int most_nests = 1000;

struct Extent {
    double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
    [[nodiscard]] double width() const { return right - left; }
    [[nodiscard]] double height() const { return high - low; }
};

/// The layers that say where the part lies: its own outline, else all but what differs from part to part.
std::vector<const JobLayer*> layers_of_part(const Job& part, const std::string& outline) {
    std::vector<const JobLayer*> own, common, all;
    for (const JobLayer& l : part.layers) {
        if (l.region.empty())
            continue;
        all.push_back(&l);
        if (l.only_at.empty())
            common.push_back(&l);
        if (!outline.empty() && l.name == outline)
            own.push_back(&l);
    }
    return !own.empty() ? own : !common.empty() ? common : all;
}

Extent extent(const Job& part, const std::string& outline) {
    Extent e;
    for (const JobLayer* l : layers_of_part(part, outline))
        for (const auto& ring : l->region.rings)
            for (const PointMm& p : ring) {
                e.left = std::min(e.left, p.x), e.right = std::max(e.right, p.x);
                e.low = std::min(e.low, p.y), e.high = std::max(e.high, p.y);
            }
    return e;
}

/// The largest outline of those, filled: what the part is.
Region outline_of(const Job& part, const std::string& outline) {
    const std::vector<PointMm>* largest = nullptr;
    double most = 0;
    for (const JobLayer* l : layers_of_part(part, outline))
        for (const auto& ring : l->region.rings) {
            double twice = 0;
            for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
                twice += ring[k].x * ring[i].y - ring[i].x * ring[k].y;
            if (std::abs(twice) > most) {
                most = std::abs(twice);
                largest = &ring;
            }
        }
    Region out;
    if (largest != nullptr)
        out.rings.push_back(*largest);
    return out;
}

std::vector<PointMm> rectangle(double x, double y, double w, double h) {
    return {{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
}

/// Digits of bars, 2.4 mm wide and 4 mm high: a cutter follows them, whatever fonts it knows.
Region number_at(int number, PointMm at) {
    constexpr double w = 2.4, h = 4, t = 0.5, step = 3.2;
    // Top, upper left, upper right, middle, lower left, lower right, bottom.
    constexpr std::array<unsigned, 10> lit{0b1110111, 0b0010010, 0b1011101, 0b1011011, 0b0111010,
                                           0b1101011, 0b1101111, 0b1010010, 0b1111111, 0b1111011};
    // Bars do not touch: rings of an area neither cross nor meet along a line.
    constexpr double g = 0.05;
    const std::array<RectMm, 7> bars{RectMm{t + g, h - t, w - 2 * t - 2 * g, t},
                                     {0, h / 2 + g, t, h / 2 - g},
                                     {w - t, h / 2 + g, t, h / 2 - g},
                                     {t + g, h / 2 - t / 2, w - 2 * t - 2 * g, t},
                                     {0, 0, t, h / 2 - g},
                                     {w - t, 0, t, h / 2 - g},
                                     {t + g, 0, w - 2 * t - 2 * g, t}};
    Region out;
    double x = at.x;
    for (const char c : fmt::format("{}", number)) {
        for (std::size_t i = 0; i < bars.size(); ++i)
            if ((lit.at(static_cast<std::size_t>(c - '0')) >> (6 - i)) & 1U)
                out.rings.push_back(rectangle(x + bars[i].x, at.y + bars[i].y, bars[i].w, bars[i].h));
        x += step;
    }
    return out;
}

Region round_hole(PointMm middle, double diameter) {
    constexpr int corners = 96;
    Region out;
    auto& ring = out.rings.emplace_back();
    for (int i = 0; i < corners; ++i) {
        const double a = 2 * 3.14159265358979324 * i / corners;
        ring.push_back({middle.x + 0.5 * diameter * std::cos(a), middle.y + 0.5 * diameter * std::sin(a)});
    }
    return out;
}

void append(Region& to, const Region& from, PointMm by) {
    for (const auto& ring : from.rings) {
        auto& moved = to.rings.emplace_back();
        for (const PointMm& p : ring)
            moved.push_back({p.x + by.x, p.y + by.y});
    }
}

} // namespace

Expected<Job> in_tray(const Job& part, const Tray& t) {
    const auto wrong = [](const char* code, std::string text, const char* fix) {
        return failure(code, std::move(text), fix);
    };
    if (t.columns < 1 || t.rows < 1 || t.columns > most_nests || t.rows > most_nests ||
        t.columns * t.rows > most_nests || !(t.pitch_x_mm > 0 && t.pitch_y_mm > 0 && t.margin_mm >= 0))
        return wrong("tray.size", fmt::format("A tray of {} by {} nests is not planned.", t.columns, t.rows),
                     "Take 1 to 1000 nests, pitches above nothing and no margin below it.");
    const Extent e = extent(part, t.outline);
    if (!t.outline.empty() &&
        std::ranges::none_of(part.layers, [&](const JobLayer& l) { return l.name == t.outline && !l.region.empty(); }))
        return wrong("tray.outline",
                     fmt::format("There is no layer \"{}\" that could be the part's outline.", t.outline),
                     "Choose another, or the largest outline that is drawn.");
    if (!(e.width() > 0) || !part.places.empty())
        return wrong("tray.size", "There is no single part to lay into nests.", "Take a job of one part.");
    const auto off = [&](int number) {
        for (const auto& [nest, by] : t.offsets)
            if (nest == number)
                return by;
        return PointMm{};
    };
    for (const auto& [nest, by] : t.offsets)
        if (nest < 1 || nest > t.columns * t.rows || std::abs(by.x) > t.pitch_x_mm || std::abs(by.y) > t.pitch_y_mm)
            return wrong("tray.offset", fmt::format("Nest {} has no such offset.", nest),
                         "Give the number of a nest and an offset under its pitch.");
    Job out = part;
    out.width_mm = 2 * t.margin_mm + e.width() + (t.columns - 1) * t.pitch_x_mm;
    out.height_mm = 2 * t.margin_mm + e.height() + (t.rows - 1) * t.pitch_y_mm;
    const double field = in_mm(part.setup.bench.lens().field);
    if (!(std::max(out.width_mm, out.height_mm) - 2 * t.margin_mm <= field))
        return wrong("tray.field",
                     fmt::format("{} by {} parts are {:.4g} by {:.4g} mm, the field of the lens {:.4g} mm.", t.columns,
                                 t.rows, out.width_mm - 2 * t.margin_mm, out.height_mm - 2 * t.margin_mm, field),
                     "Take fewer nests, a closer pitch, or a lens with a larger field.");
    for (int row = 0; row < t.rows; ++row)
        for (int i = 0; i < t.columns; ++i) {
            const int column = row % 2 == 0 ? i : t.columns - 1 - i, number = row * t.columns + column + 1;
            const PointMm by = off(number);
            out.places.push_back({number,
                                  {t.margin_mm - e.left + column * t.pitch_x_mm + by.x,
                                   t.margin_mm - e.low + row * t.pitch_y_mm + by.y}});
        }
    for (std::size_t i = 0; i < out.places.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
            if (std::abs(out.places[i].by.x - out.places[k].by.x) < e.width() &&
                std::abs(out.places[i].by.y - out.places[k].by.y) < e.height())
                return wrong("tray.overlap",
                             fmt::format("The parts in nests {} and {} lie in each other.", out.places[k].number,
                                         out.places[i].number),
                             "Take a wider pitch than the part is.");
    if (t.filled > t.columns * t.rows)
        return wrong("tray.size", fmt::format("{} parts are more than there are nests.", t.filled),
                     "Take a larger tray, or fewer parts.");
    if (t.filled > 0)
        std::erase_if(out.places, [&](const JobPlace& p) { return p.number > t.filled; });
    out.in_turn = t.in_turn;
    return out;
}

Expected<Job> jig_of(const Job& part, const Tray& t, double clearance_mm, double pin_mm) {
    Tray full = t;
    full.filled = 0;
    const auto tray = in_tray(part, full);
    if (!tray)
        return tray;
    constexpr double number_mm = 6; // its height, and air
    const Extent e = extent(part, t.outline);
    if ((t.rows > 1 && t.pitch_y_mm - e.height() < number_mm + 2 * clearance_mm) ||
        t.margin_mm < number_mm + clearance_mm)
        return failure("tray.numbers", "There is no room for the numbers of the nests.",
                       "Leave 6 mm and the clearance between the rows, and around all.");
    const Region outline = outline_of(part, t.outline);
    const auto pocket = inset(outline, -clearance_mm);
    if (!pocket)
        return tl::unexpected(pocket.error());
    Job out{part.name + ", jig", tray->width_mm, tray->height_mm, part.setup, {}, {}, {}};
    JobLayer edge{"tray", "#000000", false, {}, {}, false}, pockets{"pockets", "#606060", false, {}, {}, false},
        pins{"pin holes", "#c06000", false, {}, {}, false}, numbers{"numbers", "#1f3f9f", false, {}, {}, false};
    edge.region.rings.push_back(rectangle(0, 0, out.width_mm, out.height_mm));
    for (const JobPlace& place : tray->places) {
        append(pockets.region, *pocket, place.by);
        append(numbers.region, number_at(place.number, {0, 0}),
               {place.by.x + e.left, place.by.y + e.low - 5.5 - clearance_mm});
    }
    const double in = std::max(0.5 * t.margin_mm, pin_mm);
    append(pins.region, round_hole({in, in}, pin_mm), {});
    append(pins.region, round_hole({out.width_mm - in, out.height_mm - in}, pin_mm), {});
    out.layers = {edge, pockets, pins, numbers};
    return out;
}

int parts_to_load(int wanted, double spoiled, double confidence) {
    if (!(spoiled > 0))
        return wanted;
    const double good = 1 - spoiled;
    const auto enough = [&](int n) {
        // Fewer than wanted good ones among n, from the logarithm of each term; what lies 2000 below is nothing.
        double fewer = 0;
        for (int k = std::max(0, wanted - 2000); k < wanted; ++k)
            fewer += std::exp(std::lgamma(n + 1.0) - std::lgamma(k + 1.0) - std::lgamma(n - k + 1.0) +
                              k * std::log(good) + (n - k) * std::log(spoiled));
        return 1 - fewer >= confidence;
    };
    int few = wanted - 1, many = wanted;
    while (!enough(many)) {
        few = many;
        many += std::max(1, many / 2);
    }
    while (many - few > 1) {
        const int middle = few + (many - few) / 2;
        (enough(middle) ? many : few) = middle;
    }
    return many;
}

Batch batch_of(int load, int nests, double mark_s, double handle_s) {
    Batch out;
    out.load = load;
    out.trays = (load + nests - 1) / nests;
    out.on_last = load - (out.trays - 1) * nests;
    out.one_tray_s = load * (mark_s + handle_s);
    // The first is filled before anything is marked; then one is changed while the other is marked.
    const auto on = [&](int tray) { return tray < out.trays - 1 ? nests : out.on_last; };
    out.two_trays_s = on(0) * handle_s;
    for (int tray = 0; tray < out.trays; ++tray)
        out.two_trays_s += std::max(on(tray) * mark_s, tray + 1 < out.trays ? on(tray + 1) * handle_s : 0.0);
    return out;
}

} // namespace finch
