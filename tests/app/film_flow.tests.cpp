// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/film_cards.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/piece/piece_view.h"
#include "driven_window.h"

#include <QDoubleSpinBox>
#include <QInputDialog>
#include <QSpinBox>
#include <QTableWidget>

using namespace finch;
using namespace finch::tests;
using namespace Qt::StringLiterals;

namespace {

void choose(DrivenWindow& w, const char* bench, Process process, const Setting& setting) {
    w.workbench().change(u"bench"_s, {}, [&](app::Draft& d) {
        d.setup.bench = load_bench(FINCH_SOURCE "/data", bench).value();
        d.setup.stock = load_stock(FINCH_SOURCE "/data", "gauge-strip-304").value();
        d.recipe.process = process;
        d.recipe.compound = process == Process::compound ? "ceramic" : "";
        d.recipe.coats = 2;
        d.recipe.setting = setting;
    });
}

bool worked_out(DrivenWindow& w) {
    return QTest::qWaitFor([&] { return !w.window().piece().reader().running(); }, patience);
}

/// The gauge strip, its marks in a ceramic film on the bench with the gas laser.
void open_strip(DrivenWindow& w) {
    w.keys(QKeySequence(u"Ctrl+4"_s));
    choose(w, "mallow", Process::compound,
           {50, kilohertz(10), nanoseconds(1000), mm_per_second(300), mm(0.1), 0, 1, mm(0)});
    app::PieceReader& reader = w.window().piece().reader();
    reader.open(QStringLiteral(FINCH_SOURCE "/data/artwork/canal-gauge-strip.svg"));
    REQUIRE(worked_out(w));
    for (std::size_t i = 0; i < reader.layers().size(); ++i)
        reader.layers()[i].choice.name == "marks" ? reader.take_recipe(i) : reader.set_guide(i, true);
    REQUIRE(worked_out(w));
}

QString said(DrivenWindow& w) {
    return w.find<QWidget>("film_said")->accessibleDescription();
}

/// "It is done", by the key.
void space(DrivenWindow& w) {
    auto* steps = w.find<QWidget>("film_steps");
    steps->setFocus();
    QTest::keyClick(steps, Qt::Key_Space);
}

std::vector<CompoundFact> recorded(DrivenWindow& w) {
    std::vector<CompoundFact> out;
    const auto book = w.logbook();
    EntryFilter filter;
    filter.words = compound_work_title;
    filter.limit = 100;
    const std::vector<Entry> heads = book->list(filter).value();
    for (const Entry& head : heads)
        out.push_back(compound_fact(book->entry(head.id).value()).value());
    std::ranges::reverse(out);
    return out;
}

} // namespace

