// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_view.h"

#include "app/session/words.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString seconds_words(double s) {
    return screen_duration(s);
}

/// A mended fault is well; what the program took another way than the file says wants a look.
State state_of(const ArtFinding& f) {
    const bool plain = f.code == "text" || f.code == "hidden" || f.code == "unpainted";
    return f.closed ? State::ok : plain ? State::unknown : State::warn;
}

} // namespace

std::vector<LayerPath> layer_paths(const ReadPiece& piece) {
    std::vector<LayerPath> out(piece.drawing.regions.size());
    const auto add = [](QPainterPath& path, const std::vector<PointMm>& points, bool closed) {
        QPolygonF polygon;
        for (const PointMm& p : points)
            polygon << QPointF(p.x, p.y);
        path.addPolygon(polygon);
        if (closed)
            path.closeSubpath();
    };
    for (std::size_t l = 0; l < out.size(); ++l) {
        for (const auto& ring : piece.drawing.regions[l].rings)
            add(out[l].area, ring, true);
        const auto is_area = [l](const ArtShape& s) { return s.layer == l && s.lines.empty(); };
        if (std::ranges::none_of(piece.drawing.art.shapes, is_area))
            for (const ArtShape& s : piece.drawing.art.shapes)
                if (s.layer == l)
                    for (const Outline& line : s.lines)
                        add(out[l].middle, line.points, line.closed);
    }
    return out;
}

DrawingPicture drawing_picture(const PieceReader& reader, const Bench& bench, const std::vector<LayerPath>& paths,
                               std::optional<std::size_t> layer, std::optional<std::size_t> finding) {
    DrawingPicture p;
    p.field_mm = in_mm(bench.lens().field);
    p.empty = reader.running() ? QObject::tr("Reading the drawing…")
              : reader.reason().isEmpty()
                  ? QObject::tr("Drop a drawing here, or open one: SVG, DXF, or a black and white picture.")
                  : reader.reason();
    const ReadPiece* piece = reader.piece();
    if (piece == nullptr)
        return p;
    p.width_mm = piece->drawing.art.width_mm;
    p.height_mm = piece->drawing.art.height_mm;
    const auto layers = reader.layers();
    for (std::size_t i = 0; i < layers.size(); ++i) {
        const LayerPath& path = paths.at(layers[i].index);
        const bool as_lines = layers[i].choice.guide && !path.middle.isEmpty();
        p.layers.push_back({as_lines ? path.middle : path.area, from_utf8(layers[i].choice.name),
                            static_cast<int>(layers[i].index), layers[i].choice.guide, layer && *layer == i});
    }
    const auto findings = reader.findings();
    for (std::size_t i = 0; i < findings.size(); ++i)
        if (const ArtFinding& f = findings[i]; f.at)
            p.marks.push_back({QPointF(f.at->x, f.at->y), state_of(f), finding && *finding == i});
    if (piece->drawing.art.layers.empty())
        p.empty = QObject::tr("There is nothing in this drawing that could be marked.");
    return p;
}

std::vector<LayerRowView> layer_rows(const PieceReader& reader, std::optional<std::size_t> chosen) {
    std::vector<LayerRowView> out;
    const ReadPiece* piece = reader.piece();
    const auto layers = reader.layers();
    for (std::size_t i = 0; i < layers.size(); ++i) {
        const PieceLayer& l = layers[i];
        LayerRowView v;
        v.name = l.words.empty() ? from_utf8(l.choice.name)
                                 : QObject::tr("%1: \u201c%2\u201d").arg(from_utf8(l.choice.name), from_utf8(l.words));
        v.texture = static_cast<int>(l.index);
        v.guide = l.choice.guide;
        v.settled = l.choice.guide || (l.choice.recipe && !l.taken_elsewhere);
        v.chosen = chosen && *chosen == i;
        v.recipe = l.choice.guide ? QObject::tr("guide: shown by the pointer, never marked")
                   : l.taken_elsewhere
                       ? QObject::tr("taken on another bench, lens or stock: ") + recipe_line(*l.choice.recipe)
                   : l.choice.recipe ? recipe_line(*l.choice.recipe)
                                     : QObject::tr("no recipe yet");
        v.area = l.choice.guide ? u"0"_s : screen_number(piece->area_mm2.at(l.index), 4);
        v.time = l.work != nullptr                                        ? seconds_words(l.time.likely)
                 : l.choice.recipe && !l.choice.guide && reader.running() ? u"…"_s
                                                                          : u"\u2013"_s;
        out.push_back(std::move(v));
    }
    return out;
}

