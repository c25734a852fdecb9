// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_station.h"
#include "document/json_fields.h"
#include "driven_window.h"
#include "formats/data_folder.h"

#include <cmath>
#include <nlohmann/json.hpp>
#include <QCheckBox>
#include <QElapsedTimer>
#include <QFile>
#include <QFileDialog>
#include <QImage>

using namespace finch;
using namespace finch::tests;

namespace {

bool worked_out(DrivenWindow& w) {
    app::ReliefReader& reader = w.window().piece().relief();
    return QTest::qWaitFor(
        [&] { return !reader.running() && reader.work() != nullptr && !reader.work()->ways.empty(); }, patience);
}

QString spoken(DrivenWindow& w, const char* instrument) {
    return w.find<QWidget>(instrument)->accessibleDescription();
}

/// A dome in a dark field, 8 bit, with greys left at both ends.
QString dome(const QTemporaryDir& folder) {
    const QString file = folder.filePath(QStringLiteral("dome.png"));
    QImage picture(80, 80, QImage::Format_Grayscale8);
    for (int y = 0; y < 80; ++y)
        for (int x = 0; x < 80; ++x)
            picture.scanLine(y)[x] = static_cast<uchar>(
                40 + 160 * std::sqrt(std::max(0.0, 1 - std::pow(std::hypot(x - 39.5, y - 39.5) / 36, 2))));
    REQUIRE(picture.save(file));
    return file;
}

} // namespace

