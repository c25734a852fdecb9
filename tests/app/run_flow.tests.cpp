// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_station.h"
#include "app/stations/run/run_station.h"
#include "driven_window.h"
#include "formats/job_export.h"
#include "standin/controller.h"

#include <QMenu>

using namespace finch;
using namespace finch::tests;
using app::RunFlow;

namespace {

/// Small strips in a tray of three, with a recipe for their marks.
void lay_tray(DrivenWindow& w, const QTemporaryDir& folder, bool in_turn = false) {
    const QString drawing = folder.filePath(QStringLiteral("strip.svg"));
    QFile file(drawing);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write("<svg xmlns='http://www.w3.org/2000/svg' width='44mm' height='14mm' viewBox='0 0 44 14'>"
               "<g id='marks'><rect x='4' y='4' width='12' height='3'/><path d='M20 4h15v6h-4v-3h-11z'/></g>"
               "<rect id='rim' width='44' height='14' fill='none' stroke='#2060a0' stroke-width='0.1'/></svg>");
    file.close();
    w.workbench().change(QStringLiteral("bench"), {}, [&](app::Draft& d) {
        d.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
        d.setup.stock = load_stock(FINCH_SOURCE "/data", "gauge-strip-304").value();
        d.setup.stock.coating = Coating::unknown;
        d.recipe.setting = {60, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.3), 0, 2, mm(0)};
    });
    w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    app::PieceReader& reader = w.window().piece().reader();
    reader.open(drawing);
    REQUIRE(QTest::qWaitFor([&] { return !reader.running() && reader.piece() != nullptr; }, patience));
    for (std::size_t i = 0; i < reader.layers().size(); ++i)
        reader.layers()[i].choice.colour == "#2060a0" ? reader.set_guide(i, true) : reader.take_recipe(i);
    PlaceRules tray;
    tray.holding = Holding::tray;
    tray.tray.columns = 1, tray.tray.rows = 3, tray.tray.pitch_x_mm = 50, tray.tray.pitch_y_mm = 22;
    tray.tray.in_turn = in_turn;
    reader.take_place(tray);
    w.workbench().confirm_focus();
    REQUIRE(QTest::qWaitFor([&] { return !reader.running() && reader.laid() != nullptr; }, patience));
}

app::RunFlow& run_of(DrivenWindow& w) {
    return w.shop().run();
}

bool reaches(DrivenWindow& w, RunFlow::Step step) {
    return QTest::qWaitFor([&] { return run_of(w).step() == step; }, patience);
}

/// All gates by the keyboard, as a person does: down, space, and whatever that opens.
void answer_by_keys(DrivenWindow& w) {
    auto* list = w.find<app::CheckList>("gates");
    list->setFocus();
    for (int i = 0; i < 60 && !run_of(w).locked().empty(); ++i) {
        QTest::keyClick(list, i == 0 ? Qt::Key_Home : Qt::Key_Down);
        const auto before = run_of(w).locked().size();
        const auto answers = run_of(w).answers().size();
        QTest::keyClick(list, Qt::Key_Space);
        if (auto* menu = w.window().findChild<QMenu*>(QStringLiteral("gate_menu"))) {
            menu->actions().first()->trigger();
            menu->close();
            QTest::qWait(5);
        }
        REQUIRE(QTest::qWaitFor([&] { return !run_of(w).framing(); }, patience));
        // A row that was answered already is not taken back.
        if (run_of(w).answers().size() < answers || run_of(w).locked().size() > before)
            QTest::keyClick(list, Qt::Key_Space);
    }
}

double expected_mm(const RunFlow& run) {
    double out = 0;
    const auto stages = standin::stages_of(job_gcode(run.job()->job).value()).value();
    for (const auto& stage : stages)
        for (const auto& s : stage.strokes)
            out += s.marks ? std::hypot(s.line.to.x - s.line.from.x, s.line.to.y - s.line.from.y) : 0;
    return out;
}

} // namespace

