// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "driven_window.h"

#include "app/instruments/sheet_view.h"

#include <QCheckBox>
#include <QListView>

using namespace finch;
using namespace finch::tests;

namespace {

/// One target from the plan page to a saved recipe by two sheets.
void find_recipe(DrivenWindow& w, const QString& target, const QString& name) {
    w.keys(QKeySequence(QStringLiteral("Alt+2")));
    w.choose("target", target);
    w.click("suggest");
    w.click("plan_sheet");
    REQUIRE(w.round() != nullptr);
    CHECK_FALSE(w.round()->burned);
    w.click("next_act");
    REQUIRE(w.wait_idle());
    INFO(w.window().status_text().toStdString());
    REQUIRE(w.round()->reading);
    w.pass(300);
    w.keys(QKeySequence(QStringLiteral("Ctrl+N")));
    REQUIRE_FALSE(w.round()->reading);
    CHECK_FALSE(w.round()->reason.empty());
    w.click("next_act");
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    const auto ranked = w.flow().ranking();
    REQUIRE_FALSE(ranked.empty());
    INFO(target.toStdString() << " best " << ranked.front().miss);
    CHECK(ranked.front().passes);
    // Choose the best by the mouse on the sheet, as an operator would.
    auto* sheet = w.find<app::SheetWidget>("sheet");
    QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->cell_point(ranked.front().cell));
    CHECK(w.draft().cell == ranked.front().cell);
    w.keys(QKeySequence::Save);
    w.name_recipe(name);
    REQUIRE(QTest::qWaitFor([&] { return w.draft().saved && w.draft().saved->name == name.toStdString(); }, patience));
}

} // namespace

TEST_CASE("from the demo to a saved dark anneal and a saved blue by two sheets each, found again after a restart",
          "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        // Nothing burns before the focus is confirmed.
        w.keys(QKeySequence(QStringLiteral("Ctrl+P")));
        w.click("next_act");
        CHECK(w.flow().step() == app::ProofFlow::Step::idle);
        CHECK(w.window().status_text().contains(QStringLiteral("Confirm the focus")));
        w.keys(QKeySequence::Undo);
        CHECK(w.workbench().rounds().empty());
        w.keys(QKeySequence(QStringLiteral("Ctrl+1")));
        w.click("confirm_focus");
        CHECK_FALSE(w.workbench().focus_state().stale());
        find_recipe(w, QStringLiteral("dark"), QStringLiteral("hour bars, dark"));
        find_recipe(w, QStringLiteral("deep blue"), QStringLiteral("noon line, deep blue"));
        CHECK(w.workbench().rounds().size() == 4);
        w.window().close();
    }
    DrivenWindow again(folder.path());
    CHECK(again.workbench().rounds().size() == 4);
    CHECK(again.workbench().evidence().sheets == 4);
    again.keys(QKeySequence(QStringLiteral("Ctrl+7")));
    again.type("log_words", QStringLiteral("noon S316"));
    auto* list = again.find<QListView>("log_list");
    CHECK(QTest::qWaitFor([&] { return list->model()->rowCount() == 1; }, patience));
    CHECK(list->model()->index(0, 0).data().toString() == QStringLiteral("noon line, deep blue"));
    again.type("log_words", QStringLiteral("dark"));
    again.click("log_recipes");
    REQUIRE(QTest::qWaitFor(
        [&] {
            return list->model()->rowCount() == 1 &&
                   list->model()->index(0, 0).data().toString() == QStringLiteral("hour bars, dark");
        },
        patience));
    list->setCurrentIndex(list->model()->index(0, 0));
    again.click("log_take");
    REQUIRE(QTest::qWaitFor([&] { return again.draft().recipe.name == "hour bars, dark"; }, patience));
    CHECK(again.draft().recipe.name == "hour bars, dark");
    const auto book = again.logbook();
    EntryFilter recipes;
    recipes.kind = EntryKind::recipe;
    const Entry recipe = book->list(recipes).value().back();
    const Entry whole = book->entry(recipe.id).value();
    // The record can tell how: the reading, the sheet behind it and the bench as it was.
    const Entry reading = book->entry(whole.parent).value();
    CHECK(reading.kind == EntryKind::reading);
    CHECK(book->entry(reading.parent).value().kind == EntryKind::sheet);
    CHECK(book->pictures(reading.id).value().size() == 2);
    CHECK(whole.body["evidence"]["sheets"].get<int>() == 2);
    CHECK(whole.setup["focus"]["confirmed"]["by"] == "OD");
}

