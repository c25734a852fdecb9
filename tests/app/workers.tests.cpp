// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Work beside the interface: the newest question wins, and whoever asked may be gone.
#include "app/session/aim_flow.h"
#include "app/session/background.h"
#include "app/session/demo.h"
#include "app/session/history_keeper.h"
#include "app/session/knowledge_keeper.h"
#include "app/session/tune_worker.h"
#include "bench/bench_json.h"
#include "demo_bench.h"
#include "patience.h"

#include <catch2/catch.hpp>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest/QTest>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;

namespace {

struct Desk {
    QTemporaryDir folder;
    QString path = folder.filePath(QStringLiteral("logbook.sqlite"));
    Workbench workbench{load_materials(FINCH_SOURCE "/data").value(), demo_draft(FINCH_SOURCE "/data").value(),
                        [] { return QDateTime(QDate(2026, 11, 24), QTime(9, 12)); }};
};

Entry recipe_entry(const std::string& title, const Recipe& recipe, Outcome outcome, const Setup& setup) {
    Entry e;
    e.uid = title;
    e.kind = EntryKind::recipe;
    e.when_utc = "2026-11-24T09:12:00Z";
    e.title = title;
    e.summary = "too brown";
    e.outcome = outcome;
    e.bench = setup.bench.name;
    e.metal = materials().find(setup.stock.metal).value()->name;
    e.lot = setup.stock.lot;
    e.setup = to_json(setup);
    e.body = {{"format", "finch-recipe-record"}, {"version", 1}, {"recipe", to_json(recipe)}};
    return e;
}

bool warned(const Workbench& w) {
    return std::any_of(w.findings().begin(), w.findings().end(),
                       [](const Finding& f) { return f.message.find("too brown") != std::string::npos; });
}

} // namespace

TEST_CASE("an aim that is changed while it is weighed is answered for what it is now", "[workers]") {
    Desk d;
    AimFlow flow(d.workbench, {});
    QSignalSpy weighed(&flow, &AimFlow::weighed);
    flow.weigh_soon();
    REQUIRE(weighed.wait(patience));
    for (const double area : {150.0, 700.0, 900.0})
        flow.edit(QStringLiteral("area"), {}, [&](Aim& aim) { aim.fill.area_mm2 = area; });
    flow.weigh_soon();
    REQUIRE(QTest::qWaitFor([&] { return flow.up_to_date(); }, patience));
    REQUIRE_FALSE(flow.weighing().proposals.empty());
    // The time is that of the newest area.
    const Candidate& c = flow.weighing().proposals.front().candidate();
    const auto again = predict(d.workbench.scene(), c.recipe, d.workbench.draft().aim.fill);
    CHECK(c.prediction.mark.pattern.time_s == Approx(again->mark.pattern.time_s));
    CHECK(d.workbench.draft().aim.fill.area_mm2 == 900);
    // Asked again for the same, nothing is done.
    weighed.clear();
    flow.weigh_soon();
    QTest::qWait(300);
    CHECK(weighed.count() == 0);
}

TEST_CASE("who asked may be gone before the answer", "[workers]") {
    Desk d;
    for (const int wait_ms : {0, 130, 200}) {
        AimFlow flow(d.workbench, {});
        flow.weigh_soon();
        flow.find_alternatives_soon();
        QTest::qWait(wait_ms);
    }
    for (const int wait_ms : {0, 70, 120}) {
        TuneWorker worker(d.workbench);
        worker.update_soon();
        QTest::qWait(wait_ms);
    }
    for (int i = 0; i < 10; ++i) {
        LogbookDesk desk(d.path);
        HistoryKeeper history(d.workbench, desk);
        KnowledgeKeeper knowledge(d.workbench, desk);
    }
    background_pool().waitForDone();
    QTest::qWait(50);
    SUCCEED("nobody was called who was gone");
}

