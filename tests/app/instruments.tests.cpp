// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Every instrument, by itself, in both themes, against a picture that a person has looked at. ./finch approve makes the
// pictures anew.
#include "app/instruments/bench_drawings.h"
#include "app/instruments/judgement_board.h"
#include "app/instruments/knob_row.h"
#include "app/instruments/ladder.h"
#include "app/instruments/pulse_stamp.h"
#include "app/instruments/regime_map_view.h"
#include "app/instruments/sheet_view.h"
#include "app/instruments/surface_view.h"
#include "app/instruments/swatch.h"
#include "demo_bench.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <QDir>
#include <QImage>
#include <QLineEdit>
#include <QSignalSpy>
#include <QtTest/QTest>

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
                c.shows_film = heat <= 0.3;
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

/// A row of the table: an instrument that shows `other` = false for the picture, and something else otherwise.
struct Row {
    const char* name;
    QSize size;
    std::function<Instrument*(QWidget* parent, bool other)> make;
};

template <typename Widget, typename View>
Instrument* showing(QWidget* parent, const char* name, const View& view) {
    auto* w = new Widget(QString::fromLatin1(name), parent);
    w->show_view(view);
    return w;
}

Instrument* drawing(QWidget* parent, const char* name, Drawing::Paint paint) {
    auto* d = new Drawing(QString::fromLatin1(name), QString::fromLatin1(name), parent);
    d->show_drawing(std::move(paint), u"as drawn"_s);
    return d;
}

const std::vector<Row>& instruments() {
    static const std::vector<Row> rows{
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
             w->show_points({{u"Film"_s, 2, 3}, {u"Deep engraving"_s, 5, 4}, {u"Compound"_s, 4, other ? 2.0 : 3.5}}, 3,
                            3);
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
        {"stamp",
         {200, 90},
         [](QWidget* p, bool other) {
             return showing<PulseStamp>(p, "stamp", StampView{54, other ? 30.0 : 12.0, 20});
         }},
        {"map", {440, 330}, [](QWidget* p, bool other) { return showing<RegimeMapWidget>(p, "map", map_view(other)); }},
        {"sheet", {460, 340}, [](QWidget* p, bool other) { return showing<SheetWidget>(p, "sheet", sheet(other)); }},
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
             return drawing(p, "field", [v](QPainter& q, const QRectF& b, const Theme& t) { paint_field(q, b, v, t); });
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
    };
    return rows;
}

QImage picture(const Row& row, const Theme& theme, bool other, QString* name = nullptr,
               QString* description = nullptr) {
    [[maybe_unused]] static const bool fonts = [] {
        load_fonts();
        return true;
    }();
    QWidget window;
    window.setAttribute(Qt::WA_DontShowOnScreen);
    set_theme(&window, theme);
    window.resize(row.size);
    Instrument* instrument = row.make(&window, other);
    instrument->setGeometry(QRect(QPoint(), row.size));
    window.show();
    // No blinking cursor.
    window.setFocus();
    if (name != nullptr)
        *name = instrument->accessibleName();
    if (description != nullptr)
        *description = instrument->accessibleDescription();
    return window.grab().toImage().convertToFormat(QImage::Format_RGB32);
}

/// The share of pixels that differ plainly: a glyph that another build of a font engine rounds otherwise does not.
double share_changed(const QImage& a, const QImage& b) {
    if (a.size() != b.size())
        return 1;
    constexpr int plainly = 24;
    int changed = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QRgb p = a.pixel(x, y), q = b.pixel(x, y);
            const int off =
                std::max({std::abs(qRed(p) - qRed(q)), std::abs(qGreen(p) - qGreen(q)), std::abs(qBlue(p) - qBlue(q))});
            changed += off > plainly ? 1 : 0;
        }
    return static_cast<double>(changed) / (a.width() * a.height());
}

} // namespace

