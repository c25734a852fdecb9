// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// A camera is set right: by the chart, by measured cells, and told apart from others.
#include "app/stations/proof/camera_dialog.h"
#include "driven_window.h"
#include "session_alone.h"
#include "standin/camera_file.h"
#include "standin/print.h"
#include "vision/fiducials.h"

using namespace finch;
using namespace finch::tests;

namespace {

struct Chart {
    QByteArray picture;
    LabByName measured;
};
/// The chart as one printer made it and one camera took it.
Chart taken_chart(std::uint64_t seed) {
    const auto print = standin::printed(chart_print(fiducial_modules(colour_chart().layout)), seed);
    standin::Shot shot;
    shot.seed = seed;
    shot.glares = 0;
    return {
        standin::encoded(standin::photograph(print.paper, standin::draw_camera(standin::Grade::honest, seed), shot)),
        print.measured};
}

QString lines(const LabByName& measured) {
    QString out;
    for (const auto& [place, lab] : measured)
        out +=
            QStringLiteral("%1; %2; %3; %4\n").arg(QString::fromStdString(place)).arg(lab[0]).arg(lab[1]).arg(lab[2]);
    return out;
}

} // namespace

TEST_CASE("a camera is set right by the chart, kept, chosen, left and known again", "[flow][camera]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        auto* dialog = asked<app::CameraDialog>(w, "Ctrl+Alt+I");
        auto& setter = w.shop().eyes();
        const auto says = [&] { return dialog->findChild<QLabel*>(QStringLiteral("camera_says"))->text(); };
        auto* keep = dialog->findChild<QPushButton*>(QStringLiteral("camera_keep"));
        auto* values = dialog->findChild<QPlainTextEdit*>(QStringLiteral("camera_values"));
        CHECK_FALSE(keep->isEnabled());
        CHECK_FALSE(dialog->findChild<QPushButton*>(QStringLiteral("camera_sheet"))->isEnabled());
        for (const char* name : {"chart.pdf", "chart.svg"}) {
            const QString path = folder.filePath(QString::fromLatin1(name));
            dialog->print_to(path);
            CHECK(QFileInfo(path).size() > 4000);
        }
        dialog->print_to(folder.filePath(QStringLiteral("none/chart.svg")));
        CHECK(says().contains(QStringLiteral("none/chart.svg")));
        press(dialog, "camera_photograph");
        REQUIRE(QTest::qWaitFor([&] { return setter.found().has_value(); }, patience));
        INFO(says().toStdString());
        REQUIRE(setter.found()->has_value());
        CHECK(keep->isEnabled());
        const auto& patches = dialog->findChild<app::ChartView*>()->picture().patches;
        REQUIRE(patches.size() == 24);
        CHECK(std::ranges::count_if(patches, [](const auto& p) { return p.corrected && p.apart < 4; }) > 20);
        // A value that cannot be read is named with its line; put right, it is fitted again.
        const QString right = values->toPlainText();
        values->setPlainText(right + QStringLiteral("Z9; 1; 2; 3\n"));
        CHECK_FALSE(keep->isEnabled());
        REQUIRE(QTest::qWaitFor([&] { return says().contains(QStringLiteral("Z9")); }, patience));
        values->setPlainText(right);
        dialog->findChild<QLineEdit*>(QStringLiteral("camera_name"))->setText(QStringLiteral("loft camera"));
        press(dialog, "camera_keep");
        REQUIRE(w.draft().camera);
        CHECK(w.draft().camera->camera == "loft camera");
        CHECK(w.draft().camera->residual_de < 2);

        // Which one is read with is a choice; that it was set right is a fact.
        w.keys(QKeySequence::Undo);
        CHECK_FALSE(w.draft().camera);
        CHECK(w.workbench().ledger().cameras().size() == 1);
        dialog = asked<app::CameraDialog>(w, "Ctrl+Alt+I");
        auto* list = dialog->findChild<QTableWidget*>(QStringLiteral("camera_list"));
        REQUIRE(list->rowCount() == 2);
        list->setCurrentCell(1, 0);
        press(dialog, "camera_use");
        REQUIRE(w.draft().camera);
        list->setCurrentCell(0, 0);
        w.workbench().set_knob(Knob::power, 17); // something else changes: what was chosen stays chosen
        CHECK(list->currentRow() == 0);
        press(dialog, "camera_use");
        CHECK_FALSE(w.draft().camera);
        list->setCurrentCell(1, 0);
        press(dialog, "camera_use");
        dialog->close();

        // A sheet carries the camera it was read with; its measured cells set a camera right as well.
        w.workbench().confirm_focus();
        w.keys(QKeySequence(QStringLiteral("Ctrl+P")));
        w.flow().burn();
        REQUIRE(w.wait_idle());
        REQUIRE(w.round()->reading);
        CHECK(w.round()->reading->camera == w.draft().camera);
        std::vector<CellColour> colours;
        for (std::size_t i = 0; i < w.round()->sheet.cells(); ++i)
            if (const CellReading& c = w.round()->reading->cells[i]; c.state == CellState::read)
                colours.push_back({i, {c.lab.l + 1, c.lab.a, c.lab.b}});
        w.flow().note_colours(w.round()->sheet.number, colours);
        REQUIRE(w.wait_idle());
        w.logbook();
        dialog = asked<app::CameraDialog>(w, "Ctrl+Alt+I");
        // Asked for the sheet, then for the chart: whichever comes first, the last that was asked for counts.
        const auto chart_again = [&] { return setter.shown().photo == QStringLiteral("The bench's camera"); };
        setter.take_sheet();
        setter.photograph();
        REQUIRE(QTest::qWaitFor([&] { return !setter.photographing() && !setter.fitting(); }, patience));
        CHECK(chart_again());
        setter.take_photo(folder.filePath(QStringLiteral("none.jpg")));
        CHECK(dialog->findChild<QLabel*>(QStringLiteral("camera_says"))->text().contains(QStringLiteral("none.jpg")));
        CHECK(chart_again());
        press(dialog, "camera_sheet");
        REQUIRE(QTest::qWaitFor([&] { return setter.shown().sheet && setter.found().has_value(); }, patience));
        INFO(dialog->findChild<QLabel*>(QStringLiteral("camera_says"))->text().toStdString());
        REQUIRE(setter.found()->has_value());
        CHECK((*setter.found())->colours.places > 20);
        press(dialog, "camera_keep"); // under the name of the one in use
        CHECK(w.workbench().ledger().cameras().size() == 1);
        CHECK(w.workbench().ledger().cameras().begin()->second.shown == "sheet 1");
        const auto book = w.logbook();
        EntryFilter filter;
        filter.words = camera_set_right_title;
        const auto heads = book->list(filter).value();
        REQUIRE(heads.size() == 2);
        CHECK(book->pictures(heads.back().id).value().size() == 1); // of the chart; the sheet's own is with its reading
        w.window().close();
    }
    DrivenWindow w(folder.path());
    REQUIRE(w.workbench().ledger().cameras().size() == 1);
    CHECK(w.workbench().ledger().cameras().begin()->second.colours == w.draft().camera);
}

