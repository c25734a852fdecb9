// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "driven_window.h"

#include "app/instruments/change_bars.h"
#include "app/instruments/judgement_board.h"
#include "app/instruments/ladder.h"
#include "app/instruments/regime_map_view.h"
#include "app/instruments/sheet_view.h"
#include "app/stations/aim/aim_station.h"
#include "app/stations/aim/borrow_dialog.h"
#include "app/stations/aim/carry_dialog.h"
#include "app/stations/aim/verdict_line.h"
#include "app/stations/aim/wish_dialog.h"
#include "app/stations/proof/proof_station.h"
#include "formats/data_folder.h"
#include "recipe/carry.h"
#include "recipe/knob_effects.h"

#include <nlohmann/json.hpp>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QTableWidget>

using namespace finch;
using namespace finch::tests;

namespace {

bool weighed(DrivenWindow& w) {
    return QTest::qWaitFor([&] { return w.window().aims().up_to_date(); }, patience);
}

/// Column of a process on the aim station's board.
std::size_t column_of(DrivenWindow& w, Process process) {
    const auto& all = w.window().aims().weighing().proposals;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (all[i].task.process == process && all[i].bench == w.workbench().bench().name)
            return i;
    return all.size();
}

struct DemoJob {
    const char* name;
    const char* stock;
    const char* bench;
    Process process;
    std::vector<Wish> wishes;
};

Wish wish(WishKind kind, double value, double high = 0) {
    return {kind, true, value, high, {36, 2, -28}};
}

/// Aim -> plan -> tune -> proof -> saved recipe, by clicks and keys.
void do_job(DrivenWindow& w, const DemoJob& job) {
    w.workbench().change(QStringLiteral("job"), {}, [&](app::Draft& d) {
        d.setup.stock = load_stock(FINCH_SOURCE "/data", job.stock).value();
        d.setup.bench = load_bench(FINCH_SOURCE "/data", job.bench).value();
        d.aim = {};
        d.aim.title = job.name;
        d.aim.fill = {mm(5), 25};
        d.aim.wishes = job.wishes;
    });
    w.workbench().confirm_focus();
    w.keys(QKeySequence(QStringLiteral("Ctrl+2")));
    REQUIRE(weighed(w));
    const std::size_t column = column_of(w, job.process);
    REQUIRE(column < w.window().aims().weighing().proposals.size());
    const Candidate candidate = w.window().aims().weighing().proposals[column].candidate();
    INFO(candidate.why_not);
    CHECK(candidate.meets);
    // The board shows what was weighed, with a button under each column.
    auto* board = w.find<app::JudgementBoard>("judgement_board");
    REQUIRE(board->columns().size() == w.window().aims().weighing().proposals.size());
    const std::string take = "take_" + std::to_string(column);
    auto* button = w.find<QPushButton>(take.c_str());
    button->setFocus();
    QTest::keyClick(button, Qt::Key_Space);
    CHECK(w.draft().recipe.setting == candidate.recipe.setting);
    CHECK(w.draft().recipe.process == job.process);
    // Tune: the map is drawn, and a click on it moves the recipe; undo brings it back.
    auto* map = w.find<app::RegimeMapWidget>("regime_map");
    REQUIRE(map->isVisible());
    REQUIRE(QTest::qWaitFor([&] { return w.window().proof().tune().worker().finished(); }, patience));
    const QRectF field = app::regime_field(map->rect());
    QTest::mouseClick(map, Qt::LeftButton, {}, field.center().toPoint() + QPoint(12, 9));
    CHECK_FALSE(w.draft().recipe.setting == candidate.recipe.setting);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().recipe.setting == candidate.recipe.setting);
    // Proof: plan, burn, photograph, read, choose, save.
    w.click("next_act");
    REQUIRE(w.round() != nullptr);
    CHECK(w.round()->sheet.base.process == job.process);
    w.click("next_act");
    REQUIRE(w.wait_idle());
    INFO(w.window().status_text().toStdString());
    if (w.draft().target.depth) {
        // An aim that asks for a depth is measured with a gauge instead of photographed.
        CHECK(traits(job.process).proven_by == ProvenBy::depth_coupons);
        CHECK_FALSE(w.round()->reading);
        QObject::connect(
            &w.flow().gauge(), &app::GaugeReader::measured, &w.window(),
            [&w](int sheet, const std::vector<CellDepth>& depths) { w.flow().note_depths(sheet, depths); });
        w.flow().ask_gauge(w.draft().shown_sheet);
        REQUIRE(QTest::qWaitFor([&] { return w.round()->reading.has_value(); }, patience));
        REQUIRE(w.wait_idle());
    }
    REQUIRE(w.round()->reading);
    CHECK((w.draft().target.depth ? w.flow().ranking().size() : w.round()->reading->count(CellState::read)) >= 6);
    const auto ranked = w.flow().ranking();
    REQUIRE_FALSE(ranked.empty());
    auto* sheet = w.find<app::SheetWidget>("sheet");
    QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->cell_point(ranked.front().cell));
    w.keys(QKeySequence::Save);
    w.name_recipe(QString::fromLatin1(job.name));
    REQUIRE(QTest::qWaitFor([&] { return w.draft().saved && w.draft().saved->name == job.name; }, patience));
    CHECK(w.draft().saved->process == job.process);
    const auto book = w.logbook();
    const auto entries = book->list();
    REQUIRE(entries);
    CHECK(entries->front().title == job.name);
    // What was saved can be read again, with its process.
    const Entry whole = book->entry(entries->front().id).value();
    CHECK(to_json(recipe_from_json(whole.body.at("recipe"), "logbook").value()) == to_json(*w.draft().saved));
    w.pass(600);
}

} // namespace