TEST_CASE("a height map becomes a relief and a job, by keyboard and by mouse", "[flow][relief]") {
    CleanSettings clean;
    QTemporaryDir folder;
    const QString file = dome(folder);
    {
        DrivenWindow w(folder.path());
        app::ReliefReader& reader = w.window().piece().relief();
        w.keys(QKeySequence(QStringLiteral("Ctrl+4")));
        w.workbench().change(QStringLiteral("brass"), {}, [](app::Draft& d) {
            d.setup.stock = load_stock(FINCH_SOURCE "/data", "finishing-stamp-brass").value();
            d.recipe.process = Process::deep_engrave;
            d.recipe.setting = {90, kilohertz(45), nanoseconds(150), mm_per_second(1000), mm(0.05), 0, 1, mm(0)};
            d.recipe.turn_per_pass_deg = 67;
        });
        w.window().piece().reader().open(file);
        REQUIRE(QTest::qWaitFor([&] { return !w.window().piece().reader().running(); }, patience));
        CHECK(w.find<QLabel>("piece_title")->text() == QStringLiteral("dome.png"));
        // As black and white it is no use; the picture says what else it may be.
        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+I")));
        REQUIRE(QTest::qWaitFor([&] { return reader.map() != nullptr && !reader.running(); }, patience));
        CHECK(w.window().piece().reader().piece() == nullptr);
        CHECK(spoken(w, "relief").contains(QStringLiteral("64 of 64 layers")));
        CHECK(reader.work() == nullptr);
        w.click("relief_take_recipe");
        REQUIRE(worked_out(w));
        const double whole_s = reader.work()->cut.time.likely;
        CHECK(reader.work()->cut.reached_um() < reader.work()->cut.depth_um.back()); // its darkest is grey 40
        CHECK(spoken(w, "relief_findings").contains(QStringLiteral("is wasted")));
        CHECK(spoken(w, "relief_ways").contains(QStringLiteral("clean after each")));

        // Levels by button and by the keys of the histogram, each one step back.
        w.click("relief_stretch");
        REQUIRE(worked_out(w));
        const auto rules = [&] { return w.workbench().draft().piece.relief->rules; };
        CHECK(rules().levels.black == Approx(40 / 255.0).margin(0.002));
        CHECK_FALSE(spoken(w, "relief_findings").contains(QStringLiteral("is wasted")));
        auto* greys = w.find<QWidget>("relief_greys");
        greys->setFocus();
        QTest::keyClick(greys, Qt::Key_Right);
        CHECK(rules().levels.black == Approx(40 / 255.0 + 0.01).margin(0.002));
        QTest::keyClick(greys, Qt::Key_Left, Qt::ShiftModifier);
        CHECK(rules().levels.white == Approx(200 / 255.0 - 0.01).margin(0.006));
        w.keys(QKeySequence::Undo);
        w.keys(QKeySequence::Undo);
        CHECK(rules().levels.black == Approx(40 / 255.0).margin(0.002));
        w.find<QCheckBox>("relief_crop")->click();
        REQUIRE(worked_out(w));
        CHECK(reader.work()->cut.time.likely < 0.9 * whole_s); // the ground outside the dome is left alone

        auto* depth = w.find<QLineEdit>("relief_depth");
        depth->setFocus();
        depth->selectAll();
        QTest::keyClicks(depth, QStringLiteral("80 um"));
        QTest::keyClick(depth, Qt::Key_Return);
        CHECK(rules().depth_um == Approx(80));
        depth->selectAll();
        QTest::keyClicks(depth, QStringLiteral("deep"));
        QTest::keyClick(depth, Qt::Key_Return);
        CHECK(rules().depth_um == Approx(80));
        w.keys(QKeySequence(QStringLiteral("Esc")));
        REQUIRE(worked_out(w));
        if (w.find<QPushButton>("relief_fit")->isEnabled()) {
            w.click("relief_fit");
            REQUIRE(worked_out(w));
        }
        CHECK(reader.work()->cut.depth_um.back() >= 80);
        CHECK(reader.work()->cut.depth_um.back() < 1.25 * 80);

        // Part-way, and the light and the section by their keys.
        auto* layers = w.find<QWidget>("relief_layers");
        layers->setFocus();
        QTest::keyClick(layers, Qt::Key_Home);
        CHECK(spoken(w, "relief_section").contains(QStringLiteral("Deepest 0")));
        QTest::keyClick(layers, Qt::Key_Right);
        CHECK(spoken(w, "relief").startsWith(QStringLiteral("1 of ")));
        QTest::mouseClick(layers, Qt::LeftButton, {}, {layers->width() - 12, 30});
        CHECK(spoken(w, "relief_section").contains(QStringLiteral("Deepest ")));
        CHECK_FALSE(spoken(w, "relief_section").contains(QStringLiteral("Deepest 0")));
        auto* view = w.find<app::ReliefView>("relief");
        view->setFocus();
        const double light = view->light_deg();
        QTest::keyClick(view, Qt::Key_Left);
        CHECK(view->light_deg() == Approx(light + 15));
        const int row = view->section_row();
        QTest::keyClick(view, Qt::Key_Down);
        CHECK(view->section_row() > row);

        // A point that is dragged asks faster than is answered; what is told in the end is of what is set.
        const ReliefRules still = rules();
        for (int i = 1; i <= 15; ++i) {
            reader.change_rules(QStringLiteral("drag"), QStringLiteral("drag"),
                                [&](ReliefRules& r) { r.levels.gamma = 1 + 0.05 * i; });
            QTest::qWait(i % 4 == 0 ? 30 : 0);
        }
        REQUIRE(worked_out(w));
        CHECK(reader.work()->rules == rules());
        CHECK(reader.map()->counts == relief_map(reader.picture()->picture, rules()).value().counts);
        w.keys(QKeySequence::Undo);
        CHECK(rules() == still);
        // It is left while it is worked out, and found again.
        w.window().piece().reader().open(QStringLiteral(FINCH_SOURCE "/data/artwork/canal-gauge-strip.svg"));
        CHECK(reader.map() == nullptr);
        REQUIRE(QTest::qWaitFor([&] { return !w.window().piece().reader().running(); }, patience));
        CHECK(reader.work() == nullptr);
        w.keys(QKeySequence::Undo);
        REQUIRE(worked_out(w));
        CHECK(reader.work()->rules == still);
        CHECK(rules() == still);
        // Levels that cannot be: it is said, and nothing is exported in the meantime.
        reader.change_rules(QStringLiteral("wrong"), {}, [](ReliefRules& r) { r.levels.black = r.levels.white; });
        REQUIRE(QTest::qWaitFor([&] { return !reader.reason().isEmpty(); }, patience));
        reader.export_to(folder.filePath(QStringLiteral("wrong.json")));
        QTest::qWait(50);
        CHECK_FALSE(QFile::exists(folder.filePath(QStringLiteral("wrong.json"))));
        w.keys(QKeySequence::Undo);
        REQUIRE(worked_out(w));
        CHECK(reader.reason().isEmpty());

        // Another way, by keys; then back.
        auto* ways = w.find<QWidget>("relief_ways");
        ways->setFocus();
        const ReliefRules before = rules();
        for (int i = 0; i < 4; ++i)
            QTest::keyClick(ways, Qt::Key_Down);
        QTest::keyClick(ways, Qt::Key_Return);
        CHECK(rules().clean_every == 1);
        w.keys(QKeySequence::Undo);
        CHECK(rules() == before);
        REQUIRE(worked_out(w));

        w.keys(QKeySequence(QStringLiteral("Ctrl+Shift+E")));
        auto* dialog = w.window().findChild<QFileDialog*>();
        REQUIRE(dialog != nullptr);
        auto* name = dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
        name->selectAll();
        QTest::keyClicks(name, folder.filePath(QStringLiteral("dome")));
        QTest::keyClick(name, Qt::Key_Return);
        REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<QFileDialog*>() == nullptr; }, patience));
        const QString written = folder.filePath(QStringLiteral("dome.json"));
        REQUIRE(QTest::qWaitFor([&] { return !reader.running() && QFile::exists(written); }, patience));
        const auto document = parse_json(read_text_file(written.toStdString()).value(), "dome.json");
        const Job job = job_from_json(*document, "dome.json").value();
        CHECK(static_cast<int>(job.layers.size()) == reader.work()->cut.deepest);
        CHECK(area_mm2(job.layers[0].region) == Approx(reader.work()->cut.layer[0].area_mm2).epsilon(1e-6));
        CHECK(w.window().close());
    }
    // After a restart it is there again, and as a drawing when that is wanted.
    DrivenWindow again(folder.path());
    again.keys(QKeySequence(QStringLiteral("Ctrl+4")));
    REQUIRE(worked_out(again));
    again.click("as_relief");
    REQUIRE(QTest::qWaitFor([&] { return !again.window().piece().reader().running(); }, patience));
    CHECK_FALSE(again.workbench().draft().piece.relief);
    again.keys(QKeySequence::Undo);
    CHECK(worked_out(again));
    // A picture of one grey has nothing to stretch to; the draft that says so can be read again.
    QImage white(40, 40, QImage::Format_Grayscale8);
    white.fill(255);
    REQUIRE(white.save(folder.filePath(QStringLiteral("white.png"))));
    again.window().piece().relief().open(folder.filePath(QStringLiteral("white.png")));
    REQUIRE(QTest::qWaitFor([&] { return !again.window().piece().relief().running(); }, patience));
    again.click("relief_stretch");
    const app::Draft stretched = again.workbench().draft();
    CHECK(app::draft_from_json(app::to_json(stretched), "draft").value() == stretched);
    again.keys(QKeySequence::Undo);
    again.keys(QKeySequence::Undo);
    REQUIRE(worked_out(again));
    // A map that is gone, or that is none, is said, and nothing else is lost.
    QFile::remove(file);
    again.window().piece().read_again();
    REQUIRE(QTest::qWaitFor([&] { return !again.window().piece().relief().reason().isEmpty(); }, patience));
    CHECK(again.window().piece().relief().work() == nullptr);
    CHECK(again.workbench().draft().piece.relief);
}
