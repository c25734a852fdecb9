// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_station.h"
#include "document/json_fields.h"
#include "driven_window.h"

#include "formats/folders.h"
#include "formats/job_sheet.h"

#include <fstream>
#include <nlohmann/json.hpp>
#include <QDoubleSpinBox>
#include <QFile>
#include <QFileDialog>
#include <QMenu>

using namespace finch;
using namespace finch::tests;

namespace {

bool settled(DrivenWindow& w) {
    app::PieceReader& reader = w.window().piece().reader();
    return QTest::qWaitFor([&] { return !reader.running(); }, patience);
}

QString spoken(DrivenWindow& w, const char* instrument) {
    return w.find<QWidget>(instrument)->accessibleDescription();
}

} // namespace

TEST_CASE("a drawing is made to fit a piece of stock, with what was drawn round and typed on it, and back",
          "[flow][piece]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    app::PieceReader& reader = w.window().piece().reader();
    w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    REQUIRE(settled(w));
    const auto part_area = [&] {
        const auto layers = reader.layers();
        const auto own =
            std::ranges::find_if(layers, [](const app::PieceLayer& l) { return l.choice.name.ends_with("part 1"); });
        return own == layers.end() ? 0.0 : area_mm2(reader.piece()->drawing.regions.at(own->index));
    };
    // The left half of the numerals, and a word above its middle.
    const RectMm drawn = reader.piece()->extent->drawn;
    const double middle = drawn.x + drawn.w / 2;
    REQUIRE_FALSE(reader
                      .draw_round(1, {{drawn.x - 1, drawn.y - 1},
                                      {middle, drawn.y - 1},
                                      {middle, drawn.y + drawn.h + 1},
                                      {drawn.x - 1, drawn.y + drawn.h + 1}})
                      .empty());
    TypedTexts typed;
    typed.texts.emplace_back();
    typed.texts.back().words = "NOON";
    typed.texts.back().at = {middle, drawn.y + drawn.h / 2};
    reader.set_texts(typed, {});
    REQUIRE(settled(w));
    const double area = part_area();
    REQUIRE(area > 1);
    w.workbench().undo_stack().setClean();
    const auto before = w.workbench().draft().piece;

    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+S")));
    auto* dialog = w.window().findChild<QDialog*>(QStringLiteral("size_dialog"));
    REQUIRE(dialog != nullptr);
    const auto fill = [&](const char* name, double value) {
        auto* box = dialog->findChild<QDoubleSpinBox*>(QString::fromLatin1(name));
        REQUIRE(box != nullptr);
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, box->locale().toString(value));
        QTest::keyClick(box, Qt::Key_Tab);
    };
    auto* take = dialog->findChild<QPushButton*>(QStringLiteral("size_take"));
    const auto words = [&] { return dialog->findChild<QLabel*>(QStringLiteral("size_words"))->text(); };
    fill("size_stock_w", 60);
    fill("size_stock_h", 40);
    fill("size_margin", 25); // leaves no room
    REQUIRE(QTest::qWaitFor([&] { return words().contains(QStringLiteral("leaves no room")); }, patience));
    CHECK_FALSE(take->isEnabled());
    fill("size_margin", 2.5);
    REQUIRE(QTest::qWaitFor([&] { return take->isEnabled(); }, patience));
    QTest::mouseClick(take, Qt::LeftButton);
    REQUIRE(settled(w));
    const auto& choice = w.workbench().draft().piece;
    CHECK(choice.size == ArtSize{SizeBy::stock, 1, 60, 40, 2.5});
    const double factor = reader.piece()->sizing.factor;
    CHECK(std::max(factor * drawn.w / 55, factor * drawn.h / 35) == Approx(1));
    CHECK(reader.piece()->drawing.art.width_mm == 60);
    CHECK(part_area() == Approx(factor * factor * area).epsilon(2e-3)); // the same shapes
    CHECK(choice.typed.texts[0].at.x == Approx(30));
    CHECK(choice.typed.texts[0].at.y == Approx(20));
    CHECK(choice.typed.texts[0].height_mm == typed.texts[0].height_mm);
    CHECK(w.find<QLabel>("piece_under")->text().contains(QStringLiteral("× as drawn")));
    w.keys(QKeySequence::Undo);
    REQUIRE(settled(w));
    CHECK(w.workbench().draft().piece == before);
    CHECK(part_area() == Approx(area));
    w.keys(QKeySequence::Redo);
    REQUIRE(settled(w));
    CHECK(part_area() == Approx(factor * factor * area).epsilon(2e-3));
    // A drawing that is made for the lens begins as it is drawn.
    w.keys(QKeySequence(QStringLiteral("Ctrl+Alt+D")));
    REQUIRE(settled(w));
    CHECK(w.find<QLabel>("piece_title")->text() == QStringLiteral("detail-61.svg"));
    CHECK(reader.layers().size() == 2);
    CHECK(reader.piece()->sizing.factor == 1);
}

