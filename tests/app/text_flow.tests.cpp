// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Typed texts and fills, by mouse and keyboard, to the job that leaves.
#include "app/stations/piece/piece_station.h"
#include "app/stations/piece/series_panel.h"
#include "document/json_fields.h"
#include "driven_window.h"
#include "formats/data_folder.h"
#include "formats/typed_art.h"

#include <fstream>
#include <nlohmann/json.hpp>
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QSpinBox>
#include <QTableWidget>

using namespace finch;
using namespace finch::tests;

namespace {

template <typename W>
W* part(QDialog* dialog, const char* name) {
    auto* found = dialog->findChild<W*>(QString::fromLatin1(name));
    INFO(name);
    REQUIRE(found != nullptr);
    return found;
}

QDialog* opened(DrivenWindow& w, const QKeySequence& keys, const char* name) {
    w.keys(keys);
    auto* dialog = w.window().findChild<QDialog*>(QString::fromLatin1(name));
    REQUIRE(dialog != nullptr);
    return dialog;
}

void type_into(QDialog* dialog, const char* field, const QString& words) {
    auto* box = part<QWidget>(dialog, field);
    box->setFocus();
    QTest::keyClick(box, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(box, words);
    QTest::keyClick(box, Qt::Key_Tab);
}

void press(QDialog* dialog, const char* button) {
    auto* b = part<QAbstractButton>(dialog, button);
    INFO(button);
    REQUIRE(QTest::qWaitFor([&] { return b->isEnabled(); }, patience));
    QTest::mouseClick(b, Qt::LeftButton);
}

bool quiet(DrivenWindow& w) {
    return QTest::qWaitFor([&] { return !w.window().piece().reader().running(); }, patience);
}

std::string cell(QDialog* dialog, int row, int column) {
    auto* table = part<QTableWidget>(dialog, "series_said");
    return row < table->rowCount() && table->item(row, column) != nullptr
               ? table->item(row, column)->text().toStdString()
               : "";
}

} // namespace

TEST_CASE("numbers and a table are typed onto an empty page, and every part of the tray leaves with its own",
          "[window][texts]") {
    CleanSettings clean;
    QTemporaryDir folder;
    const QString rows = folder.filePath(QStringLiteral("strips.csv"));
    std::ofstream(rows.toStdString()) << "lot;by\nA-1;OD\nA-1;OD\nB-2;OD\nC-3;OD\nC-3;OD\n";
    {
        DrivenWindow w(folder.path());
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        app::PieceReader& reader = w.window().piece().reader();
        w.workbench().change({}, {}, [&](app::Draft& d) {
            d.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
            d.piece = {};
            d.piece.place.holding = Holding::tray;
            d.piece.place.tray = {2, 2, 50, 20, 10};
            d.recipe.setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.05), 0, 1, mm(0)};
        });
        QDialog* dialog = opened(w, QKeySequence(QStringLiteral("Ctrl+Shift+Y")), "text_dialog");
        type_into(dialog, "page_width", QStringLiteral("40"));
        type_into(dialog, "page_height", QStringLiteral("12"));
        type_into(dialog, "text_words", QStringLiteral("No {n}"));
        type_into(dialog, "text_name", QStringLiteral("number"));
        type_into(dialog, "text_height", QStringLiteral("2"));
        type_into(dialog, "text_x", QStringLiteral("20"));
        type_into(dialog, "text_y", QStringLiteral("2"));
        type_into(dialog, "series_first", QStringLiteral("100"));
        press(dialog, "text_add");
        type_into(dialog, "text_words", QStringLiteral("lot {Lot}"));
        REQUIRE(QTest::qWaitFor(
            [&] { return part<QLabel>(dialog, "text_told")->text().contains(QStringLiteral("no column")); }, patience));
        CHECK_FALSE(part<QAbstractButton>(dialog, "text_take")->isEnabled());
        // No table, one that is none, and the right one.
        dialog->findChild<app::SeriesPanel*>()->read_table(folder.filePath(QStringLiteral("none.csv")));
        CHECK(part<QLabel>(dialog, "text_told")->text().contains(QStringLiteral("cannot be read")));
        dialog->findChild<app::SeriesPanel*>()->read_table(rows);
        type_into(dialog, "text_words", QStringLiteral("lot "));
        auto* menu = part<QAbstractButton>(dialog, "text_insert")->findChild<QMenu*>();
        REQUIRE(menu != nullptr);
        Q_EMIT menu->aboutToShow();
        REQUIRE(menu->actions().size() == 3);
        menu->actions().at(1)->trigger();
        CHECK(part<QLineEdit>(dialog, "text_words")->text() == QStringLiteral("lot {lot}"));
        REQUIRE(QTest::qWaitFor([&] { return cell(dialog, 2, 3) == "lot B-2"; }, patience));
        CHECK(cell(dialog, 3, 2) == "No 0103");
        CHECK(part<QTableWidget>(dialog, "series_said")->rowCount() == 4);
        // The second tray holds one piece only: there the table ends.
        press(dialog, "series_next");
        CHECK(part<QLineEdit>(dialog, "series_pieces")->text() == QStringLiteral("5"));
        CHECK(cell(dialog, 0, 2) == "No 0104");
        press(dialog, "series_next");
        CHECK(part<QLabel>(dialog, "text_told")->text().contains(QStringLiteral("last")));
        type_into(dialog, "series_pieces", QStringLiteral("1-3, 3"));
        CHECK_FALSE(part<QAbstractButton>(dialog, "text_take")->isEnabled());
        type_into(dialog, "series_pieces", QStringLiteral("5, 1-2"));
        // Dragged on the page.
        const double x = part<QDoubleSpinBox>(dialog, "text_x")->value();
        auto* view = part<app::DrawingView>(dialog, "text_drawing");
        const QPoint from(view->width() / 2, view->height() / 2);
        QTest::mousePress(view, Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, QPointF(from + QPoint(20, 0)),
                         view->mapToGlobal(QPointF(from + QPoint(20, 0))), Qt::NoButton, Qt::LeftButton,
                         Qt::NoModifier);
        QApplication::sendEvent(view, &move);
        QTest::mouseRelease(view, Qt::LeftButton, {}, from + QPoint(20, 0));
        CHECK(part<QDoubleSpinBox>(dialog, "text_x")->value() > x + 0.5);
        type_into(dialog, "text_x", QStringLiteral("20"));
        type_into(dialog, "text_y", QStringLiteral("7"));
        type_into(dialog, "text_height", QStringLiteral("2"));
        REQUIRE(QTest::qWaitFor([&] { return part<QAbstractButton>(dialog, "text_take")->isEnabled(); }, patience));
        press(dialog, "text_take");
        REQUIRE(quiet(w));
        auto layers = reader.layers();
        REQUIRE(layers.size() == 3);
        CHECK(layers[0].choice.guide); // the edge of the page
        CHECK(layers[1].words == "No 0104");
        CHECK(layers[2].words == "lot C-3");
        CHECK(w.find<QWidget>("layers")->accessibleDescription().contains(QStringLiteral("No 0104")));
        reader.take_recipe(1);
        reader.take_recipe(2);
        REQUIRE(quiet(w));
        REQUIRE(QTest::qWaitFor([&] { return reader.laid() != nullptr; }, patience));
        CHECK(reader.laid()->placed.job.places.size() == 3);

