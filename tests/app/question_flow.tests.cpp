// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Sheets that ask one question, as an operator goes through them: control of the day, threshold, offsets.
#include "app/instruments/answer_panel.h"
#include "app/shell/status_line.h"
#include "app/stations/proof/cell_list_dialog.h"
#include "app/stations/proof/control_dialog.h"
#include "app/stations/proof/explain_dialog.h"
#include "app/stations/proof/lot_dialog.h"
#include "app/stations/proof/lot_panel.h"
#include "app/stations/proof/offset_dialog.h"
#include "app/stations/proof/scrap_dialog.h"
#include "app/stations/proof/threshold_dialog.h"
#include "app/stations/proof/wedge_dialog.h"
#include "driven_window.h"
#include "recipe/explain.h"

#include <QApplication>

using namespace finch;
using namespace finch::tests;

namespace {

/// The control of an earlier day, as its reading lies in the record: what the bench gives is `dose` of what it gave.
ReadSheet control_of(const app::Workbench& w, int number, double dose, bool even) {
    const LotCheck check{{36, 2, -28}, 3};
    SheetRequest request;
    request.number = number;
    request.base = w.draft().recipe;
    ReadSheet r;
    r.uid = "day-" + std::to_string(number);
    r.when_utc = "2026-11-" + std::to_string(10 + number) + "T08:00:00Z";
    r.by = "OD";
    r.burned_uid = "burned-" + std::to_string(number);
    r.sheet = plan_lot_check(request, check, w.bench(), w.draft().recipe).value();
    r.setup = w.draft().setup;
    r.target = w.draft().target;
    r.reading.sheet_number = number;
    r.reading.cells.resize(r.sheet.cells());
    for (std::size_t i = 0; i < r.sheet.own.size(); ++i) {
        const double x = std::log(r.sheet.own[i].power_percent / request.base.setting.power_percent * dose);
        r.reading.cells[i] = {CellState::read, {36 - 60 * x, 2 + 30 * x, -28 + 90 * x + (even ? 0.6 : -0.3)}, 1, 1};
    }
    return r;
}

} // namespace

TEST_CASE("the control of the day: its course from the record, today's cells, and an alarm", "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        // There is none yet: a first lot check begins one.
        auto* dialog = asked<app::ControlDialog>(w, "Ctrl+Alt+K");
        CHECK(dialog->findChild<QLabel*>(QStringLiteral("control_words"))->text().contains(QStringLiteral("lot")));
        press(dialog, "control_plan");
        REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<app::LotDialog*>() != nullptr; }, patience));
        w.window().findChild<app::LotDialog*>()->close();
        // Eight days of it, of which only the logbook knows.
        for (int day = 1; day <= 8; ++day)
            w.shop().recorder().record(entry_of(control_of(w.workbench(), day, 1 + 0.004 * (day % 3 - 1), day % 2 == 0),
                                                "five cells", Outcome::good, w.workbench().metal().name, "0"),
                                       {}, {});
        w.logbook();
        w.window().close();
    }
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    app::ControlKeeper& keeper = w.shop().controls();
    REQUIRE(QTest::qWaitFor([&] { return keeper.controls().size() == 1; }, patience));
    CHECK(keeper.controls().front().course.points.size() == 8);
    CHECK(keeper.controls().front().course.verdict == ControlVerdict::usual);
    const Recipe other = [&] {
        w.workbench().change({}, {}, [](app::Draft& d) { d.recipe.setting.scan_speed = mm_per_second(700); });
        return w.draft().recipe;
    }();
    auto* dialog = asked<app::ControlDialog>(w, "Ctrl+Alt+K");
    CHECK(dialog->findChild<app::ControlChart*>()->view().days.size() == 8);
    press(dialog, "control_plan");
    REQUIRE(w.round() != nullptr);
    const ProofSheet today = w.round()->sheet;
    CHECK(same_control(today, keeper.controls().front().sheet));
    CHECK(today.number == 9);
    CHECK(w.draft().recipe == other); // what one works on is left alone
    w.keys(QKeySequence::Undo);
    CHECK(w.workbench().rounds().empty());
    w.keys(QKeySequence::Redo);
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    REQUIRE(QTest::qWaitFor(
        [&] {
            const auto& c = keeper.controls().front();
            return static_cast<int>(c.readings.size()) + c.coarse == 9;
        },
        patience));
    auto* panel = w.find<app::LotPanel>("lot_panel");
    CHECK(panel->isVisible());
    CHECK_FALSE(panel->view().course.isEmpty());
    // A day on which the bench gives a tenth less is said at once, and drawn as what it is.
    const std::size_t alarms = [&] {
        return static_cast<std::size_t>(
            std::ranges::count_if(keeper.controls().front().course.points, &ControlPoint::alarm));
    }();
    w.workbench().add_facts([&](app::Ledger& ledger) {
        BurnedSheet burned;
        ReadSheet read = control_of(w.workbench(), 10, 0.93, true);
        read.sheet.base = today.base;
        for (std::size_t i = 0; i < read.sheet.own.size(); ++i)
            read.sheet.own[i] = today.own[i];
        burned.uid = read.burned_uid;
        burned.sheet = read.sheet;
        burned.setup = read.setup;
        ledger.add(burned);
        ledger.add(read, {});
    });
    REQUIRE(
        QTest::qWaitFor([&] { return keeper.controls().front().course.points.back().reading.sheet == 10; }, patience));
    const ControlCourse& course = keeper.controls().front().course;
    INFO(course.words);
    CHECK(static_cast<std::size_t>(std::ranges::count_if(course.points, &ControlPoint::alarm)) == alarms + 1);
    CHECK(w.window().findChild<app::StatusLine*>()->text().contains(QStringLiteral("than usual")));
    // Another lot is another control.
    w.workbench().change({}, {}, [](app::Draft& d) { d.setup.stock.lot = "elsewhere"; });
    REQUIRE(QTest::qWaitFor([&] { return !keeper.running(); }, patience));
    CHECK(keeper.controls().empty());
    w.keys(QKeySequence::Undo);
    REQUIRE(QTest::qWaitFor([&] { return !keeper.running() && keeper.controls().size() == 1; }, patience));
}

