// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Every instrument, by itself, in both themes, against a picture that a person has looked at. ./finch approve makes the
// pictures anew.
#include "app/instruments/change_bars.h"
#include "app/instruments/drawing_view.h"
#include "app/instruments/heat_strip.h"
#include "app/instruments/judgement_board.h"
#include "app/instruments/knob_row.h"
#include "app/instruments/ladder.h"
#include "app/instruments/place_view.h"
#include "app/instruments/pulse_stamp.h"
#include "app/instruments/regime_map_view.h"
#include "app/instruments/relief_charts.h"
#include "app/instruments/relief_view.h"
#include "app/instruments/sheet_view.h"
#include "app/instruments/surface_view.h"
#include "app/instruments/swatch.h"
#include "demo_bench.h"
#include "formats/shipped_fonts.h"
#include "instrument_rows.h"

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
                CHECK((share_changed(in_paper, is) > 0.2 || std::string_view(row.name) == "surface" ||
                       std::string_view(row.name) == "relief"));
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
        {"changes", {400, 60}, [](QWidget* p, bool) { return showing<ChangeBars>(p, "changes", ChangeBarsView{}); }},
        {"judgement",
         {184, 400},
         [](QWidget* p, bool) -> Instrument* { return new JudgementBoard(u"judgement"_s, p); }},
        {"wishes", {184, 400}, [](QWidget* p, bool) -> Instrument* { return new WishList(u"wishes"_s, p); }},
        {"drawing", {360, 360}, [](QWidget* p, bool) -> Instrument* { return new DrawingView(p); }},
        {"lens", {360, 160}, [](QWidget* p, bool) -> Instrument* { return new HatchLens(p); }},
        {"heat", {400, 280}, [](QWidget* p, bool) -> Instrument* { return new HeatStrip(p); }},
        {"place", {400, 280}, [](QWidget* p, bool) -> Instrument* { return new PlaceView(p); }},
        {"relief", {340, 340}, [](QWidget* p, bool) -> Instrument* { return new ReliefView(p); }},
        {"layers", {400, 66}, [](QWidget* p, bool) -> Instrument* { return new LayerScrubber(p); }},
        {"section", {400, 78}, [](QWidget* p, bool) -> Instrument* { return new SectionChart(p); }},
        {"greys", {400, 58}, [](QWidget* p, bool) -> Instrument* { return new GreyHistogram(p); }},
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

    auto* bars = qobject_cast<ChangeBars*>(make("changes"));
    QSignalSpy pointed(bars, &ChangeBars::chosen), taken(bars, &ChangeBars::taken);
    QTest::keyClick(bars, Qt::Key_Down);
    CHECK(pointed.last()[0].toInt() == 2);
    QTest::keyClick(bars, Qt::Key_Down); // there is no further row
    CHECK(pointed.count() == 1);
    QTest::mouseClick(bars, Qt::LeftButton, {}, QPoint(60, 40));
    CHECK(pointed.last()[0].toInt() == 0);
    QTest::keyClick(bars, Qt::Key_Return);
    QTest::mouseDClick(bars, Qt::LeftButton, {}, QPoint(60, 85));
    REQUIRE(taken.count() == 2);
    CHECK(taken[0][0].toInt() == 0);
    CHECK(taken[1][0].toInt() == 1);
    CHECK(bars->accessibleDescription().contains(u"Scan speed"_s));

    auto* wishes = qobject_cast<WishList*>(make("wishes"));
    QSignalSpy toggled(wishes, &WishList::toggled), removed(wishes, &WishList::remove_asked);
    QTest::keyClick(wishes, Qt::Key_Down);
    QTest::keyClick(wishes, Qt::Key_Space);
    REQUIRE(toggled.count() == 1);
    CHECK(toggled.last()[0].toInt() == 1);
    QTest::keyClick(wishes, Qt::Key_Delete);
    CHECK(removed.count() == 1);
}