TEST_CASE("the map follows the newest axes, and a question that is out of date stops within a tenth of a second",
          "[workers]") {
    Desk d;
    TuneWorker worker(d.workbench);
    worker.update_soon();
    QTest::qWait(100); // well under way
    worker.set_axes(Knob::frequency, Knob::pulse_width);
    worker.update_soon();
    REQUIRE(
        QTest::qWaitFor([&] { return worker.finished() && worker.map()->across.knob == Knob::frequency; }, patience));
    CHECK(worker.map()->down.knob == Knob::pulse_width);
    // Finished means each cell is its own.
    CHECK(worker.map()->block == 1);
    const auto& map = *worker.map();
    const Draft& draft = d.workbench.draft();
    for (const auto& [x, y] : {std::pair{5, 90}, {50, 50}, {93, 20}}) {
        const Recipe r = map.recipe(draft.recipe, (x + 0.5) / map.side, (y + 0.5) / map.side);
        CHECK(predict(d.workbench.scene(), r, draft.fill, straight)->effect == map.at(x, y).effect);
    }
    // While the knobs of the map move inside it, it is kept.
    QSignalSpy redrawn(&worker, &TuneWorker::map_changed);
    d.workbench.set_knob(Knob::frequency, knob_value(draft.recipe, Knob::frequency) * 1.02);
    worker.update_soon();
    QTest::qWait(200);
    CHECK(redrawn.count() == 0);
}

TEST_CASE("what went wrong on this stock is told on this stock only", "[workers]") {
    Desk d;
    const Setup setup = d.workbench.draft().setup;
    const Recipe recipe = d.workbench.draft().recipe;
    Setup other_lot = setup;
    other_lot.stock.lot = "another";
    Setup no_lot = setup;
    no_lot.stock.lot.clear();
    {
        const auto book = Logbook::open(d.path).value();
        REQUIRE(book->add(recipe_entry("here", recipe, Outcome::bad, setup), {}));
    }
    LogbookDesk desk(d.path);
    HistoryKeeper keeper(d.workbench, desk);
    REQUIRE(QTest::qWaitFor([&] { return warned(d.workbench); }, patience));
    const auto set_lot = [&](const std::string& lot) {
        d.workbench.change({}, {}, [&](Draft& draft) { draft.setup.stock.lot = lot; });
        desk.finish();
        QCoreApplication::processEvents();
    };
    for (const char* lot : {"another", ""}) {
        INFO("lot \"" << lot << '"');
        set_lot(lot);
        CHECK_FALSE(warned(d.workbench));
    }
    set_lot(setup.stock.lot);
    CHECK(warned(d.workbench));
    // Far from what went wrong, nothing is said; back beside it, it is.
    d.workbench.set_knob(Knob::scan_speed, 3 * knob_value(recipe, Knob::scan_speed));
    CHECK_FALSE(warned(d.workbench));
    d.workbench.set_knob(Knob::scan_speed, 1.03 * knob_value(recipe, Knob::scan_speed));
    CHECK(warned(d.workbench));
}

TEST_CASE("a logbook's desk answers in order, to those who are there, and finishes before it goes", "[workers]") {
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("logbook.sqlite"));
    std::vector<int> order;
    int done = 0;
    {
        LogbookDesk desk(path);
        QObject here;
        auto gone = std::make_unique<QObject>();
        for (int i = 0; i < 20; ++i)
            desk.ask(
                &here, [&done](Logbook&) -> Expected<int> { return ++done; },
                [&order](Expected<int>& n) { order.push_back(n.value()); });
        desk.ask(
            gone.get(), [](Logbook&) -> Expected<int> { return 0; }, [&order](Expected<int>&) { order.push_back(-1); });
        gone.reset();
        // What is thrown in the work comes back as an error.
        bool told = false;
        desk.ask(
            &here, [](Logbook&) -> Expected<int> { throw std::runtime_error("torn page"); },
            [&told](Expected<int>& n) { told = !n && !n.error().fix.empty(); });
        desk.finish();
        QCoreApplication::processEvents();
        CHECK(told);
        CHECK(order.size() == 20);
        CHECK(std::is_sorted(order.begin(), order.end()));
        for (int i = 0; i < 5; ++i)
            desk.ask(
                &here, [&done](Logbook&) -> Expected<int> { return ++done; }, [](Expected<int>&) {});
    }
    CHECK(done == 25);
}