std::vector<FindingRowView> finding_rows(const std::vector<ArtFinding>& findings, std::optional<std::size_t> chosen) {
    std::vector<FindingRowView> out;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        const ArtFinding& f = findings[i];
        out.push_back({state_of(f), from_utf8(f.text), f.at.has_value(), chosen && *chosen == i});
    }
    if (out.empty())
        out.push_back({State::ok, QObject::tr("Nothing is wrong with this drawing."), false, false});
    return out;
}

namespace {

/// What filling the other way would save, and what that does to the metal.
QString fill_words(const PieceLayer& l) {
    constexpr double worth_it = 0.9;
    if (!(l.other.likely < worth_it * l.time.likely))
        return l.choice.fill.by_shape ? QObject::tr("Filled shape by shape. ") : QString();
    if (l.choice.fill.by_shape)
        return QObject::tr("Line by line it would take %1. ").arg(seconds_words(l.other.likely));
    return QObject::tr(
               "Shape by shape it would take %1; neighbouring lines would follow each other sooner and run warmer, "
               "as in a small cell of a sheet. ")
        .arg(seconds_words(l.other.likely));
}

} // namespace

std::optional<LensPicture> lens_picture(const PieceReader& reader, const Bench& bench,
                                        const std::vector<LayerPath>& paths, std::optional<std::size_t> layer,
                                        std::optional<std::size_t> finding) {
    const ReadPiece* piece = reader.piece();
    const auto layers = reader.layers();
    if (piece == nullptr || layers.empty())
        return std::nullopt;
    const auto findings = reader.findings();
    const bool at_fault = finding && *finding < findings.size() && findings[*finding].at;
    std::size_t shown = layer.value_or(0);
    if (at_fault && findings[*finding].layer)
        for (std::size_t i = 0; i < layers.size(); ++i)
            if (layers[i].index == *findings[*finding].layer)
                shown = i;
    if (shown >= layers.size())
        return std::nullopt;
    const PieceLayer& l = layers[shown];
    LensPicture p;
    p.area = paths.at(l.index).area;
    p.spot_mm = in_mm(waist(bench.lens(), bench.source.wavelength).spot);
    const QString name = from_utf8(l.choice.name);
    if (at_fault)
        p.at = QPointF(findings[*finding].at->x, findings[*finding].at->y);
    else if (l.work != nullptr && !l.work->hatch.runs.empty()) {
        // At the beginning of the middle line, where its edge shows as well.
        const HatchRun& r = l.work->hatch.runs.at(l.work->hatch.line_start.at(l.work->hatch.line_start.size() / 2));
        p.at = QPointF(r.from.x, r.from.y);
    } else if (!p.area.isEmpty())
        p.at = QPointF(p.area.elementAt(0));
    if (l.work == nullptr) {
        p.across_mm = 6 * p.spot_mm;
        p.words = l.choice.guide ? QObject::tr("%1 is a guide: no line is marked.").arg(name)
                                 : QObject::tr("%1 has no recipe yet. The ring is the spot of %2 µm.")
                                       .arg(name, screen_number(1e3 * p.spot_mm));
    } else {
        const Setting& s = l.choice.recipe->setting;
        const double pitch = in_mm(s.hatch_pitch);
        p.across_mm = std::clamp(12 * pitch, 1.6 * p.spot_mm, 6 * p.spot_mm);
        const double reach = p.across_mm;
        for (const HatchRun& r : l.work->hatch.runs) {
            const QRectF box = QRectF(QPointF(r.from.x, r.from.y), QPointF(r.to.x, r.to.y)).normalized();
            if (box.adjusted(-reach, -reach, reach, reach).contains(p.at))
                p.runs.emplace_back(r.from.x, r.from.y, r.to.x, r.to.y);
        }
        const int passes = l.work->load.passes;
        const double length_mm = marked_mm(l.work->load);
        const double marking_s = passes * length_mm / in_mm_per_second(s.scan_speed);
        p.words = QObject::tr("%1: %2 µm apart at %3°, %4 m in a pass of %5. ")
                      .arg(name, screen_number(1e3 * pitch), screen_number(s.hatch_angle_deg),
                           screen_number(1e-3 * length_mm), seconds_words(l.time.likely / passes)) +
                  (l.time.likely > 0 ? QObject::tr("%1 % of it marks, the rest are jumps and delays. ")
                                           .arg(screen_number(std::round(100 * marking_s / l.time.likely), 2))
                                     : QString()) +
                  (passes > 1 ? QObject::tr("%1 passes. ").arg(passes) : QString()) + fill_words(l) +
                  QObject::tr("The ring is the spot of %1 µm.").arg(screen_number(1e3 * p.spot_mm));
    }
    return p;
}

