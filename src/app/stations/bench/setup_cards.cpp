// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/bench/setup_cards.h"

#include "app/session/text.h"
#include "bench/column.h"
#include "bench/field.h"
#include "bench/focus_arithmetic.h"
#include "bench/round_part.h"

#include <cmath>
#include <numbers>
#include <QPainterPath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString mm_text(double v, int digits = 3) {
    return screen_number(v, digits) + u" mm"_s;
}

QString um_text(double mm_value) {
    return screen_number(mm_value * 1000, 3) + u" µm"_s;
}

CardResult refused(const Error& e) {
    CardResult r;
    r.fault = QString::fromStdString(e.message + " " + e.fix);
    return r;
}

BeamWaist beam_of(const Workbench& w) {
    return waist(w.bench().lens(), w.bench().source.wavelength);
}

/// Half depth of focus in mm at a tenth of growth.
double half_depth(const Workbench& w) {
    return in_mm(depth_for_growth(beam_of(w), 1.1));
}

void ink(QPainter& p, const Theme& t, double width = 1.5) {
    p.setPen(QPen(t(Role::ink), width));
    p.setBrush(Qt::NoBrush);
    p.setRenderHint(QPainter::Antialiasing);
}

CardResult offset_card(const Workbench& w, const std::vector<double>& v) {
    const BeamWaist b = beam_of(w);
    const auto& p = w.prediction();
    const auto o = offset_for_spot(b.spot, b.rayleigh, mm(v[0]), watts(p ? p->mark.pulse.peak_power_w : 0));
    if (!o)
        return refused(o.error());
    CardResult r;
    r.lines = {{QObject::tr("raise the lens"), u"+"_s + mm_text(o->raised_mm),
                o->prefer_raised ? std::optional(State::ok) : std::nullopt},
               {QObject::tr("or lower it"), mm_text(o->lowered_mm),
                o->prefer_raised ? std::nullopt : std::optional(State::ok)},
               {QObject::tr("spot grows by"),
                QObject::tr("%1 µm per 0.1 mm").arg(screen_number(100 * o->spot_per_mm, 2)), std::nullopt},
               {QObject::tr("depth at +10 %"), u"± "_s + mm_text(half_depth(w)), std::nullopt}};
    const double z0 = o->raised_mm, zr = in_mm(b.rayleigh), d0 = in_mm(b.spot), want = v[0];
    r.draw = [=](QPainter& painter, const QRectF& box, const Theme& t) {
        const double reach = std::max(1.3 * z0, 2 * zr), most = d0 * std::sqrt(1 + reach * reach / (zr * zr));
        const auto x = [&](double z) { return box.center().x() + z / reach * box.width() / 2; };
        const auto y = [&](double d) { return box.center().y() - d / most * box.height() / 2; };
        QPainterPath upper, lower;
        for (int i = 0; i <= 60; ++i) {
            const double z = -reach + 2 * reach * i / 60, d = d0 * std::sqrt(1 + z * z / (zr * zr));
            i == 0 ? upper.moveTo(x(z), y(d)) : upper.lineTo(x(z), y(d));
            i == 0 ? lower.moveTo(x(z), y(-d)) : lower.lineTo(x(z), y(-d));
        }
        ink(painter, t);
        painter.drawPath(upper);
        painter.drawPath(lower);
        paint_hairline(painter, {box.left(), box.center().y()}, {box.right(), box.center().y()}, t(Role::hair));
        painter.setPen(QPen(t(Role::accent), 2.5));
        for (const int s : {-1, 1})
            painter.drawLine(QPointF(x(s * z0), y(want)), QPointF(x(s * z0), y(-want)));
    };
    return r;
}

