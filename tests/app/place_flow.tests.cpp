// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/piece_money.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/piece/place_dialog.h"
#include "document/json_fields.h"
#include "driven_window.h"
#include "formats/data_folder.h"

#include <map>
#include <nlohmann/json.hpp>
#include <QDoubleSpinBox>
#include <QFile>
#include <QFileDialog>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableWidget>

using namespace finch;
using namespace finch::tests;

namespace {

/// The Piece station with a drawing whose marked layers have a recipe.
void open_drawing(DrivenWindow& w, const char* drawing, const char* bench, const char* stock) {
    w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    w.workbench().change(QStringLiteral("bench"), {}, [&](app::Draft& d) {
        d.setup.bench = load_bench(FINCH_SOURCE "/data", bench).value();
        d.setup.stock = load_stock(FINCH_SOURCE "/data", stock).value();
        d.recipe.setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.05), 0, 1, mm(0)};
    });
    app::PieceReader& reader = w.window().piece().reader();
    reader.open(QStringLiteral(FINCH_SOURCE "/data/artwork/") + QString::fromLatin1(drawing));
    REQUIRE(QTest::qWaitFor([&] { return !reader.running() && reader.piece() != nullptr; }, patience));
    for (std::size_t i = 0; i < reader.layers().size(); ++i) {
        const std::string name = reader.layers()[i].choice.name;
        name == "scale" || name == "marks" ? reader.take_recipe(i) : reader.set_guide(i, true);
    }
    REQUIRE(QTest::qWaitFor([&] { return !reader.running(); }, patience));
}

QDialog* place_dialog(DrivenWindow& w) {
    w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+J")));
    auto* dialog = w.window().findChild<QDialog*>(QStringLiteral("place_dialog"));
    REQUIRE(dialog != nullptr);
    return dialog;
}

template <typename W>
W* in(QDialog* dialog, const char* name) {
    auto* found = dialog->findChild<W*>(QString::fromLatin1(name));
    INFO(name);
    REQUIRE(found != nullptr);
    return found;
}

void type(QDialog* dialog, const char* field, const QString& text) {
    auto* box = in<QAbstractSpinBox>(dialog, field);
    box->setFocus();
    box->selectAll();
    QTest::keyClicks(box, text);
    QTest::keyClick(box, Qt::Key_Tab);
}

bool laid_out(QDialog* dialog) {
    return QTest::qWaitFor([&] { return dialog->findChild<QWidget*>(QStringLiteral("place_take"))->isEnabled(); },
                           patience);
}

void take(DrivenWindow& w, QDialog* dialog) {
    QTest::mouseClick(in<QPushButton>(dialog, "place_take"), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<QDialog*>(QStringLiteral("place_dialog")) == nullptr; },
                            patience));
    REQUIRE(QTest::qWaitFor([&] { return w.window().piece().reader().laid() != nullptr; }, patience));
}

Job exported(DrivenWindow& w, const QTemporaryDir& folder) {
    const QString file = folder.filePath(QStringLiteral("laid.json"));
    QFile::remove(file);
    app::PieceReader& reader = w.window().piece().reader();
    reader.export_to(file);
    REQUIRE(QTest::qWaitFor([&] { return !reader.running() && QFile::exists(file); }, patience));
    return job_from_json(parse_json(read_text_file(file.toStdString()).value(), "laid").value(), "laid").value();
}

} // namespace

TEST_CASE("a scale is laid round a tapered sleeve in strips of whole steps", "[flow][place]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    open_drawing(w, "tripod-sleeve-scale.svg", "heron", "tripod-sleeve-powder");
    auto* dialog = place_dialog(w);
    REQUIRE(laid_out(dialog));
    in<QAbstractButton>(dialog, "hold_round")->click();
    // A caliper's two diameters by the keyboard; until it closes, the drawing is wider than once round.
    type(dialog, "round_small", QStringLiteral("41"));
    type(dialog, "round_large", QStringLiteral("45"));
    type(dialog, "round_length", QStringLiteral("120"));
    type(dialog, "round_middle", QStringLiteral("60"));
    REQUIRE(QTest::qWaitFor(
        [&] {
            return in<QWidget>(dialog, "place_view")->accessibleDescription().contains(QStringLiteral("once round"));
        },
        patience));
    CHECK_FALSE(in<QWidget>(dialog, "place_take")->isEnabled());
    type(dialog, "round_large", QStringLiteral("46"));
    in<QAbstractButton>(dialog, "round_full")->click();
    REQUIRE(laid_out(dialog));
    CHECK(in<QLabel>(dialog, "place_words")->text().contains(QStringLiteral("43.5 mm")));
    auto* strips = in<QTableWidget>(dialog, "place_strips");
    REQUIRE(strips->rowCount() >= 2);
    // Another number of strips by the keys of the table.
    strips->setFocus();
    strips->setCurrentCell(strips->rowCount() - 1, 0);
    Q_EMIT strips->cellActivated(strips->rowCount() - 1, 0);
    const int wanted = strips->item(strips->rowCount() - 1, 0)->text().toInt();
    REQUIRE(laid_out(dialog));
    take(w, dialog);
    const app::PlacedPiece& laid = *w.window().piece().reader().laid();
    CHECK(laid.placed.round->choices[laid.placed.round->taken].strips == wanted);
    CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("turning")));
    const Job job = exported(w, folder);
    CHECK(job.places.size() >= static_cast<std::size_t>(wanted));
    CHECK(job.places.front().axis_deg);
    w.keys(QKeySequence::Undo);
    CHECK(w.window().piece().reader().laid() == nullptr);
    CHECK(exported(w, folder).places.empty());
    w.keys(QKeySequence::Redo);
    CHECK(QTest::qWaitFor([&] { return w.window().piece().reader().laid() != nullptr; }, patience));
    // A bench without a rotary cannot hold it, and says so; the choice stays.
    w.workbench().change(QStringLiteral("wren"), {},
                         [&](app::Draft& d) { d.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value(); });
    REQUIRE(QTest::qWaitFor([&] { return !w.window().piece().reader().laid_reason().isEmpty(); }, patience));
    CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("no rotary")));
    CHECK(w.workbench().draft().piece.place.holding == Holding::round);
}

