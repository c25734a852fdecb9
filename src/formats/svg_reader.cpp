// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_reader.h"

#include "formats/shipped_fonts.h"
#include "formats/svg_clip.h"
#include "formats/svg_paint.h"
#include "formats/svg_path.h"
#include "formats/svg_shape.h"
#include "formats/svg_text.h"
#include "formats/svg_tree.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <memory>
#include <set>

namespace finch {
namespace {

constexpr double mm_per_px = 25.4 / 96;
constexpr int deepest_use = 20;
constexpr std::size_t most_elements_drawn = 200'000, most_svg_findings = 200, most_clip_points = 2'000'000;

/// What an element hands down.
struct Inherited {
    QTransform to_mm;
    SvgDeclarations style;
    SvgView view;
    double font_size = 16, opacity = 1;
    std::string group;                  ///< label of the outermost group
    std::shared_ptr<const Region> clip; ///< nothing outside of it is drawn; null: all is
    int uses = 0;
};

bool one_of(std::string_view name, std::initializer_list<std::string_view> names) {
    return std::ranges::find(names, name) != names.end();
}

constexpr std::array<std::string_view, 11> not_inherited{"display",    "opacity",    "clip-path",     "mask",
                                                         "filter",     "transform",  "vector-effect", "marker-start",
                                                         "marker-mid", "marker-end", "stop-color"};

class SvgDrawing {
public:
    SvgDrawing(const SvgTree& tree, double coarser) : tree_(tree), coarser_(coarser) {}

    Expected<Artwork> read() {
        if (!tree_.broken.empty())
            tell("broken_off",
                 fmt::format("The file breaks off in line {}; what stands before that was kept.", tree_.broken_line));
        for (const std::string& rule : tree_.rules.unread)
            not_read(fmt::format("the style rule \"{}\"", rule.substr(0, 40)));
        Inherited top;
        page(top);
        draw_children(tree_.root, own(tree_.root, top));
        if (too_much_)
            return failure("svg.too_much", "The drawing holds more than can be worked with at once.",
                           "Split it, or simplify its curves where it was drawn.");
        tell_letters();
        finish_page();
        name_layers();
        return std::move(art_);
    }

private:
    // ---- what is told ----
    void tell(const std::string& code, const std::string& text, std::optional<std::size_t> layer = {},
              std::optional<PointMm> at = {}) {
        if (art_.findings.size() < most_svg_findings && told_.insert(code + text).second)
            art_.findings.push_back({code, layer, at, {}, false, text});
    }
    void not_read(const std::string& what) {
        tell("not_read", fmt::format("The program does not read {}; the rest was kept.", what));
    }
    // ---- lengths ----
    double length(const SvgElement& e, const char* name, double percent_of, double otherwise, const Inherited& in) {
        return svg_attribute(e, name, percent_of, otherwise, in.font_size, tell_);
    }
    // ---- the page ----
    void page(Inherited& top) {
        const SvgElement& e = tree_.root;
        const auto box = svg_view_box(e);
        const bool sized = e.has("width") && e.has("height") && e.get("width").find('%') == std::string_view::npos &&
                           e.get("height").find('%') == std::string_view::npos;
        double w = length(e, "width", box ? (*box)[2] : 0, box ? (*box)[2] : 0, top),
               h = length(e, "height", box ? (*box)[3] : 0, box ? (*box)[3] : 0, top);
        if (box && e.has("width") != e.has("height")) // the other follows the box
            (e.has("width") ? h : w) = e.has("width") ? w * (*box)[3] / (*box)[2] : h * (*box)[2] / (*box)[3];
        sized_ = w > 0 && h > 0 && std::max(w, h) * mm_per_px < farthest_mm;
        if (!sized_) {
            tell("no_page", "The drawing does not say how large its page is: the page was put round what is drawn, at "
                            "96 units to the inch.");
            w = h = 0;
        } else if (!sized || std::isdigit(static_cast<unsigned char>(e.get("width").back())) != 0 ||
                   e.get("width").ends_with("px"))
            tell("size_in_pixels",
                 fmt::format("The drawing's size is given in pixels; at 96 to the inch it is {:.2f} x "
                             "{:.2f} mm. Check that against the part.",
                             w * mm_per_px, h * mm_per_px));
        art_.width_mm = w * mm_per_px;
        art_.height_mm = h * mm_per_px;
        top.view = box ? SvgView{(*box)[2], (*box)[3]} : sized_ ? SvgView{w, h} : SvgView{};
        const QTransform to_px = box && sized_ ? svg_fitted(e, *box, w, h) : QTransform();
        top.to_mm = to_px * QTransform(mm_per_px, 0, 0, -mm_per_px, 0, art_.height_mm);
    }
    /// A page that was not given lies round what is drawn.
    void finish_page() {
        if (sized_)
            return;
        double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
        for (const ArtShape& s : art_.shapes)
            for (const Outline& o : s.outlines)
                for (const PointMm& p : o.points) {
                    left = std::min(left, p.x), right = std::max(right, p.x);
                    low = std::min(low, p.y), high = std::max(high, p.y);
                }
        if (right < left)
            return;
        art_.width_mm = right - left;
        art_.height_mm = high - low;
        for (ArtShape& s : art_.shapes)
            for (auto* list : {&s.outlines, &s.lines})
                for (Outline& o : *list)
                    for (PointMm& p : o.points)
                        p = {p.x - left, p.y - low};
        for (ArtFinding& f : art_.findings)
            if (f.at)
                f.at = PointMm{f.at->x - left, f.at->y - low};
    }

