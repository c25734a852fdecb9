// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/run_flow.h"
#include "fake_table.h"
#include "formats/job_export.h"
#include "session_alone.h"
#include "small_tray.h"

#include <map>
#include <QDir>
#include <QElapsedTimer>
#include <random>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;

namespace {

using Step = RunFlow::Step;

Job two_tags() {
    return small_tray(demo_draft(FINCH_SOURCE "/data").value().setup);
}

/// How often each line is marked.
std::map<std::string, int> counted(const std::vector<standin::Stage::Stroke>& strokes) {
    std::map<std::string, int> out;
    for (const auto& s : strokes)
        if (s.marks)
            ++out[std::to_string(s.line.from.x) + ' ' + std::to_string(s.line.from.y) + ' ' +
                  std::to_string(s.line.to.x) + ' ' + std::to_string(s.line.to.y)];
    return out;
}

/// Of the whole job's G-code.
std::map<std::string, int> all_lines() {
    std::vector<standin::Stage::Stroke> strokes;
    const auto stages = standin::stages_of(job_gcode(two_tags()).value()).value();
    for (const auto& stage : stages)
        strokes.insert(strokes.end(), stage.strokes.begin(), stage.strokes.end());
    return counted(strokes);
}

/// A run over a fake table, in a session whose program can be killed and started again.
struct RunBench {
    Session s;
    FakeTable table;
    std::unique_ptr<RunFlow> run;
    std::shared_ptr<const ReadyJob> job;
    std::size_t slice_bytes = 8'000'000;
    SafetyTable safety = load_safety(FINCH_SOURCE "/data").value();
    QString folder = s.folder.filePath(QStringLiteral("runs"));

    RunBench() {
        const Job tray = two_tags();
        s.workbench.change({}, {}, [&](Draft& d) {
            d.setup = tray.setup;
            d.setup.stock.coating = Coating::none;
        });
        s.workbench.confirm_focus();
        const auto own = s.workbench.own_scene();
        Placed placed{tray, {}, {}, {}, 0};
        placed.job.setup = s.workbench.draft().setup;
        job = ready_job(placed, {}, own.scene(), fitted(tray.setup.bench.scanner), {}).value();
        start_program();
    }
    void start_program() {
        run = std::make_unique<RunFlow>(s.workbench, s.recorder, table, safety,
                                        RunFlow::Places{folder, false, slice_bytes});
    }
    /// The program is gone in the middle of it; the bench stops.
    void kill() {
        run.reset();
        settle();
        start_program();
    }
    void settle() {
        for (int i = 0; i < 6; ++i)
            QTest::qWait(1);
    }
    void answer_all() {
        for (const Gate& g : run->gates()) {
            if (g.kind == GateKind::frame) {
                run->show_frame();
                for (int i = 0; run->framing() && i < 1000; ++i)
                    table.step();
            } else if (g.kind != GateKind::known)
                run->answer(g.key, g.kind == GateKind::choice     ? g.choices.front().key
                                   : g.kind == GateKind::initials ? "OD"
                                                                  : "");
        }
    }
    bool begin() {
        if (run->step() == Step::left)
            run->take_up();
        if (run->step() != Step::asking)
            return false;
        answer_all();
        run->start();
        return run->step() == Step::running;
    }
    /// To its end, whatever stands in the way.
    bool end() {
        table.swing(false);
        QElapsedTimer waited;
        waited.start();
        while (run->step() != Step::over && waited.elapsed() < patience) {
            run->lies_still();
            if (run->step() == Step::held || run->step() == Step::hands)
                run->go_on();
            else if (run->step() == Step::left || run->step() == Step::asking)
                begin();
            for (int k = 0; k < 4; ++k)
                table.step();
            QTest::qWait(1);
        }
        return run->step() == Step::over;
    }
};

} // namespace

