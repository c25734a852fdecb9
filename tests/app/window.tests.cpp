// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "driven_window.h"

#include "app/instruments/ladder.h"
#include "app/instruments/sheet_view.h"
#include "app/instruments/swatch.h"
#include "app/session/demo.h"
#include "app/shell/consequences_panel.h"
#include "app/stations/proof/camera_dialog.h"
#include "app/stations/proof/corners_dialog.h"
#include "demo_plate.h"
#include "quantity/format.h"
#include "record/outbox.h"
#include "vision/sheet_photo.h"

#include <nlohmann/json.hpp>
#include <QAbstractItemModelTester>
#include <QAction>
#include <QDir>
#include <QDropEvent>
#include <QFrame>
#include <QListWidget>
#include <QMimeData>
#include <QSqlQuery>
#include <QToolButton>
#include <set>

using namespace finch;
using namespace finch::tests;

TEST_CASE("a knob takes what is typed, refuses nonsense kindly, and undo brings it back", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    struct Row {
        const char* field;
        const char* text;
        Knob knob;
        double value;
    };
    const std::vector<Row> rows{{"field_hatch_pitch_mm", "2*0.0035", Knob::hatch_pitch, 0.007},
                                {"field_hatch_pitch_mm", "5080 lpi", Knob::hatch_pitch, 0.005},
                                {"field_power_percent", "7.6 W", Knob::power, 20},
                                {"field_scan_speed_mm_s", "1,2 m/s", Knob::scan_speed, 1200},
                                {"field_frequency_khz", "250k", Knob::frequency, 250},
                                {"field_focus_offset_mm", "-40 thou", Knob::focus_offset, -1.016}};
    for (const Row& row : rows) {
        INFO(row.text);
        w.type(row.field, QString::fromUtf8(row.text));
        CHECK(knob_value(w.draft().recipe, row.knob) == Approx(row.value));
    }
    w.type("field_scan_speed_mm_s", QStringLiteral("quick"));
    CHECK(knob_value(w.draft().recipe, Knob::scan_speed) == Approx(1200));
    CHECK(w.window().status_text().contains(QStringLiteral("Scan speed")));
    CHECK(w.find<QLineEdit>("field_scan_speed_mm_s")->text() == QStringLiteral("quick"));
    w.type("field_scan_speed_mm_s", QStringLiteral("90000 mm/s"));
    CHECK(w.window().status_text().contains(QStringLiteral("outside")));
    // Escape gives the old text back; arrows step, Shift ten times.
    auto* speed = w.find<QLineEdit>("field_scan_speed_mm_s");
    QTest::keyClick(speed, Qt::Key_Escape);
    CHECK(speed->text() == QStringLiteral("1200 mm/s"));
    QTest::keyClick(speed, Qt::Key_Up);
    CHECK(knob_value(w.draft().recipe, Knob::scan_speed) == Approx(1220));
    QTest::keyClick(speed, Qt::Key_Down, Qt::ShiftModifier);
    CHECK(knob_value(w.draft().recipe, Knob::scan_speed) == Approx(1020));
    w.window().setFocus();
    while (w.workbench().undo_stack().canUndo())
        w.workbench().undo_stack().undo();
    CHECK(w.draft() == app::demo_draft(FINCH_SOURCE "/data").value());
    while (w.workbench().undo_stack().canRedo())
        w.workbench().undo_stack().redo();
    CHECK(knob_value(w.draft().recipe, Knob::scan_speed) == Approx(1020));
}

