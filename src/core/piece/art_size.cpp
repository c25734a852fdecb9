// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/art_size.h"

#include "document/json_fields.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <nlohmann/json.hpp>

namespace finch {

namespace {

constexpr std::array<std::string_view, 5> keys{"as_drawn", "factor", "width", "height", "stock"};

PointMm placed_at(PointMm p, const ArtSizing& sizing) {
    return {sizing.factor * p.x + sizing.shift.x, sizing.factor * p.y + sizing.shift.y};
}

} // namespace

ArtSize plain(const ArtSize& size) {
    ArtSize out;
    out.by = size.by;
    if (size.by == SizeBy::stock)
        out.stock_w_mm = size.stock_w_mm, out.stock_h_mm = size.stock_h_mm, out.margin_mm = size.margin_mm;
    else if (size.by != SizeBy::as_drawn)
        out.value = size.value;
    return out;
}

std::optional<ArtExtent> extent_of(const Artwork& art) {
    constexpr double far = std::numeric_limits<double>::infinity();
    PointMm low{far, far}, high{-far, -far};
    for (const ArtShape& s : art.shapes)
        for (const auto* outlines : {&s.outlines, &s.lines})
            for (const Outline& o : *outlines)
                for (const PointMm& p : o.points) {
                    low = {std::min(low.x, p.x), std::min(low.y, p.y)};
                    high = {std::max(high.x, p.x), std::max(high.y, p.y)};
                }
    if (low.x > high.x)
        return std::nullopt;
    return ArtExtent{art.width_mm, art.height_mm, {low.x, low.y, high.x - low.x, high.y - low.y}};
}

Expected<ArtSizing> sizing_of(const ArtExtent& extent, const ArtSize& size) {
    const RectMm& drawn = extent.drawn;
    ArtSizing out{1, {}, extent.page_w_mm, extent.page_h_mm};
    const auto ratio = [](double wanted, double is) {
        return is > 0 ? wanted / is : std::numeric_limits<double>::infinity();
    };
    switch (size.by) {
    case SizeBy::as_drawn:
        return out;
    case SizeBy::factor:
        out.factor = size.value;
        break;
    case SizeBy::width:
        out.factor = ratio(size.value, drawn.w);
        break;
    case SizeBy::height:
        out.factor = ratio(size.value, drawn.h);
        break;
    case SizeBy::stock: {
        const double w = size.stock_w_mm - 2 * size.margin_mm, h = size.stock_h_mm - 2 * size.margin_mm;
        if (!(w > 0 && h > 0))
            return failure("size.margin",
                           fmt::format("A margin of {:.4g} mm leaves no room on {:.4g} x {:.4g} mm.", size.margin_mm,
                                       size.stock_w_mm, size.stock_h_mm),
                           "Give a smaller margin, or the true size of the stock.");
        out.factor = std::min(ratio(w, drawn.w), ratio(h, drawn.h));
        break;
    }
    }
    if (std::isinf(out.factor))
        return failure("size.nothing", "Nothing is drawn that has such a size.",
                       "Give a factor, or the side that is drawn.");
    if (!(out.factor >= least_size_factor && out.factor <= most_size_factor))
        return failure("size.factor", fmt::format("The drawing would become {:.4g} times as large.", out.factor),
                       "Between 0.01 and 100 times can be asked for: look whether its unit is right.");
    if (size.by == SizeBy::stock) {
        out.page_w_mm = size.stock_w_mm, out.page_h_mm = size.stock_h_mm;
        out.shift = {size.stock_w_mm / 2 - out.factor * (drawn.x + drawn.w / 2),
                     size.stock_h_mm / 2 - out.factor * (drawn.y + drawn.h / 2)};
    } else
        out.page_w_mm *= out.factor, out.page_h_mm *= out.factor;
    const PointMm low = placed_at({drawn.x, drawn.y}, out),
                  high = placed_at({drawn.x + drawn.w, drawn.y + drawn.h}, out);
    for (const double edge : {low.x, low.y, high.x, high.y, out.page_w_mm, out.page_h_mm})
        if (!(std::abs(edge) <= farthest_mm))
            return failure("size.too_far", "The drawing would reach farther than 10 m.", "Make it smaller.");
    return out;
}

Artwork sized(Artwork art, const ArtSizing& sizing) {
    for (ArtShape& s : art.shapes) {
        for (auto* outlines : {&s.outlines, &s.lines})
            for (Outline& o : *outlines)
                for (PointMm& p : o.points)
                    p = placed_at(p, sizing);
        s.stroke_mm *= sizing.factor;
    }
    for (ArtFinding& f : art.findings) {
        if (f.at)
            f.at = placed_at(*f.at, sizing);
        if (f.gap_mm)
            *f.gap_mm *= sizing.factor;
    }
    art.width_mm = sizing.page_w_mm, art.height_mm = sizing.page_h_mm;
    return art;
}

PointMm resized(PointMm place, const ArtSizing& from, const ArtSizing& to) {
    return placed_at({(place.x - from.shift.x) / from.factor, (place.y - from.shift.y) / from.factor}, to);
}

nlohmann::json to_json(const ArtSize& size) {
    nlohmann::json out{{"by", keys.at(static_cast<std::size_t>(size.by))}};
    if (size.by == SizeBy::stock) {
        out["stock_mm"] = {size.stock_w_mm, size.stock_h_mm};
        out["margin_mm"] = size.margin_mm;
    } else if (size.by != SizeBy::as_drawn)
        out["value"] = size.value;
    return out;
}

ArtSize read_art_size(JsonFields& fields) {
    ArtSize out;
    const std::string by = fields.text("by");
    const auto at = std::ranges::find(keys, by);
    if (at == keys.end()) {
        fields.fault("by", "This is no way to say a size.", "Use as_drawn, factor, width, height or stock.");
        return out;
    }
    out.by = static_cast<SizeBy>(at - keys.begin());
    if (out.by == SizeBy::stock) {
        if (const auto stock = fields.numbers("stock_mm", 2, 0.01, farthest_mm); stock.size() == 2)
            out.stock_w_mm = stock[0], out.stock_h_mm = stock[1];
        out.margin_mm = fields.number("margin_mm", 0, farthest_mm);
    } else if (out.by != SizeBy::as_drawn)
        out.value = fields.number("value", least_size_factor, farthest_mm);
    return out;
}

} // namespace finch