TEST_CASE("film work is done step by step, timed, and kept whatever is undone or closed", "[flow][film]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        w.keys(QKeySequence(u"Ctrl+4"_s));
        w.keys(QKeySequence(u"Ctrl+Shift+S"_s)); // no piece, no film
        CHECK_FALSE(w.find<QWidget>("as_steps")->isVisible());
        open_strip(w);
        w.keys(QKeySequence(u"Ctrl+Shift+S"_s));
        REQUIRE(w.find<QWidget>("film_steps")->isVisible());
        CHECK(said(w).contains(u"4 together"_s));
        auto* together = w.find<QSpinBox>("film_together");
        together->setValue(3);
        CHECK(said(w).contains(u"3 together"_s));
        for (const int seconds : {240, 120, 180}) { // degreased, masked, sprayed
            space(w);
            w.pass(seconds);
        }
        CHECK_FALSE(together->isEnabled()); // three are sprayed
        CHECK(w.find<QPushButton>("film_done")->text() == u"It is matt all over"_s);
        REQUIRE(QTest::qWaitFor([&] { return said(w).contains(u"Drying for"_s); }, patience));
        // A coat is left out only with a reason.
        w.click("film_skip");
        auto* dialog = w.find<QInputDialog>("skip_dialog");
        dialog->setTextValue(u"  "_s);
        dialog->accept();
        CHECK(w.workbench().ledger().film_work("Mallow").size() == 3);
        QTest::qWait(10);
        w.click("film_skip");
        dialog = w.find<QInputDialog>("skip_dialog");
        dialog->setTextValue(u"the bell rang"_s);
        dialog->accept();
        CHECK(w.workbench().ledger().film_work("Mallow").size() == 4);
        CHECK(w.find<QPushButton>("film_done")->text() == u"Mark: done"_s);
        // It was a mistake: both words stay.
        w.click("film_back");
        CHECK(w.find<QPushButton>("film_done")->text() == u"It is matt all over"_s);
        // Whoever is elsewhere is told, once, that it should be dry.
        int told = 0;
        const auto listening =
            QObject::connect(&w.workbench(), &app::Workbench::said, &w.window(), [&told](const QString& text) {
                told += text.contains(u"Mallow: the coat has dried for"_s) ? 1 : 0;
            });
        w.keys(QKeySequence(u"Ctrl+7"_s));
        // Also when another bench is at hand meanwhile.
        w.workbench().change(u"wren"_s, {},
                             [](app::Draft& d) { d.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value(); });
        QTest::qWait(1200);
        CHECK(told == 0);
        w.pass(400);
        CHECK(QTest::qWaitFor([&] { return told > 0; }, patience));
        QTest::qWait(1200);
        CHECK(told == 1);
        QObject::disconnect(listening);
        w.keys(QKeySequence::Undo);
        w.keys(QKeySequence(u"Ctrl+4"_s));
        REQUIRE(worked_out(w));
        REQUIRE(QTest::qWaitFor([&] { return w.find<QPushButton>("film_done")->isEnabled(); }, patience));
        space(w);
        // Undo is of choices: what was done stays done, and the pieces that are sprayed are still three.
        w.keys(QKeySequence::Undo);
        CHECK(w.workbench().ledger().film_work("Mallow").size() == 6);
        w.keys(QKeySequence::Redo);
        REQUIRE(worked_out(w));
        // Another product is chosen while these dry: they are what they are.
        w.workbench().change(u"molybdenum"_s, {}, [](app::Draft& d) {
            for (auto& l : d.piece.layers)
                if (l.recipe)
                    l.recipe->compound = "molybdenum";
            for (auto& l : d.piece.layers)
                if (l.recipe)
                    l.recipe->coats = 3;
            d.piece.film_together = 9;
            d.setup.stock = load_stock(FINCH_SOURCE "/data", "sundial-316").value(); // for something else
        });
        REQUIRE(worked_out(w));
        CHECK(w.find<QWidget>("film_steps")->accessibleDescription().contains(u"Shake 1 to 2 minutes"_s));
        CHECK(together->value() == 3);
        CHECK(w.find<QLabel>("film_mass")->text().contains(u"32 g/m²"_s));
        space(w); // marked, and that taken back
        CHECK(recorded(w).size() == 7);
        w.click("film_back");
        w.keys(QKeySequence::Undo);
        REQUIRE(worked_out(w));
        CHECK(recorded(w).size() == 8);
        w.window().close();
    }
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(u"Ctrl+4"_s));
    REQUIRE(QTest::qWaitFor([&] { return w.find<QWidget>("as_steps")->isVisible(); }, patience));
    REQUIRE(worked_out(w));
    w.keys(QKeySequence(u"Ctrl+Shift+S"_s));
    auto* done = w.find<QPushButton>("film_done");
    REQUIRE(QTest::qWaitFor([&] { return done->text() == u"Mark: done"_s; }, patience));
    for (int i = 0; i < 3; ++i) { // marked, cooled, washed
        w.pass(60);
        space(w);
    }
    CHECK(done->text() == u"Keep the ladder"_s);
    space(w); // nothing is graded yet
    CHECK(done->text() == u"Keep the ladder"_s);
    auto* ladder = w.find<app::ScratchLadder>("scratch_ladder");
    ladder->setFocus();
    QTest::keyClick(ladder, Qt::Key_3); // not before the softer ones
    CHECK_FALSE(ladder->rungs()[2].grade);
    QTest::keyClick(ladder, Qt::Key_1);
    QTest::mouseClick(ladder, Qt::LeftButton, {}, QPoint(140, 28));
    QTest::keyClick(ladder, Qt::Key_3);
    QTest::keyClick(ladder, Qt::Key_3);
    CHECK(ladder->rungs()[1].grade == 1.0);
    CHECK(ladder->rungs()[2].grade == 0.5);
    w.click("film_done");
    CHECK(said(w).contains(u"All steps are done"_s));
    const auto facts = recorded(w);
    REQUIRE(facts.size() == 12);
    CHECK(facts[3].note == "the bell rang");
    CHECK(facts[4].kind == StepEvent::Kind::withdrawn);
    CHECK(facts[5].note.find("matt all over") != std::string::npos);
    CHECK(facts.back().ladder == std::vector<double>{1, 1, 0.5});
    for (const CompoundFact& f : facts) {
        CHECK(f.pieces == 3);
        CHECK(f.recipe.coats == 2);
        CHECK(f.recipe.compound == "ceramic");
        CHECK(f.recipe.setting.power_percent == 50);
        CHECK(f.batch == facts.front().batch);
        CHECK(f.setup.stock.lot == w.draft().setup.stock.lot); // also of those said while another lay there
    }
    w.click("film_away");
    CHECK(w.find<QSpinBox>("film_together")->isEnabled());
    space(w);
    const auto next = recorded(w);
    REQUIRE(next.size() == 14);
    CHECK(next[12].closed);
    CHECK(next[13].batch != facts.front().batch);
}

