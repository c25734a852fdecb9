// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/proof_view.h"

#include "app/session/text.h"
#include "app/session/words.h"

#include "physics/colour_difference.h"
#include "proof/answer.h"
#include "quantity/format.h"
#include "recipe/explain.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

struct AxisText {
    QString name, unit;
    std::vector<QString> values;
};
AxisText axis_text(const SheetAxis& axis) {
    const KnobTraits& t = traits(axis.knob);
    AxisText out{from_utf8(t.label), from_utf8(t.screen_unit), {}};
    for (const double v : axis.values)
        out.values.push_back(screen_number(v * t.screen_factor, 4));
    return out;
}

/// What sets a cell of a question apart: its offset, its dose, or its power.
QString cell_label(const ProofSheet& sheet, std::size_t cell) {
    if (!sheet.asks() || sheet.paired || !sheet.holds(cell))
        return {};
    const Setting s = cell_recipe(sheet, cell).setting;
    if (sheet.threshold)
        return screen_number(s.power_percent, 3) + u" %"_s;
    if (sheet.wedge)
        return QString::number(s.passes) + u" ×"_s;
    const bool offset = sheet.ladder || sheet.offsets;
    const double v = offset ? in_mm(s.focus_offset) : 100 * (s.power_percent / sheet.base.setting.power_percent - 1);
    const int digits = offset ? 2 : 0;
    return (v > 0   ? u"+"_s
            : v < 0 ? u"\u2212"_s
                    : QString()) +
           QString::number(std::abs(v), 'f', digits) + (offset ? QString() : u" %"_s);
}

QString derived(const Workbench& w, Knob knob) {
    const Setting& s = w.draft().recipe.setting;
    const PulseOutput pulse = pulse_output(w.bench().source, s);
    switch (knob) {
    case Knob::power:
        return screen_number(pulse.average_power_w) + u" W"_s;
    case Knob::frequency:
        return QObject::tr("%1 µJ a pulse").arg(screen_number(pulse.pulse_energy_j * 1e6));
    case Knob::pulse_width:
        return QObject::tr("%1 kW peak").arg(screen_number(pulse.peak_power_w / 1e3, 2));
    case Knob::scan_speed:
        return QObject::tr("%1 µm pulse pitch").arg(screen_number(in_micrometres(s.scan_speed / s.frequency), 2));
    case Knob::hatch_pitch:
        return QObject::tr("%1 lines/inch").arg(screen_number(25.4 / in_mm(s.hatch_pitch), 4));
    case Knob::hatch_angle:
        return w.draft().recipe.cross_hatch ? QObject::tr("cross-hatch on") : QObject::tr("cross-hatch off");
    case Knob::turn_per_pass: {
        if (s.passes == 1)
            return QObject::tr("one pass: no turn");
        const int n = distinct_directions(w.draft().recipe.turn_per_pass_deg);
        return n == 0 ? QObject::tr("never repeats") : QObject::tr("%1 directions").arg(n);
    }
    case Knob::line_shift:
        return s.passes == 1 ? QObject::tr("one pass: no shift")
                             : QObject::tr("%1 µm a pass")
                                   .arg(screen_number(
                                       in_micrometres(s.hatch_pitch) * w.draft().recipe.line_shift_percent / 100, 2));
    case Knob::passes:
        return w.prediction()
                   ? QObject::tr("%1 for %2")
                         .arg(screen_duration(w.prediction()->mark.pattern.time_s), area_words(w.draft().fill))
                   : QString();
    case Knob::focus_offset:
        return QObject::tr("spot %1 µm")
            .arg(screen_number(
                in_micrometres(spot_at(waist(w.bench().lens(), w.bench().source.wavelength), s.focus_offset)), 2));
    }
    return {};
}

/// The step whose effect is shown: ten percent, or a small move for knobs that may be zero.
std::pair<QString, double> effect_step(Knob knob, double value) {
    const KnobTraits& t = traits(knob);
    if (!t.probe)
        return {u"+10 %"_s, value * 1.1};
    const QString unit = from_utf8(t.screen_unit);
    const bool close = unit.isEmpty() || unit == u"°"_s;
    return {u"+"_s + screen_number(*t.probe * t.screen_factor, 2) + (close ? QString() : u" "_s) + unit,
            value + *t.probe};
}

/// What the other rounds left on the frame.
void add_other_rounds(const Workbench& w, const ProofSheet& shown, SheetView& v) {
    for (const Round& r : w.rounds()) {
        if (r.sheet.number == shown.number || !r.sheet.frame || r.sheet.plate_number() != shown.plate_number() ||
            r.sheet.cells() != shown.cells())
            continue;
        for (std::size_t i = 0; i < shown.cells(); ++i)
            if (r.sheet.holds(i) && !shown.holds(i)) {
                SheetView::Cell& c = v.cells.at(i);
                c.other = r.reading && r.reading->cells.at(i).state == CellState::read ? r.reading->cells.at(i).lab
                                                                                       : Lab{30, 0, 0};
                c.tip = QObject::tr("%1: of sheet %2").arg(c.name).arg(r.sheet.number);
            }
    }
}

} // namespace

