// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/proof_view.h"

#include "app/session/text.h"
#include "app/session/words.h"

#include "physics/colour_difference.h"
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

QString cell_settings(const ProofSheet& sheet, const Recipe& r) {
    const auto part = [&](Knob k) {
        const KnobTraits& t = traits(k);
        return screen_number(t.get(r) * t.screen_factor, 4) + u" "_s + from_utf8(t.screen_unit);
    };
    QStringList parts;
    for (const Knob k : varied_knobs(sheet))
        parts << part(k);
    return parts.join(u", "_s);
}

/// What sets a cell of a ladder or a lot check apart: its offset or its dose.
QString cell_label(const ProofSheet& sheet, std::size_t cell) {
    if ((!sheet.ladder && !sheet.lot) || !sheet.holds(cell))
        return {};
    const Setting s = cell_recipe(sheet, cell).setting;
    const double v =
        sheet.ladder ? in_mm(s.focus_offset) : 100 * (s.power_percent / sheet.base.setting.power_percent - 1);
    const int digits = sheet.ladder ? 2 : 0;
    return (v > 0   ? u"+"_s
            : v < 0 ? u"\u2212"_s
                    : QString()) +
           QString::number(std::abs(v), 'f', digits) + (sheet.ladder ? QString() : u" %"_s);
}

