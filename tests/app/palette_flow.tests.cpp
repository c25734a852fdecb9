// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "driven_window.h"
#include "proof/palette.h"

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
        REQUIRE(QTest::qWaitFor([&] { return !maker.running(); }, 60000));
        REQUIRE(maker.palette());
    };
    // Before anything was read: a path, nothing to take, and it says so.
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    made();
    CHECK(maker.palette()->colours.empty());
    CHECK_FALSE(w.find<QPushButton>("next_act")->isEnabled());
    w.flow().design();
    REQUIRE(QTest::qWaitFor([&] { return w.workbench().rounds().size() == 1; }, 60000));
    w.flow().burn();
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    REQUIRE(QTest::qWaitFor([&] { return !maker.running() && maker.palette() && !maker.palette()->colours.empty(); },
                            60000));
    const std::size_t burned = maker.palette()->colours.size();
    CHECK(burned <= w.round()->sheet.own.size());

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
    // Another lot: nothing of this one stands under its name.
    w.keys(QKeySequence(QStringLiteral("Alt+5")));
    w.workbench().change({}, {}, [](app::Draft& d) { d.setup.stock.lot = "another"; });
    CHECK((!maker.palette() || maker.palette()->colours.empty()));
    made();
    CHECK(maker.palette()->colours.empty());
}