CardResult shim_card(const Workbench&, const std::vector<double>& v) {
    static const std::vector<double> set{2, 1, 1, 0.5, 0.3, 0.2, 0.1, 0.1, 0.05, 0.05, 0.02};
    const auto s = shim_stack(v[0], set, v[1]);
    if (!s)
        return refused(s.error());
    CardResult r;
    QStringList list;
    for (const double x : s->shims_mm)
        list << screen_number(x, 3);
    const bool tall = static_cast<int>(s->shims_mm.size()) > advised_shims;
    r.lines = {{QObject::tr("stack"), list.isEmpty() ? QObject::tr("none") : list.join(u" + "_s), std::nullopt},
               {QObject::tr("makes"), mm_text(s->sum_mm), std::nullopt},
               {QObject::tr("off by"), um_text(s->error_mm), std::abs(s->error_mm) > 0.05 ? State::warn : State::ok},
               {QObject::tr("shims"), QString::number(s->shims_mm.size()), tall ? State::warn : State::ok}};
    r.draw = [stack = s->shims_mm, target = v[0]](QPainter& p, const QRectF& box, const Theme& t) {
        const double scale = (box.height() - 12) / std::max(0.5, 1.15 * target);
        double y = box.bottom() - 4;
        int i = 0;
        for (const double h : stack) {
            const QRectF plate(box.left() + 16, y - h * scale, box.width() - 86, h * scale);
            p.fillRect(plate, t(i++ % 2 == 0 ? Role::band3 : Role::band4));
            ink(p, t, 1);
            p.drawRect(plate);
            y -= h * scale;
        }
        paint_hairline(p, {box.left() + 4, box.bottom() - 4}, {box.right() - 58, box.bottom() - 4}, t(Role::ink));
        p.setPen(QPen(t(Role::accent), 2.5));
        const double aim = box.bottom() - 4 - target * scale;
        p.drawLine(QPointF(box.left() + 6, aim), QPointF(box.right() - 62, aim));
        paint_text(p, QRectF(box.right() - 58, aim - 9, 62, 18), mm_text(target), TextStyle::value_small,
                   t(Role::ink2));
    };
    return r;
}

CardResult column_card(const Workbench& w, const std::vector<double>& v) {
    const Bench& b = w.bench();
    ColumnStack stack;
    stack.part = v[0];
    stack.fixture = v[1];
    stack.offset = in_mm(w.draft().setup.focus.offset);
    if (b.rotary && v[2] > 0.5) {
        stack.rotary_centre = in_mm(b.rotary->centre_height);
        stack.obstruction = in_mm(b.rotary->chuck_top);
    }
    std::vector<LensChoice> lenses;
    for (const Lens& l : b.lenses) {
        const BeamWaist beam = waist(l, b.source.wavelength);
        lenses.push_back({l.name, in_mm(l.working_distance), in_mm(l.field), in_mm(beam.spot), in_mm(beam.rayleigh)});
    }
    const LensNeed need{1, 1, 0, 10, 0, 1.1};
    const auto judged = choose_lens(lenses, need, in_mm(b.column.lowest), in_mm(b.column.highest), stack);
    const auto fit =
        column_fit(in_mm(b.lens().working_distance), in_mm(b.column.lowest), in_mm(b.column.highest), stack);
    if (!judged || !fit)
        return refused(!judged ? judged.error() : fit.error());
    CardResult r;
    for (const JudgedLens& l : *judged) {
        QString text = u"at "_s + mm_text(l.column_mm, 4);
        if (!l.reasons.empty())
            text = from_utf8(sentence(l.reasons.front()));
        r.lines.push_back({QString::fromStdString(l.name), text, l.usable ? State::ok : State::fail});
    }
    if (fit->riser_mm > 0)
        r.lines.push_back({QObject::tr("riser"), mm_text(fit->riser_mm), State::warn});
    r.lines.push_back({QObject::tr("air gap"), mm_text(fit->air_gap_mm, 4), fit->collides ? State::fail : State::ok});
    const double low = in_mm(b.column.lowest), high = in_mm(b.column.highest);
    r.draw = [f = *fit, low, high, obstruction = stack.obstruction](QPainter& p, const QRectF& box, const Theme& t) {
        const double scale = (box.height() - 10) / std::max(high, f.column_mm + 20);
        const auto y = [&](double h) { return box.bottom() - 4 - h * scale; };
        const double mid = box.center().x();
        paint_hairline(p, {mid - 70, y(0)}, {mid + 70, y(0)}, t(Role::ink));
        p.fillRect(QRectF(mid - 40, y(f.surface_mm), 80, y(0) - y(f.surface_mm)), t(Role::band3));
        if (obstruction > 0)
            p.fillRect(QRectF(mid + 44, y(obstruction), 16, y(0) - y(obstruction)), t(Role::band4));
        p.fillRect(QRectF(mid - 66, y(high), 8, y(low) - y(high)), t(Role::sunken));
        ink(p, t, f.fits ? 1.5 : 2.5);
        if (!f.fits)
            p.setPen(QPen(t(Role::danger), 2.5));
        p.drawRect(QRectF(mid - 22, y(f.column_mm) - 10, 44, 10));
        p.setPen(QPen(t(Role::accent), 1.5));
        p.drawLine(QPointF(mid - 18, y(f.column_mm)), QPointF(mid, y(f.surface_mm)));
        p.drawLine(QPointF(mid + 18, y(f.column_mm)), QPointF(mid, y(f.surface_mm)));
    };
    return r;
}

