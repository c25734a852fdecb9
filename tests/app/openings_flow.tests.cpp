// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/sheet_view.h"
#include "app/stations/proof/proof_panels.h"
#include "app/stations/proof/rest_dialog.h"
#include "driven_window.h"

#include <QTableWidget>

using namespace finch;
using namespace finch::tests;

TEST_CASE("ways to begin are held side by side, one is planned, its cells are changed by hand, and undo takes it back",
          "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.window().show_station(app::MainWindow::StationId::proof);
    w.window().proof().show_page(app::ProofStation::Page::plan);
    QString said;
    QObject::connect(&w.workbench(), &app::Workbench::said, &w.window(), [&](const QString& text) { said = text; });
    const auto open = [&] {
        auto* d = w.window().findChild<QDialog*>(QStringLiteral("openings_dialog"));
        REQUIRE(d != nullptr);
        auto* table = d->findChild<QTableWidget*>(QStringLiteral("openings"));
        REQUIRE(QTest::qWaitFor([&] { return table->rowCount() > 5; }, patience));
        return std::pair{d, table};
    };
    const auto press_plan = [](QDialog* d) {
        QTest::mouseClick(d->findChild<QPushButton*>(QStringLiteral("opening_plan")), Qt::LeftButton);
    };
    REQUIRE(QTest::qWaitFor([&] { return w.find<QPushButton>("ways_to_begin")->isEnabled(); }, patience));
    w.click("ways_to_begin");
    auto [dialog, table] = open();
    CHECK(table->item(0, 0)->text() == QStringLiteral("Designed cells"));
    // What was worked out for another target is not planned: the ways are compared again.
    w.workbench().change({}, {}, [](app::Draft& d) { d.target = named_targets()[1]; });
    press_plan(dialog);
    CHECK(w.workbench().rounds().empty());
    CHECK(said.contains(QStringLiteral("compared again")));
    REQUIRE(QTest::qWaitFor([&] { return table->rowCount() > 5; }, patience));
    // By key: down to another way, Enter plans it.
    table->setFocus();
    QTest::keyClick(table, Qt::Key_Down);
    const QString name = table->item(table->currentRow(), 0)->text();
    const int cells = table->item(table->currentRow(), 1)->text().toInt();
    press_plan(dialog);
    REQUIRE(w.round() != nullptr);
    CHECK(static_cast<int>(w.round()->sheet.cells()) == cells);
    CHECK(QString::fromStdString(w.round()->reason).startsWith(name));
    CHECK_FALSE(w.round()->burned);

    // A product of two axes has no cell of its own to set; a cell of it can be left out.
    w.flow().choose_cell(0);
    w.flow().set_cell();
    CHECK(said.contains(QStringLiteral("two axes")));
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+X")));
    CHECK(w.round()->sheet.left_out[0]);
    w.keys(QKeySequence::Undo);
    CHECK_FALSE(w.round()->sheet.left_out[0]);

    // Free cells are set by hand: choose, tune, put in.
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+O")));
    std::tie(dialog, table) = open();
    press_plan(dialog);
    REQUIRE(w.workbench().rounds().size() == 2);
    REQUIRE(w.round()->sheet.free());
    w.flow().choose_cell(1);
    const Setting before = w.round()->sheet.own[1];
    w.workbench().set_knob(Knob::scan_speed, 777);
    w.workbench().change({}, {}, [](app::Draft& d) { d.recipe.turn_per_pass_deg = 67; });
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+V")));
    CHECK(in_mm_per_second(w.round()->sheet.own[1].scan_speed) == Approx(777));
    CHECK(said.contains(QStringLiteral("stay the sheet's"))); // the turn is no knob of a cell
    CHECK(w.round()->reason.ends_with("Changed by hand since."));
    CHECK(w.round()->sheet.own[0] == w.workbench().rounds()[1].sheet.own[0]);
    CHECK(w.workbench().forecast().cells.at(1).prediction.has_value());
    w.keys(QKeySequence::Undo);
    CHECK(w.round()->sheet.own[1] == before);
    CHECK_FALSE(w.round()->reason.ends_with("Changed by hand since."));
    w.keys(QKeySequence::Redo);
    // Rests between its cells, by key: what they cost is told before, undo takes them back.
    const auto ask_rests = [&] {
        w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+R")));
        auto* d = w.window().findChild<app::RestDialog*>();
        REQUIRE(d != nullptr);
        REQUIRE(QTest::qWaitFor([&] { return d->isVisible(); }, patience));
        return d;
    };
    auto* rests = ask_rests();
    CHECK(rests->findChild<QLabel*>(QStringLiteral("rest_without"))->text().startsWith(QStringLiteral("Up to")));
    auto* below = rests->findChild<QDoubleSpinBox*>(QStringLiteral("rest_below"));
    below->setValue(most_rest_below_k);
    CHECK(rests->findChild<QLabel*>(QStringLiteral("rest_with"))->text() ==
          QStringLiteral("No rest is needed for that."));
    CHECK_FALSE(rests->findChild<QPushButton*>(QStringLiteral("rest_take"))->isEnabled());
    below->setValue(0.5);
    CHECK(rests->findChild<QLabel*>(QStringLiteral("rest_with"))->text().contains(QStringLiteral("of it rests")));
    const double bare_s = w.workbench().first_forecast().total_s;
    below->setFocus();
    QTest::keyClick(below, Qt::Key_Return);
    REQUIRE(QTest::qWaitFor([&] { return w.round()->sheet.rest_below_k == 0.5; }, patience));
    const double rests_s = w.workbench().first_forecast().rests_s;
    CHECK(rests_s > 0);
    CHECK(w.workbench().first_forecast().total_s == Approx(bare_s + rests_s));
    w.keys(QKeySequence::Undo);
    CHECK(w.round()->sheet.rest_below_k == 0);
    w.keys(QKeySequence::Redo);
    CHECK(w.round()->sheet.rest_below_k == 0.5);
    // What is burned stays as it was burned, in the turns it was burned in.
    w.workbench().confirm_focus();
    w.flow().burn();
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->burned);
    CHECK(w.round()->sheet.turns.size() == burned_cells(w.round()->sheet).size());
    CHECK(w.workbench().first_forecast().rests_s == Approx(rests_s));
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+R")));
    CHECK(said.contains(QStringLiteral("not burned yet")));
    w.flow().choose_cell(1);
    w.workbench().set_knob(Knob::scan_speed, 900);
    w.flow().set_cell();
    CHECK(said.contains(QStringLiteral("is burned")));
    CHECK(in_mm_per_second(w.round()->sheet.own[1].scan_speed) == Approx(777));

    // A depth for the target makes no depths of films: nothing is asked for that a gauge could not feel, and no colour
    // stands for a depth.
    const QString act = w.find<QPushButton>("next_act")->text();
    w.workbench().change({}, {}, [](app::Draft& d) { d.target = depth_target({120, 12}); });
    w.window().proof().show_page(app::ProofStation::Page::sheet);
    CHECK(w.find<QPushButton>("next_act")->text() == act);
    for (const auto& cell : w.find<app::SheetWidget>("sheet")->view().cells) {
        CHECK_FALSE(cell.depth);
        CHECK_FALSE(cell.measured_de);
        CHECK_FALSE(cell.predicted_de);
    }
    CHECK(w.flow().ranking().empty());
    CHECK_FALSE(app::ranking_view(w.workbench(), {}).target);
}