TEST_CASE("what comes late, twice, or not at all sets no camera wrong", "[flow][camera]") {
    Session s;
    app::LogbookDesk desk(s.folder.filePath(QStringLiteral("logbook.sqlite")));
    app::CameraSetter setter(s.workbench, s.recorder, desk, s.camera);
    const Chart first = taken_chart(3), second = taken_chart(8);
    const auto found = [&] {
        REQUIRE(QTest::qWaitFor([&] { return !setter.fitting(); }, patience));
        REQUIRE(setter.found());
        INFO((*setter.found() ? std::string() : sentence(setter.found()->error())));
        REQUIRE(setter.found()->has_value());
        return (*setter.found())->colours;
    };
    CHECK_FALSE(setter.keep(QStringLiteral("a")));
    setter.photograph();
    setter.photograph(); // one at a time
    s.camera.fail();
    CHECK_FALSE(setter.photographing());
    CHECK(s.said.back().second == State::fail);
    setter.photograph();
    s.camera.measured = {};
    s.camera.answer(first.picture);
    CHECK_FALSE(setter.fitting()); // a bench without an instrument: the values are still to come
    CHECK_FALSE(setter.keep(QStringLiteral("a")));
    setter.type_values(lines(first.measured));
    const CameraColour right = found();
    // Typed again while the fit is under way, and a photograph of another camera right after it: the last word counts.
    setter.type_values(lines(second.measured));
    setter.type_values(lines(first.measured) + QStringLiteral("nonsense"));
    setter.type_values(lines(first.measured));
    CHECK_FALSE(setter.keep(QStringLiteral("a"))); // nothing is found yet
    CHECK(found() == right);
    setter.photograph();
    s.camera.measured = second.measured;
    s.camera.answer(second.picture);
    const CameraColour other = found();
    CHECK_FALSE(other.matrix == right.matrix);
    // Of a sheet that is photographed meanwhile nothing comes here; what is no picture sets nothing right.
    s.flow.plan(false);
    s.flow.burn();
    s.laser.finish();
    REQUIRE(QTest::qWaitFor([&] { return s.camera.waiting(); }, patience));
    setter.photograph();
    REQUIRE(QTest::qWaitFor([&] { return !setter.photographing(); }, patience)); // the camera is busy
    s.camera.answer(Session::photo_of(s.workbench.round()->sheet));
    REQUIRE(s.idle());
    CHECK(s.workbench.round()->reading);
    CHECK(found() == other);
    setter.photograph();
    s.camera.answer("no picture");
    REQUIRE(QTest::qWaitFor([&] { return !setter.fitting(); }, patience));
    REQUIRE(setter.found());
    CHECK_FALSE(setter.found()->has_value());
    CHECK_FALSE(setter.keep(QStringLiteral("a")));
    setter.photograph();
    s.camera.measured = first.measured;
    s.camera.answer(first.picture);
    CHECK(found().residual_de == Approx(right.residual_de).margin(0.02)); // to the tenth that an instrument shows
    CHECK_FALSE(setter.keep(QStringLiteral("  ")));
    REQUIRE(setter.keep(QStringLiteral("a")));
    REQUIRE(setter.keep(QStringLiteral("b")));
    s.time = s.time.addSecs(-3600); // a clock that was set back: the later word counts all the same
    REQUIRE(setter.keep(QStringLiteral("a")));
    CHECK(s.workbench.ledger().cameras().size() == 2);
    CHECK(s.workbench.ledger().cameras().at("a").when_utc > s.workbench.ledger().cameras().at("b").when_utc);

    // In the record they are what they were, to the digits that are kept.
    std::size_t told = 0;
    for (const Entry& e : s.entries())
        if (const auto fact = camera_fact(e)) {
            ++told;
            CHECK(fact->shown == "colour chart");
            CHECK(fact->places.size() == static_cast<std::size_t>(fact->colours.places));
            const auto again = camera_fact(entry_of(*fact, "steel", "0")).value();
            CHECK(again.colours == fact->colours);
            CHECK(fit_camera_colour(again.places).value().residual_de ==
                  Approx(fact->colours.residual_de).margin(1e-3));
            Entry broken = e;
            broken.body["places"][0]["seen"] = {1, 2};
            CHECK(camera_fact(broken).error().place.field.find("places[0]") == 0);
        }
    CHECK(told == 3);
}
