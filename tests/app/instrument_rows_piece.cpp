// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/drawing_view.h"
#include "app/instruments/film_cards.h"
#include "app/instruments/film_steps.h"
#include "app/instruments/heat_strip.h"
#include "app/instruments/parts_bar.h"
#include "app/instruments/place_view.h"
#include "app/instruments/relief_charts.h"
#include "app/instruments/relief_view.h"
#include "app/instruments/scrap_view.h"
#include "instrument_rows.h"

#include <cmath>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;
using namespace Qt::StringLiterals;

namespace {

DrawingPicture dial(bool other) {
    DrawingPicture v;
    v.field_mm = 150;
    v.width_mm = v.height_mm = 100;
    QPainterPath ring, bar, rim;
    ring.addEllipse(QPointF(50, 50), 40, 40);
    ring.addEllipse(QPointF(50, 50), 25, 25);
    bar.addRect(45, 20, 10, 60);
    rim.addEllipse(QPointF(50, 50), 48, 48);
    v.layers = {{ring, u"ring"_s, 0, false, other}, {bar, u"bar"_s, 1, false, !other}, {rim, u"rim"_s, 2, true, false}};
    v.marks = {{{50, 80}, State::warn, true}, {{20, 30}, State::ok, false}};
    return v;
}

PlacePicture nests(bool other) {
    PlacePicture v;
    v.width_mm = v.height_mm = 90;
    v.field = QRectF(-10, -10, 110, 110);
    v.marks.addRect(2, 2, 16, 6);
    v.guides.addRect(0, 0, 20, 10);
    for (int i = 0; i < (other ? 6 : 9); ++i) {
        const double x = 10 + 26.0 * (i % 3), y = 10 + 26.0 * (i / 3);
        v.parts.push_back({i + 1, QRectF(x, y, 20, 10), {x, y}, true});
        v.parts.back().own.addRect(3, 1, 1 + i, 0.6); // what this part alone has
    }
    v.words = u"nine nests"_s;
    v.up_deg = other ? 90 : 0;
    return v;
}

ReliefPicture dome(bool other) {
    constexpr int side = 120, layers = 12;
    auto map = std::make_shared<ReliefMap>();
    map->width = side;
    map->pixel_mm = 0.1;
    map->layers = layers;
    for (int i = 0; i < side * side; ++i) {
        const double r = std::hypot(i % side - 59.5, i / side - 59.5) / 50;
        map->counts.push_back(r < 1 ? static_cast<int>(layers * (1 - std::sqrt(1 - r * r))) : layers / 2);
    }
    ReliefPicture v;
    v.map = map;
    for (int k = 0; k <= layers; ++k)
        v.depth_um.push_back(20.0 * k);
    v.layers_done = other ? 3 : layers;
    return v;
}

} // namespace