    // ---- style ----
    Inherited own(const SvgElement& e, const Inherited& in) {
        Inherited out = in;
        for (const std::string_view name : not_inherited)
            out.style.erase(std::string(name));
        for (auto& [name, value] : tree_.rules.of(e, within_))
            if (value == "inherit") {
                if (const auto it = in.style.find(name); it != in.style.end())
                    out.style[name] = it->second;
            } else
                out.style[name] = value;
        if (const auto it = out.style.find("font-size"); it != out.style.end())
            if (const auto v = svg_length(it->second, in.font_size, in.font_size)) {
                out.font_size = std::clamp(*v, 0.0, 1e5);
                it->second = fmt::format("{}px", out.font_size); // a share counts once
            }
        if (const auto it = out.style.find("opacity"); it != out.style.end())
            if (const auto v = svg_length(it->second, 1))
                out.opacity *= *v;
        for (const char* name : {"mask", "filter"})
            if (const auto it = out.style.find(name); it != out.style.end() && it->second != "none")
                tell("not_cut", fmt::format("{} has a {}: it is taken whole, without it.", name_in_file(e), name));
        for (const char* name : {"marker-start", "marker-mid", "marker-end"})
            if (const auto it = out.style.find(name); it != out.style.end() && it->second != "none")
                not_read(fmt::format("the markers of {}", name_in_file(e)));
        std::string_view moved = e.get("transform");
        if (const auto it = out.style.find("transform"); moved.empty() && it != out.style.end())
            moved = it->second;
        if (!moved.empty() && moved != "none") {
            if (const auto t = svg_transform(moved))
                out.to_mm = *t * in.to_mm;
            else
                not_read(fmt::format("the transform \"{}\" of {}", moved.substr(0, 40), name_in_file(e)));
        }
        if (const std::string_view link = get(out, "clip-path"); !link.empty() && link != "none")
            if (auto clip = svg_clip({tree_, e, link, out.to_mm, in.view, out.font_size, coarser_, tell_})) {
                auto both = in.clip ? common(*clip, *in.clip) : Expected<Region>(std::move(*clip));
                if (both)
                    out.clip = std::make_shared<const Region>(std::move(*both));
            }
        return out;
    }
    static std::string_view get(const Inherited& in, const char* name) {
        const auto it = in.style.find(name);
        return it == in.style.end() ? std::string_view{} : std::string_view(it->second);
    }