TEST_CASE("moving a needle solves for a knob, and the tilt follows the keyboard", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    auto* dose = w.find<app::Ladder>("ladder_dose");
    const double before = dose->view().value;
    QTest::mouseClick(dose, Qt::LeftButton, {}, QPoint(60, dose->height() / 2 - 20));
    CHECK(dose->view().value > 1.5 * before);
    CHECK(in_mm_per_second(w.draft().recipe.setting.scan_speed) < 990);
    CHECK(w.workbench().prediction()->mark.pattern.areal_dose_j_m2 / 1e6 == Approx(dose->view().value));
    auto* fluence = w.find<app::Ladder>("ladder_fluence");
    fluence->setFocus();
    const double power = w.draft().recipe.setting.power_percent;
    QTest::keyClick(fluence, Qt::Key_Up, Qt::ShiftModifier);
    CHECK(w.draft().recipe.setting.power_percent == Approx(power * 1.2).epsilon(0.01));
    // So much heat removes metal: back to a film, which has a colour to tilt.
    while (w.workbench().undo_stack().canUndo())
        w.workbench().undo_stack().undo();
    auto* swatch = w.find<app::Swatch>("swatch");
    const QString straight = swatch->accessibleDescription();
    QTest::keyClick(swatch, Qt::Key_Right);
    CHECK(swatch->accessibleDescription() != straight);
    for (const auto& band : dose->view().bands)
        CHECK(band.to > band.from);
}

TEST_CASE("the bands of the ladder are the regimes of the model and move with the stock", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    const auto view = app::consequences_view(w.workbench(), 0);
    for (const auto& band : view.dose.bands) {
        const double dose = std::sqrt(band.from * band.to);
        const double speed = in_mm_per_second(w.draft().recipe.setting.scan_speed) * view.dose.value / dose;
        if (speed < 1 || speed > 9000)
            continue;
        const auto p =
            predict(w.workbench().scene(), with_knob(w.draft().recipe, Knob::scan_speed, speed), w.draft().fill);
        REQUIRE(p);
        INFO(band.name.toStdString() << " at " << dose << ": " << word(p->effect));
        CHECK(QString::fromUtf8(word(p->effect).data()) == band.name);
    }
    w.keys(QKeySequence(QStringLiteral("Ctrl+1")));
    w.choose("metal", QStringLiteral("Titanium grade 2"));
    CHECK(app::consequences_view(w.workbench(), 0).dose.bands.size() >= 2);
    CHECK(app::consequences_view(w.workbench(), 0).dose.bands[0].to != Approx(view.dose.bands[0].to));
    w.choose("metal", QStringLiteral("Copper"));
    CHECK(app::consequences_view(w.workbench(), 0).computed);
}

TEST_CASE("the bench is edited with undo, and every change that moves the surface makes the focus stale", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+1")));
    w.click("confirm_focus");
    w.pass(1740);
    w.type("thickness", QStringLiteral("3/32 in"));
    CHECK(in_mm(w.draft().setup.stock.thickness) == Approx(2.38125));
    CHECK(w.workbench().focus_state().stale());
    CHECK(w.find<QLabel>("focus_title")->text().contains(QStringLiteral("0.22 mm farther")));
    w.click("head_raised");
    CHECK(in_mm(w.workbench().focus_state().surface_error) == Approx(0).margin(1e-6));
    w.click("confirm_focus");
    CHECK_FALSE(w.workbench().focus_state().stale());
    w.choose("lens", QStringLiteral("100 mm"));
    CHECK(w.workbench().focus_state().stale());
    w.keys(QKeySequence::Undo);
    CHECK_FALSE(w.workbench().focus_state().stale());
    w.choose("bench", QStringLiteral("Heron"));
    CHECK(w.workbench().bench().source.kind == SourceKind::fixed_pulse_width);
    CHECK_FALSE(w.find<QLineEdit>("pulse_to")->isEnabled());
    w.type("thickness", QStringLiteral("minus two"));
    CHECK(w.window().status_text().contains(QStringLiteral("Thickness")));
    // Both focus confirmations are in the logbook.
    EntryFilter bench_entries;
    bench_entries.kind = EntryKind::bench;
    CHECK(w.logbook()->count(bench_entries).value() == 2);
}