TEST_CASE("a price list is made, and another way to make the piece is weighed against it", "[flow][film]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    open_strip(w);
    const auto ask = [&] {
        w.keys(QKeySequence(u"Ctrl+Shift+Q"_s));
        return w.find<QDialog>("cost_dialog");
    };
    const auto close = [&](QDialog* dialog, const char* button) {
        QTest::mouseClick(dialog->findChild<QPushButton*>(QString::fromLatin1(button)), Qt::LeftButton);
        REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<QDialog*>(u"cost_dialog"_s) == nullptr; }, patience));
    };
    QDialog* dialog = ask();
    auto* tiers = dialog->findChild<QTableWidget*>(u"cost_tiers"_s);
    CHECK(tiers->rowCount() == 5);
    auto* blank = dialog->findChild<QDoubleSpinBox*>(u"cost_blank"_s);
    blank->setFocus();
    blank->selectAll();
    QTest::keyClicks(blank, QLocale().toString(2.5, 'f', 1));
    QTest::keyClick(blank, Qt::Key_Tab);
    auto* quantities = dialog->findChild<QLineEdit*>(u"cost_quantities"_s);
    quantities->setFocus();
    quantities->selectAll();
    QTest::keyClicks(quantities, u"many"_s);
    QTest::keyClick(quantities, Qt::Key_Tab);
    CHECK(dialog->findChild<QLabel*>(u"cost_batch"_s)->text().contains(u"no quantities"_s));
    CHECK_FALSE(dialog->findChild<QPushButton*>(u"cost_keep"_s)->isEnabled());
    quantities->setFocus();
    quantities->selectAll();
    QTest::keyClicks(quantities, u"40 4"_s);
    QTest::keyClick(quantities, Qt::Key_Tab);
    REQUIRE(tiers->rowCount() == 2);
    tiers->selectRow(1);
    // What stands there, worked out apart from the dialog.
    const auto piece = app::costed_piece(w.workbench(), w.window().piece().reader(), w.draft().piece.price).value();
    CostRules film = piece->cost.rules;
    film.blank = 2.5;
    const JobCost forty = batch_cost(film, 40, 0.03).value();
    CHECK(tiers->item(1, 1)->text().toInt() == forty.started);
    CHECK(tiers->item(1, 2)->text() == QString::number(forty.unit, 'f', 2));
    CHECK(tiers->item(1, 3)->text() == QString::number(price_of(forty.unit, 0.4, 0.05), 'f', 2));
    QTest::mouseClick(dialog->findChild<QPushButton*>(u"cost_keep_route"_s), Qt::LeftButton);
    close(dialog, "cost_keep");
    REQUIRE(w.draft().piece.against);
    CHECK(w.draft().piece.price.tiers == std::vector<int>{40, 4});
    // The same marks cut straight into the metal.
    choose(w, "heron", Process::engrave,
           {90, kilohertz(50), nanoseconds(110), mm_per_second(400), mm(0.03), 0, 6, mm(0)});
    for (std::size_t i = 0; i < w.window().piece().reader().layers().size(); ++i)
        if (!w.window().piece().reader().layers()[i].choice.guide)
            w.window().piece().reader().take_recipe(i);
    REQUIRE(worked_out(w));
    dialog = ask();
    dialog->findChild<QTableWidget*>(u"cost_tiers"_s)->selectRow(1);
    const auto direct = app::costed_piece(w.workbench(), w.window().piece().reader(), w.draft().piece.price).value();
    const auto both = routes_against(film, 0.03, direct->cost.rules, 0.03, 40).value();
    const QString words = dialog->findChild<QLabel*>(u"cost_other"_s)->text();
    INFO(words.toStdString());
    CHECK(words.contains(QString::number(both.first.unit, 'f', 2)));
    CHECK(words.contains(QString::number(both.second.unit, 'f', 2)));
    CHECK(words.contains(u"Ceramic compound"_s));
    CHECK(words.contains(both.crossing.pieces ? u"Both cost the same at"_s : u"at every quantity"_s));
    close(dialog, "cost_keep");
    w.keys(QKeySequence::Undo);
    w.keys(QKeySequence::Undo);
    // Kept and read again with the draft, whatever the locale.
    const auto again = app::draft_from_json(app::to_json(w.draft()), "draft").value();
    CHECK(again.piece == w.draft().piece);
}