TEST_CASE("from an aim to a saved recipe: dark, colour, depth, strip, bleach and compound", "[aim][flow]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    for (const DemoJob& job :
         {DemoJob{"hour bars",
                  "sundial-316",
                  "wren",
                  Process::anneal,
                  {wish(WishKind::dark, 40), wish(WishKind::nothing_removed, 3)}},
          DemoJob{"colour band", "sundial-316", "wren", Process::colour, {wish(WishKind::colour, 6)}},
          DemoJob{
              "finishing stamp", "finishing-stamp-brass", "wren", Process::engrave, {wish(WishKind::depth, 140, 160)}},
          DemoJob{"tripod sleeve", "tripod-sleeve-powder", "wren", Process::strip, {wish(WishKind::metal_unmarked, 1)}},
          DemoJob{"reed scale", "reed-scale-anodised", "wren", Process::bleach, {wish(WishKind::coat_kept, 1)}},
          DemoJob{"gauge strip", "gauge-strip-304", "mallow", Process::compound, {wish(WishKind::dark, 30)}}}) {
        INFO(job.name);
        do_job(w, job);
    }
    EntryFilter recipes;
    recipes.kind = EntryKind::recipe;
    CHECK(w.logbook()->count(recipes).value() == 6);
}

TEST_CASE("targets are added, edited, made wishes and removed, by mouse and by keyboard, with undo", "[aim]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+2")));
    REQUIRE(weighed(w));
    const std::size_t before = w.draft().aim.wishes.size();
    w.window().aim().add_wish(WishKind::depth);
    auto* dialog = w.find<app::WishDialog>("wish_dialog");
    auto* value = dialog->findChild<QLineEdit*>(QStringLiteral("wish_value"));
    value->setText(QStringLiteral("200"));
    value->setModified(true);
    QTest::keyClick(value, Qt::Key_Return);
    QTest::mouseClick(dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok), Qt::LeftButton);
    REQUIRE(w.draft().aim.wishes.size() == before + 1);
    // Limits typed the wrong way round are put in order.
    CHECK(w.draft().aim.wishes.back().value == Approx(150));
    CHECK(w.draft().aim.wishes.back().high == Approx(200));
    REQUIRE(weighed(w));
    auto* list = w.find<app::WishList>("wishes");
    list->setFocus();
    for (std::size_t i = 0; i < before; ++i)
        QTest::keyClick(list, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Space);
    CHECK_FALSE(w.draft().aim.wishes.back().must);
    QTest::keyClick(list, Qt::Key_Delete);
    CHECK(w.draft().aim.wishes.size() == before);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().aim.wishes.size() == before + 1);
    w.keys(QKeySequence::Undo);
    CHECK(w.draft().aim.wishes.back().must);
    // Black on bare brass is challenged in words.
    w.workbench().change(QStringLiteral("brass"), {}, [](app::Draft& d) { d.setup.stock.metal = "brass"; });
    REQUIRE(QTest::qWaitFor(
        [&] { return w.find<QLabel>("aim_challenge")->text().contains(QStringLiteral("Black on bare Brass")); },
        patience));
}

