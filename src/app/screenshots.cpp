// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Drives the real window through the demo and keeps a picture of each main view. Run by ./finch screenshots.
#include "app/application.h"
#include "app/session/aim_flow.h"
#include "app/session/background.h"
#include "app/session/run_flow.h"
#include "app/session/workshop.h"
#include "app/shell/consequences_panel.h"
#include "app/shell/main_window.h"
#include "app/stations/aim/aim_station.h"
#include "app/stations/logbook/logbook_station.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/proof/proof_station.h"
#include "formats/shipped_fonts.h"

#include <functional>
#include <iostream>
#include <QAbstractButton>
#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QDir>
#include <QElapsedTimer>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QThread>
#include <QTimeZone>

namespace {

using namespace finch;
using namespace finch::app;
using namespace Qt::StringLiterals;

constexpr int patience_ms = 120000; // a sanitized build on a loaded machine is slow

/// What has come is done, then a moment's sleep: whoever only asks again takes the processor from those it waits for.
void a_moment() {
    constexpr unsigned long rest_ms = 5;
    QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    QThread::msleep(rest_ms);
}

void let_events_run(int ms) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < ms)
        a_moment();
}

/// Lets events run until `done`, or says what took too long.
bool wait(const char* what, const std::function<bool()>& done) {
    QElapsedTimer clock;
    clock.start();
    while (!done()) {
        a_moment();
        if (clock.elapsed() > patience_ms) {
            std::cerr << "gave up waiting for " << what << '\n';
            return false;
        }
    }
    return true;
}

/// The picture of a window in which nothing is under way any more: no work, no answer on its way, no change to see.
QPixmap settled_picture(QWidget& window, Workshop& shop) {
    constexpr int longest_delay_ms = 450; // of the timers that wait for a pause in the typing
    QElapsedTimer clock;
    clock.start();
    QImage last;
    for (;;) {
        let_events_run(longest_delay_ms);
        shop.desk().finish();
        QCoreApplication::processEvents();
        const QPixmap picture = window.grab();
        const QImage image = picture.toImage();
        const bool quiet =
            background_pool().activeThreadCount() == 0 && shop.flow().step() == ProofFlow::Step::idle && image == last;
        if (quiet || clock.elapsed() > patience_ms)
            return picture;
        last = image;
    }
}

