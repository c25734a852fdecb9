// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What the operator chose: kept on the disk, undone in steps, and never silently about something else.
#include "app/session/autosave.h"
#include "app/session/demo.h"
#include "demo_bench.h"
#include "patience.h"

#include <catch2/catch.hpp>
#include <QDir>
#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QThread>
#include <QtTest/QTest>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;

namespace {

struct Desk {
    QTemporaryDir folder;
    QDateTime time{QDate(2026, 11, 24), QTime(9, 12)};
    Workbench workbench{load_materials(FINCH_SOURCE "/data").value(), demo_draft(FINCH_SOURCE "/data").value(),
                        [this] { return time; }};
    [[nodiscard]] double power() const { return knob_value(workbench.draft().recipe, Knob::power); }
};

} // namespace

TEST_CASE("a draft that cannot be written is said once, tried again, and never called kept", "[draft]") {
    Desk d;
    const QString path = d.folder.filePath(QStringLiteral("full/draft.json"));
    Autosave autosave(d.workbench, path);
    QSignalSpy said(&d.workbench, &Workbench::said), saved(&autosave, &Autosave::saved);
    for (const double power : {14.0, 15.0, 16.0}) {
        d.workbench.set_knob(Knob::power, power);
        REQUIRE(QTest::qWaitFor([&] { return autosave.pending() && said.count() == 1; }, patience));
    }
    CHECK_FALSE(autosave.flush());
    CHECK(autosave.pending());
    CHECK(saved.count() == 0);
    CHECK(said.count() == 1);
    // There is room again: it is written without another change.
    REQUIRE(QDir(d.folder.path()).mkdir(QStringLiteral("full")));
    REQUIRE(QTest::qWaitFor([&] { return saved.count() == 1; }, patience));
    CHECK(autosave.flush());
    CHECK(recover_draft(path).value() == d.workbench.draft());
}

TEST_CASE("what was changed last is on the disk when the window goes, and a full disk does not hold it", "[draft]") {
    Desk d;
    for (const char* where : {"draft.json", "full/draft.json"}) {
        const QString path = d.folder.filePath(QLatin1String(where));
        {
            Autosave autosave(d.workbench, path);
            for (const double power : {14.0, 15.0, 16.0}) {
                d.workbench.set_knob(Knob::power, power);
                QTest::qWait(power < 16 ? 40 : 0); // the last one within the pause after a write
            }
        }
        const auto found = recover_draft(path);
        REQUIRE(found.has_value() == (QLatin1String(where) == QLatin1String("draft.json")));
        if (found)
            CHECK(*found == d.workbench.draft());
    }
}

TEST_CASE("a draft reaches the disk while the interface is busy, and the last one is the one that is there",
          "[draft]") {
    Desk d;
    const QString path = d.folder.filePath(QStringLiteral("draft.json"));
    Autosave autosave(d.workbench, path);
    for (const double power : {14.0, 15.0, 16.0})
        d.workbench.set_knob(Knob::power, power);
    // No event is handled from here on: nothing of this thread helps.
    QElapsedTimer waited;
    waited.start();
    while (autosave.pending() && waited.elapsed() < patience)
        QThread::msleep(5);
    CHECK(recover_draft(path).value() == d.workbench.draft());
}

TEST_CASE("steps of one knob are undone as one, unless time stood still or ran backwards", "[draft]") {
    Desk d;
    const double first = d.power();
    const auto turn = [&](double power, int seconds_later) {
        d.time = d.time.addSecs(seconds_later);
        d.workbench.set_knob(Knob::power, power);
    };
    turn(14, 0);
    turn(15, 1);
    turn(16, 1);
    d.workbench.undo_stack().undo();
    CHECK(d.power() == first);
    turn(14, 0);
    turn(15, 10);    // a pause: another step
    turn(16, -7200); // the clock was set back: no reason to think that it belonged to the last
    d.workbench.undo_stack().undo();
    CHECK(d.power() == 15);
    d.workbench.undo_stack().undo();
    CHECK(d.power() == 14);
}

TEST_CASE("a metal whose file is gone is named and told, and never taken for another", "[draft]") {
    Desk d;
    REQUIRE(d.workbench.prediction());
    d.workbench.change({}, {}, [](Draft& draft) { draft.setup.stock.metal = "unobtainium"; });
    CHECK(d.workbench.scene().metal.name == "unobtainium");
    CHECK_FALSE((d.workbench.prediction() && d.workbench.prediction()->heat_modelled));
    const auto& findings = d.workbench.findings();
    const auto told = std::find_if(findings.begin(), findings.end(),
                                   [](const Finding& f) { return f.code == "stock.unknown_metal"; });
    REQUIRE(told != findings.end());
    CHECK(told->message.find("unobtainium") != std::string::npos);
    CHECK_FALSE(told->remedy.empty());
    d.workbench.undo_stack().undo();
    CHECK(d.workbench.prediction());
}

TEST_CASE("an own workshop begins with a recipe that its bench can run, and with nothing of the demo's", "[draft]") {
    const Draft blank = blank_draft(FINCH_SOURCE "/data").value(), demo = demo_draft(FINCH_SOURCE "/data").value();
    const Workbench bench(load_materials(FINCH_SOURCE "/data").value(), blank, [] { return QDateTime(); });
    CHECK(bench.prediction());
    for (const Finding& f : bench.findings()) {
        INFO(f.message);
        CHECK(f.severity != Severity::blocking);
    }
    CHECK(blank.aim.wishes.empty());
    CHECK(blank.operator_initials.empty());
    CHECK_FALSE(blank.setup.stock.lot == demo.setup.stock.lot);
}