TEST_CASE("a recipe is borrowed from text and from a table, and carried to another bench", "[aim]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+B")));
    auto* borrow = w.find<app::BorrowDialog>("borrow_dialog");
    auto* text = borrow->findChild<QPlainTextEdit*>(QStringLiteral("borrow_text"));
    text->setFocus();
    QTest::keyClicks(text, QStringLiteral("25 W, 300 kHz, 900 mm/s, 0.005 mm"));
    auto* score = borrow->findChild<QLabel*>(QStringLiteral("borrow_score"));
    auto* verdict = borrow->findChild<app::VerdictLine*>(QStringLiteral("borrow_verdict"));
    CHECK(verdict->text().contains(QStringLiteral("Match")));
    // What was never said has no bar; what was said stands beside what it becomes here.
    const auto& told = borrow->findChild<app::ChangeBars*>(QStringLiteral("borrow_settings"))->view().rows;
    CHECK(told.at(0).cells.at(0).text == QStringLiteral("25 W"));
    CHECK(told.at(0).cells.at(1).ratio.has_value());
    CHECK_FALSE(told.at(2).cells.at(1).ratio.has_value());
    CHECK(score->text().contains(QStringLiteral("metal")));
    const QString path = folder.filePath(QStringLiteral("friend.csv"));
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write("name,speed (mm/s),freq kHz,ns,watt,hatch (mm)\nx,1200,250,30,20,0.004\n");
    file.close();
    borrow->open_table(path);
    CHECK(borrow->findChild<QTableWidget*>()->rowCount() == 2);
    auto* take = borrow->findChild<QPushButton*>(QStringLiteral("borrow_take"));
    REQUIRE(take->isEnabled());
    QTest::mouseClick(take, Qt::LeftButton);
    CHECK(knob_value(w.draft().recipe, Knob::frequency) == Approx(250).epsilon(0.01));
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+T")));
    auto* carry = w.find<app::CarryDialog>("carry_dialog");
    auto* benches = carry->findChild<QComboBox*>(QStringLiteral("carry_to"));
    benches->setCurrentText(QStringLiteral("Heron, 163 mm"));
    CHECK(carry->findChild<QLabel*>(QStringLiteral("carry_cannot"))->text().contains(QStringLiteral("pulse width")));
    const auto& benches_known = w.window().aims().benches();
    const auto heron =
        std::find_if(benches_known.begin(), benches_known.end(), [](const Bench& b) { return b.name == "Heron"; });
    const auto carried = finch::carry(w.workbench().bench(), w.draft().recipe, *heron).value();
    const auto& drawn = carry->findChild<app::ChangeBars*>(QStringLiteral("carry_report"))->view();
    REQUIRE(drawn.rows.size() == 7);
    for (std::size_t i = 0; i < drawn.rows.size(); ++i)
        CHECK(*drawn.rows[i].cells.front().ratio == Approx(carried.result.report[i].ratio));
    CHECK(carry->findChild<app::ChangeBars*>(QStringLiteral("carry_settings"))->view().columns.size() == 3);
    QTest::mouseClick(carry->findChild<QPushButton*>(QStringLiteral("carry_take")), Qt::LeftButton);
    CHECK(w.workbench().bench().name == "Heron");
    QTest::qWait(50);
    w.keys(QKeySequence::Undo);
    CHECK(w.workbench().bench().name == "Wren");
}

TEST_CASE("set-up arithmetic and advice on heat answer what is typed and turned", "[aim]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+1")));
    w.click("setup_arithmetic");
    auto* card = w.find<QWidget>("setup_offset");
    w.type("setup_offset_wanted", QStringLiteral("0.09 mm"));
    const QString near = card->accessibleDescription();
    CHECK(near.contains(QStringLiteral("raise the lens")));
    w.type("setup_offset_wanted", QStringLiteral("10 um"));
    CHECK(card->accessibleDescription().contains(QStringLiteral("smaller than the focus")));
    w.type("setup_taper_band", QStringLiteral("100 mm"));
    CHECK_FALSE(w.find<QWidget>("setup_taper")->accessibleDescription().isEmpty());
    for (const char* name : {"shims", "column", "field", "edge", "level", "round", "wrap"})
        CHECK_FALSE(w.find<QWidget>((std::string("setup_") + name).c_str())->accessibleDescription().isEmpty());
    w.keys(QKeySequence(QStringLiteral("Alt+1")));
    w.click("heat_advice");
    const Recipe before = w.draft().recipe;
    auto* dialog = w.find<QDialog>("heat_dialog");
    QTest::mouseClick(dialog->findChild<QPushButton*>(QStringLiteral("less_heat")), Qt::LeftButton);
    QTest::qWait(1);
    // The second piece of advice, by keyboard: what is turned is what was drawn, and the ladders show where it leads.
    auto* bars = dialog->findChild<app::ChangeBars*>(QStringLiteral("heat_bars"));
    REQUIRE(bars->view().rows.size() >= 3);
    QTest::keyClick(bars, Qt::Key_Down);
    const auto advice = heat_advice(w.workbench().scene(), before, w.draft().fill, false).at(1);
    const auto& cells = bars->view().rows.at(1).cells;
    CHECK(*cells.at(0).ratio == Approx(1 + advice.dose));
    const auto* ladder = dialog->findChild<app::Ladder*>(QStringLiteral("heat_dose"));
    CHECK(ladder->view().value == Approx(*ladder->view().ghost * (1 + advice.dose)));
    // The recipe changes behind the dialog, as when a reading ends: the advice follows, and back.
    w.workbench().set_knob(Knob::scan_speed, 2 * knob_value(before, Knob::scan_speed));
    const auto now = heat_advice(w.workbench().scene(), w.draft().recipe, w.draft().fill, false);
    REQUIRE(bars->view().rows.size() == now.size());
    CHECK(*bars->view().rows.at(0).cells.at(5).ratio == Approx(1 + now.at(0).film));
    w.workbench().undo_stack().undo();
    QTest::keyClick(bars, Qt::Key_Down);
    QTest::keyClick(bars, Qt::Key_Return);
    CHECK(w.draft().recipe == with_knob(before, advice.knob, advice.to));
    // A slip is taken, but said.
    w.type("field_hatch_pitch_mm", QStringLiteral("0.035 mm"));
    CHECK(knob_value(w.draft().recipe, Knob::hatch_pitch) == Approx(0.035));
    CHECK(w.window().status_text().contains(QStringLiteral("0.0035")));
}