Expected<Prediction> quick_prediction(const Workbench& w, const Recipe& r) {
    const ViewingAngles normal{{0, 0, 0}, 1};
    return predict(w.scene(), r, w.draft().fill, normal);
}

std::optional<Lab> cell_look(const Scene& scene, const Recipe& recipe, const CellForecast& f) {
    if (!f.prediction || f.fate != CellFate::marks)
        return std::nullopt;
    if (f.prediction->film_seen())
        return f.prediction->lab();
    const Appearance look = appearance(scene, recipe, *f.prediction);
    return look.known ? std::optional(look.lab) : std::nullopt;
}

QString cell_settings(const ProofSheet& sheet, const Recipe& r) {
    const auto part = [&](Knob k) {
        const KnobTraits& t = traits(k);
        return screen_number(t.get(r) * t.screen_factor, 4) + u" "_s +
               from_utf8(t.screen_unit.empty() ? t.brief : t.screen_unit);
    };
    QStringList parts;
    for (const Knob k : varied_knobs(sheet))
        parts << part(k);
    return parts.join(u", "_s);
}

SheetView sheet_view(const Workbench& w, const std::vector<RankedCell>& ranking, LevelKind lines) {
    const Round* round = w.round();
    if (round == nullptr)
        return {};
    const OwnScene then = w.scene_of(*round, round->before);
    SheetView v = sheet_view(w, then.scene(), round->sheet, w.first_forecast(), round->reading, lines);
    v.chosen = w.draft().cell;
    if (round->sheet.frame)
        add_other_rounds(w, round->sheet, v);
    for (std::size_t i = 0; i < ranking.size() && i < 4 && !round->sheet.asks(); ++i)
        v.cells.at(ranking[i].cell).rank = static_cast<int>(i) + 1;
    return v;
}

SheetView sheet_view(const Workbench& w, const Scene& scene, const ProofSheet& sheet, const SheetForecast& forecast,
                     const std::optional<SheetReading>& reading, LevelKind kind) {
    SheetView v;
    v.columns = sheet.columns();
    v.rows = sheet.rows();
    AxisText across = axis_text(sheet.across), down = axis_text(sheet.down);
    if (sheet.free()) {
        QString name = from_utf8(kind_word(sheet));
        name[0] = name[0].toUpper();
        across = {name, {}, std::vector<QString>(sheet.columns())};
        down = {{}, {}, std::vector<QString>(sheet.rows())};
    }
    v.across_name = across.name;
    v.across_unit = across.unit;
    v.across_values = across.values;
    v.down_name = down.name;
    v.down_unit = down.unit;
    v.down_values = down.values;
    v.read = reading.has_value() && reading->shows_colours();
    const Target target = held_against(sheet, reading ? &*reading : nullptr, w.draft().target);
    const bool depths = wants_depths(w.draft(), sheet);
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        SheetView::Cell c;
        const CellForecast& f = forecast.cells.at(i);
        c.name = QString::fromStdString(cell_name(sheet, i));
        c.fate = f.fate;
        c.left_out = i < sheet.left_out.size() && sheet.left_out[i];
        c.predicted = cell_look(scene, sheet.base, f);
        if (c.predicted && !target.depth)
            c.predicted_de = distance(target, *c.predicted);
        if (f.prediction && f.prediction->effect != Effect::not_modelled)
            // A depth is not spoiled by the look of its floor.
            c.risk = depths ? 0
                            : 1 - (traits(sheet.base.process).lasting_colour ? f.prediction->shares.film()
                                                                             : f.prediction->share());
        c.label = cell_label(sheet, i);
        c.tip = c.name + u": "_s + cell_settings(sheet, cell_recipe(sheet, i));
        if (c.predicted)
            c.tip +=
                QObject::tr(", predicted %1 (%2)").arg(from_utf8(colour_name(*c.predicted)), lab_text(*c.predicted));
        if (f.prediction && c.risk >= 0.05)
            c.tip += u"; "_s + QString::fromStdString(told_words(f.prediction->shares));
        if (depths) {
            c.depth = DepthMark{target.depth->um, target.depth->within_um, {}, {}};
            if (f.prediction && f.prediction->removal)
                c.depth->predicted = f.prediction->depth_um();
            if (reading)
                c.depth->measured = reading->cells.at(i).depth_um;
            if (c.depth->predicted)
                c.tip += QObject::tr(", predicted %1 deep").arg(um_text(*c.depth->predicted));
            if (c.depth->measured)
                c.tip += QObject::tr(", measured %1").arg(um_text(*c.depth->measured));
        }
        if (v.read) {
            const CellReading& r = reading->cells.at(i);
            c.hidden = r.state == CellState::hidden && reading->photographed();
            if (r.state == CellState::read) {
                c.measured = r.lab;
                if (!target.depth)
                    c.measured_de = distance(target, r.lab);
                c.tip += QObject::tr(", measured %1 (%2)").arg(from_utf8(colour_name(r.lab)), lab_text(r.lab));
                c.spoiled = r.spoiled;
                if (r.spoiled)
                    c.tip += QObject::tr(", spoiled");
            } else if (c.hidden)
                c.tip += QObject::tr(", hidden by glare or shadow");
        }
        c.bare = sheet.frame && !sheet.holds(i);
        if (c.bare)
            c.tip = c.name + QObject::tr(": bare, for a later round");
        else if (c.left_out)
            c.tip += QObject::tr(", left out");
        v.cells.push_back(std::move(c));
    }
    auto lines = level_lines(sheet, scene.bench, kind, 4);
    if (lines.empty()) {
        // What was asked for is the same everywhere on this sheet; the other quantity may not be.
        kind = kind == LevelKind::pulses_per_mm2 ? LevelKind::areal_dose_j_mm2 : LevelKind::pulses_per_mm2;
        lines = level_lines(sheet, scene.bench, kind, 4);
    }
    v.lines_unit = kind == LevelKind::pulses_per_mm2 ? QObject::tr("pulses\nper mm²") : QObject::tr("dose,\nJ/mm²");
    for (const LevelLine& line : lines)
        v.lines.push_back({screen_number(line.level, 2), line.from, line.to});
    return v;
}

