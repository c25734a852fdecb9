// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/place_words.h"

#include "formats/job_outlines.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

PlacePicture place_picture(const PlacedPiece& piece, const PlaceRules& rules) {
    const Job& job = piece.placed.job;
    PlacePicture out;
    JobOutlines drawn = job_outlines(job);
    out.marks = std::move(drawn.marks), out.guides = std::move(drawn.guides);
    const QRectF one = out.marks.boundingRect().united(out.guides.boundingRect());
    const auto [width, height] = drawn_size(job);
    out.width_mm = width;
    out.height_mm = height;
    bool in_parts = false;
    for (const JobPlace& p : places_of(job)) {
        PlacePicture::Part part{p.number, {}, p.by, !p.only};
        if (p.only) {
            in_parts = true;
            part.box = QRectF(p.only->x, p.only->y, p.only->w, p.only->h);
            part.by = {};
        } else
            part.box = rules.holding == Holding::tray ? one.translated(p.by.x, p.by.y)
                                                      : QRectF(p.by.x, p.by.y, job.width_mm, job.height_mm);
        part.own = own_outlines(job, p);
        out.parts.push_back(part);
    }
    if (!in_parts) {
        const double field = in_mm(job.setup.bench.lens().field);
        out.field = QRectF(0.5 * (job.width_mm - field), 0.5 * (job.height_mm - field), field, field);
    }
    if (!out.parts.empty())
        out.up_deg = rules.turn_deg;
    out.numbered = rules.holding != Holding::as_drawn;
    out.words = place_words(piece, rules);
    return out;
}

QString place_words(const PlacedPiece& piece, const PlaceRules& rules) {
    const Job& job = piece.placed.job;
    const std::size_t n = places_of(job).size();
    const PlacedTime& t = piece.time;
    const QString marking =
        QObject::tr("%1 (%2 to %3)")
            .arg(screen_duration(t.marking.likely), screen_duration(t.marking.low), screen_duration(t.marking.high));
    switch (rules.holding) {
    case Holding::as_drawn:
        return QObject::tr("%1 × %2 mm on the work; marking takes %3.")
            .arg(screen_number(job.width_mm), screen_number(job.height_mm), marking);
    case Holding::tray: {
        QString words = QObject::tr("Nests: %1, marked in %2 a tray").arg(n).arg(marking);
        if (piece.placed.batch) {
            const Batch& b = *piece.placed.batch;
            if (rules.wanted > 0)
                words += QObject::tr("; load %1 so that %2 come out good in 19 of 20 batches: trays %3, on the last %4")
                             .arg(b.load)
                             .arg(rules.wanted)
                             .arg(b.trays)
                             .arg(b.on_last);
            words += QObject::tr(". With one tray %1 in all, with two that are changed in turn %2.")
                         .arg(screen_duration(b.one_tray_s), screen_duration(b.two_trays_s));
        }
        return words;
    }
    case Holding::tiles:
        return QObject::tr("Tiles: %1 of %2 × %3 mm; marking takes %4, lining up %5 at the moves between.")
            .arg(n)
            .arg(screen_number(job.places.front().only->w), screen_number(job.places.front().only->h), marking,
                 screen_duration(t.moving_s));
    case Holding::round: {
        const RoundPlan& plan = *piece.placed.round;
        const StripChoice& c = plan.choices[plan.taken];
        return QObject::tr(
                   "⌀ %1 mm at the middle of the mark, %2 mm round; strips: %3 of %4° = %5 steps, lines in each: "
                   "%6, %7 µm apart (%8 %). Sag and taper take ±%9 mm")
                   .arg(screen_number(plan.diameter_mm, 4), screen_number(plan.wrap_mm, 5))
                   .arg(c.strips)
                   .arg(screen_number(c.strip_deg))
                   .arg(c.steps_each)
                   .arg(c.lines_each)
                   .arg(screen_number(1000 * c.pitch_mm, 4),
                        (c.pitch_change > 0 ? u"+"_s : QString()) + screen_number(100 * c.pitch_change, 2),
                        screen_number(c.room_mm, 2)) +
               QObject::tr(" of ±%1 mm. Marking takes %2, turning %3.")
                   .arg(screen_number(plan.half_depth_mm, 2), marking, screen_duration(t.moving_s));
    }
    }
    return {};
}

QString holding_words(const PlaceRules& rules) {
    QStringList words;
    if (rules.mirrored)
        words << QObject::tr("mirrored");
    if (rules.turn_deg != 0)
        words << QObject::tr("turned by %1°").arg(screen_number(rules.turn_deg));
    switch (rules.holding) {
    case Holding::as_drawn:
        if (!(rules.shift == PointMm{}))
            words << QObject::tr("off the middle");
        break;
    case Holding::tray:
        words << QObject::tr("%1 in a tray").arg(rules.tray.columns * rules.tray.rows);
        break;
    case Holding::tiles:
        words << QObject::tr("in tiles");
        break;
    case Holding::round:
        words << QObject::tr("round a turned part");
        break;
    }
    return words.join(QStringLiteral(", "));
}

} // namespace finch::app
