// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/answer_views.h"

#include "app/session/text.h"
#include "proof/depth_wedge.h"
#include "proof/field_sheet.h"
#include "proof/offset_series.h"
#include "proof/threshold.h"

#include <algorithm>
#include <cmath>
#include <QDate>
#include <QLocale>

namespace finch::app {

using namespace Qt::StringLiterals;

AnswerView threshold_view(const Workbench& workbench, const Round& round) {
    AnswerView v;
    v.title = QObject::tr("Threshold");
    v.x_name = QObject::tr("power, %");
    v.by_ratio = true;
    v.words =
        QObject::tr("One recipe at several powers, each several times, mixed. Burn and photograph the sheet, tick "
                    "the cells that are molten or torn (Ctrl+J); the answer follows.");
    if (!round.reading)
        return v;
    const auto f = judge_threshold(round.sheet, *round.reading, round.setup.bench);
    if (!f) {
        v.words = from_utf8(f.error().message + " " + f.error().fix);
        return v;
    }
    v.words = from_utf8(f->words);
    v.x_low = f->powers.front().percent;
    v.x_high = f->powers.back().percent;
    v.ticks = {v.x_low, std::sqrt(v.x_low * v.x_high), v.x_high};
    // Of a coat or a compound the question is when it is done; the words say from where it shows.
    const Threshold& first = f->done ? *f->done : f->shows;
    AnswerPlot shows{
        f->done ? QObject::tr("cells that are done, %") : QObject::tr("cells that show, %"), 0, 100, {}, {}};
    AnswerPlot spoils{QObject::tr("cells that are spoiled, %"), 0, 100, {}, {}};
    for (const auto& p : f->powers) {
        shows.dots.push_back({p.percent, 100.0 * (f->done ? p.done : p.changed) / p.cells, {}, false});
        spoils.dots.push_back({p.percent, 100.0 * p.spoiled / p.cells, {}, false});
    }
    for (const auto& [threshold, plot] : {std::pair{&first, &shows}, {&f->spoils, &spoils}})
        if (threshold->found == Onset::Found::within) {
            plot->found = {threshold->percent, threshold->low, threshold->high};
            v.state = State::ok;
        }
    v.plots = {shows, spoils};
    if (f->holds) {
        AnswerPlot holds{QObject::tr("steps of the scratch ladder"),
                         0,
                         static_cast<double>(workbench.materials().compounds.ladder.size()),
                         {},
                         {}};
        for (const auto& p : f->powers)
            if (p.scratched > 0)
                holds.dots.push_back({p.percent, p.steps, {}, p.percent == f->holds->percent});
        holds.found = {f->holds->percent, f->holds->low_percent, f->holds->high_percent};
        v.plots = {shows, holds};
    }
    return v;
}

AnswerView offsets_view(const Workbench& workbench, const Round& round) {
    AnswerView v;
    v.title = QObject::tr("Offset series");
    v.x_name = QObject::tr("focus offset, mm");
    v.words = QObject::tr("One film at several focus offsets, each with a little less and more of it. Burn and "
                          "photograph the sheet; which offset serves best follows.");
    if (!round.reading)
        return v;
    const OwnScene scene = workbench.scene_of(round, round.before);
    const Target& target = workbench.draft().target;
    const auto f = judge_offsets(round.sheet, *round.reading, scene.scene(), target);
    if (!f) {
        v.words = from_utf8(f.error().message + " " + f.error().fix);
        return v;
    }
    v.words = from_utf8(f->words);
    v.x_low = f->offsets.front().offset_mm;
    v.x_high = f->offsets.back().offset_mm;
    v.ticks = {v.x_low, 0, v.x_high};
    AnswerPlot miss{QObject::tr("from the target, CIEDE2000"), 0, 2 * target.accept_de, target.accept_de, {}};
    AnswerPlot seconds{QObject::tr("marking, s/cm²"), 0, 1, {}, {}};
    for (std::size_t i = 0; i < f->offsets.size(); ++i) {
        const OffsetResult& r = f->offsets[i];
        miss.high = std::max(miss.high, 1.05 * r.miss);
        seconds.high = std::max(seconds.high, 1.1 * r.s_per_cm2);
        miss.dots.push_back({r.offset_mm, r.miss, r.lab, i == f->best});
        seconds.dots.push_back({r.offset_mm, r.s_per_cm2, r.lab, i == f->best});
    }
    v.plots = {miss, seconds};
    v.state = f->offsets[f->best].passes ? State::ok : State::warn;
    return v;
}

AnswerView field_view(const Workbench& workbench, const Round& round) {
    AnswerView v;
    v.title = QObject::tr("Over the field");
    v.x_name = QObject::tr("from the middle, mm");
    v.words =
        QObject::tr("One recipe all over the field, with up to 9 % less and more dose, mixed. Burn and photograph "
                    "the sheet; what the bench gives at the corners against the middle follows.");
    if (!round.reading)
        return v;
    const auto f = judge_field(round.sheet, *round.reading, workbench.draft().target.accept_de);
    if (!f) {
        v.words = from_utf8(f.error().message + " " + f.error().fix);
        return v;
    }
    v.words = from_utf8(f->words);
    v.x_low = 0;
    v.x_high = std::hypot(f->width_mm, f->height_mm) / 2;
    v.ticks = {0, std::round(v.x_high / 2), std::round(v.x_high)};
    AnswerPlot dose{QObject::tr("dose against the middle, %"), -2, 2, {}, {}};
    AnswerPlot off{QObject::tr("from the middle's colour, CIEDE2000"), 0, 1.6 * f->accept_de, f->accept_de, {}};
    for (const FieldFinding::Cell& c : f->cells) {
        dose.low = std::min(dose.low, 1.05 * c.percent);
        dose.high = std::max(dose.high, 1.05 * c.percent);
        dose.dots.push_back({std::hypot(c.x_mm, c.y_mm), c.percent, c.lab, false});
    }
    for (std::size_t i = 0; i < f->nine.size(); ++i) {
        const FieldPoint& p = f->nine[i];
        off.high = std::max(off.high, 1.1 * p.de);
        off.dots.push_back({std::hypot(p.x_mm, p.y_mm), p.de, {}, i == f->worst});
    }
    dose.joined = off.joined = false;
    v.plots = {dose, off};
    v.state = f->verdict == FieldVerdict::even ? State::ok : State::warn;
    return v;
}

AnswerView wedge_view(const Workbench& workbench, const Round& round) {
    AnswerView v;
    v.title = QObject::tr("Step wedge");
    v.x_name = QObject::tr("passes");
    v.by_ratio = true;
    v.words = QObject::tr("One recipe at more and more passes, mixed. Burn the sheet and measure the depths "
                          "(Ctrl+Shift+G); how it falls off, and how many passes a depth takes, follows.");
    if (!round.reading)
        return v;
    const OwnScene scene = workbench.scene_of(round, round.before);
    const auto& wanted = workbench.draft().target.depth;
    const auto f = judge_wedge(round.sheet, *round.reading, scene.scene(), wanted);
    if (!f) {
        v.words = from_utf8(f.error().message + " " + f.error().fix);
        return v;
    }
    v.words = from_utf8(f->words);
    if (!wanted)
        v.words += QObject::tr(" Take a depth as the target to be told its passes.");
    v.x_low = 1;
    v.x_high = std::max(f->passes.value_or(1), static_cast<double>(f->steps.back().passes));
    v.ticks = {1, std::round(std::sqrt(v.x_high)), std::round(v.x_high)};
    AnswerPlot depth{QObject::tr("depth, µm"), 0, f->steps.back().um, {}, {}};
    AnswerPlot each{QObject::tr("depth by pass, µm"), 0, 0, {}, {}};
    if (wanted) {
        depth.high = std::max(depth.high, wanted->um);
        depth.passes_to = wanted->um;
    }
    for (const auto& s : f->steps) {
        depth.dots.push_back({static_cast<double>(s.passes), s.um, {}, false});
        each.dots.push_back({static_cast<double>(s.passes), s.um / s.passes, {}, false});
        each.high = std::max(each.high, 1.1 * s.um / s.passes);
    }
    depth.high *= 1.1;
    if (f->passes)
        depth.found = AnswerPlot::Span{*f->passes, *f->passes_low, *f->passes_high};
    v.plots = {depth, each};
    v.state = f->beyond > 2 ? State::warn : State::ok;
    return v;
}

State state_of(ControlVerdict verdict) {
    switch (verdict) {
    case ControlVerdict::settling:
        return State::unknown;
    case ControlVerdict::usual:
        return State::ok;
    case ControlVerdict::watch:
    case ControlVerdict::less:
    case ControlVerdict::more:
    case ControlVerdict::off_path:
        break;
    }
    return State::warn;
}

ControlView control_view(const RecordedControl& control) {
    ControlView v;
    const auto percent = [](double ln) { return 100 * std::expm1(ln); };
    for (const ControlPoint& p : control.course.points) {
        ControlView::Day d;
        d.sheet = p.reading.sheet;
        const QDate date = QDate::fromString(from_utf8(p.reading.when_utc).left(10), Qt::ISODate);
        d.when = QLocale::c().toString(date, u"d MMM"_s);
        d.percent = percent(p.reading.dose_ln);
        if (p.judged)
            d.usual = {percent(p.usual_low_ln), percent(p.usual_high_ln)};
        d.off_de = p.reading.off_de;
        d.alarm = p.alarm;
        d.counts = p.usual;
        v.days.push_back(std::move(d));
    }
    v.words = from_utf8(control.course.words);
    return v;
}

} // namespace finch::app