    // ---- elements ----
    void draw_children(const SvgElement& e, const Inherited& in) {
        within_.push_back(&e);
        for (const SvgElement& child : e.children)
            draw(child, in);
        within_.pop_back();
    }
    void draw(const SvgElement& e, const Inherited& parent) {
        if (too_much_ || e.name.empty() || e.foreign)
            return;
        if (++things_ > most_elements_drawn || within_.size() > 600) {
            too_much_ = true;
            return;
        }
        const std::string_view n = e.name;
        if (one_of(n, {"defs", "style", "title", "desc", "metadata", "symbol", "clipPath", "mask", "marker", "pattern",
                       "linearGradient", "radialGradient", "filter", "script", "view", "font", "cursor"}))
            return;
        Inherited in = own(e, parent);
        if (get(in, "display") == "none") {
            tell("hidden", fmt::format("{} is hidden in the drawing and was left out.", name_in_file(e)));
            return;
        }
        if (one_of(n, {"g", "a"})) {
            if (within_.size() == 1 || in.group.empty())
                in.group = std::string(e.get("label").empty() ? e.get("id") : e.get("label"));
            draw_children(e, in);
        } else if (n == "switch") {
            const auto it =
                std::ranges::find_if(e.children, [](const SvgElement& c) { return !c.name.empty() && !c.foreign; });
            if (it != e.children.end())
                draw(*it, in);
        } else if (n == "svg")
            nested(e, in, length(e, "width", in.view.w, in.view.w, in), length(e, "height", in.view.h, in.view.h, in));
        else if (n == "use")
            use(e, in);
        else if (n == "text")
            text(e, in);
        else if (one_of(n, {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}))
            paint(e, svg_shape(e, in.view, in.font_size, tell_), in);
        else
            not_read(fmt::format("<{}> ({})", n.substr(0, 30), name_in_file(e)));
    }
    void nested(const SvgElement& e, Inherited in, double w, double h) {
        in.to_mm =
            QTransform::fromTranslate(length(e, "x", in.view.w, 0, in), length(e, "y", in.view.h, 0, in)) * in.to_mm;
        if (const auto box = svg_view_box(e); box && w > 0 && h > 0) {
            in.to_mm = svg_fitted(e, *box, w, h) * in.to_mm;
            in.view = {(*box)[2], (*box)[3]};
        } else
            in.view = {w, h};
        draw_children(e, in);
    }
    void use(const SvgElement& e, Inherited in) {
        const std::string_view link = e.get("href");
        const auto it = link.starts_with("#") ? tree_.by_id.find(link.substr(1)) : tree_.by_id.end();
        if (it == tree_.by_id.end()) {
            tell("no_such_part",
                 fmt::format("{} refers to \"{}\", which is not in the drawing.", name_in_file(e), link.substr(0, 40)));
            return;
        }
        if (++in.uses > deepest_use || std::ranges::find(within_, it->second) != within_.end()) {
            tell("refers_to_itself", fmt::format("{} refers to itself and was left out.", name_in_file(e)));
            return;
        }
        in.to_mm =
            QTransform::fromTranslate(length(e, "x", in.view.w, 0, in), length(e, "y", in.view.h, 0, in)) * in.to_mm;
        within_.push_back(&e);
        const SvgElement& part = *it->second;
        if (part.name == "symbol") {
            Inherited inner = own(part, in);
            nested(part, inner, length(e, "width", in.view.w, in.view.w, in),
                   length(e, "height", in.view.h, in.view.h, in));
        } else
            draw(part, in);
        within_.pop_back();
    }

    // ---- text ----
    struct Pen {
        double x = 0, y = 0;
    };
    static std::string words(const SvgElement& e) {
        std::string out = e.text;
        for (const SvgElement& child : e.children)
            if (child.name.empty())
                out += child.text;
        return out;
    }
    void text(const SvgElement& e, const Inherited& in) {
        if (!has_fonts()) {
            not_read(fmt::format("text without a display of fonts ({})", name_in_file(e)));
            return;
        }
        Pen pen{first(e, "x", in.view.w, 0, in), first(e, "y", in.view.h, 0, in)};
        run(e, in, pen);
    }
    /// The first of a list of lengths; more of them place single letters, which is not done.
    double first(const SvgElement& e, const char* name, double percent_of, double otherwise, const Inherited& in) {
        if (!e.has(name))
            return otherwise;
        std::string_view s = e.get(name);
        const std::size_t end = s.find_first_of(" ,\t\n");
        if (end != std::string_view::npos) {
            not_read(fmt::format("places of single letters in {}", name_in_file(e)));
            s = s.substr(0, end);
        }
        return svg_length(s, percent_of, in.font_size).value_or(otherwise);
    }
    void run(const SvgElement& e, const Inherited& in, Pen& pen) {
        pen.x += first(e, "dx", in.view.w, 0, in);
        pen.y += first(e, "dy", in.view.h, 0, in);
        if (e.has("rotate") || e.has("textLength"))
            not_read(fmt::format("turned or stretched letters in {}", name_in_file(e)));
        within_.push_back(&e);
        for (const SvgElement& child : e.children) {
            if (child.name.empty())
                letters(e, child.text, in, pen);
            else if (child.name == "tspan" && !child.foreign) {
                const Inherited inner = own(child, in);
                if (child.has("x"))
                    pen.x = first(child, "x", in.view.w, pen.x, inner);
                if (child.has("y"))
                    pen.y = first(child, "y", in.view.h, pen.y, inner);
                if (get(inner, "display") != "none")
                    run(child, inner, pen);
            } else if (!child.foreign && !one_of(child.name, {"title", "desc"}))
                not_read(fmt::format("<{}> in text ({})", child.name.substr(0, 30), name_in_file(child)));
        }
        within_.pop_back();
    }
    void letters(const SvgElement& e, const std::string& raw, const Inherited& in, Pen& pen) {
        std::string line;
        for (const char c : raw)
            if (c == '\n' || c == '\t' || c == '\r' || c == ' ') {
                if (!line.empty() && line.back() != ' ')
                    line += ' ';
            } else
                line += c;
        if (line.empty() || line == " " || line.size() > 2000)
            return;
        TextLook look;
        if (const auto f = get(in, "font-family"); !f.empty())
            look.family = std::string(f);
        look.size = in.font_size;
        const auto weight = get(in, "font-weight");
        look.bold = weight == "bold" || weight == "bolder" || (weight.size() == 3 && weight[0] >= '6');
        look.italic = get(in, "font-style") == "italic" || get(in, "font-style") == "oblique";
        look.spacing = svg_length(get(in, "letter-spacing"), 0, in.font_size).value_or(0);
        const TextOutlines t = text_outlines(line, look);
        const auto anchor = get(in, "text-anchor");
        const double back = anchor == "middle" ? 0.5 : anchor == "end" ? 1 : 0;
        paint(e, t.path.translated(pen.x - back * t.width, pen.y), in);
        pen.x += (1 - back) * t.width;
        auto& [texts, asked] = letters_[{t.wanted, t.used}];
        texts.push_back(line);
        asked = look.family;
    }