TEST_CASE("whatever happens in a run, every line is marked, none twice, and it is recorded once", "[orders][run]") {
    const auto all = all_lines();
    int held = 0, killed = 0, failed = 0;
    for (unsigned seed = 1; seed <= 40; ++seed) {
        INFO("seed " << seed);
        std::mt19937 draw(seed);
        RunBench b;
        if (seed % 3 == 0) { // passes that are sent in pieces
            b.slice_bytes = 300;
            b.start_program();
        }
        if (seed % 5 == 0) { // parts that wait until they have cooled, by the clock
            auto in_turn = std::make_shared<ReadyJob>(*b.job);
            for (RunPortion& p : in_turn->plan)
                p.cools_s = 30;
            b.job = in_turn;
        }
        b.run->take(b.job);
        REQUIRE(b.begin());
        bool kills = false;
        for (int i = 0; i < 60; ++i) {
            switch (std::uniform_int_distribution<int>(0, 15)(draw)) {
            case 0: // in haste, twice
                b.run->hold();
                b.run->hold();
                ++held;
                break;
            case 1:
                b.run->hold_after_pass(true);
                break;
            case 2:
                b.table.fail();
                ++failed;
                break;
            case 3:
                b.table.swing(true);
                break;
            case 4:
                b.run->set_aside(1, QStringLiteral("bent"));
                break;
            case 5:
                b.run->bring_back(1);
                break;
            case 6:
                b.run->looked();
                break;
            case 7:
                b.s.workbench.undo_stack().undo();
                break;
            case 8:
                b.s.workbench.change({}, {}, [](Draft& d) { d.setup.bench.lens_index = 1 - d.setup.bench.lens_index; });
                break;
            case 9:
                if (b.run->under_way())
                    b.run->take(b.job); // refused
                break;
            case 10:
                if (seed % 4 == 0) {
                    b.kill();
                    kills = true;
                    ++killed;
                }
                break;
            case 11:
                b.table.swing(false);
                b.run->lies_still();
                b.run->go_on();
                break;
            case 12:
                b.s.time = b.s.time.addSecs(11);
                break;
            default:
                break;
            }
            for (int k = std::uniform_int_distribution<int>(0, 5)(draw); k > 0; --k) {
                b.table.step();
                if (k % 2 == 0)
                    QTest::qWait(1);
            }
        }
        // Back to what it was made for, and to its end.
        b.s.workbench.change({}, {}, [&](Draft& d) { d.setup = b.job->job.setup; });
        b.s.workbench.confirm_focus();
        b.settle();
        if (b.run->step() != Step::over)
            b.run->bring_back(1);
        REQUIRE(b.end());
        b.settle();
        const auto marked = counted(b.table.marked);
        if (b.run->stand().aside.empty()) {
            REQUIRE(marked.size() == all.size());
            for (const auto& [line, times] : all)
                if (kills) // lines that the bench did not tell of in time are marked again, never left out
                    CHECK(marked.at(line) >= times);
                else
                    CHECK(marked.at(line) == times);
        }
        std::size_t runs = 0;
        const auto entries = b.s.entries();
        for (const Entry& e : entries)
            runs += e.title == "Run of tag" ? 1 : 0;
        CHECK(runs == 1);
        CHECK(QTest::qWaitFor([&] { return QDir(b.folder).entryList(QDir::Files).isEmpty(); }, patience));
    }
    CHECK(held > 20);
    CHECK(failed > 20);
    CHECK(killed > 5);
}