CardResult field_card(const Workbench& w, const std::vector<double>& v) {
    const double field = in_mm(w.bench().lens().field);
    const auto f = rectangle_in_field(v[0], v[1], field, v[2]);
    if (!f)
        return refused(f.error());
    CardResult r;
    r.lines = {
        {QObject::tr("field"), QObject::tr("%1 mm square").arg(screen_number(field, 3)), std::nullopt},
        {f->fits ? QObject::tr("turn it to") : QObject::tr("does not fit"),
         f->fits ? QObject::tr("%1°").arg(screen_number(f->turn_deg, 3))
                 : QObject::tr("over by %1").arg(mm_text(-2 * f->slack_mm)),
         f->fits ? State::ok : State::fail},
        {QObject::tr("turns that fit"),
         f->fits ? QObject::tr("%1° to %2°").arg(screen_number(f->turn_from_deg, 3), screen_number(f->turn_to_deg, 3))
                 : QObject::tr("none"),
         std::nullopt},
        {QObject::tr("longest at this width"), mm_text(f->longest_at_this_width_mm, 4), std::nullopt}};
    r.draw = [f = *f, field, l = v[0], width = v[1]](QPainter& p, const QRectF& box, const Theme& t) {
        const double scale = std::min(box.width(), box.height()) / std::max(1.1 * field, 0.8 * l);
        ink(p, t, 1);
        p.drawRect(QRectF(box.center().x() - field * scale / 2, box.center().y() - field * scale / 2, field * scale,
                          field * scale));
        p.save();
        p.translate(box.center());
        p.rotate(-f.turn_deg);
        p.setPen(QPen(f.fits ? t(Role::accent) : t(Role::danger), 2));
        p.drawRect(QRectF(-l * scale / 2, -width * scale / 2, l * scale, width * scale));
        p.restore();
    };
    return r;
}