TEST_CASE("a threshold is searched, what is torn is ticked, and the next range follows", "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    auto* dialog = asked<app::ThresholdDialog>(w, "Ctrl+Alt+P");
    dialog->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_low"))->setValue(20);
    dialog->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_high"))->setValue(10);
    press(dialog, "threshold_plan"); // said, and the dialog stays
    CHECK(w.workbench().rounds().empty());
    CHECK(dialog->isVisible());
    dialog->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_low"))->setValue(1.5);
    dialog->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_high"))->setValue(16);
    press(dialog, "threshold_plan");
    REQUIRE(w.round() != nullptr);
    REQUIRE(w.round()->sheet.threshold);
    auto* panel = w.find<app::AnswerPanel>("answer_panel");
    CHECK(panel->isVisible());
    CHECK(panel->view().plots.empty());
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    REQUIRE(panel->view().plots.size() == 2);
    const QString before = panel->view().words;
    // The strongest cells are ticked.
    const ProofSheet sheet = w.round()->sheet;
    for (std::size_t i = 0; i < sheet.own.size(); ++i)
        if (sheet.own[i].power_percent > 15) {
            w.flow().choose_cell(i);
            w.keys(QKeySequence(QStringLiteral("Ctrl+J")));
            REQUIRE(QTest::qWaitFor([&] { return w.round()->reading->cells.at(i).spoiled; }, patience));
        }
    CHECK(panel->view().words != before);
    CHECK(panel->view().plots.at(1).dots.back().y == 100);
    const auto finding = judge_threshold(w.round()->sheet, *w.round()->reading, w.round()->setup.bench).value();
    auto* next = asked<app::ThresholdDialog>(w, "Ctrl+Alt+P");
    CHECK(next->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_low"))->value() ==
          Approx(finding.next.low_percent).margin(0.06));
    next->close();
    // What was read so far is held against what was set: only the power was turned here.
    auto* follows = asked<app::ExplainDialog>(w, "Ctrl+Alt+E");
    auto* table = follows->findChild<QTableWidget*>(QStringLiteral("explain_table"));
    auto* words = follows->findChild<QLabel*>(QStringLiteral("explain_words"));
    REQUIRE(QTest::qWaitFor([&] { return !words->text().contains(QStringLiteral("Looking")); }, patience));
    INFO(words->text().toStdString());
    CHECK((table->rowCount() == 9 || words->text().contains(QStringLiteral("Twelve"))));
    follows->close();
}

