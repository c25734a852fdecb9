// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/colours_dialog.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/proof/compare_dialog.h"
#include "app/stations/proof/tilt_dialog.h"
#include "driven_window.h"
#include "proof/palette.h"

#include <QSpinBox>

using namespace finch;
using namespace finch::tests;

TEST_CASE("a colour of the palette is taken with its exact values, and a sheet is planned for what is missing",
          "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    auto& maker = w.window().proof().palette().maker();
    const auto made = [&] {
        REQUIRE(QTest::qWaitFor([&] { return !maker.running(); }, patience));
        REQUIRE(maker.palette());
    };
    // Before anything was read: a path, nothing to take, and it says so.
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    made();
    CHECK(maker.palette()->colours.empty());
    CHECK_FALSE(w.find<QPushButton>("next_act")->isEnabled());
    w.flow().design();
    REQUIRE(QTest::qWaitFor([&] { return w.workbench().rounds().size() == 1; }, patience));
    w.flow().burn();
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    REQUIRE(QTest::qWaitFor([&] { return !maker.running() && maker.palette() && !maker.palette()->colours.empty(); },
                            patience));
    const std::size_t burned = maker.palette()->colours.size();
    CHECK(burned <= w.round()->sheet.own.size());

    // The sheet once more at two tilts: kept with its reading, told in the palette, and not lost to another photograph.
    {
        const SheetReading above = *w.round()->reading;
        w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+T")));
        auto* tilt = w.window().findChild<app::TiltDialog*>();
        REQUIRE(tilt != nullptr);
        for (const int angles : {1, 2}) {
            tilt->findChild<QPushButton*>(QStringLiteral("tilt_photograph"))->click();
            REQUIRE(w.wait_idle());
            CHECK(tilt->findChild<QTableWidget*>()->columnCount() == 4 + angles);
        }
        tilt->close();
        const auto tilts = [&] {
            std::size_t most = 0;
            for (const CellReading& c : w.round()->reading->cells)
                most = std::max(most, c.tilted.size());
            return most;
        };
        CHECK(tilts() == 2);
        for (std::size_t i = 0; i < above.cells.size(); ++i)
            CHECK(w.round()->reading->cells[i].lab == above.cells[i].lab);
        w.keys(QKeySequence::Undo);
        w.flow().photograph();
        REQUIRE(w.wait_idle());
        CHECK(tilts() == 2);
        const auto book = w.logbook();
        EntryFilter readings;
        readings.kind = EntryKind::reading;
        const auto heads = book->list(readings).value();
        REQUIRE(heads.size() == 4);
        CHECK(book->pictures(heads[1].id).value().front().name == "tilt 30");
        w.keys(QKeySequence(QStringLiteral("Alt+5")));
        REQUIRE(QTest::qWaitFor(
            [&] {
                return !maker.running() && maker.palette() &&
                       std::ranges::any_of(maker.palette()->colours,
                                           [](const PaletteColour& c) { return c.tilt_read_to == 30; });
            },
            patience));
    }
    // Wanted: the target by a click, another one typed, a third that is no colour.
    w.click("wanted_add");
    auto* text = w.find<QLineEdit>("wanted_text");
    text->setFocus();
    QTest::keyClicks(text, QStringLiteral("60 -60 50"));
    QTest::keyClick(text, Qt::Key_Return);
    CHECK(w.draft().wanted.size() == 2);
    QTest::keyClicks(text, QStringLiteral("the sea"));
    QTest::keyClick(text, Qt::Key_Return);
    CHECK(w.draft().wanted.size() == 2);
    made();
    REQUIRE(maker.palette()->wanted.size() == 2);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().wanted.size() == 1);
    w.keys(QKeySequence::Redo);
    made();

    // Chosen with the mouse, taken with the button, undone; then along the film by the keyboard.
    auto* plane = w.find<app::ColourPlane>("colour_plane");
    const Recipe before = w.draft().recipe;
    QTest::mouseClick(plane, Qt::LeftButton, {}, plane->dot_point(0));
    REQUIRE(plane->view().chosen);
    const Setting first = maker.palette()->colours[*plane->view().chosen].recipe.setting;
    w.click("next_act");
    CHECK(w.draft().recipe.setting == first);
    CHECK(w.draft().recipe.name == before.name);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().recipe == before);
    made();
    const std::size_t at = *plane->view().chosen;
    plane->setFocus();
    QTest::keyClick(plane, at + 1 < burned ? Qt::Key_Right : Qt::Key_Left);
    CHECK(*plane->view().chosen == (at + 1 < burned ? at + 1 : at - 1));
    auto* list = w.find<app::SwatchList>("swatch_list");
    QTest::mouseClick(list, Qt::LeftButton, {}, list->row_point(0));
    CHECK(*plane->view().chosen == maker.palette()->named.front());
    auto* row = w.find<app::WantedRow>("wanted_row");
    QTest::mouseClick(row, Qt::LeftButton, {}, row->box_point(0));
    CHECK(plane->view().chosen == maker.palette()->wanted[0].read);

    // What no cell meets is planned on the bare places of the frame that lies there.
    w.click("wanted_gaps");
    REQUIRE(w.workbench().rounds().size() == 2);
    CHECK(w.round()->sheet.on_old_plate());
    CHECK(w.round()->sheet.own.size() % 3 == 0);
    CHECK(w.find<QWidget>("sheet")->isVisible());
    // The drawing's layers get the colours that were read nearest to theirs, where they are near enough or asked for.
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    w.click("palette_layers"); // the drawing is read from now on: there is none to ask for yet
    REQUIRE(QTest::qWaitFor([&] { return w.window().piece().reader().piece() != nullptr; }, patience));
    app::PieceReader& reader = w.window().piece().reader();
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+L")));
    auto* dialog = w.window().findChild<app::ColoursDialog*>();
    REQUIRE(dialog != nullptr);
    auto* table = dialog->findChild<QTableWidget*>();
    const auto nearest = [&](int line) { return table->item(line, 2)->text(); };
    REQUIRE(QTest::qWaitFor([&] { return nearest(0).contains(u'%'); }, patience));
    REQUIRE(table->rowCount() == 4);
    const auto ticked = [&](int line) { return table->item(line, 0)->checkState() == Qt::Checked; };
    CHECK_FALSE(ticked(3)); // a guide
    for (int line = 0; line < 3; ++line)
        CHECK(ticked(line) == !table->item(line, 3)->text().contains(QStringLiteral("far")));
    // Typed over with the very colour that a cell has: nothing is short of it.
    const PaletteColour cell = maker.palette()->colours.at(1);
    table->item(2, 1)->setText(QStringLiteral("the sea"));
    CHECK(dialog->findChild<QLabel*>(QStringLiteral("colours_say"))->text().contains(QStringLiteral("accents")));
    CHECK_FALSE(ticked(2));
    table->item(2, 1)->setText(QStringLiteral("%1 %2 %3").arg(cell.lab.l).arg(cell.lab.a).arg(cell.lab.b));
    CHECK(ticked(2));
    CHECK(table->item(2, 3)->text() == QStringLiteral("0.0"));
    table->item(1, 0)->setCheckState(Qt::Checked); // whatever it falls short by
    table->item(0, 0)->setCheckState(Qt::Unchecked);
    const auto wanted_before = w.draft().wanted.size();
    if (auto* rest = dialog->findChild<QPushButton*>(QStringLiteral("colours_want")); rest->isEnabled()) {
        rest->click();
        CHECK(w.draft().wanted.size() > wanted_before);
    }
    const auto layers_before = w.draft().piece.layers;
    dialog->findChild<QPushButton*>(QStringLiteral("colours_take"))->click();
    const auto layers = reader.layers();
    REQUIRE(layers[2].choice.recipe);
    CHECK(layers[2].choice.recipe->setting == cell.recipe.setting);
    CHECK_FALSE(layers[2].taken_elsewhere);
    CHECK(layers[1].choice.recipe);
    CHECK_FALSE(layers[0].choice.recipe);
    CHECK(layers[3].choice.guide);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().piece.layers == layers_before); // all of it in one step
    w.keys(QKeySequence::Redo);
    CHECK(reader.layers()[2].choice.recipe->setting == cell.recipe.setting);
    // Another lot: nothing of this one stands under its name.
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    w.workbench().change({}, {}, [](app::Draft& d) { d.setup.stock.lot = "another"; });
    CHECK((!maker.palette() || maker.palette()->colours.empty()));
    made();
    CHECK(maker.palette()->colours.empty());
}

