// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/picture_file.h"
#include "record/logbook.h"
#include "record/outbox.h"
#include "session_alone.h"

#include <catch2/catch.hpp>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest/QTest>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;

namespace {

/// Things that an operator may do at any moment.
struct Deed {
    const char* name;
    void (*run)(Session&);
};
const std::vector<Deed>& deeds() {
    static const std::vector<Deed> all{
        {"undo", [](Session& s) { s.workbench.undo_stack().undo(); }},
        {"redo", [](Session& s) { s.workbench.undo_stack().redo(); }},
        {"undo everything",
         [](Session& s) {
             while (s.workbench.undo_stack().canUndo())
                 s.workbench.undo_stack().undo();
         }},
        {"plan another", [](Session& s) { s.flow.plan(false); }},
        {"show another", [](Session& s) { s.flow.show_sheet(2); }},
        {"photograph", [](Session& s) { s.flow.photograph(); }},
        {"read a file", [](Session& s) { s.flow.read_file(QStringLiteral("/no/such/photo.png")); }},
        {"drop a picture", [](Session& s) { s.flow.read_picture("no picture", QStringLiteral("x")); }},
        {"burn again", [](Session& s) { s.flow.burn(); }},
        {"another lot",
         [](Session& s) { s.workbench.change({}, {}, [](Draft& d) { d.setup.stock.lot = "another"; }); }},
        {"another lens",
         [](Session& s) {
             s.workbench.change({}, {}, [](Draft& d) { d.setup.bench.lens_index = 1 - d.setup.bench.lens_index; });
         }},
        {"tick a cell", [](Session& s) { s.flow.tick_spoiled(0, true); }},
        {"save the recipe", [](Session& s) { s.flow.save_recipe(QStringLiteral("meanwhile")); }},
    };
    return all;
}

} // namespace

TEST_CASE("whatever is done while a sheet burns, it is recorded once, as it was", "[orders]") {
    for (const Deed& first : deeds())
        for (const Deed& second : deeds()) {
            INFO(first.name << ", then " << second.name);
            Session s;
            s.flow.plan(false);
            const int number = s.workbench.draft().shown_sheet;
            const Setup then = s.workbench.draft().setup;
            s.flow.burn();
            REQUIRE(s.laser.running());
            first.run(s);
            s.laser.progress(0.5);
            second.run(s);
            CHECK(s.flow.step() == ProofFlow::Step::burning);
            s.laser.finish();
            s.camera.fail();
            REQUIRE(s.idle());
            const auto entries = s.entries();
            int sheets = 0;
            for (const Entry& e : entries)
                if (e.kind == EntryKind::sheet) {
                    ++sheets;
                    const BurnedSheet burned = burned_sheet(e).value();
                    CHECK(burned.sheet.number == number);
                    CHECK(burned.setup == then);
                }
            CHECK(sheets == 1);
            // It stays burned, through undo and redo, and its number is never given again.
            for (int i = 0; i < 3 && s.workbench.undo_stack().canUndo(); ++i)
                s.workbench.undo_stack().undo();
            REQUIRE(s.workbench.round(number) != nullptr);
            CHECK(s.workbench.round(number)->burned);
            while (s.workbench.undo_stack().canRedo())
                s.workbench.undo_stack().redo();
            CHECK(s.workbench.round(number)->burned);
            CHECK(s.workbench.next_sheet() > number);
        }
}

TEST_CASE("a burn that fails, or is stopped at any moment, leaves the sheet to be burned again", "[orders]") {
    for (const Deed& deed : deeds())
        for (const bool fails : {true, false}) {
            INFO(deed.name << (fails ? ", fails" : ", cancelled"));
            Session s;
            s.flow.plan(false);
            const int number = s.workbench.draft().shown_sheet;
            s.flow.burn();
            deed.run(s);
            if (fails)
                s.laser.fail();
            else
                s.flow.cancel();
            REQUIRE(s.idle());
            CHECK(s.count(EntryKind::sheet) == 0);
            const Round* r = s.workbench.round(number);
            CHECK((r == nullptr || !r->burned));
            CHECK(s.workbench.next_sheet() > number);
        }
}

TEST_CASE("a reading belongs to its sheet, whatever was done while it was read", "[orders]") {
    Session model;
    model.flow.plan(false);
    const QByteArray photo = Session::photo_of(model.workbench.round()->sheet);
    for (const Deed& deed : deeds()) {
        INFO(deed.name);
        Session s;
        s.flow.plan(false);
        const Setup then = s.workbench.draft().setup;
        s.flow.burn();
        s.laser.finish();
        REQUIRE(s.camera.waiting());
        s.camera.answer(photo);
        deed.run(s);
        REQUIRE(s.idle());
        int readings = 0;
        for (const Entry& e : s.entries())
            if (e.kind == EntryKind::reading) {
                ++readings;
                const ReadSheet read = read_sheet(e).value();
                CHECK(read.sheet.number == 1);
                CHECK(read.reading.sheet_number == 1);
                CHECK(read.setup == then);
                CHECK_FALSE(e.parent_uid.empty());
            }
        CHECK(readings == 1);
        REQUIRE(s.workbench.round(1) != nullptr);
        CHECK(s.workbench.round(1)->reading.has_value());
        // What was learned is known of the stock that was burned, and of no other.
        CHECK(s.workbench.ledger().evidence(evidence_key(then)).sheets == 1);
        if (evidence_key(s.workbench.draft().setup) != evidence_key(then))
            CHECK(s.workbench.evidence() == Evidence{});
        while (s.workbench.undo_stack().canUndo())
            s.workbench.undo_stack().undo();
        CHECK(s.workbench.round(1)->reading.has_value());
        CHECK(s.workbench.ledger().evidence(evidence_key(then)).sheets == 1);
    }
}