        const QString out = folder.filePath(QStringLiteral("strips.json"));
        reader.export_to(out);
        REQUIRE(QTest::qWaitFor([&] { return QFile::exists(out) && !reader.running(); }, patience));
        QFile file(out);
        REQUIRE(file.open(QIODevice::ReadOnly));
        const Job job = job_from_json(nlohmann::json::parse(file.readAll().toStdString()), "").value();
        std::map<int, std::set<std::string>> said;
        for (const JobPlace& place : job.places)
            for (const JobLayer& l : job.layers)
                if (is_at(l, place) && !l.words.empty())
                    said[place.number].insert(l.words);
        CHECK(said == std::map<int, std::set<std::string>>{
                          {1, {"No 0104", "lot C-3"}}, {2, {"No 0100", "lot A-1"}}, {3, {"No 0101", "lot A-1"}}});

        // Undone, the page is empty again; done again, all is as it was.
        for (int i = 0; i < 3; ++i)
            w.keys(QKeySequence::Undo);
        REQUIRE(quiet(w));
        CHECK(reader.piece() == nullptr);
        for (int i = 0; i < 3; ++i)
            w.keys(QKeySequence::Redo);
        REQUIRE(quiet(w));
        CHECK(reader.layers().size() == 3);
        CHECK(reader.part());
        w.window().close();
    }
    DrivenWindow again(folder.path());
    again.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    app::PieceReader& reader = again.window().piece().reader();
    REQUIRE(quiet(again));
    REQUIRE(reader.layers().size() == 3);
    CHECK(reader.layers()[2].words == "lot C-3");
    // A text that is called otherwise keeps its recipe and a font that is not here; without a name none is taken.
    again.workbench().change({}, {}, [](app::Draft& d) { d.piece.typed.texts[0].font = "Not Here"; });
    REQUIRE(quiet(again));
    QDialog* dialog = opened(again, QKeySequence(QStringLiteral("Ctrl+Shift+Y")), "text_dialog");
    type_into(dialog, "text_name", QStringLiteral(" "));
    REQUIRE(QTest::qWaitFor(
        [&] {
            return !part<QAbstractButton>(dialog, "text_take")->isEnabled() &&
                   part<QLabel>(dialog, "text_told")->text().contains(QStringLiteral("name"));
        },
        patience));
    type_into(dialog, "text_name", QStringLiteral("serial"));
    press(dialog, "text_take");
    REQUIRE(quiet(again));
    CHECK(reader.layers()[1].choice.name == "serial");
    CHECK(reader.layers()[1].choice.recipe);
    CHECK(again.workbench().draft().piece.typed.texts[0].font == "Not Here");
    CHECK(app::draft_from_json(to_json(again.workbench().draft()), "draft"));
    // A column that is gone keeps the job from leaving without its words.
    again.workbench().change({}, {}, [](app::Draft& d) { d.piece.typed.series.table = nullptr; });
    REQUIRE(quiet(again));
    REQUIRE(reader.text_fault());
    CHECK(reader.part().error().code == "text.field");
    CHECK(reader.layers().size() == 1);
}