TEST_CASE("a threshold sheet of a coat teaches its lot, and scratch tests are kept", "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().change({}, {}, [&](app::Draft& d) {
        d.setup.bench = load_bench(FINCH_SOURCE "/data", "mallow").value();
        d.setup.stock = load_stock(FINCH_SOURCE "/data", "tripod-sleeve-powder").value();
        d.recipe.process = Process::strip;
        d.recipe.setting = {80, kilohertz(5), nanoseconds(1000), mm_per_second(500), mm(0.1), 0, 1, mm(0)};
    });
    w.workbench().confirm_focus();
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+A"))); // nothing is burned yet
    CHECK(w.window().findChild<app::CellListDialog*>() == nullptr);
    auto* dialog = asked<app::ThresholdDialog>(w, "Ctrl+Alt+P");
    dialog->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_low"))->setValue(15);
    dialog->findChild<QDoubleSpinBox*>(QStringLiteral("threshold_high"))->setValue(95);
    press(dialog, "threshold_plan");
    REQUIRE(w.round() != nullptr);
    REQUIRE(w.round()->sheet.threshold);
    REQUIRE(w.round()->sheet.threshold->done);
    CHECK(w.workbench().scene().evidence.coat_sheets == 0);
    // Two places say what the answer rests on; they must not say two things.
    const auto rests_on = [&] {
        const app::Draft& d = w.workbench().draft();
        const Scene scene = w.workbench().scene();
        return explain(Quantity::outcome, scene, d.recipe, d.fill, predict(scene, d.recipe, d.fill).value()).rests_on;
    };
    CHECK(rests_on().find("no threshold sheet") != std::string::npos);
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    // The coat is of another colour than the program guesses: the photograph says of which.
    REQUIRE(w.round()->reading->ground);
    auto* panel = w.find<app::AnswerPanel>("answer_panel");
    INFO(panel->view().words.toStdString());
    CHECK(panel->view().words.contains(QStringLiteral("The coat is gone from")));
    CHECK(w.workbench().scene().evidence.coat_sheets == 1);
    CHECK(w.workbench().scene().evidence.coat_work != 1);
    CHECK(rests_on().find("physics and 1 threshold sheet") != std::string::npos);
    const Evidence learned = w.workbench().scene().evidence;
    auto* list = asked<app::CellListDialog>(w, "Ctrl+Alt+A");
    auto* text = list->findChild<QPlainTextEdit*>(QStringLiteral("scratch_list"));
    text->setPlainText(QStringLiteral("A1; granite"));
    CHECK(list->findChild<QLabel*>(QStringLiteral("scratch_said"))->text().contains(QStringLiteral("fingernail")));
    text->setPlainText(QStringLiteral("A1; 2\nB1; wood\nC1; nothing"));
    press(list, "scratch_keep");
    REQUIRE(QTest::qWaitFor([&] { return w.round()->reading->cells.at(2).scratch_steps.has_value(); }, patience));
    CHECK(w.round()->reading->cells.at(1).scratch_steps == 2);
    w.keys(QKeySequence::Undo); // a fact: nothing takes it back
    w.keys(QKeySequence::Redo);
    CHECK(w.round()->reading->cells.at(0).scratch_steps == 2);
    CHECK(w.workbench().scene().evidence == learned); // how firmly it holds says nothing of when it goes
    w.flow().photograph();
    REQUIRE(w.wait_idle());
    CHECK(w.round()->reading->cells.at(2).scratch_steps == 0);
}

