// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/typed_art.h"

#include "formats/shipped_fonts.h"
#include "formats/svg_paint.h"
#include "formats/svg_text.h"
#include "piece/region.h"
#include "quantity/angles.h"
#include "quantity/scan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <QFontMetricsF>
#include <QGlyphRun>
#include <QRawFont>
#include <QTextLayout>

namespace finch {
namespace {

constexpr std::size_t shown_words = 40;
// Letters are small and many: within 5 um, and a thousandth of each curve, they are a tenth of a spot off, and a tray
// of numbers stays a job that the record can hold.
constexpr double letter_chords = coarse_chords;

QFont font_of(const TypedText& text, std::vector<ArtFinding>& findings) {
    const QString family = installed_family(text.font);
    if (family.isEmpty())
        findings.push_back({"text.font",
                            {},
                            text.at,
                            {},
                            false,
                            fmt::format("The font \"{}\" of \"{}\" is not installed: IBM Plex Sans is taken.",
                                        shortened(text.font, shown_words), text.name)});
    QFont font = outline_font(family.isEmpty() ? QStringLiteral("IBM Plex Sans") : family);
    font.setBold(text.bold);
    return font;
}

/// One line, without what cannot be seen.
QString one_line(const std::string& words) {
    QString out = QString::fromStdString(words);
    for (QChar& c : out)
        if (!c.isPrint() && !c.isSurrogate())
            c = u' ';
    return out;
}

std::string lacking(const QString& line, const QFont& font) {
    // Of this very font: where others are installed, metrics count what those would lend.
    const QRawFont itself = QRawFont::fromFont(font);
    QString out;
    for (const uint c : line.toUcs4())
        if (!itself.supportsCharacter(c) && !out.contains(QString::fromUcs4(reinterpret_cast<const char32_t*>(&c), 1)))
            out += QString::fromUcs4(reinterpret_cast<const char32_t*>(&c), 1); // NOLINT: as the library has them
    return out.toStdString();
}

/// Where a glyph goes: from places in mm whose base line runs along x from the text's beginning, y up.
QTransform glyph_place(const TypedText& text, double middle_mm, double width_mm) {
    const double from = text.end == TextEnd::first ? 0 : text.end == TextEnd::middle ? -0.5 * width_mm : -width_mm;
    QTransform out;
    out.translate(text.at.x, text.at.y);
    if (text.mirrored)
        out.scale(-1, 1);
    out.rotate(text.turn_deg);
    if (text.radius_mm == 0)
        return out.translate(from, 0);
    // Upright at the top of the circle, or at its bottom where it hangs in it; along it by the middle of each glyph.
    const double r = text.radius_mm;
    out.rotate(-(from + middle_mm) / r * 180 / pi);
    return out.translate(-middle_mm, r);
}

} // namespace

bool is_blank(const std::string& words) {
    return one_line(words).trimmed().isEmpty();
}

Expected<ArtShape> text_shape(const TypedText& text, const std::string& words, std::vector<ArtFinding>& findings) {
    if (!has_fonts())
        return failure("text.no_fonts", "Texts cannot be drawn here.", "Start the program as an application.");
    const QFont font = font_of(text, findings);
    const QString line = one_line(words);
    if (const std::string none = lacking(line, font); !none.empty())
        findings.push_back({"text.glyph",
                            {},
                            text.at,
                            {},
                            false,
                            fmt::format("The font of \"{}\" lacks \"{}\": another one lends it, or a box stands there.",
                                        text.name, shortened(none, shown_words))});
    const double capital = QFontMetricsF(font).capHeight();
    const double scale = text.height_mm / (capital > 0 ? capital : 0.7 * outline_px);
    QTextLayout layout(line, font);
    layout.beginLayout();
    QTextLine laid = layout.createLine();
    laid.setLineWidth(1e9);
    layout.endLayout();
    const double width_mm = scale * laid.naturalTextWidth(), base = laid.ascent();
    ArtShape out{text.name, 0, FillRule::non_zero, {}, {}, 0};
    for (const QGlyphRun& run : laid.glyphRuns()) {
        const QRawFont raw = run.rawFont();
        const auto glyphs = run.glyphIndexes();
        const auto places = run.positions();
        const auto advances = raw.advancesForGlyphIndexes(glyphs);
        for (qsizetype i = 0; i < glyphs.size(); ++i) {
            const QPainterPath path = raw.pathForGlyph(glyphs[i]);
            if (path.isEmpty())
                continue;
            const double left_mm = scale * places[i].x(), middle_mm = left_mm + 0.5 * scale * advances[i].x();
            const QTransform in_line =
                QTransform(scale, 0, 0, -scale, left_mm, scale * (base - places[i].y())); // y up from the base line
            for (Outline& o : chords(path, in_line * glyph_place(text, middle_mm, width_mm), letter_chords))
                if (o.points.size() > 2) {
                    o.closed = true;
                    out.outlines.push_back(std::move(o));
                }
        }
    }
    if (out.outlines.empty())
        return failure("text.blank", fmt::format("\"{}\" shows nothing.", text.name), "Type some words, or remove it.",
                       {{}, 0, "words"});
    return out;
}

Expected<void> add_texts(Artwork& art, const TypedTexts& typed, int piece) {
    for (const TypedText& text : typed.texts) {
        if (std::ranges::any_of(art.layers,
                                [&](const ArtLayer& l) { return l.name == text.name && l.colour == typed_colour; }))
            return failure("text.layer", fmt::format("The drawing has a layer \"{}\" already.", text.name),
                           "Call the text otherwise.", {{}, 0, "name"});
        const auto words = words_on(text, typed.series, piece);
        if (!words)
            return tl::unexpected(words.error());
        if (varies(text) && is_blank(*words)) { // on another piece it may say something
            art.findings.push_back({"text.blank",
                                    layer_of(art, text.name, typed_colour),
                                    {},
                                    {},
                                    false,
                                    fmt::format("\"{}\" says nothing on piece {}.", text.name, piece)});
            continue;
        }
        std::vector<ArtFinding> findings;
        auto shape = text_shape(text, *words, findings);
        if (!shape)
            return tl::unexpected(shape.error());
        shape->layer = layer_of(art, text.name, typed_colour);
        const bool off = std::ranges::any_of(shape->outlines, [&](const Outline& o) {
            return std::ranges::any_of(o.points, [&](const PointMm& p) {
                return p.x < 0 || p.y < 0 || p.x > art.width_mm || p.y > art.height_mm;
            });
        });
        if (off)
            findings.push_back({"text.off_page",
                                {},
                                shape->outlines.front().points.front(),
                                {},
                                false,
                                fmt::format("\"{}\" leaves the page.", shortened(*words, shown_words))});
        for (ArtFinding& f : findings) {
            f.layer = shape->layer;
            art.findings.push_back(std::move(f));
        }
        art.shapes.push_back(std::move(*shape));
    }
    return {};
}

Artwork blank_page(double width_mm, double height_mm) {
    Artwork art;
    art.width_mm = width_mm;
    art.height_mm = height_mm;
    ArtShape edge{"page", layer_of(art, "page", "#808080"), FillRule::non_zero, {}, {}, 0};
    edge.outlines.push_back({{{0, 0}, {width_mm, 0}, {width_mm, height_mm}, {0, height_mm}}, true});
    art.shapes.push_back(std::move(edge));
    return art;
}

Expected<NumberedPart> numbered(Job part, const TypedTexts& typed, const PlaceRules& rules) {
    NumberedPart out{{}, rules, {}};
    const bool any = std::ranges::any_of(typed.texts, varies);
    if (rules.holding != Holding::tray || !any) {
        out.job = std::move(part);
        return out;
    }
    const auto pieces = pieces_on(typed, nests_filled(rules.tray));
    if (!pieces)
        return tl::unexpected(pieces.error());
    out.rules.tray.filled = static_cast<int>(pieces->size());
    out.job = part;
    out.job.layers.clear();
    std::size_t off_page = 0, blank = 0;
    for (const JobLayer& layer : part.layers) {
        const auto text = std::ranges::find_if(typed.texts, [&](const TypedText& t) {
            return t.name == layer.name && layer.colour == typed_colour && varies(t);
        });
        if (text == typed.texts.end()) {
            out.job.layers.push_back(layer);
            continue;
        }
        std::map<std::string, std::size_t> of; // wordings by where their layer is
        for (std::size_t i = 0; i < pieces->size(); ++i) {
            const auto words = words_on(*text, typed.series, pieces->at(i));
            if (!words)
                return tl::unexpected(words.error());
            const int nest = static_cast<int>(i) + 1;
            if (is_blank(*words)) {
                ++blank;
                continue;
            }
            if (const auto known = of.find(*words); known != of.end()) {
                out.job.layers[known->second].only_at.push_back(nest);
                continue;
            }
            std::vector<ArtFinding> said; // of the font, which was told of the first piece
            const auto shape = text_shape(*text, *words, said);
            if (!shape)
                return tl::unexpected(shape.error());
            auto region = region_of(*shape);
            if (!region)
                return tl::unexpected(region.error());
            off_page += std::ranges::any_of(region->rings, [&](const auto& ring) {
                return std::ranges::any_of(ring, [&](const PointMm& p) {
                    return p.x < 0 || p.y < 0 || p.x > part.width_mm || p.y > part.height_mm;
                });
            });
            of.emplace(*words, out.job.layers.size());
            JobLayer one = layer;
            one.region = std::move(*region);
            one.inset_mm = 0;
            auto so = layer.guide ? Expected<JobLayer>(one)
                                  : filled(one, {layer.by_shape, layer.one_way, layer.inset_mm, layer.contours});
            if (!so)
                return tl::unexpected(so.error());
            so->words = *words;
            so->only_at = {nest};
            out.job.layers.push_back(std::move(*so));
        }
    }
    if (!out.job.steps.empty()) {
        out.job.steps.clear();
        out.findings.push_back(
            {"text.steps", Severity::warning, std::nullopt,
             "The order against heat is of one drawing: with texts that differ it is marked layer by "
             "layer.",
             "Leave pauses between the parts where they warm up."});
    }
    if (off_page > 0)
        out.findings.push_back({"text.off_page", Severity::warning, std::nullopt,
                                fmt::format("{} texts leave the page of their part.", off_page),
                                "Make them smaller, or shorten the longest."});
    if (blank > 0)
        out.findings.push_back({"text.blank",
                                Severity::note,
                                std::nullopt,
                                fmt::format("{} parts have nothing to say in a text: it is left out there.", blank),
                                {}});
    return out;
}

} // namespace finch