/// Numbered tags in a tray of 24, handed over: before the start, and held in the middle of the run.
void shoot_run(MainWindow& window, Workshop& shop, const std::function<void(const QString&)>& shoot) {
    Workbench& workbench = shop.workbench();
    PieceStation& piece = window.piece();
    workbench.change(u"tags"_s, {}, [](Draft& d) {
        d.setup.stock.thickness = mm(1.4);
        d.setup.stock.coating = Coating::unknown;
        d.recipe.process = Process::anneal;
        d.recipe.setting = {32, kilohertz(600), nanoseconds(350), mm_per_second(500), mm(0.02), 0, 2, mm(0)};
        d.recipe.turn_per_pass_deg = 67;
    });
    workbench.confirm_focus();
    TypedTexts typed;
    TypedText number;
    number.name = "number", number.words = "No. {n}", number.height_mm = 2.1, number.at = {8, 5.6};
    TypedText maker;
    maker.name = "maker", maker.words = "LARKSPUR ROW", maker.height_mm = 1.1, maker.at = {8, 2.4};
    typed.texts = {number, maker};
    piece.reader().open({});
    piece.reader().set_texts(typed, PointMm{16, 11});
    wait("the tags", [&] { return !piece.reader().running() && piece.reader().piece() != nullptr; });
    for (std::size_t i = 0; i < piece.reader().layers().size(); ++i) {
        const std::string name = piece.reader().layers()[i].choice.name;
        name == "number" || name == "maker" ? piece.reader().take_recipe(i) : piece.reader().set_guide(i, true);
    }
    PlaceRules tray;
    tray.holding = Holding::tray;
    tray.tray.columns = 4, tray.tray.rows = 6, tray.tray.pitch_x_mm = 22, tray.tray.pitch_y_mm = 16;
    piece.reader().take_place(tray);
    wait("the tray", [&] { return !piece.reader().running() && piece.reader().laid() != nullptr; });
    RunFlow& run = shop.run();
    window.actions()[u"run.take"_s]->trigger();
    wait("the gates", [&] { return run.step() == RunFlow::Step::asking && run.enclosure_open().has_value(); });
    const auto gates = run.gates();
    for (const Gate& gate : gates)
        if (gate.kind == GateKind::tick && gate.key != "room")
            run.answer(gate.key);
    run.answer("under", "metal");
    run.show_frame();
    wait("the frame", [&] { return !run.framing(); });
    shoot(u"run-before"_s);
    run.answer("room");
    run.answer("coat", "bare");
    run.answer("stays", workbench.draft().operator_initials);
    QObject::connect(&run, &RunFlow::changed, &run, [&run] {
        if (run.step() == RunFlow::Step::running && run.stand().done() == 14 && run.stand().aside.empty())
            run.set_aside(6, MainWindow::tr("bent at the corner"));
        if (run.step() == RunFlow::Step::running && run.stand().done() == 35 && !run.holds_after_pass())
            run.hold_after_pass(true);
    });
    run.start();
    wait("the run", [&] { return run.step() == RunFlow::Step::held; });
    run.looked(MainWindow::tr("Flat, and dark as it should be."));
    window.use_theme(u"workshop"_s);
    shoot(u"run"_s);
    window.use_theme(u"paper"_s);
    run.give_up(MainWindow::tr("only a picture"));
    wait("its end", [&] { return run.step() == RunFlow::Step::over; });
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        std::cerr << "usage: finch-screenshots FOLDER\n";
        return 2;
    }
    Application app(argc, argv);
    QApplication::setOrganizationName(u"gilded-finch-screenshots"_s);
    load_fonts();
    QApplication::setFont(text_font(TextStyle::body));
    const auto data = data_folders();
    if (!data)
        return 1;
    QTemporaryDir folder;
    // A clock that starts on a fixed morning, so that the pictures do not change from day to day.
    QElapsedTimer running;
    running.start();
    QDateTime morning(QDate(2026, 11, 24), QTime(9, 12), QTimeZone::utc());
    const auto shop =
        Workshop::open({folder.path(),
                        u"Larkspur Row Instrument Loft"_s,
                        *data,
                        true,
                        false,
                        {QCoreApplication::applicationDirPath() + u"/../standin/finch-standin"_s, 7, 100000},
                        [&] { return morning.addSecs(running.elapsed() / 1000); }});
    if (!shop)
        return 1;
    Workbench& workbench = (*shop)->workbench();
    ProofFlow& flow = (*shop)->flow();
    MainWindow window(**shop);
    window.setAttribute(Qt::WA_DontShowOnScreen);
    window.resize(1280, 800);
    window.use_theme(u"paper"_s);
    window.show();
    const QDir out(QString::fromLocal8Bit(argv[1]));
    const auto shoot = [&](const QString& name) {
        if (!settled_picture(window, **shop).save(out.filePath(name + u".png"_s)))
            std::cerr << "cannot write " << name.toStdString() << '\n';
    };
    const auto pass_minutes = [&](int minutes) { morning = morning.addSecs(60 * minutes); };

    workbench.change(u"focus on the gauge strip"_s, {}, [](Draft& d) { d.setup.stock.thickness = mm(1.4); });
    workbench.confirm_focus();
    pass_minutes(29);
    workbench.change(u"stock"_s, {}, [](Draft& d) { d.setup.stock.thickness = mm(2.6); });
    window.show_station(MainWindow::StationId::bench);
    workbench.change(u"head"_s, {}, [](Draft& d) { d.setup.focus.head_raised += mm(1.2); });
    workbench.confirm_focus();
    shoot(u"bench"_s);
    auto* arithmetic = window.findChild<QAbstractButton*>(u"setup_arithmetic"_s);
    arithmetic->setChecked(true);
    shoot(u"bench-arithmetic"_s);
    arithmetic->setChecked(false);
    window.show_station(MainWindow::StationId::aim);
    wait("the aim board", [&] { return window.aims().up_to_date(); });
    shoot(u"aim"_s);
    window.show_station(MainWindow::StationId::proof);
    window.proof().show_page(ProofStation::Page::plan);
    shoot(u"proof-plan"_s);
    window.proof().ask_openings();
    if (auto* ways = window.findChild<QDialog*>(u"openings_dialog"_s)) {
        auto* list = ways->findChild<QTableWidget*>(u"openings"_s);
        wait("the ways to begin", [&] { return list->rowCount() > 0; });
        let_events_run(100);
        settled_picture(*ways, **shop).save(out.filePath(u"proof-openings.png"_s));
        delete ways;
    }
    flow.plan(true);
    window.proof().show_page(ProofStation::Page::sheet);
    flow.burn();
    if (!wait("a sheet", [&] { return flow.step() == ProofFlow::Step::idle; }))
        return 1;
    pass_minutes(12);
    shoot(u"proof-measured"_s);
    flow.plan_next();
    flow.burn();
    if (!wait("a sheet", [&] { return flow.step() == ProofFlow::Step::idle; }))
        return 1;
    pass_minutes(9);
    window.proof().show_page(ProofStation::Page::tune);
    wait("the surface", [&] { return window.proof().tune().worker().finished(); });
    wait("the alternatives", [&] { return !window.aims().alternatives().empty(); });
    shoot(u"tune"_s);
    flow.save_recipe(u"noon line, deep blue"_s);
    window.show_station(MainWindow::StationId::logbook);
    (*shop)->recorder().finish();
    const auto logbook = Logbook::open(folder.filePath(u"logbook.sqlite"_s), LogbookUse::look_only);
    const auto entries = logbook ? (*logbook)->list() : Expected<std::vector<Entry>>(std::vector<Entry>());
    std::vector<long long> readings;
    for (const Entry& e : *entries)
        if (e.kind == EntryKind::reading)
            readings.push_back(e.id);
    const auto show_entry = [&](long long id) {
        window.logbook().show_entry(id);
        settled_picture(window, **shop);
    };
    if (!readings.empty())
        show_entry(readings.front());
    shoot(u"logbook-reading"_s);
    if (readings.size() >= 2) {
        show_entry(readings[1]);
        window.logbook().findChild<QWidget*>(u"log_compare"_s)->setFocus();
        QMetaObject::invokeMethod(window.logbook().findChild<QObject*>(u"log_compare"_s), "click");
        show_entry(readings[0]);
        shoot(u"logbook-compare"_s);
        QMetaObject::invokeMethod(window.logbook().findChild<QObject*>(u"log_compare"_s), "click");
    }
    window.show_station(MainWindow::StationId::proof);
    workbench.change(u"target"_s, {}, [](Draft& d) {
        d.target = named_targets()[2];
        d.request.aim = "setting circle, gold band";
    });
    for (int round = 0; round < 2; ++round) { // the second on the frame of the first
        const auto sheets = workbench.rounds().size();
        flow.design();
        if (!wait("designed cells", [&] { return workbench.rounds().size() > sheets; }))
            return 1;
        flow.burn();
        if (!wait("a sheet", [&] { return flow.step() == ProofFlow::Step::idle; }))
            return 1;
        pass_minutes(7);
    }
    shoot(u"proof-design"_s);
    workbench.change(u"wanted"_s, {}, [](Draft& d) {
        for (const char* name : {"straw", "gold", "purple", "deep blue", "green"})
            d.wanted.push_back(*wanted_from_text(name));
    });
    window.proof().show_page(ProofStation::Page::palette);
    PaletteMaker& palette = window.proof().palette().maker();
    if (!wait("the palette",
              [&] { return !palette.running() && palette.palette() && !palette.palette()->wanted.empty(); }))
        return 1;
    QMetaObject::invokeMethod(window.proof().findChild<QObject*>(u"wanted_row"_s), "asked", Q_ARG(std::size_t, 3));
    shoot(u"proof-palette"_s);
    flow.plan_ladder({mm(0), mm(0), 13, true});
    flow.burn();
    if (!wait("a focus ladder", [&] { return flow.step() == ProofFlow::Step::idle; }))
        return 1;
    pass_minutes(5);
    window.proof().show_page(ProofStation::Page::focus);
    shoot(u"proof-focus"_s);
    window.proof().show_page(ProofStation::Page::sheet);
    // The dial: a bright ground, dark numerals, and accents in the blue that was found.
    window.show_station(MainWindow::StationId::piece);
    if (!wait("the drawing", [&] { return window.piece().reader().piece() != nullptr; }))
        return 1;
    const Recipe at_hand = workbench.draft().recipe;
    const auto with = [&](std::size_t layer, double power, double khz, double ns, double speed, double pitch_mm) {
        workbench.change(u"recipe of a layer"_s, {}, [&](Draft& d) {
            for (const auto& [knob, value] :
                 {std::pair{Knob::power, power}, std::pair{Knob::frequency, khz}, std::pair{Knob::pulse_width, ns},
                  std::pair{Knob::scan_speed, speed}, std::pair{Knob::hatch_pitch, pitch_mm}})
                d.recipe = with_knob(d.recipe, knob, value);
            d.recipe.process = Process::anneal;
        });
        window.piece().reader().take_recipe(layer);
    };
    with(0, 15, 60, 12, 1500, 0.02);
    with(1, 32, 600, 350, 500, 0.0035);
    workbench.change(u"recipe"_s, {}, [&](Draft& d) { d.recipe = at_hand; });
    wait("the lines of the drawing", [&] { return !window.piece().reader().running(); });
    window.piece().next_finding();
    shoot(u"piece"_s);
    // The sleeve's scale goes round it, and the rosette becomes a relief.
    const Draft dial = workbench.draft();
    PieceStation& piece = window.piece();
    const auto drawing = [&](const char* name) { return q((data->shipped / "artwork" / name).string()); };
    workbench.change(u"sleeve"_s, {}, [&](Draft& d) {
        d.setup.bench = *load_bench(*data, "heron");
        d.setup.stock = *load_stock(*data, "tripod-sleeve-powder");
        d.recipe.process = Process::strip;
        d.recipe.setting = {80, kilohertz(80), nanoseconds(110), mm_per_second(1000), mm(0.0427), 0, 2, mm(6)};
    });
    piece.reader().open(drawing("tripod-sleeve-scale.svg"));
    wait("the scale", [&] { return !piece.reader().running(); });
    piece.reader().take_recipe(0);
    piece.reader().set_guide(1, true);
    PlaceRules sleeve;
    sleeve.holding = Holding::round;
    sleeve.round = {41, 46, 120, 60, true, 0, 0.6};
    piece.reader().take_place(sleeve);
    wait("the strips", [&] { return !piece.reader().running() && piece.reader().laid() != nullptr; });
    piece.ask_place();
    auto* place = window.findChild<QDialog*>(u"place_dialog"_s);
    wait("the strips again", [&] { return place->findChild<QWidget*>(u"place_take"_s)->isEnabled(); });
    settled_picture(*place, **shop).save(out.filePath(u"piece-place.png"_s));
    place->close();
    workbench.change(u"end plate"_s, {}, [&](Draft& d) {
        d.setup = dial.setup;
        d.setup.stock = *load_stock(*data, "end-plate-bronze");
        d.recipe.process = Process::deep_engrave;
        d.recipe.setting = {80, kilohertz(45), nanoseconds(150), mm_per_second(1000), mm(0.02), 0, 1, mm(0)};
        d.recipe.turn_per_pass_deg = 67;
    });
    piece.relief().open(drawing("end-plate-rosette.png"));
    piece.take_recipe();
    piece.relief().change_rules(u"crop"_s, {}, [](ReliefRules& r) { r.crop_to_rim = true; });
    wait("the relief", [&] {
        return !piece.relief().running() && piece.relief().work() != nullptr && !piece.relief().work()->ways.empty();
    });
    shoot(u"piece-relief"_s);
    // The gauge strip in a film, while its coat dries.
    workbench.change(u"strip"_s, {}, [&](Draft& d) {
        d.setup.bench = *load_bench(*data, "mallow");
        d.setup.stock = *load_stock(*data, "gauge-strip-304");
        d.recipe.process = Process::compound;
        d.recipe.compound = "ceramic";
        d.recipe.setting = {50, kilohertz(10), nanoseconds(1000), mm_per_second(300), mm(0.1), 0, 1, mm(0)};
    });
    piece.reader().open(drawing("canal-gauge-strip.svg"));
    wait("the strip", [&] { return !piece.reader().running() && piece.reader().piece() != nullptr; });
    piece.reader().set_guide(0, true);
    piece.reader().take_recipe(1);
    wait("its lines", [&] { return !piece.reader().running(); });
    piece.switch_steps();
    for (const int minutes : {4, 3, 4}) {
        piece.film().say_done();
        pass_minutes(minutes);
    }
    piece.film().refresh();
    shoot(u"piece-film"_s);
    piece.switch_steps();
    workbench.change(u"back"_s, {}, [&](Draft& d) { d.setup = dial.setup; });
    shoot_run(window, **shop, shoot);
    workbench.change(u"dial"_s, {}, [&](Draft& d) { d = dial; });
    const auto stamp = load_stock(*data, "finishing-stamp-brass");
    workbench.change(u"stamp"_s, {}, [&](Draft& d) {
        d.setup.stock = *stamp;
        d.aim = {};
        d.aim.title = "Bookbinder's finishing stamp";
        d.aim.place = "pressed hot, by hand";
        d.aim.fill = {mm(30), 300};
        Wish deep = usual_wish(WishKind::depth);
        deep.value = 140;
        deep.high = 160;
        Wish time = usual_wish(WishKind::minutes, false);
        time.value = 2;
        d.aim.wishes = {deep, usual_wish(WishKind::fine_detail), usual_wish(WishKind::abrasion), time,
                        usual_wish(WishKind::dark, false)};
    });
    workbench.confirm_focus();
    window.show_station(MainWindow::StationId::aim);
    wait("the aim board of the stamp", [&] { return window.aims().up_to_date(); });
    window.aim().take(0);
    wait("the patch of the stamp", [&] {
        return window.proof().tune().worker().finished() && window.proof().tune().worker().patch() != nullptr;
    });
    wait("the alternatives of the stamp", [&] { return !window.aims().alternatives().empty(); });
    // The wished depth, in two rounds on one frame, measured with the gauge of the stand-in.
    bool kept = false;
    QObject::connect(&flow.gauge(), &GaugeReader::measured, &window,
                     [&](int sheet, const std::vector<CellDepth>& depths) { flow.note_depths(sheet, depths); });
    for (int round = 0; round < 2; ++round) {
        const auto sheets = workbench.rounds().size();
        flow.design();
        if (!wait("cells for a depth", [&] { return workbench.rounds().size() > sheets; }))
            return 1;
        flow.burn();
        if (!wait("a sheet", [&] { return flow.step() == ProofFlow::Step::idle; }))
            return 1;
        pass_minutes(6);
        flow.ask_gauge(workbench.draft().shown_sheet);
        kept = wait("depths", [&] { return workbench.round()->reading.has_value(); });
    }
    window.show_station(MainWindow::StationId::proof);
    window.proof().show_page(ProofStation::Page::sheet);
    shoot(u"proof-depth"_s);
    return kept ? 0 : 1;
}