/// "speed × pitch", or that every cell has its own setting.
QString axes_words(const ProofSheet& sheet) {
    return sheet.paired           ? QObject::tr("%1 pairs").arg(sheet.own.size() / 2)
           : sheet.ladder         ? QObject::tr("focus ladder")
           : sheet.lot            ? QObject::tr("lot check")
           : sheet.on_old_plate() ? QObject::tr("on sheet %1").arg(sheet.plate_number(), 2, 10, QChar(u'0'))
           : sheet.free()
               ? QObject::tr("free cells")
               : from_utf8(traits(sheet.across.knob).brief) + u" × "_s + from_utf8(traits(sheet.down.knob).brief);
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
        return w.prediction() ? QObject::tr("%1 for %2")
                                    .arg(QString::fromStdString(format_duration(w.prediction()->mark.pattern.time_s)),
                                         area_words(w.draft().fill))
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

Expected<Prediction> quick(const Workbench& w, const Recipe& r) {
    const ViewingAngles normal{{0, 0, 0}, 1};
    return predict(w.scene(), r, w.draft().fill, normal);
}

/// The look that is predicted for a cell, if there is one.
std::optional<Lab> marked(const Scene& scene, const Recipe& recipe, const CellForecast& f) {
    if (!f.prediction || f.fate != CellFate::marks)
        return std::nullopt;
    if (f.prediction->film_seen())
        return f.prediction->lab();
    const Appearance look = appearance(scene, recipe, *f.prediction);
    return look.known ? std::optional(look.lab) : std::nullopt;
}

QString hope_text(double de, double spread) {
    return QObject::tr("hope %1 ± %2").arg(QString::number(de, 'f', 1), QString::number(spread, 'f', 1));
}

/// The sheet that would follow the newest one, if that is shown and read.
std::optional<NextSheet> proposed(const Workbench& w) {
    const Draft& d = w.draft();
    const Round* r = w.round();
    if (r == nullptr || !r->reading || r->sheet.number != w.rounds().back().sheet.number)
        return std::nullopt;
    const auto ranked = rank(*r->reading, d.target, w.forecast());
    if (ranked.empty() || r->sheet.free()) // free cells are designed when they are asked for
        return std::nullopt;
    auto next = next_sheet(r->sheet, *r->reading, d.target, middle_cell(*r->reading, d.cell, ranked), w.scene());
    return next ? std::optional(std::move(*next)) : std::nullopt;
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

std::optional<Lab> cell_look(const Workbench& w, const ProofSheet& sheet, const CellForecast& f) {
    return marked(w.scene(), sheet.base, f);
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
        across = {sheet.ladder ? QObject::tr("Focus ladder")
                  : sheet.lot  ? QObject::tr("Lot check")
                               : QObject::tr("Free cells"),
                  {},
                  std::vector<QString>(sheet.columns())};
        down = {{}, {}, std::vector<QString>(sheet.rows())};
    }
    v.across_name = across.name;
    v.across_unit = across.unit;
    v.across_values = across.values;
    v.down_name = down.name;
    v.down_unit = down.unit;
    v.down_values = down.values;
    v.read = reading.has_value();
    const Target& target = w.draft().target;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        SheetView::Cell c;
        const CellForecast& f = forecast.cells.at(i);
        c.name = QString::fromStdString(cell_name(sheet, i));
        c.fate = f.fate;
        c.left_out = i < sheet.left_out.size() && sheet.left_out[i];
        c.predicted = marked(scene, sheet.base, f);
        if (c.predicted)
            c.predicted_de = distance(target, *c.predicted);
        if (f.prediction && f.prediction->effect != Effect::not_modelled)
            c.risk =
                1 - (traits(sheet.base.process).lasting_colour ? f.prediction->shares.film() : f.prediction->share());
        c.label = cell_label(sheet, i);
        c.tip = c.name + u": "_s + cell_settings(sheet, cell_recipe(sheet, i));
        if (c.predicted)
            c.tip +=
                QObject::tr(", predicted %1 (%2)").arg(from_utf8(colour_name(*c.predicted)), lab_text(*c.predicted));
        if (f.prediction && c.risk >= 0.05)
            c.tip += u"; "_s + QString::fromStdString(told_words(f.prediction->shares));
        if (reading) {
            const CellReading& r = reading->cells.at(i);
            c.hidden = r.state == CellState::hidden;
            if (r.state == CellState::read) {
                c.measured = r.lab;
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
        const auto then = quick(w, with_knob(recipe, knob, value));
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
        const auto p = quick(w, with_knob(recipe, knob, v));
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

std::vector<RoundView> round_views(const Workbench& w) {
    std::vector<RoundView> out;
    const Draft& d = w.draft();
    for (std::size_t i = 0; i < w.rounds().size(); ++i) {
        const Round& r = w.rounds()[i];
        RoundView v;
        v.number = r.sheet.number;
        v.title = QObject::tr("Sheet %1").arg(r.sheet.number, 2, 10, QChar(u'0'));
        v.current = r.sheet.number == d.shown_sheet;
        v.measured = r.reading.has_value();
        v.note = v.current    ? QObject::tr("shown")
                 : v.measured ? QObject::tr("measured")
                 : r.burned   ? QObject::tr("burned")
                              : QObject::tr("planned");
        v.axes = axes_words(r.sheet);
        const auto burned = r.sheet.cells() - static_cast<std::size_t>(
                                                  std::count(r.sheet.left_out.begin(), r.sheet.left_out.end(), true));
        v.cost = QObject::tr("%1 cells").arg(burned);
        v.columns = r.sheet.columns();
        v.rows = r.sheet.rows();
        v.colours.resize(r.sheet.cells());
        const Target& target = d.target;
        double best = 1e9;
        if (r.reading) {
            for (std::size_t c = 0; c < r.sheet.cells(); ++c)
                if (r.reading->cells[c].state == CellState::read) {
                    v.colours[c] = r.reading->cells[c].lab;
                    if (!r.reading->cells[c].spoiled)
                        best = std::min(best, distance(target, r.reading->cells[c].lab));
                }
            v.best = r.sheet.asks() ? QObject::tr("answered")
                     : best < 1e8   ? QObject::tr("best ΔE₀₀ %1").arg(QString::number(best, 'f', 1))
                                    : QString();
        } else {
            const OwnScene then = w.scene_of(r, r.before);
            const SheetForecast f = v.current ? w.first_forecast() : forecast(r.sheet, then.scene());
            v.cost += u", "_s + QString::fromStdString(format_duration(f.total_s));
            for (std::size_t c = 0; c < r.sheet.cells(); ++c)
                v.colours[c] = marked(then.scene(), r.sheet.base, f.cells[c]);
            if (r.hoped_de)
                v.best = hope_text(*r.hoped_de, r.hoped_spread);
        }
        if (i + 1 < w.rounds().size())
            v.reason = QString::fromStdString(w.rounds()[i + 1].reason);
        out.push_back(std::move(v));
    }
    if (const auto next = proposed(w)) {
        out.back().reason = QString::fromStdString(next->reason);
        RoundView v;
        v.title = QObject::tr("Sheet %1").arg(w.next_sheet(), 2, 10, QChar(u'0'));
        v.note = QObject::tr("proposed");
        v.proposed = true;
        v.axes = out.back().axes;
        v.cost = QObject::tr("%1 cells").arg(next->request.across.count * next->request.down.count);
        if (next->hoped_de)
            v.best = hope_text(*next->hoped_de, next->hoped_spread);
        out.push_back(std::move(v));
    } else if (const Round* r = w.round(); r != nullptr && r->sheet.free() && !r->sheet.asks() && r->reading &&
                                           r->sheet.number == w.rounds().back().sheet.number) {
        // What it promises is worked out when it is asked for.
        out.back().reason = QObject::tr("Next: cells designed from all that was read here.");
        RoundView v;
        v.title = QObject::tr("Sheet %1").arg(w.next_sheet(), 2, 10, QChar(u'0'));
        v.note = QObject::tr("proposed");
        v.proposed = true;
        v.axes = QObject::tr("free cells");
        v.cost = QObject::tr("6 cells at most");
        out.push_back(std::move(v));
    }
    return out;
}

std::optional<CellDetail> cell_detail(const Workbench& w) {
    const Draft& d = w.draft();
    const Round* r = w.round();
    if (r == nullptr || !d.cell)
        return std::nullopt;
    CellDetail out;
    const std::size_t cell = *d.cell;
    const Recipe recipe = cell_recipe(r->sheet, cell);
    out.sheet = r->sheet.number;
    out.cell = cell;
    out.title = QObject::tr("Cell %1").arg(QString::fromStdString(cell_name(r->sheet, cell)));
    out.target = d.target.lab;
    out.target_note = QString::fromStdString(d.target.name);
    const CellForecast& before = w.first_forecast().cells.at(cell);
    out.settings = cell_settings(r->sheet, recipe);
    if (before.prediction) {
        out.settings +=
            QObject::tr(", %1 pulses per mm²").arg(screen_number(before.prediction->mark.pattern.pulses_per_m2 / 1e6));
        out.predicted_note = screen_number(before.prediction->oxide_nm(), 2) + u" nm"_s;
    }
    const OwnScene then = w.scene_of(*r, r->before);
    out.predicted = marked(then.scene(), recipe, before);
    if (!r->reading) {
        out.sentences << QObject::tr("<b>Not measured yet.</b> The colour rests on %1.")
                             .arg(QString::fromStdString(rests_on_words(r->before)));
        return out;
    }
    const CellReading& reading = r->reading->cells.at(cell);
    out.takes_depth = !traits(r->sheet.base.process).lasting_colour && reading.state != CellState::left_out;
    if (reading.depth_um)
        out.depth = screen_number(*reading.depth_um, 4) + u" ± "_s + screen_number(reading.depth_within_um, 2);
    if (out.takes_depth && before.prediction && before.prediction->removal)
        out.sentences << QObject::tr("Predicted <b>%1 µm</b> deep%2.")
                             .arg(screen_number(before.prediction->depth_um(), 2),
                                  reading.depth_um ? QObject::tr(", measured <b>%1 µm</b>").arg(out.depth) : QString());
    if (reading.state != CellState::read) {
        out.sentences << (reading.state == CellState::hidden
                              ? QObject::tr("<b>Hidden by glare or shadow.</b> Turn the lamp or the sheet, or step "
                                            "aside, and take the photograph again.")
                              : QObject::tr("<b>Left out.</b> It would burn or show nothing."));
        return out;
    }
    out.measured = reading.lab;
    out.spoiled = reading.spoiled;
    if (reading.spoiled) {
        out.sentences << QObject::tr("<b>Spoiled</b>: molten, torn or flaked. It never wins, and the next cells keep "
                                     "away from where this bench spoils metal.");
        return out;
    }
    if (before.prediction && before.prediction->mark.look.valid)
        out.measured_note =
            screen_number(thickness_from_colour(*w.scene_of(*r).metal, reading.lab, before.prediction->mark.look.haze,
                                                before.prediction->oxide_nm() * r->agreement.thickness_ratio),
                          2) +
            u" nm"_s;
    if (r->agreement.cells > 0) {
        const double percent = 100 * (r->agreement.thickness_ratio - 1);
        const Evidence e = w.ledger().evidence(evidence_key(r->setup));
        const QString lot = r->setup.stock.lot.empty()
                                ? QObject::tr("this stock")
                                : QObject::tr("lot %1").arg(QString::fromStdString(r->setup.stock.lot));
        out.sentences
            << (std::abs(percent) < 1
                    ? QObject::tr("<b>The film grew as predicted</b>, within 1 %.")
                    : QObject::tr("<b>The film grew %1 % %2 than predicted</b>, over all %3 cells that show a colour.")
                          .arg(screen_number(std::abs(percent), 2),
                               percent < 0 ? QObject::tr("thinner") : QObject::tr("thicker"))
                          .arg(r->agreement.cells));
        out.sentences
            << QObject::tr(
                   "Learned for %1: growth factor <b>%2 ± %3</b>. Prediction and photograph differed by %4, now by %5.")
                   .arg(lot, screen_number(e.growth_gain, 2), screen_number(e.growth_gain * e.growth_fit_ln, 1),
                        screen_number(r->agreement.before_de, 2), screen_number(r->agreement.after_de, 2));
    }
    const auto slower = quick(w, with_knob(recipe, Knob::scan_speed, knob_value(recipe, Knob::scan_speed) / 1.2));
    const auto faster = quick(w, with_knob(recipe, Knob::scan_speed, knob_value(recipe, Knob::scan_speed) * 1.2));
    if (slower && faster && slower->mark.look.valid && faster->mark.look.valid)
        out.sentences << QObject::tr("<b>A fifth slower</b> turns it %1, <b>a fifth faster</b> %2.")
                             .arg(from_utf8(colour_name(slower->lab())), from_utf8(colour_name(faster->lab())));
    return out;
}

} // namespace finch::app