TEST_CASE("a stand-in that dies, fails or is missing is reported, and the next try works", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path(), 40);
    w.workbench().confirm_focus();
    w.keys(QKeySequence(QStringLiteral("Ctrl+P")));
    SECTION("killed while burning, then burned again") {
        w.click("next_act");
        REQUIRE(QTest::qWaitFor([&] { return w.flow().progress() > 0; }, patience));
        w.bench().kill();
        REQUIRE(w.wait_idle());
        CHECK(w.window().status_text().contains(QStringLiteral("stopped answering")));
        CHECK_FALSE(w.round()->burned);
        w.click("next_act");
        REQUIRE(QTest::qWaitFor([&] { return w.flow().progress() > 0; }, patience));
        w.keys(QKeySequence(QStringLiteral("Ctrl+.")));
        REQUIRE(w.wait_idle());
        CHECK(w.window().status_text().contains(QStringLiteral("cancelled")));
    }
    SECTION("a fault of the laser") {
        w.bench().fail_at("B1");
        w.click("next_act");
        REQUIRE(QTest::qWaitFor([&] { return w.flow().step() == app::ProofFlow::Step::burning; }, patience));
        REQUIRE(w.wait_idle());
        CHECK(w.window().status_text().contains(QStringLiteral("fault at B1")));
    }
    SECTION("no stand-in program") {
        QTemporaryDir other;
        DrivenWindow lost(other.path(), 40, QStringLiteral("/nowhere/finch-standin"));
        lost.workbench().confirm_focus();
        lost.keys(QKeySequence(QStringLiteral("Ctrl+P")));
        lost.click("next_act");
        REQUIRE(lost.wait_idle());
        CHECK(lost.window().status_text().contains(QStringLiteral("cannot be started")));
    }
}

TEST_CASE("a dropped photograph is read, and one that is no photograph is refused", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+P")));
    const QString path = folder.filePath(QStringLiteral("holiday.png"));
    QImage(640, 480, QImage::Format_RGB888).save(path);
    const auto drop = [&](const QString& file) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(file)});
        QDragEnterEvent enter(QPoint(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&w.window().proof(), &enter);
        CHECK(enter.isAccepted());
        QDropEvent event(QPointF(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&w.window().proof(), &event);
    };
    drop(path);
    REQUIRE(w.wait_idle());
    CHECK(w.window().status_text().contains(QStringLiteral("picture")));
    drop(folder.filePath(QStringLiteral("nothing.png")));
    REQUIRE(w.wait_idle());
    CHECK(w.window().status_text().contains(QStringLiteral("cannot be found")));
    CHECK_FALSE(w.round()->reading);
    for (const char* ending : {"svg", "csv", "json", "pdf"}) {
        const QString out = folder.filePath(QStringLiteral("sheet.") + QString::fromLatin1(ending));
        w.window().proof().export_to(out);
        CHECK(QFileInfo(out).size() > 400);
    }
    w.window().proof().export_to(folder.filePath(QStringLiteral("sheet.docx")));
    CHECK(w.window().status_text().contains(QStringLiteral("not known")));
}