TEST_CASE("colours of an instrument are pasted, count before the photograph, and stay when it is taken anew",
          "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+C"))); // nothing is burned yet
    CHECK(w.window().findChild<app::CellListDialog*>() == nullptr);
    w.flow().plan_lot_check({{36, 2, -28}, 3});
    w.window().proof().show_page(app::ProofStation::Page::sheet);
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    const SheetReading photographed = *w.round()->reading;
    auto* dialog = asked<app::CellListDialog>(w, "Ctrl+Alt+C");
    auto* list = dialog->findChild<QPlainTextEdit*>(QStringLiteral("colour_list"));
    auto* keep = dialog->findChild<QPushButton*>(QStringLiteral("colour_keep"));
    list->setPlainText(QStringLiteral("A1 36 2"));
    CHECK_FALSE(keep->isEnabled());
    CHECK(dialog->findChild<QLabel*>(QStringLiteral("colour_said"))->text().contains(QStringLiteral("three numbers")));
    list->setPlainText(QStringLiteral("A1 40 2 -25\nB1 38 2 -27\nC1 36 2 -28\nD1 34 2 -29\nE1 32,5 2 -30 0,4"));
    press(dialog, "colour_keep");
    REQUIRE(QTest::qWaitFor([&] { return w.round()->reading->cells.at(4).by_instrument; }, patience));
    CHECK(w.round()->reading->cells.at(4).lab == Lab{32.5, 2, -30});
    CHECK(w.round()->reading->cells.at(4).within_de == 0.4);
    CHECK(w.window().findChild<app::StatusLine*>()->text().contains(QStringLiteral("photograph lay")));
    CHECK(w.find<app::LotPanel>("lot_panel")->view().finding->verdict == LotVerdict::same);
    w.keys(QKeySequence::Undo); // a fact: nothing takes it back
    w.keys(QKeySequence::Redo);
    CHECK(w.round()->reading->cells.at(4).by_instrument);
    w.flow().photograph();
    REQUIRE(w.wait_idle());
    CHECK(w.round()->reading->cells.at(4).lab == Lab{32.5, 2, -30});
    // The record holds both, the newest last.
    const auto book = w.logbook();
    EntryFilter readings;
    readings.kind = EntryKind::reading;
    const auto heads = book->list(readings).value();
    REQUIRE(heads.size() == 3);
    const auto first = read_sheet(book->entry(heads.back().id).value()).value();
    CHECK_FALSE(first.reading.cells.at(4).by_instrument);
    CHECK(first.reading.cells.at(4).lab.l == Approx(photographed.cells.at(4).lab.l));
    CHECK(read_sheet(book->entry(heads.front().id).value()).value().reading.cells.at(4).by_instrument);
}

TEST_CASE("a step wedge is burned and measured by the gauge, and says what a depth takes", "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+W"))); // a film has no depth
    CHECK(w.window().findChild<app::WedgeDialog*>() == nullptr);
    const Stock brass = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
    w.workbench().change({}, {}, [&](app::Draft& d) {
        d.setup.stock = brass;
        d.recipe = {};
        d.recipe.process = Process::deep_engrave;
        d.recipe.setting = {90, kilohertz(60), nanoseconds(200), mm_per_second(800), mm(0.03), 0, 4, mm(0)};
    });
    w.workbench().confirm_focus();
    auto* dialog = asked<app::WedgeDialog>(w, "Ctrl+Alt+W");
    dialog->findChild<QSpinBox*>(QStringLiteral("wedge_passes"))->setValue(24);
    press(dialog, "wedge_plan");
    REQUIRE(w.round() != nullptr);
    REQUIRE(w.round()->sheet.wedge);
    auto* panel = w.find<app::AnswerPanel>("answer_panel");
    CHECK(panel->view().plots.empty());
    w.click("next_act"); // burns
    REQUIRE(w.wait_idle());
    CHECK(w.find<QPushButton>("next_act")->text().contains(QStringLiteral("Measure")));
    w.click("next_act");
    auto* depths = w.find<QDialog>("depth_dialog");
    press(depths, "depth_gauge");
    press(depths, "depth_keep");
    REQUIRE(QTest::qWaitFor([&] { return w.round()->reading && w.round()->reading->cells.at(0).depth_um; }, patience));
    REQUIRE(w.wait_idle());
    REQUIRE(panel->view().plots.size() == 2);
    CHECK(panel->view().words.contains(QStringLiteral("first pass")));
    CHECK_FALSE(panel->view().words.contains(QStringLiteral("square centimetre")));
    w.workbench().change({}, {}, [](app::Draft& d) { d.target = depth_target({20, 2}); });
    CHECK(panel->view().words.contains(QStringLiteral("square centimetre")));
    CHECK(panel->view().plots.front().found);
    w.keys(QKeySequence::Undo);
    CHECK_FALSE(panel->view().plots.front().found);
}