TEST_CASE("a drawing becomes layers with recipes, by keyboard and by mouse, and comes back", "[flow][piece]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        app::PieceReader& reader = w.window().piece().reader();
        CHECK_FALSE(reader.running()); // nothing is read before somebody looks
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        REQUIRE(settled(w));
        REQUIRE(reader.piece() != nullptr);
        REQUIRE(reader.layers().size() == 4);
        CHECK(w.find<QLabel>("piece_title")->text() == QStringLiteral("sundial-dial.svg"));
        CHECK(reader.layers()[3].choice.guide);
        CHECK(reader.layers()[3].work == nullptr);
        REQUIRE(reader.layers()[2].work != nullptr); // the accents have their blue from the start
        CHECK(reader.layers()[1].work == nullptr);
        CHECK(spoken(w, "layers").contains(QStringLiteral("numerals and lines, no recipe yet")));

        auto* list = w.find<QWidget>("layers");
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Down); // the numerals
        w.workbench().set_knob(Knob::hatch_pitch, 0.02);
        QTest::keyClick(list, Qt::Key_Return);
        REQUIRE(settled(w));
        const auto numerals = reader.layers().at(1);
        REQUIRE(numerals.choice.recipe);
        REQUIRE(numerals.work != nullptr);
        const double area = area_mm2(reader.piece()->drawing.regions.at(numerals.index));
        const ScanLoad& load = numerals.work->load;
        CHECK(marked_mm(load) * 0.02 == Approx(area).epsilon(0.005));
        CHECK(load.passes == numerals.choice.recipe->setting.passes);
        CHECK(numerals.time.low > load.passes * marked_mm(load) / load.speed_mm_s);
        CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("2 of 3 layers")));
        // What is tuned on is not the layer's until it is taken again.
        w.workbench().set_knob(Knob::hatch_pitch, 0.05);
        CHECK(reader.layers().at(1).work == numerals.work);

        QTest::keyClick(list, Qt::Key_Down, Qt::AltModifier);
        CHECK(reader.layers().at(2).choice.name == "numerals and lines");
        QTest::keyClick(list, Qt::Key_Delete); // the one that was moved is still the chosen one
        CHECK(reader.layers().at(2).choice.guide);
        w.click("guide");
        CHECK_FALSE(reader.layers().at(2).choice.guide);
        w.click("earlier");
        CHECK(reader.layers().at(1).choice.name == "numerals and lines");
        for (int i = 0; i < 4; ++i)
            w.keys(QKeySequence::Undo);
        CHECK(reader.layers().at(1).choice == numerals.choice);

        // A fault is ringed and put under the lens.
        const auto faults = [&] { return w.find<QWidget>("artwork_findings"); };
        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+N")));
        CHECK(spoken(w, "artwork_findings").contains(QStringLiteral("it was closed")));
        const QString first = spoken(w, "hatch_lens");
        CHECK(first.contains(QStringLiteral("numerals and lines")));
        QTest::mouseClick(faults(), Qt::LeftButton, {}, {40, 34 + 10});
        CHECK(spoken(w, "drawing").contains(QStringLiteral("places ringed: 4")));
        QTest::mouseClick(list, Qt::LeftButton, {}, {60, 24 + 44 * 3 + 10});
        CHECK(spoken(w, "layers").contains(QStringLiteral("chosen: rim and holes")));
        CHECK(spoken(w, "hatch_lens").contains(QStringLiteral("no line is marked")));

        // Nothing is exported while a layer has no recipe; then it is written, and reads back as the same job.
        const QString job_file = folder.filePath(QStringLiteral("dial.json"));
        reader.export_to(job_file);
        CHECK_FALSE(QFile::exists(job_file));
        reader.take_recipe(0);
        const auto exported = [&](const char* name, int filter) {
            INFO(name);
            w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+E")));
            auto* dialog = w.window().findChild<QFileDialog*>();
            REQUIRE(dialog != nullptr);
            dialog->selectNameFilter(dialog->nameFilters().at(filter));
            Q_EMIT dialog->filterSelected(dialog->nameFilters().at(filter)); // as a click on it does
            auto* field = dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
            field->selectAll();
            QTest::keyClicks(field, folder.filePath(QStringLiteral("dial")));
            QTest::keyClick(field, Qt::Key_Return);
            REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<QFileDialog*>() == nullptr; }, patience));
            REQUIRE(settled(w));
            CHECK(QFile(folder.filePath(QString::fromLatin1(name))).size() > 100);
        };
        exported("dial.json", 0);
        exported("dial.svg", 1);
        exported("dial.dxf", 2);
        exported("dial.gcode", 3);
        exported("dial.frame.gcode", 4);
        exported("dial.csv", 5);
        // A printed sheet leads to the job in the record.
        exported("dial.pdf", 6);
        const auto book = w.logbook();
        const auto kept = book->list().value();
        const auto sheet = std::ranges::find_if(kept, [](const Entry& e) { return e.title.starts_with("Job sheet "); });
        REQUIRE(sheet != kept.end());
        const auto body = book->entry(sheet->id).value().body;
        CHECK(sheet->title == "Job sheet " + job_code(job_from_json(body.at("job"), "record").value()));
        const auto document = parse_json(read_text_file(job_file.toStdString()).value(), "dial.json");
        const Job job = job_from_json(*document, "dial.json").value();
        REQUIRE(job.layers.size() == 4);
        CHECK(job.layers[1].recipe == numerals.choice.recipe);
        CHECK(job.setup == w.draft().setup);
        // Another lot comes up: the recipes are from before, and it is said until they are taken again.
        CHECK_FALSE(reader.layers()[1].taken_elsewhere);
        w.workbench().change({}, {}, [](app::Draft& d) { d.setup.stock.lot = "another"; });
        CHECK(reader.layers()[1].taken_elsewhere);
        CHECK(spoken(w, "layers").contains(QStringLiteral("taken on another bench, lens or stock")));
        reader.take_recipe(1);
        CHECK_FALSE(reader.layers()[1].taken_elsewhere);
        for (int i = 0; i < 3; ++i)
            w.keys(QKeySequence::Undo);
        CHECK_FALSE(reader.layers()[1].taken_elsewhere);
        // Hatched both ways it takes twice as long, though every knob of the setting is the same.
        w.workbench().change({}, {}, [&](app::Draft& d) {
            d.recipe = *numerals.choice.recipe;
            d.recipe.cross_hatch = true;
        });
        reader.take_recipe(1);
        REQUIRE(settled(w));
        CHECK(reader.layers()[1].time.likely == Approx(2 * numerals.time.likely));
        for (int i = 0; i < 2; ++i)
            w.keys(QKeySequence::Undo);

        // Numbers round a dial: shape by shape most of the jumps are saved, and the words say so.
        list->setFocus();
        while (reader.layers().at(1).work == nullptr)
            QTest::qWait(20);
        w.window().piece().next_finding(); // of the numerals
        const TimeBand in_lines = reader.layers().at(1).time;
        CHECK(reader.layers().at(1).other.likely < 0.8 * in_lines.likely);
        const double promised = reader.layers().at(1).other.likely;
        reader.set_by_shape(1, true);
        REQUIRE(settled(w));
        CHECK(reader.layers().at(1).time.likely == Approx(promised));
        CHECK(reader.layers().at(1).other.likely == Approx(in_lines.likely));
        w.keys(QKeySequence::Undo);
        REQUIRE(settled(w));
        CHECK(reader.layers().at(1).time.likely == Approx(in_lines.likely));

        // Another drawing, one that breaks off; one that is none; and back.
        w.click("open_drawing");
        auto* ask = w.window().findChild<QFileDialog*>();
        REQUIRE(ask != nullptr);
        auto* name = ask->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
        name->selectAll();
        QTest::keyClicks(name, QStringLiteral(FINCH_SOURCE "/tests/data/artwork/breaks-off.svg"));
        QTest::keyClick(name, Qt::Key_Return);
        REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<QFileDialog*>() == nullptr; }, patience));
        REQUIRE(settled(w));
        REQUIRE(reader.piece() != nullptr);
        CHECK(reader.layers().size() == 1);
        CHECK_FALSE(reader.layers()[0].choice.recipe); // black as well, but not the numerals
        CHECK(spoken(w, "artwork_findings").contains(QStringLiteral("breaks off in line")));
        const QString none = folder.filePath(QStringLiteral("none.svg"));
        std::ofstream(none.toStdString()) << "no drawing";
        reader.open(none);
        REQUIRE(settled(w));
        CHECK(reader.piece() == nullptr);
        CHECK(spoken(w, "drawing").contains(QStringLiteral("no drawing that the program reads")));
        CHECK_FALSE(w.find<QPushButton>("take_recipe")->isEnabled());
        w.window().piece().read_again();
        REQUIRE(settled(w));
        CHECK(reader.piece() == nullptr);
        // The file is mended where it lies, and read again.
        std::ofstream(none.toStdString())
            << "<svg width='9mm' height='9mm' viewBox='0 0 9 9'><rect width='5' height='5'/></svg>";
        w.window().piece().read_again();
        REQUIRE(settled(w));
        CHECK(reader.layers().size() == 1);
        // What was opened before is at hand by its number.
        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+W")));
        QMenu* recent = nullptr;
        REQUIRE(QTest::qWaitFor(
            [&] { return (recent = w.window().findChild<QMenu*>(QStringLiteral("recent_drawings"))) != nullptr; },
            patience));
        CHECK(recent->actions().at(0)->toolTip() == none);
        const QString before = recent->actions().at(1)->toolTip();
        CHECK(before.endsWith(QStringLiteral("breaks-off.svg")));
        QTest::keyClick(recent, Qt::Key_2);
        REQUIRE(settled(w));
        CHECK(w.draft().piece.file == before.toStdString());
        w.keys(QKeySequence::Undo);
        w.keys(QKeySequence::Undo);
        w.keys(QKeySequence::Undo);
        REQUIRE(settled(w));
        CHECK(reader.layers().size() == 4);
        CHECK(reader.layers().at(1).choice == numerals.choice);
        CHECK(w.window().close());
    }
    DrivenWindow again(folder.path());
    again.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    REQUIRE(settled(again));
    const auto layers = again.window().piece().reader().layers();
    REQUIRE(layers.size() == 4);
    REQUIRE(layers[1].work != nullptr);
    CHECK(in_mm(layers[1].choice.recipe->setting.hatch_pitch) == Approx(0.02));
}