TEST_CASE("a sheet that is not found is shown by hand, and photographs of it are read together", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    w.keys(QKeySequence(QStringLiteral("Ctrl+P")));
    const ProofSheet sheet = w.round()->sheet;
    const DemoBench demo;
    const auto world = standin::draw_world(standin::Grade::honest, 7);
    const standin::Plate plate = burned(demo, sheet, world);
    const standin::CameraBody camera = standin::draw_camera(world.grade, 7);
    standin::Shot shot;
    shot.glares = 0;
    shot.width_px = 1300;
    shot.height_px = 975;
    shot.white_card = layout(sheet).white_card;
    const auto write = [&](const char* name) {
        const QString path = folder.filePath(QString::fromLatin1(name));
        QFile file(path);
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(standin::encoded(standin::photograph(plate, camera, shot)));
        return path;
    };
    const QString whole = write("whole.jpg");
    const auto corners = read_sheet_photo(load_picture(whole).value(), sheet).value().corners_px;
    const RectMm a = layout(sheet).fiducials[1].box, b = layout(sheet).fiducials[2].box;
    shot.covered = RectMm{a.x, a.y, a.w, b.y + b.h - a.y};
    const QString covered = write("covered.jpg");

    w.flow().read_file(covered);
    REQUIRE(w.wait_idle());
    CHECK_FALSE(w.round()->reading);
    auto* dialog = w.window().findChild<QDialog*>(QStringLiteral("corners_dialog"));
    REQUIRE(dialog != nullptr);
    auto* placer = dialog->findChild<app::CornerPlacer*>(QStringLiteral("corners"));
    for (std::size_t i = 0; i < 4; ++i)
        placer->place(i, corners[i]);
    // The keys move the ring that was placed last, the mouse the one that is nearest.
    const double x = placer->corners()[3].x;
    QTest::keyClick(placer, Qt::Key_Right);
    CHECK(placer->corners()[3].x == Approx(x + 2));
    QTest::keyClick(placer, Qt::Key_Left);
    QTest::mouseClick(placer, Qt::LeftButton, {}, QPoint(2, 2));
    CHECK(placer->corners()[0].x < corners[0].x);
    placer->place(0, corners[0]);
    QTest::mouseClick(dialog->findChild<QPushButton*>(QStringLiteral("corners_ok")), Qt::LeftButton);
    REQUIRE(w.wait_idle());
    REQUIRE(w.round()->reading);
    CHECK(w.round()->reading->markers == 0);
    CHECK(w.round()->reading->count(CellState::read) > 30);

    // A camera that was fitted to known colours is a choice: kept in the draft, undone like one.
    const QString fitted = folder.filePath(QStringLiteral("camera.json"));
    CameraColour right;
    right.camera = "bench camera";
    right.places = 8;
    {
        QFile file(fitted);
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(QByteArray::fromStdString(to_json(right).dump()));
    }
    auto* cameras = new app::CameraDialog(w.workbench(), w.shop().eyes(), &w.window());
    cameras->take_file(covered);
    CHECK_FALSE(w.draft().camera);
    cameras->take_file(fitted);
    cameras->close();
    REQUIRE(w.draft().camera == right);
    CHECK(app::draft_from_json(to_json(w.draft()), "").value().camera == right);
    w.keys(QKeySequence::Undo);
    CHECK_FALSE(w.draft().camera);
    w.keys(QKeySequence::Redo);

    shot.covered.reset();
    shot.seed = 2;
    const QString turned = write("turned.jpg");
    REQUIRE(w.wait_idle());
    w.pass(60); // of two readings the newer counts
    w.flow().read_files({whole, covered, turned});
    REQUIRE(w.wait_idle());
    INFO(w.window().status_text().toStdString());
    REQUIRE(w.round()->reading->photos == 2);
    CHECK(w.round()->reading->camera == right);
    const auto logbook = w.logbook();
    EntryFilter newest;
    newest.kind = EntryKind::reading;
    const auto entries = logbook->list(newest).value();
    CHECK(logbook->pictures(entries.front().id).value().size() == 3); // both photographs, and the sheet squared up
    CHECK(w.round()->reading->photo == "whole.jpg, turned.jpg");
}

TEST_CASE("an entry that cannot be written now is kept on the disk, said to be, and written later", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    const Outbox outbox(folder.filePath(QStringLiteral("outbox")));
    {
        QSqlDatabase other = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("other"));
        other.setDatabaseName(folder.filePath(QStringLiteral("logbook.sqlite")));
        REQUIRE(other.open());
        REQUIRE(QSqlQuery(other).exec(QStringLiteral("BEGIN IMMEDIATE")));
        w.workbench().confirm_focus();
        REQUIRE(QTest::qWaitFor([&] { return !outbox.waiting().empty(); }, patience));
        CHECK(QTest::qWaitFor(
            [&] { return w.window().status_text().contains(QStringLiteral("Another program holds the logbook")); },
            patience));
        CHECK(w.shop().would_be_lost().isEmpty());
        REQUIRE(QSqlQuery(other).exec(QStringLiteral("ROLLBACK")));
    }
    QSqlDatabase::removeDatabase(QStringLiteral("other"));
    CHECK(w.logbook()->count(EntryFilter{}).value() == 1);
    CHECK(outbox.waiting().empty());
}

