// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Colours of an instrument and of a photograph on one sheet, in the order in which nobody expects them.
#include "app/instruments/sheet_view.h"
#include "app/shell/status_line.h"
#include "app/stations/proof/proof_station.h"
#include "driven_window.h"

#include <catch2/catch.hpp>

using namespace finch;
using namespace finch::tests;

TEST_CASE("measured before it is photographed, a sheet hides nothing, and its photograph is set right at once",
          "[flow][questions]") {
    CleanSettings clean;
    QTemporaryDir folder;
    const Lab measured{38, 2, -27};
    std::optional<SheetReading> kept;
    {
        DrivenWindow w(folder.path());
        w.workbench().confirm_focus();
        w.flow().plan_lot_check({{36, 2, -28}, 3});
        w.window().proof().show_page(app::ProofStation::Page::sheet);
        w.flow().burn();
        REQUIRE(QTest::qWaitFor([&] { return w.round()->burned; }, patience));
        w.flow().cancel(); // the photograph
        REQUIRE(w.wait_idle());
        REQUIRE_FALSE(w.round()->reading);
        const int sheet = w.round()->sheet.number;
        w.flow().note_colours(sheet, {{0, measured}});
        REQUIRE(QTest::qWaitFor([&] { return w.round()->reading.has_value(); }, patience));
        const auto& cells = w.find<app::SheetWidget>("sheet")->view().cells;
        REQUIRE(QTest::qWaitFor([&] { return cells.at(0).measured.has_value(); }, patience));
        for (std::size_t i = 1; i < w.round()->sheet.own.size(); ++i) {
            CHECK_FALSE(cells.at(i).hidden);
            CHECK_FALSE(cells.at(i).measured);
        }
        w.click("next_act"); // which is to photograph: one cell answers nothing
        REQUIRE(w.wait_idle());
        CHECK(w.window().findChild<app::StatusLine*>()->text().contains(QStringLiteral("set right")));
        w.keys(QKeySequence::Undo); // the plan, not what was measured
        w.keys(QKeySequence::Redo);
        kept = w.round()->reading;
        REQUIRE(kept->cells.at(0).photographed);
        CHECK(kept->cells.at(0).lab == measured);
        CHECK(kept->cells.at(0).photographed->lab != measured);
        REQUIRE(kept->cells.at(1).photographed);
        CHECK(kept->cells.at(1).photographed->lab != kept->cells.at(1).lab);
        w.window().close();
    }
    DrivenWindow w(folder.path());
    REQUIRE(w.round() != nullptr);
    REQUIRE(w.round()->reading);
    CHECK(w.round()->reading->cells == kept->cells);
}