TEST_CASE("how a layer is filled is seen, timed and taken, and leaves with the job", "[window][texts]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    app::PieceReader& reader = w.window().piece().reader();
    w.workbench().change({}, {}, [&](app::Draft& d) {
        d.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
        d.recipe.setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.05), 0, 1, mm(0)};
    });
    reader.open(QStringLiteral(FINCH_SOURCE "/tests/data/artwork/filled-and-drawn-in-two.svg"));
    REQUIRE(quiet(w));
    reader.take_recipe(0);
    REQUIRE(quiet(w));
    const TimeBand plain = reader.layers()[0].time;
    const double area = area_mm2(reader.piece()->drawing.regions[0]);
    QDialog* dialog = opened(w, QKeySequence(QStringLiteral("Ctrl+Shift+U")), "fill_dialog");
    press(dialog, "fill_half_spot");
    type_into(dialog, "fill_contours", QStringLiteral("2"));
    part<QCheckBox>(dialog, "fill_cross")->click();
    part<QCheckBox>(dialog, "fill_one_way")->click();
    REQUIRE(QTest::qWaitFor([&] { return part<QAbstractButton>(dialog, "fill_take")->isEnabled(); }, patience));
    CHECK(part<QLabel>(dialog, "fill_words")->text().contains(QStringLiteral("before")));
    part<QSpinBox>(dialog, "fill_shown")->setValue(2);
    type_into(dialog, "fill_inset", QStringLiteral("5"));
    REQUIRE(QTest::qWaitFor(
        [&] { return part<QLabel>(dialog, "fill_words")->text().contains(QStringLiteral("Nothing of layer")); },
        patience));
    CHECK_FALSE(part<QAbstractButton>(dialog, "fill_take")->isEnabled());
    press(dialog, "fill_half_spot");
    press(dialog, "fill_take");
    REQUIRE(quiet(w));
    const app::PieceLayer now = reader.layers()[0];
    CHECK(now.choice.fill.contours == 2);
    CHECK(now.choice.fill.one_way);
    CHECK(now.choice.recipe->cross_hatch);
    CHECK(now.time.likely > 2 * plain.likely);
    reader.set_guide(1, true);
    REQUIRE(quiet(w));
    const Job job = reader.part().value();
    CHECK(area_mm2(job.layers[0].region) < area);
    CHECK(job.layers[0].contours == 2);
    CHECK(layer_work(job, job.layers[0]).value().load == now.work->load);
    w.keys(QKeySequence::Undo);
    w.keys(QKeySequence::Undo);
    REQUIRE(quiet(w));
    CHECK(reader.layers()[0].choice.fill == LayerFill{});
    CHECK(reader.layers()[0].time.likely == Approx(plain.likely));
}