TEST_CASE("every number of the consequences says why", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    const auto why = [&](QWidget* on, QPoint at) {
        QTest::mouseClick(on, Qt::LeftButton, {}, at);
        auto* frame = w.window().findChild<QFrame*>(QStringLiteral("why"));
        REQUIRE(frame != nullptr);
        const QString head = frame->findChild<QLabel*>(QStringLiteral("why_head"))->text();
        CHECK_FALSE(frame->findChild<QLabel*>(QStringLiteral("why_rests"))->text().isEmpty());
        delete frame;
        return head;
    };
    CHECK(why(w.find<app::Ladder>("ladder_dose"), {20, 20}).startsWith(QStringLiteral("Areal dose")));
    CHECK(why(w.find<app::Ladder>("ladder_fluence"), {20, 20}).startsWith(QStringLiteral("Peak fluence")));
    CHECK(why(w.find<QWidget>("pulse_stamp"), {20, 20}).startsWith(QStringLiteral("Overlap")));
    CHECK(why(w.find<QWidget>("numbers"), {20, 10}).startsWith(QStringLiteral("Outcome")));
    CHECK(why(w.find<QWidget>("numbers"), {20, 55}).startsWith(QStringLiteral("Oxide film")));
}

TEST_CASE("a time is for the area that it names", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    struct Row {
        double area_mm2;
        const char* words;
    };
    for (const Row& row : {Row{100, "1 cm²"}, Row{410, "4.1 cm²"}, Row{25, "25 mm²"}}) {
        w.workbench().change({}, {}, [&](app::Draft& d) { d.fill = {mm(5), row.area_mm2}; });
        const auto line = app::consequences_view(w.workbench(), 0).numbers.at(1);
        CHECK(line.name.endsWith(QString::fromUtf8(row.words)));
        const auto alone = predict(w.workbench().scene(), w.draft().recipe, {mm(5), row.area_mm2}).value();
        CHECK((line.value + u' ' + line.unit).toStdString() == format_duration(alone.mark.pattern.time_s));
    }
}

TEST_CASE("F1 shows the station with its parts named", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    for (const app::GuidePart& part : w.window().guide_parts()) {
        INFO(part.object.toStdString());
        CHECK(w.window().findChild<QWidget*>(part.object) != nullptr);
        CHECK(part.words.endsWith(u'.'));
    }
    for (const char* station : {"Ctrl+1", "Ctrl+2", "Ctrl+3", "Ctrl+4", "Ctrl+7"}) {
        INFO(station);
        w.keys(QKeySequence(QString::fromLatin1(station)));
        QTest::keyClick(&w.window(), Qt::Key_F1);
        auto* help = w.find<QDialog>("help");
        const auto* picture =
            dynamic_cast<app::GuidePicture*>(help->findChild<QWidget*>(QStringLiteral("guide_picture")));
        REQUIRE(picture != nullptr);
        CHECK(picture->rings().size() >= 5);
        for (const auto& ring : picture->rings())
            CHECK(QRectF(w.window().centralWidget()->rect()).contains(ring.box));
        QTest::keyClick(help, Qt::Key_Escape);
        REQUIRE(QTest::qWaitFor([&] { return w.window().findChild<QDialog*>(QStringLiteral("help")) == nullptr; },
                                patience));
    }
}

