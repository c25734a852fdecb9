// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "instrument_rows.h"

#include "app/instruments/answer_panel.h"
#include "app/instruments/bench_drawings.h"
#include "app/instruments/change_bars.h"
#include "app/instruments/control_chart.h"
#include "app/instruments/focus_chart.h"
#include "app/instruments/judgement_board.h"
#include "app/instruments/knob_row.h"
#include "app/instruments/ladder.h"
#include "app/instruments/pulse_stamp.h"
#include "app/instruments/regime_map_view.h"
#include "app/instruments/sheet_view.h"
#include "app/instruments/surface_view.h"
#include "app/instruments/swatch.h"
#include "demo_bench.h"

#include <cmath>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;
using namespace Qt::StringLiterals;

namespace {

constexpr Lab blue{38, 6, -31}, straw{68, 8, 34}, purple{42, 28, -22}, steel{72, 0, 2};

JudgedColumn judged(bool other) {
    JudgedColumn c;
    c.label = u"Colour"_s;
    c.group = u"Anneal"_s;
    c.bench = u"Wren"_s;
    c.tally = other ? u"4/5"_s : u"5/5"_s;
    c.best = !other;
    c.recipe = u"13 % · 990 mm/s"_s;
    c.recipe_more = u"300 kHz · 26 ns · 3.5 µm"_s;
    c.look = blue;
    c.around = steel;
    c.words = u"deep blue"_s;
    c.lightness = u"L* 38"_s;
    c.rows = {{State::ok, true, u"ΔE 1.8"_s, u"looks like the wanted blue"_s},
              {other ? State::fail : State::warn, true, u"46°"_s, u"holds to 46° of tilt"_s},
              {State::unknown, false, {}, u"nobody has measured it"_s}};
    c.swing = 0.35;
    c.swing_text = u"ΔE 3.5"_s;
    c.tolerance = u"speed ±6 %"_s;
    c.rests_on = u"reference values"_s;
    c.sentence = u"Blue of a thin film. It turns purple when warmer."_s;
    return c;
}

KnobView knob(bool other) {
    KnobView v;
    v.knob = Knob::scan_speed;
    v.value = other ? 1400 : 990;
    v.low = 50;
    v.high = 9000;
    v.log_scale = true;
    v.saved = 1200;
    v.keeps = {{910, 1080}};
    v.derived = u"3.3 µm a pulse"_s;
    v.change = u"+10 %"_s;
    v.delta_l = 6;
    v.effect = u"lighter 6"_s;
    return v;
}

SheetView sheet(bool other) {
    SheetView v;
    v.columns = 4;
    v.rows = 3;
    v.across_name = u"Scan speed"_s;
    v.across_unit = u"mm/s"_s;
    v.down_name = u"Hatch pitch"_s;
    v.down_unit = u"µm"_s;
    v.across_values = {u"600"_s, u"880"_s, u"1290"_s, u"1900"_s};
    v.down_values = {u"3.0"_s, u"4.6"_s, u"7.0"_s};
    for (std::size_t i = 0; i < 12; ++i) {
        SheetView::Cell c;
        c.name = QChar('A' + static_cast<int>(i % 4)) + QString::number(i / 4 + 1);
        c.fate = i == 0    ? CellFate::burns
                 : i == 3  ? CellFate::shows_nothing
                 : i == 11 ? CellFate::impossible
                           : CellFate::marks;
        const double t = static_cast<double>(i) / 11;
        c.predicted = Lab{38 + 30 * t, 20 - 15 * t, -30 + 60 * t};
        c.predicted_de = 2 + 3 * t;
        if (i % 2 == 0 && i != 10) {
            c.measured = Lab{40 + 30 * t, 18 - 15 * t, -26 + 60 * t};
            c.measured_de = 1 + 4 * t;
        }
        c.rank = i == 4 ? 1 : i == 6 ? 2 : 0;
        c.left_out = i == 8;
        c.hidden = i == 10;
        v.cells.push_back(c);
    }
    v.lines = {{u"20 000"_s, {{0, -0.5}, {1, 0.6}}, {{1, 0.6}, {2, 2.5}}}};
    v.lines_unit = u"pulses per mm²"_s;
    v.chosen = other ? 6 : 5;
    v.read = true;
    return v;
}

RegimeMapView map_view(bool other) {
    const DemoBench demo;
    static const auto map = [&] {
        auto made = std::make_shared<RegimeMap>();
        made->across = map_axis(demo.setup.bench, DemoBench::blue(), Knob::scan_speed);
        made->down = map_axis(demo.setup.bench, DemoBench::blue(), Knob::power);
        made->side = 24;
        // Regions of known borders: what is shown here is how they are painted, not where the model sets them.
        for (int y = 0; y < made->side; ++y)
            for (int x = 0; x < made->side; ++x) {
                const double heat = (static_cast<double>(y) - x) / made->side;
                MapCell c;
                c.effect = heat > 0.6    ? Effect::removes
                           : heat > 0.3  ? Effect::melts
                           : heat > 0.1  ? Effect::dark
                           : heat > -0.3 ? Effect::colour
                           : heat > -0.6 ? Effect::tint
                                         : Effect::none;
                c.has_film = heat <= 0.3;
                c.lab = {60 - 40 * heat, 20 * heat, 40 * heat};
                c.dose_j_mm2 = static_cast<float>(4 * std::exp(2 * heat));
                c.pulses_per_mm2 = static_cast<float>(90000 * std::exp(heat));
                made->cells.push_back(c);
            }
        return made;
    }();
    RegimeMapView v;
    v.map = map;
    v.across_name = u"Scan speed"_s;
    v.across_unit = u"mm/s"_s;
    v.down_name = u"Power"_s;
    v.down_unit = u"%"_s;
    v.x = other ? 0.7 : 0.4;
    v.y = 0.5;
    v.tested = {{0.3, 0.4, blue}, {0.6, 0.5, straw}};
    v.finished = true;
    v.here = u"colour: deep blue"_s;
    return v;
}

SurfaceView dug(bool other) {
    auto patch = std::make_shared<PatchResult>();
    SurfacePatch& s = patch->surface;
    s.side = 60;
    s.pixel_um = 5;
    for (int y = 0; y < s.side; ++y)
        for (int x = 0; x < s.side; ++x) {
            const bool in = x > 10 && x < 50 && y > 10 && y < 50;
            s.height.push_back(in ? -20 + 3 * std::sin(x * (other ? 2.5 : 1.3)) : 0);
        }
    SurfaceView v;
    v.patch = patch;
    v.tone = straw;
    v.words = u"20 µm deep, grooves along the hatch"_s;
    return v;
}

Instrument* drawing(QWidget* parent, const char* name, Drawing::Paint paint) {
    auto* d = new Drawing(QString::fromLatin1(name), QString::fromLatin1(name), parent);
    d->show_drawing(std::move(paint), u"as drawn"_s);
    return d;
}

ChangeBarsView changes(bool other) {
    ChangeBarsView v;
    v.columns = {u"Dose"_s, u"Pulse energy"_s, u"Time"_s};
    v.choosable = true;
    v.chosen = other ? 0 : 1;
    v.rows = {{u"Power 13 → 14.3 %"_s,
               u"darker by 1.3 L*"_s,
               std::nullopt,
               {{ratio_words(1.1), 1.1}, {ratio_words(1.1), 1.1}, {ratio_words(1), 1.0}}},
              {u"Scan speed 990 → 900 mm/s"_s,
               {},
               State::warn,
               {{ratio_words(1.1), 1.1}, {ratio_words(1), 1.0}, {ratio_words(0.7), 0.7}}},
              {u"Frequency 300 → 75 kHz"_s,
               u"then: melts"_s,
               std::nullopt,
               {{ratio_words(1), 1.0}, {ratio_words(4), 4.0}, {ratio_words(0.3), 0.3}}}};
    return v;
}

} // namespace