TEST_CASE("a film in focus or out of it: planned, burned, read, and the best offset taken", "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    auto* dialog = asked<app::OffsetDialog>(w, "Ctrl+Alt+O");
    dialog->findChild<QSpinBox*>(QStringLiteral("offset_count"))->setValue(5);
    press(dialog, "offset_plan");
    REQUIRE(w.round() != nullptr);
    REQUIRE(w.round()->sheet.offsets);
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    auto* panel = w.find<app::AnswerPanel>("answer_panel");
    REQUIRE(panel->view().plots.size() == 2);
    const Recipe was = w.draft().recipe;
    w.click("next_act");
    const auto& dots = panel->view().plots.front().dots;
    const auto best = std::ranges::find_if(dots, &app::AnswerPlot::Dot::chosen);
    REQUIRE(best != dots.end());
    CHECK(in_mm(w.draft().recipe.setting.focus_offset) == Approx(best->x).margin(1e-9));
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().recipe == was);
    // Only films are tried out of focus.
    w.workbench().change({}, {}, [](app::Draft& d) { d.recipe.process = Process::deep_engrave; });
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+O")));
    CHECK((w.window().findChild<app::OffsetDialog*>() == nullptr ||
           !w.window().findChild<app::OffsetDialog*>()->isVisible()));
}

