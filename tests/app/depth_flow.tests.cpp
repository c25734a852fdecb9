// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/consequences_view.h"
#include "driven_window.h"

using namespace finch;
using namespace finch::tests;

TEST_CASE("a depth that a gauge gave is typed, kept, and predicted from", "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    double measured = 0;
    {
        DrivenWindow w(folder.path());
        const Stock brass = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
        w.workbench().change({}, {}, [&](app::Draft& d) {
            d.setup.stock = brass;
            d.recipe = {};
            d.recipe.process = Process::deep_engrave;
            d.recipe.setting = {90, kilohertz(60), nanoseconds(200), mm_per_second(800), mm(0.03), 0, 20, mm(0)};
            d.request.across = {Knob::scan_speed, 600, 1200, 3, Steps::ratio};
            d.request.down = {Knob::power, 60, 90, 2, Steps::ratio};
        });
        w.workbench().confirm_focus();
        w.flow().plan(false);
        w.window().proof().show_page(app::ProofStation::Page::sheet);
        w.click("next_act");
        REQUIRE(w.wait_idle());
        REQUIRE(w.round()->reading);
        w.flow().choose_cell(0);
        const auto predicted = [&] { return w.workbench().forecast().cells.at(0).prediction->depth_um(); };
        const double before = predicted();
        REQUIRE(before > 1);
        measured = std::round(1.5 * before);
        auto* field = w.find<QLineEdit>("cell_depth");
        REQUIRE(field->isVisible());
        const auto type = [&](const QString& text) {
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, text.isEmpty() ? QStringLiteral(" ") : text);
            QTest::keyClick(field, Qt::Key_Return);
            REQUIRE(w.wait_idle());
        };
        const auto cell = [&] { return w.round()->reading->cells.at(0); };
        type(QStringLiteral("deep"));
        CHECK_FALSE(cell().depth_um);
        type(QStringLiteral("%1 ± 3").arg(measured));
        REQUIRE(cell().depth_um);
        CHECK(*cell().depth_um == measured);
        CHECK(cell().depth_within_um == Approx(3));
        CHECK(w.workbench().evidence().depth_coupons == 1);
        CHECK(app::consequences_view(w.workbench(), 2).rests_on == QStringLiteral("physics and depths of 1 piece"));
        CHECK(predicted() == Approx(measured).epsilon(0.05));
        type(QStringLiteral("%1 ± 4").arg(measured)); // better known, or worse: a word of its own
        CHECK(cell().depth_within_um == Approx(4));
        // Typed and not entered, it does not go over to another cell.
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, QStringLiteral("7"));
        w.flow().choose_cell(1);
        QTest::keyClick(field, Qt::Key_Return);
        REQUIRE(w.wait_idle());
        CHECK_FALSE(w.round()->reading->cells.at(1).depth_um);
        CHECK(*cell().depth_um == measured);
        w.flow().choose_cell(0);
        // A fact: undo does not touch it, and another photograph does not take it away.
        w.keys(QKeySequence::Undo);
        CHECK(cell().depth_um);
        w.flow().photograph();
        REQUIRE(w.wait_idle());
        REQUIRE(cell().depth_um);
        // Taken back, and said anew in another unit.
        w.flow().choose_cell(0);
        type({});
        CHECK_FALSE(cell().depth_um);
        CHECK(w.workbench().evidence().depth_coupons == 0);
        CHECK(predicted() == Approx(before).epsilon(0.05));
        type(QStringLiteral("%1 mm").arg(measured / 1000));
        CHECK(*cell().depth_um == Approx(measured));
        w.logbook();
        w.window().close();
    }
    DrivenWindow again(folder.path());
    REQUIRE(again.round() != nullptr);
    REQUIRE(again.round()->reading);
    CHECK(*again.round()->reading->cells.at(0).depth_um == Approx(measured));
    REQUIRE(QTest::qWaitFor([&] { return again.workbench().evidence().depth_coupons == 1; }, 30000));
}