TEST_CASE("a tray is handed over, asked for, run, stopped by its door, gone on with, and recorded", "[flow][run]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    lay_tray(w, folder, true);
    w.click("run_piece");
    REQUIRE(reaches(w, RunFlow::Step::asking));
    REQUIRE(run_of(w).job()->plan.size() == 6);
    for (std::size_t i = 0; i < 6; ++i) // every part gets its first pass before any gets the next
        CHECK(run_of(w).job()->plan[i].place == i % 3);
    CHECK(w.find<QWidget>("station_run")->isVisible());
    CHECK_FALSE(w.find<QPushButton>("run_start")->isEnabled());
    REQUIRE(QTest::qWaitFor([&] { return run_of(w).enclosure_open().has_value(); }, patience));
    CHECK(w.find<QLabel>("run_lock")->text().contains(QStringLiteral("locked by")));
    w.keys(QKeySequence(QStringLiteral("Ctrl+Return")));
    CHECK(run_of(w).step() == RunFlow::Step::asking);
    answer_by_keys(w);
    INFO(w.find<QLabel>("run_lock")->text().toStdString());
    REQUIRE(w.find<QPushButton>("run_start")->isEnabled());
    // Its door opens in the second pass.
    w.bench().open_at(40);
    w.keys(QKeySequence(QStringLiteral("Ctrl+Return")));
    REQUIRE(reaches(w, RunFlow::Step::held));
    CHECK(w.find<QLabel>("run_now")->text().contains(QStringLiteral("enclosure")));
    CHECK(w.find<QWidget>("bench_line")->accessibleDescription().contains(QStringLiteral("beam off")));
    // Whoever holds twice in haste wants it off, by whatever hand.
    w.keys(QKeySequence(Qt::Key_F7));
    QTest::mouseDClick(w.find<QPushButton>("run_hold"), Qt::LeftButton);
    QTest::keyClick(w.find<QWidget>("run_view"), Qt::Key_Space);
    QTest::qWait(30);
    CHECK(run_of(w).step() == RunFlow::Step::held);
    w.keys(QKeySequence(QStringLiteral("Ctrl+Return"))); // the door is open still
    QTest::qWait(50);
    CHECK(run_of(w).step() == RunFlow::Step::held);
    w.bench().swing_door(false);
    REQUIRE(QTest::qWaitFor([&] { return !run_of(w).enclosure_open().value_or(true); }, patience));
    run_of(w).hold_after_pass(true); // not while it stands
    CHECK_FALSE(run_of(w).holds_after_pass());
    // Whether the part was moved is known to who reached in.
    CHECK_FALSE(w.find<QPushButton>("run_go_on")->isEnabled());
    w.keys(QKeySequence(QStringLiteral("Ctrl+Return")));
    QTest::qWait(50);
    CHECK(run_of(w).step() == RunFlow::Step::held);
    w.click("run_lies");
    CHECK_FALSE(w.find<QPushButton>("run_lies")->isVisible());
    w.click("run_go_on");
    REQUIRE(reaches(w, RunFlow::Step::over));
    const RunStand& stand = run_of(w).stand();
    CHECK(stand.done() == run_of(w).record().start.portions);
    // No line twice, none left out; of the one nest that is worn some lie beside the part.
    CHECK(stand.marked_mm + stand.beside_mm == Approx(expected_mm(run_of(w))).epsilon(1e-6));
    const auto book = w.logbook();
    std::optional<RunRecord> kept;
    const auto heads = book->list().value();
    for (const Entry& e : heads)
        if (e.title.starts_with("Run of"))
            kept = run_record(book->entry(e.id).value()).value();
    REQUIRE(kept);
    CHECK(kept->start.answers == run_of(w).record().start.answers);
    CHECK(kept->start.answers.size() >= 7);
    CHECK(std::ranges::count(kept->events, RunEvent::Kind::held, &RunEvent::kind) == 1);
    CHECK(QDir(folder.filePath(QStringLiteral("runs"))).entryList(QDir::Files).isEmpty());
    // The next tray is asked anew.
    w.click("run_again");
    CHECK(run_of(w).step() == RunFlow::Step::asking);
    CHECK(run_of(w).answers().empty());
    // What is chosen meanwhile is no matter of a job that was handed over.
    w.workbench().undo_stack().undo();
    CHECK(run_of(w).job() != nullptr);
    w.click("run_away");
    CHECK(run_of(w).step() == RunFlow::Step::none);
}