TEST_CASE("cells are designed for a colour, burned, ticked when spoiled, and designed again to a saved recipe",
          "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    int sheet = 0;
    std::size_t ticked = 0;
    {
        DrivenWindow w(folder.path());
        w.keys(QKeySequence(QStringLiteral("Ctrl+1")));
        w.click("confirm_focus");
        w.keys(QKeySequence(QStringLiteral("Ctrl+3")));
        w.keys(QKeySequence(QStringLiteral("Alt+2")));
        w.choose("target", QStringLiteral("deep blue"));
        const auto designed = [&](std::size_t sheets) {
            REQUIRE(QTest::qWaitFor([&] { return w.workbench().rounds().size() == sheets; }, patience));
            INFO(w.window().status_text().toStdString());
            REQUIRE(w.round()->sheet.free());
            CHECK_FALSE(w.round()->reason.empty());
        };
        w.click("design_cells");
        designed(1);
        CHECK(w.round()->sheet.own.size() <= 12);
        // A choice like any other, until it is burned.
        w.keys(QKeySequence::Undo);
        CHECK(w.workbench().rounds().empty());
        w.keys(QKeySequence::Redo);
        REQUIRE(w.round() != nullptr);
        w.click("next_act");
        REQUIRE(w.wait_idle());
        REQUIRE(w.round()->reading);
        const auto first = w.flow().ranking();
        REQUIRE(first.size() > 1);
        // The best is ticked as spoiled: it never wins again, and the photograph's reading is not touched by undo.
        ticked = first.front().cell;
        sheet = w.round()->sheet.number;
        w.flow().choose_cell(ticked);
        auto* tick = w.find<QCheckBox>("spoiled");
        REQUIRE(tick->isVisible());
        QTest::mouseClick(tick, Qt::LeftButton, {}, QPoint(8, tick->height() / 2));
        REQUIRE(w.wait_idle());
        CHECK(w.round()->reading->cells[ticked].spoiled);
        CHECK(w.flow().ranking().front().cell == first[1].cell);
        w.keys(QKeySequence::Undo);
        CHECK(w.round()->reading->cells[ticked].spoiled);
        // By the keyboard it is whole again, and spoiled again.
        w.flow().choose_cell(ticked);
        for (const bool spoiled : {false, true}) {
            w.keys(QKeySequence(Qt::CTRL | Qt::Key_J));
            REQUIRE(w.wait_idle());
            CHECK(w.round()->reading->cells[ticked].spoiled == spoiled);
        }
        // Saved all the same it is kept as a failure, not as a proof.
        w.keys(QKeySequence::Save);
        w.name_recipe(QStringLiteral("a lesson"));
        REQUIRE(QTest::qWaitFor([&] { return w.draft().saved && w.draft().saved->name == "a lesson"; }, patience));
        EntryFilter recipes;
        recipes.kind = EntryKind::recipe;
        CHECK(w.logbook()->list(recipes).value().front().outcome == Outcome::bad);
        w.pass(300);
        w.keys(QKeySequence(QStringLiteral("Ctrl+N")));
        designed(2);
        // The second round goes to the bare places of the frame that lies there.
        CHECK(w.round()->sheet.own.size() <= 12);
        CHECK(w.round()->sheet.on_old_plate());
        CHECK(w.round()->sheet.plate_number() == sheet);
        w.click("next_act");
        REQUIRE(w.wait_idle());
        const auto ranked = w.flow().ranking();
        REQUIRE_FALSE(ranked.empty());
        INFO("best " << ranked.front().miss << ", " << w.round()->reason);
        CHECK(ranked.front().passes);
        w.keys(QKeySequence::Save);
        w.name_recipe(QStringLiteral("noon line, by design"));
        REQUIRE(QTest::qWaitFor([&] { return w.draft().saved->name == "noon line, by design"; }, patience));
        w.window().close();
    }
    // What was ticked is in the record.
    DrivenWindow again(folder.path());
    const app::Round* r = again.workbench().round(sheet);
    REQUIRE(r != nullptr);
    CHECK(r->sheet.free());
    CHECK(r->reading->cells[ticked].spoiled);
}
