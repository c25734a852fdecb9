// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/ladder_dialog.h"
#include "app/stations/proof/lot_dialog.h"
#include "driven_window.h"

#include <QRadioButton>
#include <QSpinBox>

using namespace finch;
using namespace finch::tests;

TEST_CASE("a focus ladder: planned, burned, read, and the head taken to what it found", "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    Length taken = mm(0);
    {
        DrivenWindow w(folder.path());
        w.workbench().confirm_focus();
        // Nothing to take yet: it says so.
        w.keys(QKeySequence(QStringLiteral("Alt+6")));
        CHECK_FALSE(w.find<QPushButton>("next_act")->isEnabled());
        auto* chart = w.find<app::FocusChart>("focus_chart");
        CHECK(chart->view().empty.contains(QStringLiteral("Plan one on scrap")));
        auto* dialog = asked<app::LadderDialog>(w, "Ctrl+Shift+L");
        dialog->findChild<QDoubleSpinBox*>(QStringLiteral("ladder_about"))->setValue(49);
        CHECK_FALSE(dialog->findChild<QPushButton*>(QStringLiteral("ladder_plan"))->isEnabled());
        dialog->findChild<QDoubleSpinBox*>(QStringLiteral("ladder_about"))->setValue(0);
        dialog->findChild<QRadioButton*>(QStringLiteral("ladder_close"))->setChecked(true);
        dialog->findChild<QSpinBox*>(QStringLiteral("ladder_steps"))->setValue(11);
        QTest::mouseClick(dialog->findChild<QPushButton*>(QStringLiteral("ladder_plan")), Qt::LeftButton);
        REQUIRE(w.workbench().rounds().size() == 1);
        REQUIRE(w.round()->sheet.ladder);
        CHECK(w.round()->sheet.own.size() == 22);
        const Recipe set = w.draft().recipe;
        w.click("next_act");
        REQUIRE(w.wait_idle());
        REQUIRE(w.round()->reading);
        CHECK(w.draft().recipe == set); // it answers, and chooses nothing
        CHECK(w.workbench().evidence().sheets == 0);
        w.click("next_act"); // see the focus
        CHECK(chart->isVisible());
        REQUIRE(QTest::qWaitFor([&] { return w.find<QPushButton>("next_act")->isEnabled(); }, patience));
        CHECK(chart->view().marks.size() >= 18);
        CHECK(w.find<QLabel>("focus_best")->text().contains(QStringLiteral("mm")));
        CHECK(w.find<app::FieldMap>("field_map")->view().places.empty()); // close together
        taken = mm(std::round(100 * chart->view().best) / 100);
        w.click("next_act");
        const Focus& focus = w.draft().setup.focus;
        REQUIRE(focus.confirmed);
        CHECK(focus.confirmed->method == FocusMethod::ladder);
        CHECK(focus.confirmed->from_gauge == taken);
        CHECK(focus.head_raised == taken);
        CHECK_FALSE(w.workbench().focus_state().stale());
        // What was done is not asked for again.
        CHECK_FALSE(w.find<QPushButton>("next_act")->isEnabled());
        CHECK(w.find<QLabel>("focus_best_words")->text().startsWith(QStringLiteral("taken")));
        // Undone, the head is said to stand elsewhere; what was confirmed stays a fact.
        w.keys(QKeySequence::Undo);
        CHECK(w.workbench().focus_state().reasons == std::vector{StaleReason::head_moved});
        CHECK(w.find<QPushButton>("next_act")->isEnabled());
        CHECK(w.draft().setup.focus.confirmed->from_gauge == taken);
        w.keys(QKeySequence::Redo);
        CHECK_FALSE(w.workbench().focus_state().stale());
        w.window().proof().focus().take(); // going there twice is going there once
        CHECK(w.draft().setup.focus.confirmed->from_gauge == taken);
        CHECK(w.draft().setup.focus.head_raised == taken);
        // Another surface is not where this ladder was burned.
        w.workbench().change({}, {}, [](app::Draft& d) { d.setup.stock.thickness = mm(5); });
        w.window().proof().focus().take();
        CHECK(w.workbench().focus_state().stale());
        w.keys(QKeySequence::Undo);
        CHECK_FALSE(w.workbench().focus_state().stale());
        // A mark out of focus is looked at, and is no recipe.
        w.flow().choose_cell(3);
        CHECK(w.draft().cell == std::size_t{3});
        CHECK(w.draft().recipe == set);
        w.logbook();
        w.window().close();
    }
    DrivenWindow again(folder.path());
    REQUIRE(again.draft().setup.focus.confirmed);
    CHECK(in_mm(again.draft().setup.focus.confirmed->from_gauge) == Approx(in_mm(taken)));
    again.keys(QKeySequence(QStringLiteral("Alt+6")));
    REQUIRE(
        QTest::qWaitFor([&] { return !again.find<app::FocusChart>("focus_chart")->view().marks.empty(); }, patience));
}

TEST_CASE("a recipe is checked on another lot, and the dose that it needs there is taken", "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    auto* dialog = asked<app::LotDialog>(w, "Ctrl+Shift+K");
    auto* expected = dialog->findChild<QLineEdit*>(QStringLiteral("lot_expected"));
    auto* plan = dialog->findChild<QPushButton*>(QStringLiteral("lot_plan"));
    expected->setText(QStringLiteral("the sea"));
    CHECK_FALSE(plan->isEnabled());
    expected->setText(QStringLiteral("90 0 0")); // what no dose of it will be
    QTest::mouseClick(plan, Qt::LeftButton);
    REQUIRE(w.workbench().rounds().size() == 1);
    REQUIRE(w.round()->sheet.lot);
    CHECK(w.round()->sheet.lot->expected.l == 90);
    auto* panel = w.find<app::LotPanel>("lot_panel");
    CHECK(panel->isVisible());
    CHECK_FALSE(panel->view().finding);
    const Recipe set = w.draft().recipe;
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    REQUIRE(panel->view().finding);
    CHECK(panel->view().finding->verdict == LotVerdict::different);
    w.click("next_act"); // there is no dose to take
    CHECK(w.draft().recipe == set);
    // What it looks like here with a little more power, asked for once more.
    const auto more = std::ranges::max_element(w.round()->reading->cells, {}, [](const CellReading& c) {
        return c.state == CellState::read && c.within_de < 4 ? c.lab.l : -1;
    });
    const auto cell = static_cast<std::size_t>(more - w.round()->reading->cells.begin());
    const Lab there = more->lab;
    w.flow().plan_lot_check({there, 4});
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(panel->view().finding);
    INFO(panel->view().finding->words << " cell " << cell);
    REQUIRE((panel->view().finding->verdict == LotVerdict::dose || panel->view().finding->verdict == LotVerdict::same));
    w.click("next_act");
    const double power = w.draft().recipe.setting.power_percent, was = set.setting.power_percent;
    CHECK((panel->view().finding->verdict == LotVerdict::same ? power == was : power != was));
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().recipe == set);
    w.keys(QKeySequence::Redo);
    CHECK(w.draft().recipe.setting.power_percent == power);
}