TEST_CASE("a run that the program left is taken up where it was, and a part that is set aside stays bare",
          "[flow][run]") {
    CleanSettings clean;
    QTemporaryDir folder;
    double whole = 0, before = 0;
    {
        DrivenWindow w(folder.path(), 2); // slow enough to be left in the middle
        lay_tray(w, folder);
        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+Return")));
        REQUIRE(reaches(w, RunFlow::Step::asking));
        whole = expected_mm(run_of(w));
        answer_by_keys(w);
        w.keys(QKeySequence(QStringLiteral("Ctrl+Return")));
        const bool midway =
            QTest::qWaitFor([&] { return run_of(w).stand().done() >= 1 && run_of(w).line() > 8; }, patience);
        INFO(w.window().status_text().toStdString() << ", " << w.find<QLabel>("run_lock")->text().toStdString());
        REQUIRE(midway);
        w.keys(QKeySequence(Qt::Key_F7));
        REQUIRE(reaches(w, RunFlow::Step::held));
        REQUIRE(QTest::qWaitFor([&] { return run_of(w).stand().line_told; }, patience));
        // The third strip is bent.
        auto* view = w.find<app::RunView>("run_view");
        view->setFocus();
        QTest::keyClick(view, Qt::Key_Left);
        QTest::keyClick(view, Qt::Key_Left);
        QTest::keyClick(view, Qt::Key_Right);
        QTest::keyClick(view, Qt::Key_Delete);
        auto* why = w.window().findChild<QDialog*>(QStringLiteral("aside_why"));
        REQUIRE(why != nullptr);
        auto* field = why->findChild<QLineEdit*>();
        QTest::keyClicks(field, QStringLiteral("bent"));
        QTest::keyClick(field, Qt::Key_Return);
        REQUIRE(QTest::qWaitFor([&] { return !run_of(w).stand().aside.empty(); }, patience));
        before = run_of(w).stand().marked_mm;
        REQUIRE(w.shop().would_be_lost().size() == 1);
        w.window().close();
        auto* ask = w.window().findChild<QDialog*>(QStringLiteral("close_question"));
        REQUIRE(ask != nullptr);
        QTest::mouseClick(ask->findChild<QPushButton*>(QStringLiteral("close_anyway")), Qt::LeftButton);
        QTest::qWait(20);
    }
    DrivenWindow w(folder.path());
    REQUIRE(run_of(w).step() == RunFlow::Step::left);
    CHECK(run_of(w).stand().marked_mm == Approx(before));
    w.keys(QKeySequence(QStringLiteral("Ctrl+5")));
    w.click("run_take_up");
    REQUIRE(reaches(w, RunFlow::Step::asking));
    CHECK(w.find<QWidget>("run_counts")->isVisible());
    w.workbench().confirm_focus();
    answer_by_keys(w);
    w.click("run_start");
    REQUIRE(reaches(w, RunFlow::Step::over));
    const RunStand& stand = run_of(w).stand();
    CHECK(stand.aside.size() == 1);
    CHECK(stand.done() < run_of(w).record().start.portions);
    // Of three strips one was set aside: what was marked before it was held is not told by a bench that was left.
    CHECK(stand.marked_mm + stand.beside_mm < whole * 2 / 3 + 1e-6);
    CHECK(stand.marked_mm + stand.beside_mm > whole / 3);
}