TEST_CASE("what was said of a part falls when something is moved, and of the room it does not", "[orders][run]") {
    RunBench b;
    CHECK_FALSE(b.run->locked().empty()); // with nothing asked, nothing begins
    b.run->take(b.job);
    b.run->start(); // locked
    CHECK(b.run->step() == Step::asking);
    b.answer_all();
    CHECK(b.run->locked().empty());
    const auto has = [&](const char* key) {
        return std::ranges::count(b.run->answers(), std::string(key), &GateAnswer::key) == 1;
    };
    b.s.workbench.change({}, {}, [](Draft& d) { d.setup.focus.head_raised = mm(2); });
    for (const char* key : {"frame", "held", "under"})
        CHECK_FALSE(has(key));
    for (const char* key : {"eyewear", "extraction", "room"})
        CHECK(has(key));
    CHECK_FALSE(b.run->locked().empty());
    // Undone, the head is where it was; the part is asked for all the same.
    b.s.workbench.undo_stack().undo();
    CHECK_FALSE(has("frame"));
    b.s.workbench.confirm_focus();
    b.answer_all();
    CHECK(b.run->locked().empty());
    // A frame that is shown while something is moved is none.
    b.run->withdraw("frame");
    b.run->show_frame();
    b.s.workbench.change({}, {}, [](Draft& d) { d.setup.stock.held_by = "tape"; });
    for (int i = 0; i < 20; ++i)
        b.table.step();
    CHECK_FALSE(b.run->framing());
    CHECK_FALSE(has("frame"));
    b.settle();
    b.answer_all();
    CHECK(b.run->locked().empty());
    // An answer that is refused locks, and one that is taken back.
    b.run->answer("under", "burns");
    CHECK(b.run->locked().size() == 1);
    b.run->answer("under", "metal");
    b.run->withdraw("eyewear");
    CHECK(b.run->locked().size() == 1);
    b.run->answer("eyewear");
    b.table.swing(true);
    CHECK(b.run->locked().size() == 1);
    b.table.swing(false);
    b.run->start();
    CHECK(b.run->step() == Step::running);
    CHECK(b.end());
}

TEST_CASE("a pass that cannot be written down is the last one until it can", "[orders][run]") {
    RunBench b;
    b.run->take(b.job);
    REQUIRE(b.begin());
    const auto files = [&] { return QDir(b.folder).entryList({QStringLiteral("*.jsonl")}, QDir::Files); };
    REQUIRE(QTest::qWaitFor([&] { return files().size() == 1; }, patience));
    b.table.step();
    b.settle();
    const QString path = b.folder + u'/' + files().first();
    REQUIRE(QFile::rename(path, path + QStringLiteral(".away"))); // the disk is gone
    CHECK(QTest::qWaitFor(
        [&] {
            b.table.step();
            return b.run->step() == Step::held;
        },
        patience));
    b.settle();
    const auto then = b.table.marked.size();
    for (int i = 0; i < 20; ++i)
        b.table.step();
    b.settle();
    CHECK(b.table.marked.size() == then);
    REQUIRE(QFile::rename(path + QStringLiteral(".away"), path));
    REQUIRE(b.end());
    CHECK(b.run->stand().done() == b.run->record().start.portions);
}

TEST_CASE("the beam leaves a part that is set aside at the end of the line, and comes back to the next one",
          "[orders][run]") {
    const bool pieces = GENERATE(false, true);
    const bool stood = GENERATE(false, true); // set aside while the beam was off
    const bool back_at_once = GENERATE(false, true);
    RunBench b;
    if (pieces) {
        b.slice_bytes = 300;
        b.start_program();
    }
    b.run->take(b.job);
    REQUIRE(b.begin());
    REQUIRE(QTest::qWaitFor(
        [&] {
            b.table.step();
            return b.table.marked.size() == 3;
        },
        patience));
    const std::size_t first = *b.run->at_hand();
    const int place = places_of(b.job->job).at(b.job->plan.at(first).place).number;
    if (stood) {
        b.run->hold();
        b.table.step();
        REQUIRE(b.run->step() == Step::held);
    }
    b.run->set_aside(place, QStringLiteral("slipped"));
    if (back_at_once)
        b.run->bring_back(place);
    b.settle();
    if (stood)
        b.run->go_on();
    const auto other = [&] {
        const auto at = b.run->at_hand();
        return at && places_of(b.job->job).at(b.job->plan.at(*at).place).number != place;
    };
    if (!back_at_once) {
        REQUIRE(QTest::qWaitFor([&] { return b.table.step(), other(); }, patience));
        CHECK(b.table.marked.size() <= 4);
        CHECK_FALSE(b.run->stand().passed.at(first));
        CHECK(b.run->stand().line_of(static_cast<int>(first)) > 0);
        CHECK(QTest::qWaitFor([&] { return b.run->stand().under_way != static_cast<int>(first); }, patience));
        b.run->bring_back(place);
    }
    REQUIRE(b.end());
    CHECK(counted(b.table.marked) == all_lines());
}