    // ---- painting ----
    std::string colour_of(const SvgElement& e, const char* what, const char* otherwise, const Inherited& in) {
        const std::string_view value = get(in, what);
        std::string current = "#000000";
        if (const auto c = get(in, "color"); !c.empty())
            if (const auto p = svg_paint(c, current))
                current = p->colour;
        const auto paint = svg_paint(value.empty() ? otherwise : value, current);
        if (!paint) {
            not_read(
                fmt::format("the {} \"{}\" of {}; it was taken for black", what, value.substr(0, 40), name_in_file(e)));
            return "#000000";
        }
        const auto opacity =
            svg_length(get(in, what == std::string_view("fill") ? "fill-opacity" : "stroke-opacity"), 1);
        if (in.opacity <= 0 || (opacity && *opacity <= 0))
            return "none";
        if (!paint->server.empty()) {
            tell("shaded",
                 fmt::format("{} is filled with a gradient or pattern (\"{}\"): it was taken as one even area.",
                             name_in_file(e), paint->server.substr(0, 40)));
            return svg_first_colour(tree_, paint->server);
        }
        return paint->colour;
    }
    bool in_place(const SvgElement& e, const std::vector<Outline>& outlines) {
        std::size_t count = 0;
        for (const Outline& o : outlines) {
            count += o.points.size();
            for (const PointMm& p : o.points)
                if (!(std::abs(p.x) < farthest_mm && std::abs(p.y) < farthest_mm)) {
                    tell("too_far",
                         fmt::format("{} lies more than ten metres from the page and was left out.", name_in_file(e)));
                    return false;
                }
        }
        points_ += count;
        too_much_ = too_much_ || points_ > (coarser_ > 1 ? most_art_points : most_fine_points);
        return !too_much_ && count > 0;
    }
    void add(const SvgElement& e, ArtShape shape, const std::string& colour, const Inherited& in) {
        if (in.clip) {
            for (const auto& ring : in.clip->rings)
                clip_points_ += ring.size();
            if (clip_points_ > most_clip_points) {
                too_much_ = true;
                return;
            }
            auto left = clipped(std::move(shape), *in.clip);
            if (!left || left->outlines.empty())
                return tell("cut_away",
                            fmt::format("{} lies outside of its clip path: it marks nothing.", name_in_file(e)));
            shape = std::move(*left);
        }
        shape.name = name_in_file(e);
        shape.layer = layer_of(art_, colour, colour);
        art_.shapes.push_back(std::move(shape));
        groups_.push_back(in.group);
    }
    void paint(const SvgElement& e, const QPainterPath& path, const Inherited& in) {
        if (path.elementCount() < 2)
            return;
        if (const auto v = get(in, "visibility"); v == "hidden" || v == "collapse") {
            tell("hidden", fmt::format("{} is hidden in the drawing and was left out.", name_in_file(e)));
            return;
        }
        const std::string fill = e.name == "line" ? "none" : colour_of(e, "fill", "black", in);
        const std::string stroke = colour_of(e, "stroke", "none", in);
        if (fill == "none" && stroke == "none")
            tell("unpainted", fmt::format("{} is neither filled nor drawn: it marks nothing.", name_in_file(e)));
        if (fill != "none") {
            ArtShape s;
            s.rule = get(in, "fill-rule") == "evenodd" ? FillRule::even_odd : FillRule::non_zero;
            s.outlines = chords(path, in.to_mm, coarser_);
            // Nothing lies inside of one or two straight lines; more of them may meet.
            if (s.outlines.size() < 3 &&
                std::ranges::all_of(s.outlines, [](const Outline& o) { return o.points.size() < 3; }))
                s.outlines.clear();
            if (in_place(e, s.outlines))
                add(e, std::move(s), fill, in);
        }
        if (stroke == "none")
            return;
        const StrokeLook look = stroke_look(in.style, in.view.diagonal(), in.font_size, [&](const std::string& what) {
            not_read(fmt::format("{} of {}", what, name_in_file(e)));
        });
        if (get(in, "vector-effect") == "non-scaling-stroke")
            not_read(fmt::format("the stroke of {} that does not scale", name_in_file(e)));
        if (!(look.width > 0) || !in_place(e, chords(path, in.to_mm, coarser_)))
            return;
        StrokeArea area = stroke_area(path, look, in.to_mm, coarser_);
        if (!area.fine)
            tell("dashes",
                 fmt::format("{} has too many dashes to be cut one by one: it is drawn through.", name_in_file(e)));
        if (!in_place(e, area.outlines))
            return;
        ArtShape s;
        s.outlines = std::move(area.outlines);
        s.lines = std::move(area.lines);
        s.stroke_mm = area.narrowest_mm;
        add(e, std::move(s), stroke, in);
    }
    /// A layer that lies in one named group is called after it.
    void name_layers() {
        for (std::size_t l = 0; l < art_.layers.size(); ++l) {
            std::optional<std::string> name;
            bool one = true;
            for (std::size_t i = 0; i < art_.shapes.size(); ++i)
                if (art_.shapes[i].layer == l) {
                    one = one && (!name || *name == groups_[i]);
                    name = groups_[i];
                }
            const auto used =
                std::ranges::any_of(art_.layers, [&](const ArtLayer& a) { return name && a.name == *name; });
            if (one && name && !name->empty() && !used)
                art_.layers[l].name = name->substr(0, 80);
        }
    }