TEST_CASE("a fault is left as drawn and mended again, and a part drawn round is a layer until it is given back",
          "[window][texts]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    app::PieceReader& reader = w.window().piece().reader();
    reader.open(QStringLiteral(FINCH_SOURCE "/tests/data/artwork/open-by-a-hair.svg"));
    REQUIRE(quiet(w));
    const auto code = [&] { return reader.findings().at(0).code; };
    CHECK(code() == "open_outline");
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+N")));
    REQUIRE(w.find<QPushButton>("leave_fault")->isVisible());
    w.click("leave_fault");
    REQUIRE(quiet(w));
    CHECK(code() == "left_open");
    auto* list = w.find<QWidget>("artwork_findings");
    QTest::mouseClick(list, Qt::LeftButton, {}, {40, 10});
    QTest::keyClick(list, Qt::Key_Space);
    REQUIRE(quiet(w));
    CHECK(code() == "open_outline");
    w.keys(QKeySequence::Undo);
    REQUIRE(quiet(w));
    CHECK(code() == "left_open");

    const QString file = folder.filePath(QStringLiteral("six.svg"));
    {
        std::ofstream out(file.toStdString());
        out << R"(<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">)";
        for (int i = 0; i < 6; ++i)
            out << "<rect x='" << 5 + 30 * (i % 3) << "' y='" << 5 + 30 * (i / 3) << "' width='20' height='20'/>";
        out << "</svg>";
    }
    reader.open(file);
    REQUIRE(quiet(w));
    reader.take_recipe(0);
    REQUIRE(quiet(w));
    auto* view = w.find<app::DrawingView>("drawing");
    const auto at = [&](double across, double down) { // shares of the page, which lies in the middle of the field
        const double field = in_mm(w.workbench().bench().lens().field);
        const double side = std::min(view->width(), view->height()) - 44.0; // about: the line keeps clear of the shapes
        return QPointF(0.5 * view->width() + 12 + side * 90 / field * (across - 0.5),
                       0.5 * view->height() - 14 + side * 60 / field * (down - 0.5));
    };
    const auto round = [&](double left, double right) {
        w.click("draw_round");
        QTest::mousePress(view, Qt::LeftButton, {}, at(left, -0.1).toPoint());
        for (const QPointF& p : {at(right, -0.1), at(right, 1.1), at(left, 1.1)}) {
            QMouseEvent move(QEvent::MouseMove, p, view->mapToGlobal(p), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(view, &move);
        }
        QTest::mouseRelease(view, Qt::LeftButton, {}, at(left, 1.1).toPoint());
        REQUIRE(quiet(w));
    };
    round(-0.1, 0.33);
    REQUIRE(reader.layers().size() == 2);
    CHECK(reader.piece()->area_mm2[1] == Approx(2 * 400));
    CHECK(reader.layers()[1].choice.recipe == reader.layers()[0].choice.recipe);
    CHECK(w.find<QPushButton>("draw_round")->text() == QStringLiteral("Give back"));
    // Of the rest, by a box that is typed.
    QTest::mouseClick(w.find<QWidget>("layers"), Qt::LeftButton, {}, {60, 24 + 10});
    w.window().piece().ask_box();
    auto* dialog = w.window().findChild<QDialog*>(QStringLiteral("box_dialog"));
    REQUIRE(dialog != nullptr);
    type_into(dialog, "box_left", QStringLiteral("60"));
    type_into(dialog, "box_low", QStringLiteral("30"));
    press(dialog, "box_take");
    REQUIRE(quiet(w));
    REQUIRE(reader.layers().size() == 3);
    CHECK(reader.piece()->area_mm2[2] == Approx(400));
    CHECK(reader.piece()->area_mm2[0] == Approx(3 * 400));
    CHECK(area_mm2(reader.part().value().layers[1].region) == Approx(400));
    w.click("draw_round"); // the new one is the chosen one: it is given back
    REQUIRE(quiet(w));
    CHECK(reader.layers().size() == 2);
    CHECK(reader.piece()->area_mm2[0] == Approx(4 * 400));
    w.keys(QKeySequence::Undo);
    REQUIRE(quiet(w));
    CHECK(reader.layers().size() == 3);
    // A line round nothing whole changes nothing, and says so.
    QTest::mouseClick(w.find<QWidget>("layers"), Qt::LeftButton, {}, {60, 24 + 10});
    const app::Draft before = w.workbench().draft();
    round(0.45, 0.55);
    CHECK(w.workbench().draft() == before);
    CHECK(w.find<QWidget>("status")->accessibleDescription().contains(QStringLiteral("lies wholly")));
}
