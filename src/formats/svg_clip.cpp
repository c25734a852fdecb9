// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_clip.h"

#include "formats/svg_paint.h"
#include "formats/svg_path.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr int deepest_clip = 8;

const SvgElement* referred(const SvgTree& tree, std::string_view link) {
    const std::size_t from = link.find('#'), to = link.find_first_of("\"')", from);
    if (!link.starts_with("url(") || from == std::string_view::npos || to == std::string_view::npos)
        return nullptr;
    const auto it = tree.by_id.find(link.substr(from + 1, to - from - 1));
    return it == tree.by_id.end() ? nullptr : it->second;
}

std::string get(const SvgDeclarations& d, const char* name) {
    const auto it = d.find(name);
    return it == d.end() ? std::string() : it->second;
}

class ClipReader {
public:
    explicit ClipReader(const SvgClipAsk& ask) : ask_(ask) {}

    std::optional<Region> read(const SvgElement& clip, int depth) {
        QTransform to_mm = ask_.to_mm;
        if (clip.get("clipPathUnits") == "objectBoundingBox") {
            // Of the element's own shape; what a group comes to is not known here.
            const QRectF box = svg_shape(ask_.element, ask_.view, ask_.font_size, ask_.tell).boundingRect();
            if (!(box.width() > 0 && box.height() > 0))
                return whole("a clip path in shares of its size");
            to_mm = QTransform(box.width(), 0, 0, box.height(), box.left(), box.top()) * to_mm;
        }
        if (!moved(clip, to_mm))
            return whole("a clip path with a transform that is not read");
        std::vector<ArtShape> shapes;
        for (const SvgElement& child : clip.children)
            if (!add(child, clip, to_mm, shapes, 0))
                return whole("a clip path with things in it that are not read");
        std::vector<const ArtShape*> all;
        for (const ArtShape& s : shapes)
            all.push_back(&s);
        auto out = all.empty() ? Expected<Region>(Region{}) : region_of(all);
        if (!out)
            return whole("a clip path that is beyond untangling");
        const std::string own = get(ask_.tree.rules.of(clip, {}), "clip-path");
        if (own.empty() || own == "none")
            return std::move(*out);
        const SvgElement* narrower = referred(ask_.tree, own);
        if (narrower == nullptr || narrower->name != "clipPath" || depth >= deepest_clip)
            return whole("a clip path within another that is not there");
        const auto inner = read(*narrower, depth + 1);
        auto both = inner ? common(*out, *inner) : Expected<Region>(failure("svg.clip", ""));
        return both ? std::optional(std::move(*both)) : std::nullopt;
    }

private:
    /// It is said once, and nothing is cut.
    std::optional<Region> whole(const std::string& what) {
        ask_.tell("not_cut",
                  fmt::format("{} has {}: it is taken whole, without it.", name_in_file(ask_.element), what));
        return std::nullopt;
    }
    static bool moved(const SvgElement& e, QTransform& to_mm) {
        const std::string_view text = e.get("transform");
        if (text.empty())
            return true;
        const auto t = svg_transform(text);
        if (t)
            to_mm = *t * to_mm;
        return t.has_value();
    }
    bool add(const SvgElement& e, const SvgElement& within, QTransform to_mm, std::vector<ArtShape>& out, int uses) {
        if (e.name.empty() || e.foreign || e.name == "title" || e.name == "desc")
            return true;
        const SvgDeclarations style = ask_.tree.rules.of(e, {&within});
        if (get(style, "display") == "none" || get(style, "visibility") == "hidden")
            return true;
        if (const std::string own = get(style, "clip-path"); !own.empty() && own != "none")
            return false;
        if (!moved(e, to_mm))
            return false;
        if (e.name == "use") {
            const std::string_view link = e.get("href");
            const auto it = link.starts_with("#") ? ask_.tree.by_id.find(link.substr(1)) : ask_.tree.by_id.end();
            if (it == ask_.tree.by_id.end() || uses >= deepest_clip)
                return false;
            const auto at = [&](const char* name, double of) {
                return svg_attribute(e, name, of, 0, ask_.font_size, ask_.tell);
            };
            to_mm = QTransform::fromTranslate(at("x", ask_.view.w), at("y", ask_.view.h)) * to_mm;
            return add(*it->second, within, to_mm, out, uses + 1);
        }
        static constexpr std::array shapes{"path", "rect", "circle", "ellipse", "polyline", "polygon", "line"};
        if (std::ranges::find(shapes, e.name) == shapes.end())
            return false;
        std::string rule = get(style, "clip-rule");
        if (rule.empty())
            rule = get(ask_.tree.rules.of(within, {}), "clip-rule");
        ArtShape s;
        s.rule = rule == "evenodd" ? FillRule::even_odd : FillRule::non_zero;
        s.outlines = chords(svg_shape(e, ask_.view, ask_.font_size, ask_.tell), to_mm, ask_.coarser);
        for (Outline& o : s.outlines)
            o.closed = true;
        out.push_back(std::move(s));
        return true;
    }

    const SvgClipAsk& ask_;
};

} // namespace

std::optional<Region> svg_clip(const SvgClipAsk& ask) {
    const SvgElement* clip = referred(ask.tree, ask.link);
    if (clip == nullptr || clip->name != "clipPath") {
        ask.tell("no_such_part", fmt::format("{} refers to \"{}\", which is not in the drawing.",
                                             name_in_file(ask.element), ask.link.substr(0, 40)));
        return std::nullopt;
    }
    return ClipReader(ask).read(*clip, 0);
}

Expected<ArtShape> clipped(ArtShape shape, const Region& to) {
    for (Outline& o : shape.outlines)
        o.closed = true; // an area is, whether its outline is or not
    return region_of(shape).and_then([&](const Region& whole) { return common(whole, to); }).map([&](Region left) {
        shape.outlines.clear();
        shape.lines.clear();
        shape.rule = FillRule::non_zero;
        for (auto& ring : left.rings)
            shape.outlines.push_back({std::move(ring), true});
        return std::move(shape);
    });
}

} // namespace finch