TEST_CASE("a strip is marked in four tiles, and small parts in a tray of 24", "[flow][place]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    open_drawing(w, "canal-gauge-strip.svg", "wren", "gauge-strip-304");
    auto* dialog = place_dialog(w);
    REQUIRE(laid_out(dialog));
    CHECK(in<QWidget>(dialog, "place_findings")
              ->accessibleDescription()
              .contains(QStringLiteral("larger than the field")));
    in<QAbstractButton>(dialog, "hold_tiles")->click();
    REQUIRE(laid_out(dialog));
    CHECK(in<QLabel>(dialog, "place_words")->text().startsWith(QStringLiteral("Tiles: 4 of 125")));
    type(dialog, "tile_reload", QStringLiteral("90"));
    REQUIRE(laid_out(dialog));
    CHECK(in<QLabel>(dialog, "place_words")->text().contains(QStringLiteral("4 min 30")));
    take(w, dialog);
    const Job tiles = exported(w, folder);
    REQUIRE(tiles.places.size() == 4);
    CHECK(std::ranges::count_if(tiles.layers, [](const JobLayer& l) { return !l.only_at.empty() && !l.guide; }) == 6);
    // What it costs is of all its tiles, and of the hands between them.
    const auto cost = app::costed_piece(w.workbench(), w.window().piece().reader(), {}).value();
    const PlacedTime& time = w.window().piece().reader().laid()->time;
    CHECK(time.moving_s == Approx(270));
    CHECK(cost->mark_s == Approx(time.marking.likely));
    CHECK(cost->cost.rules.handling_s ==
          Approx(270 + w.workbench().materials().model.effort.handling_s + 60 * cost->cost.after.minutes));

    // A small part, many times.
    open_drawing(w, "../../tests/data/artwork/filled-and-drawn-in-two.svg", "wren", "sundial-316");
    CHECK(w.workbench().draft().piece.place == PlaceRules{}); // another drawing lies as it is drawn
    app::PieceReader& reader = w.window().piece().reader();
    reader.take_recipe(0);
    REQUIRE(QTest::qWaitFor([&] { return !reader.running(); }, patience));
    dialog = place_dialog(w);
    REQUIRE(laid_out(dialog));
    in<QAbstractButton>(dialog, "hold_tray")->click();
    type(dialog, "tray_pitch_x", QStringLiteral("30"));
    type(dialog, "tray_pitch_y", QStringLiteral("20"));
    type(dialog, "tray_wanted", QStringLiteral("100"));
    INFO(in<QWidget>(dialog, "place_view")->accessibleDescription().toStdString());
    REQUIRE(laid_out(dialog));
    CHECK(in<QLabel>(dialog, "place_words")->text().contains(QStringLiteral("Nests: 24")));
    CHECK(in<QLabel>(dialog, "place_words")->text().contains(QStringLiteral("100 come out good")));
    // The jig of the same nests.
    QTest::mouseClick(in<QPushButton>(dialog, "place_jig"), Qt::LeftButton);
    auto* save = dialog->findChild<QFileDialog*>();
    REQUIRE(save != nullptr);
    save->selectFile(folder.filePath(QStringLiteral("jig.svg")));
    for (auto* button : save->findChildren<QPushButton*>())
        if (button->text().contains(QStringLiteral("Save")))
            QTest::mouseClick(button, Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return QFile::exists(folder.filePath(QStringLiteral("jig.svg"))); }, patience));
    // A pocket that was measured is typed as it is on the command line; a slip of the pen lays nothing.
    auto* offsets = in<QLineEdit>(dialog, "tray_offsets");
    const auto type_offsets = [&](const QString& text) {
        offsets->setFocus();
        offsets->selectAll();
        QTest::keyClicks(offsets, text);
        QTest::keyClick(offsets, Qt::Key_Tab);
    };
    type_offsets(QStringLiteral("3=0.2;-0.1"));
    CHECK(in<QLabel>(dialog, "place_words")->text().contains(QStringLiteral("no offset")));
    CHECK_FALSE(in<QWidget>(dialog, "place_take")->isEnabled());
    type_offsets(QStringLiteral("3=0.2,-0.1"));
    REQUIRE(laid_out(dialog));
    in<QAbstractButton>(dialog, "tray_in_turn")->click();
    REQUIRE(laid_out(dialog));
    CHECK(in<QWidget>(dialog, "place_findings")->accessibleDescription().contains(QStringLiteral("cool in turn")));
    take(w, dialog);
    const Job tray = exported(w, folder);
    CHECK(tray.places.size() == 24);
    CHECK(tray.in_turn);
    std::map<int, PointMm> by;
    for (const JobPlace& p : tray.places)
        by[p.number] = p.by;
    CHECK(by[3].x - by[2].x == Approx(30.2));
    CHECK(by[3].y - by[2].y == Approx(-0.1));
    CHECK(by[4].x - by[2].x == Approx(60));
    CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("With one tray")));
    const auto costed = app::costed_piece(w.workbench(), reader, {}).value();
    CHECK(24 * costed->mark_s == Approx(reader.laid()->time.marking.likely));
}