namespace {

/// The largest part of a scan that marks nothing, in words; empty where most of the time is marking.
QString idle_words(const TimeParts& parts) {
    if (parts.marking > 0.6 * parts.total())
        return {};
    const std::pair<double, QString> idle[] = {{parts.turning, QObject::tr("speeding up and switching at every line")},
                                               {parts.jumping, QObject::tr("jumps")},
                                               {parts.settling, QObject::tr("waiting after jumps")},
                                               {parts.passes, QObject::tr("the overhead of passes")}};
    const auto& most = *std::ranges::max_element(idle, {}, [](const auto& part) { return part.first; });
    return QObject::tr(" (%1 % of that is %2)")
        .arg(screen_number(std::round(100 * most.first / parts.total()), 2), most.second);
}

} // namespace

std::vector<PartsBar::Part> layer_parts(const std::vector<PieceLayer>& layers) {
    std::vector<PartsBar::Part> out;
    for (const PieceLayer& l : layers)
        out.push_back(
            {l.time.likely, static_cast<int>(l.index), from_utf8(l.choice.name), screen_duration(l.time.likely)});
    return out;
}

QString time_words(const PieceReader& reader) {
    int marked = 0;
    const PieceLayer* slowest = nullptr;
    std::vector<ScanLoad> loads;
    const auto layers = reader.layers();
    for (const PieceLayer& l : layers) {
        marked += l.choice.guide ? 0 : 1;
        if (l.work == nullptr)
            continue;
        loads.push_back(l.work->load);
        if (slowest == nullptr || l.time.likely > slowest->time.likely)
            slowest = &l;
    }
    if (slowest == nullptr)
        return QObject::tr("A layer with a recipe is hatched and timed here.");
    const TimeBand t = time_of(reader.scanner(), loads);
    const QString band =
        QObject::tr("%1 (%2 to %3)").arg(seconds_words(t.likely), seconds_words(t.low), seconds_words(t.high));
    QString words = marked == 1 ? QObject::tr("%1 for the one layer to mark").arg(band)
                                : QObject::tr("%1 for %2 of %3 layers to mark").arg(band).arg(loads.size()).arg(marked);
    const QString idle = idle_words(time_parts(reader.scanner().timing, slowest->work->load));
    if (loads.size() > 1)
        words += QObject::tr("; %1 takes %2 % of it")
                     .arg(from_utf8(slowest->choice.name),
                          screen_number(std::round(100 * slowest->time.likely / t.likely), 2));
    const std::size_t runs = reader.scanner().runs;
    const auto steps = reader.steps();
    const double pauses = paused_s(steps);
    QString order;
    if (pauses > 0)
        order = QObject::tr("; an order against heat adds %1 of pauses").arg(seconds_words(pauses));
    else if (!steps.empty())
        order = QObject::tr("; in an order against heat");
    return words + idle + order +
           (runs == 0 ? QObject::tr(". Scanner as it usually is, not timed; loading and cleaning not counted.")
                      : QObject::tr(". Scanner fitted to %1 timed runs; loading and cleaning not counted.").arg(runs));
}

QString scanner_words(const Scanner& scanner, const PieceReader& reader) {
    constexpr double odd = 0.04; // the form of the model is within a hundredth or two of most scanners
    const ScannerKnowledge k = fitted(scanner);
    const ScannerTiming& t = k.timing;
    QString words =
        (k.runs == 0 ? QObject::tr("As scanners usually are: ") : QObject::tr("By %1 timed runs: ").arg(k.runs)) +
        QObject::tr(
            "jumps at %1 mm/s, %2 µs until the laser may fire after a short one, %3 µs of switching at each line, "
            "%4 s for each pass.")
            .arg(screen_number(t.jump_mm_s, 2), screen_number(1e6 * settle_time_s(t, 0.1), 2),
                 screen_number(t.on_us + t.off_us, 2), screen_number(t.pass_s, 2));
    std::vector<ScanLoad> loads;
    for (const PieceLayer& l : reader.layers())
        if (l.work != nullptr)
            loads.push_back(l.work->load);
    if (!loads.empty()) {
        const TimeBand band = time_of(k, loads);
        words += QObject::tr(" The piece takes %1 (%2 to %3).")
                     .arg(seconds_words(band.likely), seconds_words(band.low), seconds_words(band.high));
    }
    if (k.runs > 1 && std::abs(k.oddest_share) > odd)
        words += QObject::tr(" \"%1\" took %2 % %3 than the rest says: time it again.")
                     .arg(from_utf8(scanner.timed.at(k.oddest).name), screen_number(std::abs(100 * k.oddest_share), 2),
                          k.oddest_share > 0 ? QObject::tr("longer") : QObject::tr("less"));
    return words;
}

} // namespace finch::app