std::vector<KnobView> knob_views(const Workbench& w) {
    std::vector<KnobView> out;
    const Recipe& recipe = w.draft().recipe;
    const auto& now = w.prediction();
    for (const Knob knob : all_knobs) {
        KnobView v;
        v.knob = knob;
        v.value = knob_value(recipe, knob);
        const KnobLimits limits = knob_limits(w.bench(), knob);
        v.low = limits.low;
        v.high = limits.high;
        v.log_scale = traits(knob).by_ratio || traits(knob).whole;
        if (w.draft().saved)
            v.saved = knob_value(*w.draft().saved, knob);
        v.derived = derived(w, knob);
        v.enabled = knob != Knob::pulse_width || w.bench().source.kind == SourceKind::variable_pulse_width;
        if (!v.enabled) {
            v.value = in_nanoseconds(w.bench().source.pulse_width_min);
            v.low = v.value / 10;
            v.high = v.value * 10;
        }
        const auto [step, value] = effect_step(knob, v.value);
        v.change = step;
        v.delta_l = std::nan("");
        v.effect = QObject::tr("no change");
        const auto then = quick_prediction(w, with_knob(recipe, knob, value));
        if (!now || !then)
            v.effect = QObject::tr("beyond limits");
        else if (then->effect != now->effect && !now->film_seen())
            v.effect = from_utf8(word(then->effect));
        else if (!now->film_seen() && now->depth_um() > 0.1 && then->depth_um() > 0) {
            const double share = then->depth_um() / now->depth_um() - 1;
            if (std::abs(share) >= 0.005)
                v.effect = QObject::tr("depth %1%2 %")
                               .arg(share > 0 ? u"+"_s : u"−"_s)
                               .arg(std::lround(100 * std::abs(share)));
        } else if (!then->mark.look.valid)
            v.effect = now->mark.look.valid ? from_utf8(word(then->effect)) : QString();
        else if (now->mark.look.valid) {
            v.delta_l = then->lab().l - now->lab().l;
            const double de = delta_e00(then->lab(), now->lab());
            if (std::abs(v.delta_l) >= 0.5)
                v.effect = (v.delta_l > 0 ? QObject::tr("lighter %1") : QObject::tr("darker %1"))
                               .arg(screen_number(std::abs(v.delta_l), 2));
            else if (de >= 0.5)
                v.effect = QObject::tr("hue ΔE %1").arg(screen_number(de, 2));
        }
        out.push_back(std::move(v));
    }
    return out;
}

std::vector<std::optional<std::pair<double, double>>> keeping_ranges(const Workbench& w) {
    std::vector<std::optional<std::pair<double, double>>> out;
    const Recipe& recipe = w.draft().recipe;
    const Target& target = w.draft().target;
    const auto keeps = [&](Knob knob, double v) {
        const auto p = quick_prediction(w, with_knob(recipe, knob, v));
        if (target.depth)
            return p && p->removal && std::abs(p->depth_um() - target.depth->um) <= target.depth->within_um;
        return p && p->mark.look.valid && distance(target, p->lab()) <= target.accept_de;
    };
    for (const Knob knob : all_knobs) {
        const double now = knob_value(recipe, knob);
        const KnobLimits limits = knob_limits(w.bench(), knob);
        if (knob == Knob::hatch_angle || knob == Knob::turn_per_pass || !keeps(knob, now)) {
            out.emplace_back();
            continue;
        }
        const bool ratio = traits(knob).spreads_by_ratio();
        const auto walk = [&](int direction) {
            double last = now;
            for (int i = 1; i <= 20; ++i) {
                const double v = ratio ? now * std::pow(1.04, direction * i)
                                       : now + direction * i * (knob == Knob::passes ? 1 : 0.1);
                if (v < limits.low || v > limits.high || !keeps(knob, v))
                    break;
                last = v;
            }
            return last;
        };
        out.emplace_back(std::pair{walk(-1), walk(1)});
    }
    return out;
}

} // namespace finch::app