const std::vector<Row>& finch::tests::instruments() {
    static const std::vector<Row> rows = [] {
        std::vector<Row> all{
            {"judgement",
             {2 * BoardMeasures::column, BoardMeasures::height(3)},
             [](QWidget* p, bool other) -> Instrument* {
                 auto* w = new JudgementBoard(u"judgement"_s, p);
                 w->show_columns({judged(other), judged(true)});
                 return w;
             }},
            {"wishes",
             {240, BoardMeasures::height(3)},
             [](QWidget* p, bool other) -> Instrument* {
                 auto* w = new WishList(u"wishes"_s, p);
                 w->show_lines({{u"Colour"_s, u"deep blue within ΔE 3"_s, true},
                                {u"Holds with tilt"_s, u"to 45°"_s, !other},
                                {u"Time"_s, u"at most 2 min"_s, false}});
                 return w;
             }},
            {"wear",
             {460, 380},
             [](QWidget* p, bool other) -> Instrument* {
                 auto* w = new WearChart(u"wear"_s, p);
                 w->show_points({{u"Film"_s, 2, 3}, {u"Deep engraving"_s, 5, 4}, {u"Compound"_s, 4, other ? 2.0 : 3.5}},
                                3, 3);
                 return w;
             }},
            {"knob",
             {440, 44},
             [](QWidget* p, bool other) -> Instrument* {
                 auto* w = new KnobRow(Knob::scan_speed, p);
                 w->show_view(knob(other));
                 return w;
             }},
            {"ladder",
             {112, 260},
             [](QWidget* p, bool other) {
                 LadderView v;
                 v.title = u"Dose"_s;
                 v.unit = u"J/mm²"_s;
                 v.low = 0.3;
                 v.high = 30;
                 v.value = other ? 6 : 3.9;
                 v.spread = 0.15;
                 v.ghost = 2.4;
                 v.bands = {{u"none"_s, 0.3, 1}, {u"colour"_s, 1, 5}, {u"dark"_s, 5, 9}, {u"melts"_s, 9, 30}};
                 v.film = {{1, straw}, {2, purple}, {4, blue}};
                 return showing<Ladder>(p, "ladder", v);
             }},
            {"changes",
             {490, 164},
             [](QWidget* p, bool other) { return showing<ChangeBars>(p, "changes", changes(other)); }},
            {"stamp",
             {200, 90},
             [](QWidget* p, bool other) {
                 return showing<PulseStamp>(p, "stamp", StampView{54, other ? 30.0 : 12.0, 20});
             }},
            {"map",
             {440, 330},
             [](QWidget* p, bool other) { return showing<RegimeMapWidget>(p, "map", map_view(other)); }},
            {"sheet",
             {460, 340},
             [](QWidget* p, bool other) { return showing<SheetWidget>(p, "sheet", sheet(other)); }},
            {"surface",
             {150, 150},
             [](QWidget* p, bool other) { return showing<SurfaceWidget>(p, "surface", dug(other)); }},
            {"swatch",
             {240, 146},
             [](QWidget* p, bool other) {
                 SwatchView v;
                 v.thinner = purple;
                 v.middle = other ? straw : blue;
                 v.thicker = {52, -6, -18};
                 for (std::size_t i = 0; i < tilt_steps; ++i)
                     v.tilt[i] = {38 + 1.5 * static_cast<double>(i), 6 + static_cast<double>(i), -31};
                 v.tilt_index = 3;
                 v.spread = u"10 % film"_s;
                 return showing<Swatch>(p, "swatch", v);
             }},
            {"swatch-of-no-film",
             {240, 146},
             [](QWidget* p, bool other) {
                 SwatchView v;
                 v.valid = false;
                 v.reason = u"molten: no colour is predicted"_s;
                 v.flat = other ? straw : steel;
                 return showing<Swatch>(p, "swatch-of-no-film", v);
             }},
            {"source",
             {300, 200},
             [](QWidget* p, bool other) {
                 const DemoBench demo;
                 SourceView v{demo.setup.bench.source, DemoBench::blue().setting};
                 v.setting.power_percent = other ? 60 : 13;
                 return drawing(p, "source",
                                [v](QPainter& q, const QRectF& b, const Theme& t) { paint_source(q, b, v, t); });
             }},
            {"field",
             {240, 220},
             [](QWidget* p, bool other) {
                 const FieldView v{110, other ? 90.0 : 62.0, 44, longest_part(mm(110), mm(12)), 12};
                 return drawing(p, "field",
                                [v](QPainter& q, const QRectF& b, const Theme& t) { paint_field(q, b, v, t); });
             }},
            {"stock-side",
             {240, 220},
             [](QWidget* p, bool other) {
                 const StockSideView v{182, other ? 6.0 : 2.6, -1.2, u"cork"_s};
                 return drawing(p, "stock side",
                                [v](QPainter& q, const QRectF& b, const Theme& t) { paint_stock_side(q, b, v, t); });
             }},
            {"caustic",
             {300, 200},
             [](QWidget* p, bool other) {
                 const CausticView v{{mm(0.054), mm(1.2)}, 0, other ? -1.2 : 0.0, 0.55, u"09:12"_s, other};
                 return drawing(p, "caustic",
                                [v](QPainter& q, const QRectF& b, const Theme& t) { paint_caustic(q, b, v, t); });
             }},
            {"focus-chart",
             {520, 380},
             [](QWidget* p, bool other) {
                 FocusChartView v;
                 v.best = other ? 0.4 : -0.3;
                 v.spread = 0.04;
                 v.sides = true;
                 v.near_best = v.best - 0.1;
                 v.far_best = v.best + 0.1;
                 v.holds = 0.5;
                 v.from = -2;
                 v.to = 2;
                 for (int i = 0; i <= 20; ++i)
                     v.looks.push_back({0.1 * i, 20 * (1 - std::exp(-0.3 * i))});
                 for (int i = 0; i < 27; ++i) {
                     const double at = -2 + 0.5 * (i % 9), off = std::abs(at - v.best);
                     v.marks.push_back(
                         {at, off < 0.8 ? blue : straw, 20 * (1 - std::exp(-3 * off)), i % 2 == 1, i == 20});
                 }
                 return showing<FocusChart>(p, "focus-chart", v);
             }},
            {"field-map",
             {280, 270},
             [](QWidget* p, bool other) {
                 FieldMapView v;
                 for (const double y : {-1.0, 0.0, 1.0})
                     for (const double x : {-1.0, 0.0, 1.0}) {
                         v.places.push_back({x, y, other ? 0.1 * x : 0.05 * y});
                         v.dots.push_back({0.6 * x, 0.6 * y, x > 0 ? blue : straw});
                     }
                 return showing<FieldMap>(p, "field-map", v);
             }},
            {"control-chart",
             {620, 320},
             [](QWidget* p, bool other) {
                 ControlView v;
                 v.words = u"As usual, over 9 sheets."_s;
                 for (int i = 0; i < 9; ++i) {
                     ControlView::Day d{
                         i + 1, u"%1 Nov"_s.arg(10 + i), std::sin(3.0 * i), {}, 0.8 + 0.3 * (i % 3), false, true};
                     if (i > 2)
                         d.usual = {-6.0 / i, 6.0 / i};
                     if (other && i > 6) {
                         d.percent = -5;
                         d.alarm = i == 8;
                         d.counts = false;
                     }
                     v.days.push_back(d);
                 }
                 auto* chart = new ControlChart(p);
                 chart->show_view(v);
                 return chart;
             }},
            {"answer",
             {320, 380},
             [](QWidget* p, bool other) {
                 AnswerView v;
                 v.title = u"Threshold"_s;
                 v.x_name = u"power, %"_s;
                 v.by_ratio = true;
                 v.x_low = 2;
                 v.x_high = 32;
                 v.ticks = {2, 8, 32};
                 v.state = other ? State::unknown : State::ok;
                 v.words = u"It begins to show at 8.0 % power (7.1 to 9.0)."_s;
                 AnswerPlot shows{u"cells that show, %"_s, 0, 100, {}, {}};
                 AnswerPlot miss{u"from the target"_s, 0, 20, 5.0, {}};
                 for (int i = 0; i < 5; ++i) {
                     const double x = 2 * std::pow(2.0, i);
                     shows.dots.push_back({x, i < 2 ? 0.0 : i == 2 ? 50.0 : 100.0, {}, false});
                     miss.dots.push_back({x, 18.0 - 4 * i, i < 3 ? straw : blue, i == 4});
                 }
                 if (!other)
                     shows.found = AnswerPlot::Span{8, 7.1, 9};
                 v.plots = {shows, miss};
                 auto* panel = new AnswerPanel(p);
                 panel->show_view(v);
                 return panel;
             }},
        };
        const auto piece = piece_instruments();
        all.insert(all.end(), piece.begin(), piece.end());
        return all;
    }();
    return rows;
}