TEST_CASE("every instrument looks as it was approved, in both themes", "[instruments]") {
    constexpr double same = 0.0005;
    const QDir golden(QStringLiteral(FINCH_SOURCE "/tests/app/golden"));
    const bool approve = qEnvironmentVariableIsSet("FINCH_APPROVE");
    QStringList names;
    for (const Row& row : instruments()) {
        INFO(row.name);
        QImage in_paper;
        for (const char* theme : {"paper", "workshop"}) {
            const QString file = QStringLiteral("%1-%2.png").arg(QLatin1String(row.name), QLatin1String(theme));
            names << file;
            INFO(file.toStdString() << ": look at build/*/tests/golden, then ./finch approve");
            const Theme& colours = Theme::named(QString::fromLatin1(theme));
            QString name, description;
            const QImage is = picture(row, colours, false, &name, &description);
            if (approve)
                REQUIRE(is.save(golden.filePath(file)));
            const QImage was(golden.filePath(file));
            const double off = share_changed(was.convertToFormat(QImage::Format_RGB32), is);
            if (off > same) {
                QDir().mkpath(u"golden"_s);
                is.save(u"golden/"_s + file);
            }
            CHECK(off <= same);
            // Told as well as shown, and the picture is of what is shown.
            CHECK_FALSE(name.isEmpty());
            CHECK_FALSE(description.isEmpty());
            CHECK(share_changed(is, picture(row, colours, true)) > same);
            if (in_paper.isNull())
                in_paper = is;
            else
                // The lit metal has no ground of the theme's.
                CHECK((share_changed(in_paper, is) > 0.2 || std::string_view(row.name) == "surface"));
        }
    }
    names.sort();
    CHECK(golden.entryList({u"*.png"_s}, QDir::Files, QDir::Name) == names);
}

TEST_CASE("every instrument is painted at any size, with nothing to show as well", "[instruments]") {
    for (const Row& row : instruments())
        for (const QSize size : {QSize(1, 1), QSize(20, 400), QSize(900, 12), 3 * row.size}) {
            INFO(row.name << " at " << size.width() << " x " << size.height());
            const Row other{row.name, size, row.make};
            CHECK(picture(other, Theme::named(u"workshop"_s), true).size() == size);
        }
    const std::vector<Row> empty{
        {"ladder", {112, 260}, [](QWidget* p, bool) { return showing<Ladder>(p, "ladder", LadderView{}); }},
        {"map", {440, 330}, [](QWidget* p, bool) { return showing<RegimeMapWidget>(p, "map", RegimeMapView{}); }},
        {"sheet", {460, 340}, [](QWidget* p, bool) { return showing<SheetWidget>(p, "sheet", SheetView{}); }},
        {"surface", {150, 150}, [](QWidget* p, bool) { return showing<SurfaceWidget>(p, "surface", SurfaceView{}); }},
        {"swatch", {240, 146}, [](QWidget* p, bool) { return showing<Swatch>(p, "swatch", SwatchView{}); }},
        {"stamp",
         {200, 90},
         [](QWidget* p, bool) {
             return showing<PulseStamp>(p, "stamp", StampView{0, 0, 0});
         }},
        {"judgement",
         {184, 400},
         [](QWidget* p, bool) -> Instrument* { return new JudgementBoard(u"judgement"_s, p); }},
        {"wishes", {184, 400}, [](QWidget* p, bool) -> Instrument* { return new WishList(u"wishes"_s, p); }},
    };
    for (const Row& row : empty) {
        INFO("empty " << row.name);
        CHECK(picture(row, Theme::named(u"paper"_s), false).size() == row.size);
    }
}