TEST_CASE("the scanner is timed at the stand-in or by hand, and every time is this bench's own from then on",
          "[flow][piece]") {
    CleanSettings clean;
    QTemporaryDir folder;
    double timed = 0;
    {
        DrivenWindow w(folder.path());
        app::PieceReader& reader = w.window().piece().reader();
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        REQUIRE(settled(w));
        const TimeBand before = reader.layers().at(2).time;
        CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("not timed")));
        const auto dialog = [&] {
            w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+M")));
            auto* d = w.window().findChild<QDialog*>(QStringLiteral("timing_dialog"));
            REQUIRE(d != nullptr);
            return d;
        };
        QDialog* d = dialog();
        auto* first = d->findChild<QLineEdit*>(QStringLiteral("took_1"));
        auto* keep = d->findChild<QPushButton*>(QStringLiteral("timing_keep"));
        CHECK_FALSE(keep->isEnabled());
        QTest::keyClicks(first, QStringLiteral("a while"));
        CHECK_FALSE(keep->isEnabled());
        d->findChild<QPushButton*>(QStringLiteral("timing_bench"))->click();
        auto* last = d->findChild<QLineEdit*>(QStringLiteral("took_4")); // the layer that has its recipe
        REQUIRE(last != nullptr);
        REQUIRE(QTest::qWaitFor([&] { return !last->text().isEmpty(); }, patience));
        CHECK(keep->isEnabled());
        CHECK(d->findChild<QLabel*>(QStringLiteral("timing_what"))->text().contains(QStringLiteral("By 4 timed runs")));
        CHECK(w.workbench().bench().scanner.timed.empty()); // nothing is kept yet
        keep->click();
        REQUIRE(w.workbench().bench().scanner.timed.size() == 4);
        const TimedRun layer = w.workbench().bench().scanner.timed[3];
        CHECK(layer.name == "layer accents");
        const TimeBand after = reader.layers().at(2).time;
        CHECK(after.likely == Approx(layer.took_s).epsilon(0.03));
        CHECK(after.high / after.low < before.high / before.low);
        CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("4 timed runs")));
        // A fact of the bench: no undo takes it back, and another bench has none.
        const app::Draft draft = w.workbench().draft();
        w.workbench().set_knob(Knob::power, 12);
        w.keys(QKeySequence::Undo);
        w.keys(QKeySequence::Undo);
        CHECK(w.workbench().bench().scanner.timed.size() == 4);
        w.workbench().change({}, {}, [](app::Draft& at) {
            at.setup.bench.name = "another";
            at.setup.bench.scanner.timed.clear();
        });
        CHECK(w.workbench().bench().scanner.timed.empty());
        w.workbench().change({}, {}, [&](app::Draft& at) {
            at.setup.bench = draft.setup.bench;
            at.setup.bench.scanner.timed.clear();
        });
        CHECK(w.workbench().bench().scanner.timed.size() == 4);
        // A later time of the same scan takes the place of the first.
        d = dialog();
        first = d->findChild<QLineEdit*>(QStringLiteral("took_1"));
        first->selectAll();
        QTest::keyClicks(first, QStringLiteral("1:02"));
        QTest::keyClick(first, Qt::Key_Return);
        d->findChild<QPushButton*>(QStringLiteral("timing_keep"))->click();
        REQUIRE(w.workbench().bench().scanner.timed.size() == 4);
        CHECK(w.workbench().bench().scanner.timed[3].took_s == 62);
        timed = reader.layers().at(2).time.likely;
    }
    {
        // Without the draft, from the record alone.
        QFile::remove(folder.filePath(QStringLiteral("draft.json")));
        DrivenWindow w(folder.path());
        REQUIRE(QTest::qWaitFor([&] { return w.workbench().bench().scanner.timed.size() == 4; }, patience));
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        REQUIRE(settled(w));
        CHECK(w.window().piece().reader().layers().at(2).time.likely == Approx(timed));
        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+M")));
        w.window().findChild<QPushButton*>(QStringLiteral("timing_forget"))->click();
        CHECK(w.workbench().bench().scanner.timed.empty());
    }
    DrivenWindow again(folder.path());
    again.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    REQUIRE(settled(again));
    CHECK(again.workbench().bench().scanner.timed.empty());
}