std::vector<Row> finch::tests::piece_instruments() {
    return {
        {"drawing",
         {360, 360},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new DrawingView(p);
             w->show_picture(dial(other));
             return w;
         }},
        {"hatch-lens",
         {420, 160},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new HatchLens(p);
             LensPicture v;
             v.area.addRect(0, 0, 3, 1);
             for (int i = 0; i < 20; ++i)
                 v.runs.emplace_back(0, 0.05 * i, 3, 0.05 * i);
             for (int i = 0; i < 30; ++i)
                 v.before.emplace_back(0.1 * i, 0, 0.1 * i + 0.5, 1);
             v.at = {1, other ? 1 : 0.6};
             v.spot_mm = 0.3;
             v.words = u"bar: 50 µm apart at 0°"_s;
             w->show_picture(v);
             return w;
         }},
        {"heat-strip",
         {520, 280},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new HeatStrip(p);
             w->show_rows({{u"plain order"_s, u"40 K, 3 min"_s, State::warn, {{0, 60, 0}, {60, 60, 30}, {120, 60, 40}}},
                           {u"cooler"_s, u"9 K"_s, State::ok, {{0, 60, 0}, {60, 60, other ? 2.0 : 9.0}}}});
             return w;
         }},
        {"film-steps",
         {900, 200},
         [](QWidget* p, bool other) -> Instrument* {
             using Picture = FilmStepsPicture;
             using Kind = Picture::Span::Kind;
             auto* w = new FilmSteps(p);
             Picture v;
             v.begun = true;
             v.began = QDateTime(QDate(2026, 3, 2), QTime(9, 7));
             v.now_min = other ? 9 : 7.5;
             v.steps = {
                 {u"Spray"_s,
                  u"Even coats."_s,
                  u"4 min"_s,
                  u"no spark"_s,
                  Picture::Stand::done,
                  0,
                  4,
                  {{Kind::hands, 4}},
                  {}},
                 {u"Dry until matt"_s,
                  u"Still air."_s,
                  u"3 min of 6 min"_s,
                  {},
                  Picture::Stand::now,
                  4,
                  10,
                  {{Kind::wait, 6}},
                  std::pair{6.0, 14.0}},
                 {u"Mark"_s,
                  u"Air assist low."_s,
                  u"6 min"_s,
                  u"never fired wet"_s,
                  Picture::Stand::later,
                  10,
                  16,
                  {{Kind::hands, 1}, {Kind::beam, 2.5}, {Kind::beam, 2.5}},
                  {}},
                 {u"Wash"_s, u"Soft brush."_s, u"5 min"_s, {}, Picture::Stand::later, 16, 21, {{Kind::hands, 5}}, {}}};
             w->show_picture(v);
             return w;
         }},
        {"dry-look",
         {320, 86},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new DryLook(p);
             w->show_look(other ? u"dull"_s : u"matt all over"_s);
             return w;
         }},
        {"scratch-ladder",
         {330, 80},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new ScratchLadder(p);
             w->show_rungs({{u"fingernail"_s, 5, true, 1.0},
                            {u"wood"_s, 10, true, other ? 0.0 : 0.5},
                            {u"acrylic"_s, 15, true, {}},
                            {u"mild steel"_s, 20, false, {}}},
                           true);
             return w;
         }},
        {"parts",
         {520, 32},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new PartsBar(u"parts"_s, u"What a piece costs"_s, true, p);
             w->show_parts({{0.5, 3, u"can"_s, u"0.50"_s},
                            {1.6, 1, u"bench"_s, u"1.60"_s},
                            {other ? 1.0 : 2.7, 4, u"hands"_s, u"2.70"_s}});
             return w;
         }},
        {"place",
         {420, 300},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new PlaceView(p);
             w->show_picture(nests(other));
             return w;
         }},
        {"scrap",
         {640, 260},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new ScrapView(p);
             using Is = ScrapPicture::Mark::Is;
             w->show_picture({100,
                              70,
                              {{u"A"_s, 18, QRectF(1, 57, 98, 12), {{QRectF(18, 14, 64, 42), u"dial"_s, Is::used}}},
                               {u"B"_s,
                                other ? 66.0 : 52.0,
                                QRectF(39, 1, 60, 68),
                                {{QRectF(1, 1, 37, 42), u"sheet 8"_s, other ? Is::used : Is::shown},
                                 {QRectF(1, 44, 37, 24), u"sheet 9, planned"_s, Is::planned}}}},
                              u"S1, 100 by 70 mm"_s});
             return w;
         }},
        {"relief",
         {340, 340},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new ReliefView(p);
             w->show_picture(dome(other));
             return w;
         }},
        {"relief-layers",
         {420, 66},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new LayerScrubber(p);
             w->show_progress({dome(false).depth_um,
                               other ? 2 : 9,
                               {{1, u"dark and dusty"_s}, {5, u"shape shows"_s}},
                               u"Layer 9 of 12"_s});
             return w;
         }},
        {"relief-section",
         {420, 78},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new SectionChart(p);
             w->show_section({{0, 0, 40, 90, other ? 20.0 : 120.0, 90, 40, 0, 0}, 20, 120});
             return w;
         }},
        {"relief-greys",
         {420, 58},
         [](QWidget* p, bool other) -> Instrument* {
             auto* w = new GreyHistogram(p);
             GreyUse use;
             for (std::size_t i = 30; i < 90; ++i)
                 use.share.at(i) = 0.01 + 0.0002 * static_cast<double>(i % 17);
             use.darkest = 0.23, use.lightest = 0.7;
             w->show_greys(&use, other ? 0.05 : 0.2, 0.75, {1, 1, 0.6, 0.3, 0, 0});
             return w;
         }},
    };
}