TEST_CASE("sheets are burned on scrap: put in, laid, used for good, and elsewhere the next time", "[flow][scrap]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        w.workbench().confirm_focus();
        auto* dialog = asked<app::ScrapDialog>(w, "Ctrl+Alt+B");
        const auto number = [&](const char* name, double value) {
            dialog->findChild<QDoubleSpinBox*>(QString::fromLatin1(name))->setValue(value);
        };
        number("scrap_width", 80), number("scrap_height", 60);
        press(dialog, "scrap_put_in");
        number("scrap_width", 200), number("scrap_height", 150);
        press(dialog, "scrap_put_in");
        CHECK(dialog->findChild<QLabel*>(QStringLiteral("scrap_says"))->text().contains(QStringLiteral("S2")));
        number("scrap_used_0", 190), number("scrap_used_2", 30); // over the rim: what lies on the piece counts
        press(dialog, "scrap_use");
        number("scrap_used_0", 300);
        press(dialog, "scrap_use");
        CHECK(dialog->findChild<QLabel*>(QStringLiteral("scrap_says"))->text().contains(QStringLiteral("not lie")));
        dialog->close();
        REQUIRE(w.workbench().ledger().scrap().size() == 2);
        CHECK(w.workbench().ledger().scrap()[1].marks.size() == 1);
        w.keys(QKeySequence::Undo); // no choice was made
        CHECK(w.workbench().ledger().scrap().size() == 2);

        // Planned on the small piece, unless it is wanted elsewhere; both sheets at once get places of their own.
        w.keys(QKeySequence(QStringLiteral("Ctrl+P")));
        REQUIRE(w.round() != nullptr);
        REQUIRE(w.round()->scrap);
        CHECK(w.round()->scrap->piece == "S1");
        CHECK(w.find<QLabel>("scrap_line")->isVisible());
        const auto first = *w.round()->scrap;
        w.flow().plan(true);
        REQUIRE(w.round()->scrap);
        CHECK_FALSE(*w.round()->scrap == first);
        dialog = asked<app::ScrapDialog>(w, "Ctrl+Alt+B");
        dialog->findChild<QTableWidget*>()->setCurrentCell(1, 0);
        press(dialog, "scrap_lay");
        CHECK(w.round()->scrap->piece == "S2");
        press(dialog, "scrap_fresh");
        CHECK_FALSE(w.round()->scrap);
        dialog->close();
        w.keys(QKeySequence::Undo);
        CHECK(w.round()->scrap->piece == "S2");

        // Broken off, the place is used all the same; the sheet is not burned over it.
        const int number_of = w.round()->sheet.number;
        w.flow().burn();
        w.flow().cancel();
        REQUIRE(w.wait_idle());
        const auto marks = [&] { return w.workbench().ledger().scrap()[1].marks; };
        REQUIRE(marks().size() == 2);
        CHECK(marks()[1].sheet == number_of);
        if (!w.round()->burned) {
            w.flow().burn();
            CHECK(w.flow().step() == app::ProofFlow::Step::idle);
            dialog = asked<app::ScrapDialog>(w, "Ctrl+Alt+B");
            press(dialog, "scrap_lay");
            dialog->close();
            w.flow().burn();
            REQUIRE(w.wait_idle());
            REQUIRE(w.round()->burned);
            CHECK(marks().size() == 3);
            CHECK(scrap_covers(*w.round()->scrap, marks()[2].where.w, marks()[2].where.h).x == marks()[2].where.x);
        }
        // The first plan's piece is thrown away before it is burned.
        w.flow().show_sheet(number_of - 1);
        dialog = asked<app::ScrapDialog>(w, "Ctrl+Alt+B");
        CHECK(dialog->findChild<QTableWidget*>()->currentRow() == 0);
        press(dialog, "scrap_out");
        dialog->close();
        w.flow().burn();
        CHECK(w.flow().step() == app::ProofFlow::Step::idle);
        CHECK_FALSE(w.round()->burned);
        w.logbook();
        w.window().close();
    }
    DrivenWindow w(folder.path());
    REQUIRE(w.workbench().ledger().scrap().size() == 1);
    CHECK(w.workbench().ledger().scrap()[0].name == "S2");
    CHECK(w.workbench().ledger().scrap()[0].marks.size() >= 2);
    CHECK(app::put_in_bin(w.workbench(), 50, 50, {}) == "S3"); // a name is on one piece for ever
    // A piece of another lot can be taken too: the bench has its stock then.
    w.workbench().change({}, {}, [](app::Draft& d) { d.setup.stock.lot = "another"; });
    w.flow().plan(true);
    CHECK_FALSE(w.round()->scrap);
    REQUIRE(app::lay_on_scrap(w.workbench(), "S2"));
    CHECK(w.draft().setup.stock.lot == w.workbench().ledger().scrap()[0].stock.lot);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().setup.stock.lot == "another");
    // The same, after the bench got that lot by hand, and another clamp: the sheet is for what lies there.
    const std::string lot = w.workbench().ledger().scrap()[0].stock.lot;
    w.workbench().change({}, {}, [&](app::Draft& d) {
        d.setup.stock.lot = lot;
        d.setup.stock.held_by = "tape";
    });
    REQUIRE(app::lay_on_scrap(w.workbench(), "S2"));
    CHECK(w.draft().setup.stock.held_by == "tape");
    w.workbench().confirm_focus();
    w.flow().burn();
    REQUIRE(w.wait_idle());
    CHECK(w.round()->burned);
}

TEST_CASE("the recipe over the field: planned, burned, read, and told against the middle", "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.workbench().confirm_focus();
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+F")));
    REQUIRE(w.round() != nullptr);
    CHECK(w.round()->sheet.field);
    CHECK(w.draft().recipe.setting == w.round()->sheet.base.setting);
    auto* answer = w.find<app::AnswerPanel>("answer_panel");
    CHECK(answer->isVisible());
    CHECK(answer->view().plots.empty());
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    CHECK(w.round()->reading->count(CellState::read) > 40);
    const app::AnswerView& view = answer->view();
    REQUIRE(view.plots.size() == 2);
    CHECK(view.plots[0].dots.size() == w.round()->reading->count(CellState::read));
    CHECK(view.plots[1].dots.size() == 9);
    CHECK(view.words.contains(QStringLiteral("than in the middle")));
    // What the corners got is no evidence of the recipe at their power.
    CHECK(w.workbench().evidence().sheets == 0);
    // Another kind of recipe has no look that tells the dose.
    w.workbench().change({}, {}, [](app::Draft& d) { d.recipe.process = Process::engrave; });
    const auto rounds = w.workbench().rounds().size();
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+F")));
    CHECK(w.workbench().rounds().size() == rounds);
}