TEST_CASE("marks on a thin strip get an order that keeps it cool, kept with the piece until a layer changes",
          "[flow][piece]") {
    CleanSettings clean;
    QTemporaryDir folder;
    const QString drawing = folder.filePath(QStringLiteral("feelers.svg"));
    {
        std::ofstream out(drawing.toStdString());
        out << "<svg width='90mm' height='12mm' viewBox='0 0 90 12'>";
        for (int i = 0; i < 12; ++i)
            out << "<rect x='" << 2 + 7 * i << "' y='3' width='5' height='6'/>";
        out << "<rect width='90' height='12' fill='none' stroke='#00f' stroke-width='0.1'/></svg>";
    }
    std::vector<JobStep> taken;
    {
        DrivenWindow w(folder.path());
        app::PieceReader& reader = w.window().piece().reader();
        w.workbench().change({}, {}, [](app::Draft& d) {
            d.setup.stock = load_stock(FINCH_SOURCE "/data", "feeler-strip-304").value();
            d.recipe.setting = {60, kilohertz(300), nanoseconds(100), mm_per_second(400), mm(0.02), 0, 1, mm(0)};
            d.recipe.process = Process::anneal;
        });
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        reader.open(drawing);
        REQUIRE(settled(w));
        w.click("heat_order");
        CHECK(w.window().findChild<QDialog*>(QStringLiteral("order_dialog")) == nullptr); // no layer has a recipe
        auto* list = w.find<QWidget>("layers");
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Return);
        QTest::keyClick(list, Qt::Key_Down);
        QTest::keyClick(list, Qt::Key_Delete);
        REQUIRE(settled(w));
        const auto open = [&] {
            w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+H")));
            auto* d = w.window().findChild<QDialog*>(QStringLiteral("order_dialog"));
            REQUIRE(d != nullptr);
            auto* strip = d->findChild<QWidget*>(QStringLiteral("heat_strip"));
            REQUIRE(QTest::qWaitFor([&] { return !strip->accessibleDescription().isEmpty(); }, patience));
            return d;
        };
        QDialog* d = open();
        auto* said = d->findChild<QLabel*>(QStringLiteral("order_said"));
        CHECK(said->text().contains(QStringLiteral("above the cold plate")));
        CHECK(said->text().contains(QStringLiteral("Clamped flat on metal")));
        CHECK_FALSE(d->findChild<QPushButton*>(QStringLiteral("order_plain"))->isEnabled());
        auto* cooler = d->findChild<QPushButton*>(QStringLiteral("order_cooler"));
        REQUIRE(cooler->isEnabled());
        cooler->click();
        taken = reader.steps();
        REQUIRE(taken.size() == 12);
        REQUIRE(settled(w));
        CHECK(w.find<QLabel>("piece_time")->text().contains(QStringLiteral("order against heat")));
        CHECK(reader.part().value().steps == taken);
        // What is shown, planned and exported is filled as the steps fill.
        REQUIRE(reader.layers()[0].work != nullptr);
        CHECK(reader.layers()[0].choice.fill.by_shape);
        CHECK(layer_work(reader.part().value(), reader.part().value().layers[0]).value().load ==
              reader.layers()[0].work->load);
        w.keys(QKeySequence::Undo);
        CHECK(reader.steps().empty());
        w.keys(QKeySequence::Redo);
        CHECK(reader.steps() == taken);
        // Plain again, by the dialog; and back.
        open()->findChild<QPushButton*>(QStringLiteral("order_plain"))->click();
        CHECK(reader.steps().empty());
        w.keys(QKeySequence::Undo);
        CHECK(reader.steps() == taken);
        // The dialog may be closed while it works.
        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+H")));
        w.window().findChild<QDialog*>(QStringLiteral("order_dialog"))->reject();
        REQUIRE(settled(w));
        QTest::qWait(200);
        // It was an order of these layers: another recipe, another order.
        w.workbench().set_knob(Knob::power, 20);
        reader.take_recipe(0);
        CHECK(reader.steps().empty());
        w.keys(QKeySequence::Undo);
        CHECK(reader.steps() == taken);
    }
    DrivenWindow again(folder.path());
    again.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    REQUIRE(settled(again));
    CHECK(again.window().piece().reader().steps() == taken);
    // The drawing lost a shape where it was drawn: the order is not of this drawing any more.
    std::ofstream(drawing.toStdString())
        << "<svg width='90mm' height='12mm' viewBox='0 0 90 12'><rect x='2' y='3' width='5' "
           "height='6'/><rect width='90' height='12' fill='none' stroke='#00f' "
           "stroke-width='0.1'/></svg>";
    again.window().piece().reader().read_again();
    REQUIRE(settled(again));
    CHECK(again.window().piece().reader().steps().empty());
    CHECK(again.window().piece().reader().part());
}