TEST_CASE("every instrument that can be moved is moved by keys as by the mouse", "[instruments]") {
    QWidget window;
    set_theme(&window, Theme::named(u"paper"_s));
    window.setAttribute(Qt::WA_DontShowOnScreen);
    window.resize(500, 400);
    const auto make = [&](const char* name) {
        for (const Row& row : instruments())
            if (std::string_view(row.name) == name) {
                Instrument* i = row.make(&window, false);
                i->setGeometry(QRect(QPoint(), row.size));
                return i;
            }
        throw std::logic_error(name);
    };
    window.show();

    auto* ladder = qobject_cast<Ladder*>(make("ladder"));
    QSignalSpy level(ladder, &Ladder::moved);
    QTest::keyClick(ladder, Qt::Key_Up);
    QTest::keyClick(ladder, Qt::Key_Down);
    REQUIRE(level.count() == 2);
    CHECK(level[0][0].toDouble() > 3.9);
    CHECK(level[1][0].toDouble() < 3.9);
    // Where it is clicked is what it reads there: the scale is its own inverse.
    double last = 0;
    for (int y = 200; y > 60; y -= 20) {
        QTest::mouseClick(ladder, Qt::LeftButton, {}, QPoint(50, y));
        const double now = level.last()[0].toDouble();
        CHECK(now == Approx(ladder_value_at(QRectF(ladder->rect()), ladder->view(), y)).epsilon(0.02));
        CHECK(now > last);
        last = now;
    }

    auto* map = qobject_cast<RegimeMapWidget*>(make("map"));
    QSignalSpy place(map, &RegimeMapWidget::moved);
    const struct {
        int key;
        double dx, dy;
    } ways[] = {{Qt::Key_Right, 1, 0}, {Qt::Key_Left, -1, 0}, {Qt::Key_Up, 0, 1}, {Qt::Key_Down, 0, -1}};
    for (const auto& way : ways) {
        QTest::keyClick(map, static_cast<Qt::Key>(way.key));
        REQUIRE(place.count() > 0);
        const double dx = place.last()[0].toDouble() - map->view().x, dy = place.last()[1].toDouble() - map->view().y;
        CHECK(dx * way.dx >= 0);
        CHECK(dy * way.dy >= 0);
        CHECK(std::abs(dx) + std::abs(dy) > 0);
    }
    const QRectF field = regime_field(QRectF(map->rect()));
    QTest::mouseClick(map, Qt::LeftButton, {}, field.center().toPoint());
    CHECK(place.last()[0].toDouble() == Approx(0.5).margin(0.01));
    CHECK(place.last()[1].toDouble() == Approx(0.5).margin(0.01));

    auto* cells = qobject_cast<SheetWidget*>(make("sheet"));
    QSignalSpy chosen(cells, &SheetWidget::chosen);
    for (std::size_t cell = 0; cell < cells->view().cells.size(); ++cell) {
        QTest::mouseClick(cells, Qt::LeftButton, {}, cells->cell_point(cell));
        CHECK(chosen.last()[0].value<std::size_t>() == cell);
    }
    const struct {
        int key;
        std::size_t cell;
    } steps[] = {{Qt::Key_Right, 6}, {Qt::Key_Left, 4}, {Qt::Key_Up, 1}, {Qt::Key_Down, 9}};
    for (const auto& step : steps) {
        QTest::keyClick(cells, static_cast<Qt::Key>(step.key));
        CHECK(chosen.last()[0].value<std::size_t>() == step.cell);
    }

    auto* swatch = qobject_cast<Swatch*>(make("swatch"));
    QSignalSpy tilt(swatch, &Swatch::tilted);
    QTest::keyClick(swatch, Qt::Key_Right);
    CHECK(tilt.last()[0].toInt() == 4);
    QTest::keyClick(swatch, Qt::Key_Left);
    CHECK(tilt.last()[0].toInt() == 2);

    auto* row = qobject_cast<KnobRow*>(make("knob"));
    QSignalSpy moved(row, &KnobRow::moved);
    QTest::keyClick(row, Qt::Key_Up);
    REQUIRE(moved.count() == 1);
    CHECK(moved.last()[0].toDouble() > 990);
    QSignalSpy complained(row, &KnobRow::complained);
    row->field()->selectAll();
    QTest::keyClicks(row->field(), u"quick"_s);
    QTest::keyClick(row->field(), Qt::Key_Return);
    CHECK(complained.count() == 1);
    CHECK(moved.count() == 1);

    auto* wishes = qobject_cast<WishList*>(make("wishes"));
    QSignalSpy toggled(wishes, &WishList::toggled), removed(wishes, &WishList::remove_asked);
    QTest::keyClick(wishes, Qt::Key_Down);
    QTest::keyClick(wishes, Qt::Key_Space);
    REQUIRE(toggled.count() == 1);
    CHECK(toggled.last()[0].toInt() == 1);
    QTest::keyClick(wishes, Qt::Key_Delete);
    CHECK(removed.count() == 1);
}
