// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_station.h"
#include "document/json_fields.h"
#include "driven_window.h"

#include "formats/folders.h"

#include <fstream>
#include <nlohmann/json.hpp>
#include <QFile>

using namespace finch;
using namespace finch::tests;

namespace {

bool settled(DrivenWindow& w) {
    app::PieceReader& reader = w.window().piece().reader();
    return QTest::qWaitFor([&] { return !reader.running(); }, 60000);
}

QString spoken(DrivenWindow& w, const char* instrument) {
    return w.find<QWidget>(instrument)->accessibleDescription();
}

} // namespace

TEST_CASE("a drawing becomes layers with recipes, by keyboard and by mouse, and comes back", "[flow][piece]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        app::PieceReader& reader = w.window().piece().reader();
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
        const double area = area_mm2(reader.piece()->regions.at(numerals.index));
        CHECK(numerals.work->length_mm * 0.02 == Approx(area).epsilon(0.005));
        const double marking = numerals.work->length_mm / in_mm_per_second(numerals.choice.recipe->setting.scan_speed);
        CHECK(numerals.work->pass_s > marking);
        CHECK(numerals.work->total_s == Approx(numerals.choice.recipe->setting.passes * numerals.work->pass_s));
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
        for (const char* form : {"dial.json", "dial.svg", "dial.dxf", "dial.gcode", "dial.frame.gcode", "dial.csv"}) {
            reader.export_to(folder.filePath(QString::fromLatin1(form)));
            REQUIRE(settled(w));
            CHECK(QFile(folder.filePath(QString::fromLatin1(form))).size() > 100);
        }
        const auto document = parse_json(read_text_file(job_file.toStdString()).value(), "dial.json");
        const Job job = job_from_json(*document, "dial.json").value();
        REQUIRE(job.layers.size() == 4);
        CHECK(job.layers[1].recipe == numerals.choice.recipe);
        CHECK(job.setup == w.draft().setup);
        w.keys(QKeySequence::Undo);

        // Another drawing, one that breaks off; one that is none; and back.
        reader.open(QStringLiteral(FINCH_SOURCE "/tests/data/artwork/breaks-off.svg"));
        REQUIRE(settled(w));
        REQUIRE(reader.piece() != nullptr);
        CHECK(reader.layers().size() == 1);
        CHECK(spoken(w, "artwork_findings").contains(QStringLiteral("breaks off in line")));
        const QString none = folder.filePath(QStringLiteral("none.svg"));
        std::ofstream(none.toStdString()) << "no drawing";
        reader.open(none);
        REQUIRE(settled(w));
        CHECK(reader.piece() == nullptr);
        CHECK(spoken(w, "drawing").contains(QStringLiteral("no drawing that the program reads")));
        CHECK_FALSE(w.find<QPushButton>("take_recipe")->isEnabled());
        w.click("read_drawing_again");
        REQUIRE(settled(w));
        CHECK(reader.piece() == nullptr);
        // The file is mended where it lies, and read again.
        std::ofstream(none.toStdString())
            << "<svg width='9mm' height='9mm' viewBox='0 0 9 9'><rect width='5' height='5'/></svg>";
        w.click("read_drawing_again");
        REQUIRE(settled(w));
        CHECK(reader.layers().size() == 1);
        w.keys(QKeySequence::Undo);
        w.keys(QKeySequence::Undo);
        REQUIRE(settled(w));
        CHECK(reader.layers().size() == 4);
        CHECK(reader.layers().at(1).choice == numerals.choice);
    }
    DrivenWindow again(folder.path());
    again.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    REQUIRE(settled(again));
    const auto layers = again.window().piece().reader().layers();
    REQUIRE(layers.size() == 4);
    REQUIRE(layers[1].work != nullptr);
    CHECK(in_mm(layers[1].choice.recipe->setting.hatch_pitch) == Approx(0.02));
}