TEST_CASE("every control can be named, every action found, and no shortcut is given twice", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow w(folder.path());
    for (const QWidget* widget : w.window().findChildren<QWidget*>()) {
        const bool control = qobject_cast<const QLineEdit*>(widget) != nullptr ||
                             qobject_cast<const QComboBox*>(widget) != nullptr ||
                             qobject_cast<const QAbstractButton*>(widget) != nullptr ||
                             qobject_cast<const app::Instrument*>(widget) != nullptr;
        if (!control || widget->objectName().startsWith(QStringLiteral("qt_")) ||
            widget->inherits("QTableCornerButton"))
            continue;
        const auto* button = qobject_cast<const QAbstractButton*>(widget);
        INFO(widget->metaObject()->className() << " " << widget->objectName().toStdString());
        if (qobject_cast<const QToolButton*>(widget) == nullptr) {
            CHECK_FALSE(widget->objectName().isEmpty());
            CHECK_FALSE((widget->accessibleName().isEmpty() && (button == nullptr || button->text().isEmpty())));
        }
    }
    std::set<QString> shortcuts;
    for (const app::ActionInfo& info : w.window().actions().infos()) {
        INFO(info.id.toStdString());
        CHECK(info.help.size() > 10);
        if (!info.shortcut.isEmpty())
            CHECK(shortcuts.insert(info.shortcut.toString()).second);
    }
    w.keys(QKeySequence(QStringLiteral("Ctrl+K")));
    auto* words = w.window().findChild<QLineEdit*>(QStringLiteral("command_words"));
    REQUIRE(words != nullptr);
    QTest::keyClicks(words, QStringLiteral("logbook records"));
    auto* hits = w.window().findChild<QListWidget*>(QStringLiteral("command_hits"));
    CHECK(hits->count() == 0);
    words->clear();
    QTest::keyClicks(words, QStringLiteral("dark"));
    REQUIRE(hits->count() == 1);
    QTest::keyClick(words, Qt::Key_Return);
    QTest::qWait(20);
    CHECK(app::theme_of(&w.window()).name() == QStringLiteral("workshop"));
}

TEST_CASE("both themes keep text readable on every ground", "[window]") {
    const auto luminance = [](const QColor& c) {
        return 0.2126 * srgb_decode(c.redF()) + 0.7152 * srgb_decode(c.greenF()) + 0.0722 * srgb_decode(c.blueF());
    };
    const auto contrast = [&](const QColor& a, const QColor& b) {
        const double x = luminance(a), y = luminance(b);
        return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    };
    using app::Role;
    for (const char* name : {"paper", "workshop"}) {
        const app::Theme& t = app::Theme::named(QString::fromLatin1(name));
        for (const Role ground : {Role::window, Role::surface, Role::raised, Role::field, Role::sunken})
            for (const Role ink :
                 {Role::ink, Role::ink2, Role::ink3, Role::accent_text, Role::warn, Role::danger, Role::ok}) {
                INFO(name << " ink " << static_cast<int>(ink) << " on " << static_cast<int>(ground));
                CHECK(contrast(t(ink), t(ground)) >= 4.5);
            }
        CHECK(contrast(t(Role::on_accent), t(Role::accent)) >= 4.5);
        for (const Role grey : {Role::window, Role::surface, Role::raised, Role::field, Role::sunken, Role::mat,
                                Role::band1, Role::band4})
            CHECK((t(grey).red() == t(grey).green() && t(grey).green() == t(grey).blue()));
    }
}

TEST_CASE("the models keep their promises", "[window]") {
    CleanSettings clean;
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("logbook.sqlite"));
    {
        const auto book = Logbook::open(path).value();
        for (int i = 0; i < 230; ++i) {
            Entry e;
            e.when_utc = "2026-11-24T09:12:00Z";
            e.title = "entry " + std::to_string(i);
            e.setup = nlohmann::json::object();
            e.body = nlohmann::json::object();
            REQUIRE(book->add(e));
        }
    }
    app::LogbookDesk desk(path);
    app::EntryModel model(desk);
    model.set_filter({});
    REQUIRE(QTest::qWaitFor([&] { return model.rowCount() == 100; }, patience));
    CHECK(model.total() == 230);
    // From here on only: the tester itself fetches more, which it does not allow during a reset.
    QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    CHECK(QTest::qWaitFor(
        [&] {
            if (model.canFetchMore({}))
                model.fetchMore({});
            return model.rowCount() == 230;
        },
        patience));
    CHECK(model.rowCount() == 230);
    // Only the newest question is answered.
    EntryFilter none;
    none.words = "nothing of this name";
    for (int i = 0; i < 20; ++i)
        model.set_filter(i % 2 == 0 ? EntryFilter{} : none);
    CHECK(QTest::qWaitFor([&] { return model.rowCount() == 0; }, patience));
    CHECK(model.total() == 0);
}