TEST_CASE("two recipes are compared in pairs: settled in a dialog, burned by chance, told in a verdict", "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    int sheet = 0;
    {
        DrivenWindow w(folder.path());
        w.workbench().confirm_focus();
        const auto dialog = [&]() -> app::CompareDialog* {
            w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+P")));
            REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<app::CompareDialog*>() != nullptr; }, patience));
            return w.window().findChild<app::CompareDialog*>();
        };
        // Nothing to compare with yet: it says so.
        auto* empty = dialog();
        CHECK_FALSE(empty->findChild<QPushButton*>(QStringLiteral("compare_plan"))->isEnabled());
        empty->reject();
        REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<app::CompareDialog*>() == nullptr; }, patience));
        w.workbench().note([](app::Draft& d) {
            d.saved = d.recipe;
            d.saved->name = "as saved";
        });
        w.workbench().set_knob(Knob::scan_speed, 1.25 * knob_value(w.draft().recipe, Knob::scan_speed));
        auto* d = dialog();
        d->findChild<QComboBox*>(QStringLiteral("compare_measure"))->setCurrentIndex(3); // b*
        d->findChild<QSpinBox*>(QStringLiteral("compare_pairs"))->setValue(6);
        auto* plan = d->findChild<QPushButton*>(QStringLiteral("compare_plan"));
        REQUIRE(plan->isEnabled());
        QTest::mouseClick(plan, Qt::LeftButton);
        REQUIRE(w.workbench().rounds().size() == 1);
        REQUIRE(w.round()->sheet.paired);
        CHECK(w.round()->sheet.own.size() == 12);
        const Recipe set = w.draft().recipe;
        auto* panel = w.find<app::ComparePanel>("compare_panel");
        CHECK(panel->isVisible());
        CHECK_FALSE(w.find<QWidget>("ranking")->isVisible());
        CHECK_FALSE(panel->view().verdict);
        w.click("next_act");
        REQUIRE(w.wait_idle());
        REQUIRE(w.round()->reading);
        sheet = w.round()->sheet.number;
        REQUIRE(panel->view().verdict);
        CHECK(panel->view().verdict->finding == Comparing::matters);
        CHECK(panel->accessibleDescription().startsWith(QStringLiteral("It matters: b*")));
        CHECK(w.draft().recipe == set); // it answers, and chooses nothing
        // What was settled is part of the sheet: another question cannot be put to the same readings.
        CHECK(w.round()->sheet.paired->matters == 1);
        w.logbook();
        w.window().close();
    }
    DrivenWindow again(folder.path());
    REQUIRE(again.workbench().round(sheet) != nullptr);
    CHECK(judge_comparison(again.workbench().round(sheet)->sheet, *again.workbench().round(sheet)->reading)->finding ==
          Comparing::matters);
}