TEST_CASE("a photograph that is read days later, after the lens was changed, teaches the lens it was burned with",
          "[orders]") {
    Session s;
    s.flow.plan(false);
    const Setup then = s.workbench.draft().setup;
    s.flow.burn();
    s.laser.finish();
    s.camera.fail();
    REQUIRE(s.idle());
    s.workbench.change({}, {}, [](Draft& d) { d.setup.bench.lens_index = 1 - d.setup.bench.lens_index; });
    s.time = s.time.addDays(3);
    const QString path = s.folder.filePath(QStringLiteral("later.png"));
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(Session::photo_of(s.workbench.round()->sheet));
    file.close();
    s.flow.read_file(path);
    REQUIRE(s.idle());
    CHECK(s.workbench.ledger().evidence(evidence_key(then)).sheets == 1);
    CHECK(s.workbench.evidence() == Evidence{});
    // Read again, it teaches nothing new; another reading does not lose the first lesson either.
    const Evidence once = s.workbench.ledger().evidence(evidence_key(then));
    s.flow.read_file(path);
    REQUIRE(s.idle());
    CHECK(s.workbench.ledger().evidence(evidence_key(then)) == once);
    CHECK(s.count(EntryKind::reading) == 2);
}

TEST_CASE("a sheet that taught nothing says so", "[orders]") {
    Session s;
    s.workbench.set_knob(Knob::power, 2);
    s.flow.plan(false);
    s.flow.burn();
    s.laser.finish();
    REQUIRE(s.camera.waiting());
    s.camera.answer(Session::photo_of(s.workbench.round()->sheet));
    REQUIRE(s.idle());
    REQUIRE(s.workbench.round()->reading.has_value());
    CHECK(s.workbench.evidence() == Evidence{});
    CHECK(s.said.back().first.contains(QStringLiteral("nothing was learned")));
}

TEST_CASE("nothing is burned that was not planned for what lies on the bench", "[orders]") {
    struct Row {
        const char* what;
        std::function<void(Session&)> change;
        const char* said;
    };
    const std::vector<Row> rows{
        {"another lens",
         [](Session& s) {
             s.workbench.change({}, {}, [](Draft& d) { d.setup.bench.lens_index = 1 - d.setup.bench.lens_index; });
         },
         "another bench, lens or stock"},
        {"another lot", [](Session& s) { s.workbench.change({}, {}, [](Draft& d) { d.setup.stock.lot = "x"; }); },
         "another bench, lens or stock"},
        {"thinner stock",
         [](Session& s) { s.workbench.change({}, {}, [](Draft& d) { d.setup.stock.thickness = mm(0.3); }); },
         "another bench, lens or stock"},
        {"an offset", [](Session& s) { s.workbench.change({}, {}, [](Draft& d) { d.setup.focus.offset = mm(1); }); },
         "Confirm the focus"},
        {"a cell that is blocked",
         [](Session& s) {
             s.workbench.change({}, {}, [](Draft& d) { d.planned.back().sheet.down.values.back() = 500; });
             s.workbench.change({}, {}, [](Draft& d) { d.planned.back().sheet.down.knob = Knob::pulse_width; });
         },
         "Cell "},
        {"fuel under it",
         [](Session& s) {
             s.workbench.change({}, {}, [](Draft& d) {
                 d.setup.stock.under_it = "plywood";
                 d.planned.back().setup.stock.under_it = "plywood";
             });
         },
         "plywood"},
    };
    for (const Row& row : rows) {
        INFO(row.what);
        Session s;
        s.flow.plan(false);
        row.change(s);
        s.said.clear();
        s.flow.burn();
        CHECK_FALSE(s.laser.running());
        REQUIRE_FALSE(s.said.empty());
        CHECK(s.said.back().first.contains(QString::fromLatin1(row.said), Qt::CaseInsensitive));
        CHECK(s.said.back().second != State::ok);
    }
}