    /// One finding for each font, whatever is written in it.
    void tell_letters() {
        for (const auto& [font, written] : letters_) {
            const auto& [texts, asked] = written;
            const std::string what =
                texts.size() == 1 ? fmt::format("\"{}\" is text", texts.front().substr(0, 40))
                                  : fmt::format("{} texts (\"{}\" first)", texts.size(), texts.front().substr(0, 40));
            if (font.first)
                tell("text", fmt::format("{}: outlines were taken from {}.", what, font.second));
            else
                tell("font_missing",
                     fmt::format("{}: {} is not installed; outlines were taken from {} and have another "
                                 "width.",
                                 what, asked.substr(0, 60), font.second));
        }
    }

    const SvgTree& tree_;
    double coarser_;
    const SvgTell tell_ = [this](const std::string& code, const std::string& text) { tell(code, text); };
    Artwork art_;
    std::vector<std::string> groups_; ///< of each shape
    std::vector<const SvgElement*> within_;
    std::set<std::string> told_;
    std::map<std::pair<bool, std::string>, std::pair<std::vector<std::string>, std::string>> letters_; ///< by font
    std::size_t things_ = 0, points_ = 0, clip_points_ = 0;
    bool sized_ = true, too_much_ = false;
};

} // namespace

Expected<Artwork> read_svg(std::string_view bytes) {
    SvgTree tree;
    if (const auto read = tree.read(bytes); !read)
        return tl::unexpected(read.error());
    auto art = SvgDrawing(tree, 1).read();
    // Tens of thousands of curves are no detail: coarser chords, and it is said.
    if (!art && art.error().code == "svg.too_much")
        if (art = SvgDrawing(tree, coarse_chords).read(); art)
            art->findings.push_back(coarse_finding());
    return art;
}

} // namespace finch