CardResult edge_card(const Workbench& w, const std::vector<double>& v) {
    const BeamWaist b = beam_of(w);
    const double corner = in_mm(w.bench().lens().field) / std::numbers::sqrt2;
    const auto e = field_edge_spot({in_mm(b.spot), in_mm(b.rayleigh), in_mm(w.bench().lens().focal_length),
                                    std::min(v[0], corner), corner, 0.8, v[1], 0});
    if (!e)
        return refused(e.error());
    CardResult r;
    const double loss = 1 - e->fluence_ratio;
    r.lines = {
        {QObject::tr("spot there"), QObject::tr("%1 × %2").arg(um_text(e->tangential_mm), um_text(e->radial_mm)),
         std::nullopt},
        {QObject::tr("focus out by"), mm_text(e->focus_error_mm), std::nullopt},
        {QObject::tr("fluence lost"), screen_number(100 * loss, 2) + u" %"_s, loss > 0.15 ? State::warn : State::ok},
        {QObject::tr("beam leans"), QObject::tr("%1°").arg(screen_number(e->scan_deg, 2)), std::nullopt}};
    r.draw = [e = *e, d0 = in_mm(b.spot)](QPainter& p, const QRectF& box, const Theme& t) {
        const double scale = std::min(box.height() * 0.7, box.width() * 0.36) / e.radial_mm;
        ink(p, t);
        p.drawEllipse(QPointF(box.left() + box.width() * 0.3, box.center().y()), d0 * scale / 2, d0 * scale / 2);
        p.setPen(QPen(t(Role::accent), 2));
        p.drawEllipse(QPointF(box.left() + box.width() * 0.7, box.center().y()), e.radial_mm * scale / 2,
                      e.tangential_mm * scale / 2);
        paint_text(p, QRectF(box.left(), box.bottom() - 16, box.width() * 0.6, 16), QObject::tr("middle"),
                   TextStyle::small, t(Role::ink2), Qt::AlignCenter);
        paint_text(p, QRectF(box.left() + box.width() * 0.4, box.bottom() - 16, box.width() * 0.6, 16),
                   QObject::tr("out there"), TextStyle::small, t(Role::ink2), Qt::AlignCenter);
    };
    return r;
}

CardResult level_card(const Workbench& w, const std::vector<double>& v) {
    const auto l = level_from_rise(v[0], half_depth(w), v[1]);
    if (!l)
        return refused(l.error());
    CardResult r;
    r.lines = {
        {QObject::tr("ends are out by"), u"± "_s + mm_text(l->end_error_mm), l->within_depth ? State::ok : State::fail},
        {QObject::tr("tilt"), QObject::tr("%1°").arg(screen_number(l->tilt_deg, 2)), std::nullopt},
        {QObject::tr("allowed rise"), mm_text(l->allowed_rise_mm), std::nullopt},
        {QObject::tr("allowed tilt"), QObject::tr("%1°").arg(screen_number(l->allowed_tilt_deg, 2)), std::nullopt}};
    r.draw = [l = *l](QPainter& p, const QRectF& box, const Theme& t) {
        const double scale = box.height() * 0.4 / std::max(l.allowed_rise_mm, l.rise_mm) * 2;
        const double half = l.allowed_rise_mm / 2 * scale, rise = l.rise_mm / 2 * scale;
        p.fillRect(QRectF(box.left() + 20, box.center().y() - half, box.width() - 40, 2 * half), t(Role::band2));
        paint_hairline(p, {box.left() + 20, box.center().y()}, {box.right() - 20, box.center().y()}, t(Role::tick));
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(l.within_depth ? t(Role::accent) : t(Role::danger), 3));
        p.drawLine(QPointF(box.left() + 20, box.center().y() + rise),
                   QPointF(box.right() - 20, box.center().y() - rise));
    };
    return r;
}

