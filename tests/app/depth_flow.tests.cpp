// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/gauge_reader.h"
#include "app/shell/consequences_view.h"
#include "driven_window.h"

#include <algorithm>
#include <QClipboard>

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
    REQUIRE(QTest::qWaitFor([&] { return again.workbench().evidence().depth_coupons == 1; }, patience));
}

TEST_CASE("a depth is searched: designed, burned, measured, reached, and kept as a recipe", "[flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    const auto begin = [](DrivenWindow& w) {
        w.workbench().change({}, {}, [](app::Draft& d) {
            d.setup.bench = load_bench(FINCH_SOURCE "/data", "heron").value();
            d.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
            d.recipe = {};
            d.recipe.process = Process::deep_engrave;
            d.recipe.setting = {80, kilohertz(60), nanoseconds(100), mm_per_second(900), mm(0.03), 0, 12, mm(0)};
        });
        w.workbench().confirm_focus();
    };
    std::string reading_uid;
    {
        DrivenWindow w(folder.path());
        begin(w);
        // The target becomes a depth: by the list, then typed.
        w.window().show_station(app::MainWindow::StationId::proof);
        w.window().proof().show_page(app::ProofStation::Page::plan);
        auto* target = w.find<QComboBox>("target");
        target->setFocus();
        QTest::keyClick(target, Qt::Key_End);
        REQUIRE(w.draft().target.depth);
        auto* typed = w.find<QLineEdit>("target_lab");
        typed->setFocus();
        typed->selectAll();
        QTest::keyClicks(typed, QStringLiteral("0.04 mm ± 4"));
        QTest::keyClick(typed, Qt::Key_Return);
        CHECK(w.draft().target.depth == WantedDepth{40, 4});
        REQUIRE(QTest::qWaitFor([&] { return w.find<QPushButton>("design_cells")->isEnabled(); }, patience));
        w.click("design_cells");
        REQUIRE(QTest::qWaitFor([&] { return w.round() != nullptr; }, patience));
        CHECK(w.round()->sheet.own.size() == 3);
        w.click("next_act");
        REQUIRE(w.wait_idle());
        CHECK(w.round()->burned);
        CHECK_FALSE(w.round()->reading); // no photograph is asked for

        const auto dialog = [&] {
            w.click("next_act");
            auto* d = w.window().findChild<QDialog*>(QStringLiteral("depth_dialog"));
            REQUIRE(d != nullptr);
            return d;
        };
        const auto press = [](QDialog* d, const char* name) {
            auto* button = d->findChild<QPushButton*>(QString::fromLatin1(name));
            REQUIRE(button->isEnabled());
            QTest::mouseClick(button, Qt::LeftButton);
        };
        QDialog* d = dialog();
        auto* a1 = d->findChild<QLineEdit*>(QStringLiteral("depth_A1"));
        auto* b1 = d->findChild<QLineEdit*>(QStringLiteral("depth_B1"));
        QTest::keyClicks(a1, QStringLiteral("about 30"));
        QTest::keyClick(a1, Qt::Key_Return);
        CHECK(b1->hasFocus()); // a gauge that writes like a keyboard goes from cell to cell
        press(d, "depth_keep");
        CHECK_FALSE(d->findChild<QLabel*>(QStringLiteral("depth_said"))->text().isEmpty());
        CHECK_FALSE(w.round()->reading);
        press(d, "depth_gauge");
        REQUIRE(QTest::qWaitFor([&] { return a1->text().contains(QStringLiteral("±")); }, patience));
        press(d, "depth_keep");
        REQUIRE(QTest::qWaitFor([&] { return w.round()->reading.has_value(); }, patience));
        REQUIRE(w.wait_idle());
        CHECK(w.round()->reading->photos == 0);
        CHECK(w.workbench().evidence().depth_coupons == 1);
        REQUIRE(w.draft().cell);
        const auto ranked = w.flow().ranking();
        REQUIRE(ranked.size() == 3);
        CHECK(*w.draft().cell == ranked.front().cell);

        // The next round goes to the bare places of the same piece, and is nearer.
        w.click("next_act");
        REQUIRE(QTest::qWaitFor([&] { return w.workbench().rounds().size() == 2; }, patience));
        CHECK(w.round()->sheet.on_old_plate());
        w.click("next_act");
        REQUIRE(w.wait_idle());
        REQUIRE(w.round()->burned);
        d = dialog();
        QApplication::clipboard()->setText(QStringLiteral("D1; 3\nA2; nothing"));
        QTest::keySequence(d->findChild<QLineEdit*>(QStringLiteral("depth_D1")), QKeySequence::Paste);
        CHECK(d->findChild<QLineEdit*>(QStringLiteral("depth_D1"))->text().isEmpty()); // all of a list or nothing
        press(d, "depth_gauge");
        REQUIRE(QTest::qWaitFor(
            [&] { return d->findChild<QLineEdit*>(QStringLiteral("depth_D1"))->text().contains(QStringLiteral("±")); },
            patience));
        press(d, "depth_keep");
        REQUIRE(QTest::qWaitFor([&] { return w.round()->reading.has_value(); }, patience));
        REQUIRE(w.wait_idle());
        REQUIRE_FALSE(w.flow().ranking().empty());
        INFO("off by " << w.flow().ranking().front().miss << " um");
        CHECK(w.flow().ranking().front().passes);
        w.flow().save_recipe(QStringLiteral("finishing stamp, 0.04 mm"));
        REQUIRE(QTest::qWaitFor([&] { return w.draft().saved.has_value(); }, patience));
        const auto log = w.logbook();
        EntryFilter only;
        only.kind = EntryKind::recipe;
        only.words = "finishing stamp, 0.04";
        const auto recipes = log->list(only).value();
        REQUIRE(recipes.size() == 1);
        CHECK(recipes.front().outcome == Outcome::good);
        CHECK(recipes.front().summary.find("from 40 \u00b5m deep") != std::string::npos);
        const auto kept = log->entry(recipes.front().id).value();
        CHECK(kept.body["measured"]["repeats"].get<int>() >= 1);
        CHECK(kept.body["measured"]["depth_um"].get<double>() == Approx(40).margin(4));
        reading_uid = w.round()->reading_uid;

        // A gauge cannot tell which piece it touches: after another piece was burned it is not asked.
        const int measured = w.draft().shown_sheet;
        w.flow().design(true);
        REQUIRE(QTest::qWaitFor([&] { return w.workbench().rounds().size() == 3; }, patience));
        w.flow().burn();
        w.flow().cancel(); // begun is enough
        REQUIRE(w.wait_idle());
        w.flow().ask_gauge(measured);
        CHECK_FALSE(w.flow().gauge().running());
        w.window().close();
    }
    DrivenWindow again(folder.path());
    const auto& rounds = again.workbench().rounds();
    const auto kept = std::ranges::find(rounds, reading_uid, &app::Round::reading_uid);
    REQUIRE(kept != rounds.end());
    CHECK(kept->reading->photos == 0);
    CHECK(again.draft().target.depth == WantedDepth{40, 4});
    REQUIRE(QTest::qWaitFor([&] { return again.workbench().evidence().depth_coupons == 2; }, patience));
}