TEST_CASE("a part in turn waits for what is left of its pause, by the clock", "[orders][run]") {
    for (const auto& [later_s, pause] : {std::pair{12, "G4 P19.000"}, {0, "G4 P30.000"}, {45, "G4 P0.000"}}) {
        RunBench b;
        auto job = std::make_shared<ReadyJob>(*b.job);
        for (RunPortion& p : job->plan)
            p.cools_s = p.pass > 0 ? 30 : 0;
        b.run->take(job);
        const std::size_t frames = b.table.programs.size();
        REQUIRE(b.begin());
        REQUIRE(QTest::qWaitFor([&] { return b.table.programs.size() > frames + 1; },
                                patience)); // the frame's, and a pass's
        b.run->hold_after_pass(true);
        REQUIRE(QTest::qWaitFor([&] { return b.table.step(), b.run->step() == Step::held; }, patience));
        REQUIRE(b.run->stand().done() == 1);
        b.s.time = b.s.time.addSecs(later_s);
        const std::size_t sent = b.table.programs.size();
        b.run->go_on();
        REQUIRE(QTest::qWaitFor([&] { return b.table.programs.size() > sent; }, patience));
        const std::string& program = b.table.programs.back();
        CHECK(program.find(pause) != std::string::npos);
        CHECK(b.end());
    }
}

TEST_CASE("an enclosure that was open asks whether all lies as it lay, whenever it was opened", "[orders][run]") {
    for (int steps = 0; steps < 40; ++steps) {
        INFO(steps);
        RunBench b;
        b.run->take(b.job);
        REQUIRE(b.begin());
        for (int i = 0; i < steps; ++i) {
            b.table.step();
            if (i % 3 != 0)
                QTest::qWait(1);
        }
        if (b.run->step() != Step::running)
            continue;
        b.table.swing(true);
        b.table.swing(false);
        REQUIRE(QTest::qWaitFor([&] { return b.run->step() != Step::running; }, patience));
        if (b.run->step() == Step::over)
            continue; // nothing was left to mark
        const auto marked = b.table.marked.size();
        b.run->go_on();
        for (int i = 0; i < 8; ++i)
            b.table.step();
        b.settle();
        CHECK(b.run->step() == Step::held);
        CHECK(b.table.marked.size() == marked);
        b.run->lies_still();
        CHECK(QTest::qWaitFor(
            [&] { return std::ranges::count(b.run->record().events, RunEvent::Kind::answered, &RunEvent::kind) == 1; },
            patience));
        REQUIRE(b.end());
        CHECK(b.run->stand().done() == b.run->record().start.portions);
    }
}

TEST_CASE("nobody who stays and looks ends in a held beam", "[orders][run]") {
    RunBench b;
    b.safety.stay_over_min = 0;
    b.start_program();
    b.run->take(b.job);
    REQUIRE(b.begin());
    REQUIRE(b.run->look_by());
    b.s.time = b.s.time.addSecs(14 * 60);
    b.run->looked(QStringLiteral("flat"));
    CHECK(*b.run->look_by() == b.s.time.addSecs(15 * 60));
    b.s.time = b.s.time.addSecs(15 * 60 + 2);
    CHECK(QTest::qWaitFor([&] { return b.run->holds_after_pass(); }, patience)); // by the clock of the flow
    CHECK(b.run->step() == Step::running);
    CHECK(QTest::qWaitFor(
        [&] {
            b.table.step();
            return b.run->step() == Step::held;
        },
        patience));
    CHECK(b.run->why() == QStringLiteral("Nobody looked in time."));
    CHECK(b.end());
}