CardResult round_card(const Workbench& w, const std::vector<double>& v) {
    CylinderJob j;
    j.diameter_mm = v[0];
    j.arc_mm = std::min(v[1], std::numbers::pi * v[0]);
    j.pitch_mm = in_mm(w.draft().recipe.setting.hatch_pitch);
    j.half_depth_mm = half_depth(w);
    if (w.bench().rotary)
        j.steps_per_turn =
            rotary_steps(w.bench().rotary->motor_steps, w.bench().rotary->microsteps, w.bench().rotary->gear)
                .value_or(0);
    const auto s = cylinder_split(j);
    if (!s)
        return refused(s.error());
    CardResult r;
    r.lines = {{QObject::tr("strips"), QObject::tr("%1 of %2 lines").arg(s->strips).arg(s->lines_per_strip), State::ok},
               {QObject::tr("strip width"),
                QObject::tr("%1, %2°").arg(mm_text(s->strip_arc_mm), screen_number(s->strip_deg, 3)), std::nullopt},
               {QObject::tr("pitch becomes"), um_text(s->pitch_mm),
                std::abs(s->pitch_change) > 0.02 ? State::warn : State::ok},
               {QObject::tr("sag in a strip"), um_text(s->sag_mm), std::nullopt}};
    if (s->steps)
        r.lines.push_back({QObject::tr("steps a strip"), screen_number(s->steps->per_strip, 5),
                           std::abs(s->steps->drift_mm) > 0.02 ? State::warn : State::ok});
    r.draw = [s = *s, d = v[0]](QPainter& p, const QRectF& box, const Theme& t) {
        const double radius = box.height() * 0.44;
        const QRectF circle(box.center().x() - radius, box.center().y() - radius, 2 * radius, 2 * radius);
        ink(p, t);
        p.drawEllipse(circle);
        for (int i = 0; i < std::min(s.strips, 60); ++i) {
            p.setPen(QPen(t(i % 2 == 0 ? Role::accent : Role::ink2), 4));
            p.drawArc(circle, static_cast<int>(16 * (90 - s.strip_deg / 2 + i * s.strip_deg)),
                      static_cast<int>(16 * s.strip_deg));
        }
        Q_UNUSED(d);
    };
    return r;
}

CardResult wrap_card(const Workbench&, const std::vector<double>& v) {
    const auto seam = seam_from_diameter_mm(v[0], v[1]);
    if (!seam)
        return refused(seam.error());
    CardResult r;
    const bool gap = *seam < 0;
    r.lines = {{QObject::tr("full turn"), mm_text(std::numbers::pi * v[0], 5), std::nullopt},
               {gap ? QObject::tr("gap at the seam") : QObject::tr("overlap at the seam"), um_text(std::abs(*seam)),
                std::abs(*seam) > 0.1 ? State::warn : State::ok},
               {QObject::tr("measure to"), QObject::tr("%1 a seam of 50").arg(um_text(0.05 / std::numbers::pi)),
                std::nullopt}};
    r.draw = [seam = *seam, d = v[0]](QPainter& p, const QRectF& box, const Theme& t) {
        const double radius = box.height() * 0.44,
                     open = std::clamp(std::abs(seam) / (std::numbers::pi * d) * 360 * 8, 1.5, 60.0);
        const QRectF circle(box.center().x() - radius, box.center().y() - radius, 2 * radius, 2 * radius);
        ink(p, t, 3);
        p.drawArc(circle, static_cast<int>(16 * (90 + (seam < 0 ? open / 2 : 0))),
                  static_cast<int>(16 * (360 - (seam < 0 ? open : 0))));
        if (seam > 0) {
            p.setPen(QPen(t(Role::accent), 5));
            p.drawArc(circle, static_cast<int>(16 * (90 - open / 2)), static_cast<int>(16 * open));
        }
    };
    return r;
}

CardResult taper_card(const Workbench& w, const std::vector<double>& v) {
    const auto c = cone_band({std::min(v[0], v[1]), std::max(v[0], v[1]), v[2], std::max(0.0, (v[2] - v[3]) / 2),
                              std::min(v[3], v[2]), half_depth(w)});
    if (!c)
        return refused(c.error());
    CardResult r;
    r.lines = {
        {QObject::tr("half angle"), QObject::tr("%1°").arg(screen_number(c->half_angle_deg, 3)), std::nullopt},
        {QObject::tr("ends are out by"), u"± "_s + mm_text(c->end_error_mm), c->within_depth ? State::ok : State::fail},
        {QObject::tr("longest level band"),
         std::isfinite(c->longest_level_band_mm) ? mm_text(c->longest_level_band_mm) : QObject::tr("any"),
         std::nullopt},
        {QObject::tr("diameter at its middle"), mm_text(c->centre_diameter_mm, 4), std::nullopt}};
    r.draw = [c = *c, small = std::min(v[0], v[1]), large = std::max(v[0], v[1]), length = v[2],
              band = std::min(v[3], v[2])](QPainter& p, const QRectF& box, const Theme& t) {
        const double scale = std::min((box.width() - 20) / length, (box.height() - 8) / large);
        const double left = box.center().x() - length * scale / 2, mid = box.center().y();
        ink(p, t);
        p.drawPolygon(QPolygonF{{left, mid - small * scale / 2},
                                {left + length * scale, mid - large * scale / 2},
                                {left + length * scale, mid + large * scale / 2},
                                {left, mid + small * scale / 2}});
        p.setPen(QPen(c.within_depth ? t(Role::accent) : t(Role::danger), 2));
        for (const double x : {(length - band) / 2, (length + band) / 2}) {
            const double d = small + (large - small) * x / length;
            p.drawLine(QPointF(left + x * scale, mid - d * scale / 2), QPointF(left + x * scale, mid + d * scale / 2));
        }
    };
    return r;
}

} // namespace