TEST_CASE("a recipe is saved once, however often it is asked for, and only what was kept is called saved", "[orders]") {
    Session s;
    for (int i = 0; i < 3; ++i)
        s.flow.save_recipe(QStringLiteral("noon line"));
    REQUIRE(QTest::qWaitFor([&] { return s.workbench.draft().saved.has_value(); }, patience));
    CHECK(s.count(EntryKind::recipe) == 1);
    CHECK(s.workbench.draft().saved->name == "noon line");
    // A disk that takes nothing: it is said, the recipe is not called saved, and later it is written after all.
    const QString outbox = s.folder.filePath(QStringLiteral("outbox"));
    REQUIRE(QDir(outbox).removeRecursively());
    {
        QFile blocks(outbox);
        REQUIRE(blocks.open(QIODevice::WriteOnly));
    }
    s.workbench.set_knob(Knob::power, 14);
    s.said.clear();
    s.flow.save_recipe(QStringLiteral("second"));
    REQUIRE(QTest::qWaitFor([&] { return !s.said.empty(); }, patience));
    CHECK(s.said.back().second == State::fail);
    CHECK(s.workbench.draft().saved->name == "noon line");
    CHECK(s.recorder.at_risk() == 1);
    QFile::remove(outbox);
    CHECK(QTest::qWaitFor([&] { return s.recorder.at_risk() + s.recorder.waiting() == 0; }, patience));
    CHECK(s.count(EntryKind::recipe) == 2);
}

TEST_CASE("facts survive the end of the program before the logbook could be written", "[orders]") {
    QTemporaryDir folder;
    const QString logbook = folder.filePath(QStringLiteral("logbook.sqlite"));
    const QString outbox = folder.filePath(QStringLiteral("outbox"));
    Entry e;
    e.when_utc = "2026-11-24T09:12:00Z";
    e.title = "kept";
    e.uid = "u-1";
    e.setup = e.body = nlohmann::json::object();
    QDir().mkpath(logbook); // no logbook can be made where a folder is
    {
        Recorder recorder({logbook, outbox, false, 50});
        bool kept = false;
        recorder.record(e, {}, [&](const Expected<void>& done) { kept = done.has_value(); });
        REQUIRE(QTest::qWaitFor([&] { return kept; }, patience));
        CHECK(recorder.at_risk() == 0);
        CHECK(recorder.waiting() == 1);
    }
    QDir().rmdir(logbook);
    Recorder again({logbook, outbox, false, 50});
    QSignalSpy written(&again, &Recorder::written);
    CHECK(QTest::qWaitFor([&] { return again.waiting() == 0 && written.count() == 1; }, patience));
    CHECK(Logbook::open(logbook).value()->list().value().front().uid == "u-1");
}

TEST_CASE("what was asked for in the last moment is kept: the end waits for it", "[orders]") {
    QTemporaryDir folder;
    const QString logbook = folder.filePath(QStringLiteral("logbook.sqlite"));
    const QString outbox = folder.filePath(QStringLiteral("outbox"));
    Entry e;
    e.when_utc = "2026-11-24T09:12:00Z";
    e.setup = e.body = nlohmann::json::object();
    constexpr int times = 40;
    for (int i = 0; i < times; ++i) {
        Recorder recorder({logbook, outbox, false, 50});
        e.uid = "u-" + std::to_string(i);
        e.title = e.uid;
        recorder.record(e, {}, {});
    }
    CHECK(Outbox(outbox).waiting().size() + Logbook::open(logbook).value()->list().value().size() == times);
}

TEST_CASE("cells that are designed are planned for what lies there then, whatever is done meanwhile", "[orders]") {
    const auto designed = [](Session& s) { return QTest::qWaitFor([&] { return !s.flow.designing(); }, patience); };
    SECTION("another lot or lens: nothing is planned, and it is said") {
        for (const char* name : {"another lot", "another lens"}) {
            Session s;
            s.flow.design();
            std::ranges::find(deeds(), std::string_view(name), [](const Deed& d) {
                return std::string_view(d.name);
            })->run(s);
            REQUIRE(designed(s));
            CHECK(s.workbench.rounds().empty());
            CHECK(s.said.back().first.contains(QStringLiteral("Design them again")));
        }
    }
    SECTION("cancelled: nothing is planned") {
        Session s;
        s.flow.design();
        s.flow.cancel();
        CHECK_FALSE(s.flow.designing());
        QTest::qWait(300);
        CHECK(s.workbench.rounds().empty());
    }
    SECTION(
        "asked for twice, or with another sheet planned meanwhile: one sheet of free cells with a number of its own") {
        Session s;
        s.flow.design();
        s.flow.design();
        s.flow.plan(false);
        REQUIRE(designed(s));
        REQUIRE(s.workbench.rounds().size() == 2);
        CHECK_FALSE(s.workbench.rounds()[0].sheet.free());
        CHECK(s.workbench.rounds()[1].sheet.free());
        CHECK(s.workbench.rounds()[0].sheet.number != s.workbench.rounds()[1].sheet.number);
    }
    SECTION("the end of the program does not wait for it, and what is undone comes back") {
        {
            Session s;
            s.flow.design();
        }
        Session s;
        s.flow.design();
        REQUIRE(designed(s));
        REQUIRE(s.workbench.rounds().size() == 1);
        const ProofSheet planned = s.workbench.round()->sheet;
        s.workbench.undo_stack().undo();
        CHECK(s.workbench.rounds().empty());
        s.workbench.undo_stack().redo();
        CHECK(s.workbench.round()->sheet == planned);
    }
}
