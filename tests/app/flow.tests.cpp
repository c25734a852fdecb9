// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "driven_window.h"

#include "app/instruments/sheet_view.h"

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
    INFO(target.toStdString() << " best " << ranked.front().de);
    CHECK(ranked.front().passes);
    // Choose the best by the mouse on the sheet, as an operator would.
    auto* sheet = w.find<app::SheetWidget>("sheet");
    QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->cell_point(ranked.front().cell));
    CHECK(w.draft().cell == ranked.front().cell);
    w.keys(QKeySequence::Save);
    w.name_recipe(name);
    REQUIRE(QTest::qWaitFor([&] { return w.draft().saved && w.draft().saved->name == name.toStdString(); }, 5000));
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
    CHECK(QTest::qWaitFor([&] { return list->model()->rowCount() == 1; }, 5000));
    CHECK(list->model()->index(0, 0).data().toString() == QStringLiteral("noon line, deep blue"));
    again.type("log_words", QStringLiteral("dark"));
    again.click("log_recipes");
    REQUIRE(QTest::qWaitFor(
        [&] {
            return list->model()->rowCount() == 1 &&
                   list->model()->index(0, 0).data().toString() == QStringLiteral("hour bars, dark");
        },
        5000));
    list->setCurrentIndex(list->model()->index(0, 0));
    again.click("log_take");
    REQUIRE(QTest::qWaitFor([&] { return again.draft().recipe.name == "hour bars, dark"; }, 5000));
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