std::vector<SetupCardSpec> setup_cards(const Workbench& w) {
    const double spot = in_mm(beam_of(w).spot), field = in_mm(w.bench().lens().field);
    const bool rotary = w.bench().rotary.has_value();
    std::vector<SetupCardSpec> out{
        {QObject::tr("Spot and offset"),
         u"offset"_s,
         {{QObject::tr("wanted spot"), u"wanted"_s, std::round(2000 * spot) / 1000, 0.001, 5}},
         offset_card},
        {QObject::tr("Shims"),
         u"shims"_s,
         {{QObject::tr("height"), u"height"_s, 3.37, 0, 100}, {QObject::tr("good enough"), u"tolerance"_s, 0, 0, 1}},
         shim_card},
        {QObject::tr("Lens and column"),
         u"column"_s,
         {{QObject::tr("part"), u"part"_s, 40, 0, 1000}, {QObject::tr("fixture"), u"fixture"_s, 20, 0, 1000}},
         nullptr},
        {QObject::tr("Part in the field"),
         u"field"_s,
         {{QObject::tr("length"), u"length"_s, std::round(1.15 * field), 0.1, 5000},
          {QObject::tr("width"), u"width"_s, 20, 0.1, 5000},
          {QObject::tr("margin"), u"margin"_s, 1, 0, 100}},
         field_card},
        {QObject::tr("Edge of the field"),
         u"edge"_s,
         {{QObject::tr("from the middle"), u"radius"_s, std::round(0.5 * field), 0, 500},
          {QObject::tr("curvature"), u"curvature"_s, 0.4, -5, 5}},
         edge_card},
        {QObject::tr("Level"),
         u"level"_s,
         {{QObject::tr("over"), u"span"_s, 100, 1, 2000}, {QObject::tr("rises by"), u"rise"_s, 0.5, 0, 100}},
         level_card},
        {QObject::tr("Round part"),
         u"round"_s,
         {{QObject::tr("diameter"), u"diameter"_s, 44, 0.5, 1000}, {QObject::tr("arc"), u"arc"_s, 60, 0.1, 3200}},
         round_card},
        {QObject::tr("Wrap and seam"),
         u"wrap"_s,
         {{QObject::tr("true diameter"), u"true"_s, 44, 0.5, 1000},
          {QObject::tr("drawn for"), u"used"_s, 44.05, 0.5, 1000}},
         wrap_card},
        {QObject::tr("Taper"),
         u"taper"_s,
         {{QObject::tr("from"), u"small"_s, 41, 0.5, 1000},
          {QObject::tr("to"), u"large"_s, 46, 0.5, 1000},
          {QObject::tr("over"), u"length"_s, 120, 1, 2000},
          {QObject::tr("band"), u"band"_s, 20, 0.1, 2000}},
         taper_card},
    };
    out[2].compute = [rotary](const Workbench& work, const std::vector<double>& v) {
        return column_card(work, {v[0], v[1], rotary ? 1.0 : 0.0});
    };
    return out;
}

} // namespace finch::app
