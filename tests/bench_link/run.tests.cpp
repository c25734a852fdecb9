// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench_link/local_bench.h"
#include "demo_bench.h"
#include "formats/job_export.h"
#include "patience.h"
#include "piece/tray.h"
#include "standin/controller.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <csignal>
#include <map>
#include <QElapsedTimer>
#include <QtTest/QTest>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

/// What a bench said of its runs.
struct Heard {
    std::map<RequestId, std::vector<std::string>> answers;
    RanJob found;
    Error error;
    double share = 0;
    explicit Heard(JobRunner& runner) {
        QObject::connect(&runner, &JobRunner::progressed, &context_,
                         [this](RequestId, double s, const QString&) { share = s; });
        QObject::connect(&runner, &JobRunner::waits, &context_,
                         [this](RequestId id, const QString&) { answers[id].emplace_back("waits"); });
        QObject::connect(&runner, &JobRunner::ran, &context_, [this](RequestId id, const RanJob& what) {
            answers[id].emplace_back("ran");
            found = what;
        });
        QObject::connect(&runner, &JobRunner::cancelled, &context_,
                         [this](RequestId id) { answers[id].emplace_back("cancelled"); });
        QObject::connect(&runner, &JobRunner::failed, &context_, [this](RequestId id, const Error& e) {
            answers[id].emplace_back("failed");
            error = e;
        });
    }
    bool answered(RequestId id, std::size_t times = 1) {
        return QTest::qWaitFor([&] { return answers[id].size() >= times; }, patience);
    }

private:
    QObject context_;
};

/// A mark that is not the same whichever way it lies, on a part of this size.
Job part(double width, double height, double foot) {
    Job job;
    job.name = "tag";
    job.setup = DemoBench().setup;
    job.width_mm = width;
    job.height_mm = height;
    Recipe recipe = DemoBench::blue();
    recipe.setting.hatch_pitch = mm(0.2);
    recipe.setting.passes = 2;
    job.layers.push_back({"mark", "#000000", false, recipe,
                          Region{{{{1, 1}, {1 + foot, 1}, {1 + foot, 2}, {2, 2}, {2, height - 1}, {1, height - 1}}}}});
    job.layers.back().contours = 2; // lines that go on into each other
    return job;
}

/// Where the jig was drawn to hold them, whatever was measured later.
std::vector<LaidPart> laid(Tray tray, const Job& one) {
    tray.offsets.clear();
    std::vector<LaidPart> out;
    for (const JobPlace& p : places_of(in_tray(one, tray).value()))
        out.push_back({p.number, {p.by.x, p.by.y, one.width_mm, one.height_mm}});
    return out;
}

double hatched_mm(const Job& one) {
    const LayerWork work = layer_work(one, one.layers[0]).value();
    return work.load.passes * marked_mm(work.load);
}

} // namespace

TEST_CASE("two jobs in trays of 24 end with every part marked in its nest, the second where the first was measured",
          "[bench_link][run]") {
    LocalBench bench({QStringLiteral(FINCH_STANDIN), 7, 100000});
    Heard heard(bench.runner());
    Tray tray;
    tray.columns = 4, tray.rows = 6, tray.pitch_x_mm = 20, tray.pitch_y_mm = 16;
    const auto run = [&](const Job& one) {
        const Job job = in_tray(one, tray).value();
        REQUIRE(places_of(job).size() == 24);
        const RequestId id = bench.runner().run(job_gcode(job).value(), laid(tray, one));
        REQUIRE(heard.answered(id));
        INFO(heard.error.message);
        REQUIRE(heard.answers[id] == std::vector<std::string>{"ran"});
        CHECK(heard.found.beside_mm < 1e-6);
        REQUIRE(heard.found.parts.size() == 24);
        for (const MarkedPart& p : heard.found.parts) {
            INFO("nest " << p.nest);
            CHECK(p.marked_mm == Approx(hatched_mm(one)).epsilon(1e-6));
            CHECK(p.box.has_value());
        }
        return heard.found;
    };
    const Job first = part(14, 10, 9), second = part(12, 11, 6);
    const RanJob found = run(first);
    CHECK(found.time_s > 24 * hatched_mm(first) / 990);
    // Where the marks should begin on a part: as on one that lies alone and where it was said.
    const Hatch alone = pass_hatch(first.layers[0], 0).value();
    double left = 1e300, low = 1e300;
    for (const HatchRun& r : alone.runs) {
        left = std::min({left, r.from.x, r.to.x});
        low = std::min({low, r.from.y, r.to.y});
    }
    // A loupe on each part: the jig is not as it was drawn, and one pocket is worn.
    double farthest = 0;
    int off = 0;
    for (const MarkedPart& p : found.parts) {
        const PointMm lies{left - p.box->x, low - p.box->y};
        tray.offsets.emplace_back(p.nest, lies);
        farthest = std::max(farthest, std::hypot(lies.x, lies.y));
        off += std::hypot(lies.x, lies.y) > 0.1 ? 1 : 0;
    }
    CHECK(off == 1);
    CHECK(farthest > 0.2);
    CHECK(farthest < 0.6);
    const RanJob again = run(second);
    const Hatch there = pass_hatch(second.layers[0], 0).value();
    left = low = 1e300;
    for (const HatchRun& r : there.runs) {
        left = std::min({left, r.from.x, r.to.x});
        low = std::min({low, r.from.y, r.to.y});
    }
    for (const MarkedPart& p : again.parts) {
        CHECK(p.box->x == Approx(left).margin(2e-6));
        CHECK(p.box->y == Approx(low).margin(2e-6));
    }
    // A part that was never laid is told as what it is: marks beside it.
    const Job job = in_tray(second, tray).value();
    auto parts = laid(tray, second);
    parts.pop_back();
    const RequestId id = bench.runner().run(job_gcode(job).value(), parts);
    REQUIRE(heard.answered(id));
    CHECK(heard.found.beside_mm == Approx(hatched_mm(second)).epsilon(1e-3));
}

TEST_CASE("a run waits for hands, can be ended at any moment, and is answered once", "[bench_link][run]") {
    LocalBench bench({QStringLiteral(FINCH_STANDIN), 7, 100000, 15000, 700, 1500});
    Heard heard(bench.runner());
    JobRunner& runner = bench.runner();
    const std::string head = "G21\nG90\nM5\n", stroke = "G0 X1 Y1\nM3 S500\nG1 X9 Y1 F60000\nM5\n";
    const std::vector<LaidPart> parts{{1, {0, 0, 10, 10}}};
    const auto once = [&](RequestId id, std::vector<std::string> said) {
        REQUIRE(heard.answered(id, said.size()));
        QTest::qWait(60);
        CHECK(heard.answers[id] == said);
    };
    // Three tiles, moved by hand; nobody is hurried, and the bench's silence is none.
    const std::string tiles =
        head + "; tile 1\n" + stroke + "; tile 2\nM0\n" + stroke + "; tile 3\nM0\n" + stroke + "M2\n";
    const RequestId first = runner.run(tiles, parts);
    runner.go_on(first); // of what does not wait yet
    REQUIRE(heard.answered(first));
    QTest::qWait(900); // longer than a silent bench is borne
    CHECK(heard.answers[first] == std::vector<std::string>{"waits"});
    runner.go_on(first);
    runner.go_on(first);
    REQUIRE(heard.answered(first, 2));
    runner.go_on(first);
    once(first, {"waits", "waits", "ran"});
    CHECK(heard.found.parts[0].marked_mm == Approx(24));
    // Ended before it was sent, while it waits, and after its end.
    const RequestId never = runner.run(tiles, parts);
    runner.cancel(never);
    once(never, {"cancelled"});
    const RequestId waiting = runner.run(tiles, parts);
    REQUIRE(heard.answered(waiting));
    runner.cancel(waiting);
    runner.go_on(waiting);
    once(waiting, {"waits", "cancelled"});
    runner.cancel(waiting);
    once(waiting, {"waits", "cancelled"});
    // One at a time; a burn is refused while it runs.
    const RequestId running = runner.run(tiles, parts), second = runner.run(tiles, parts);
    once(second, {"failed"});
    CHECK(heard.error.code == "bench.busy");
    REQUIRE(heard.answered(running));
    runner.cancel(running);
    once(running, {"waits", "cancelled"});
    // A program that it does not understand does nothing.
    for (const auto& [program, line] : {std::pair<std::string, int>{head + "G0 X1 Y1\nM3 S500\nG2 X9 Y1 F60\n", 6},
                                        {"G90\nG0 X1\n", 2},
                                        {head + "G0 X1e9\n", 4},
                                        {head + "M3 S500\nG0 X1 Y2\n", 5},
                                        {head + "G1 X5 Y5\n", 4},
                                        {head + "M3 S4000\n", 4},
                                        {head + "M3 S10\nM0\n", 5},
                                        {head + "hello\n", 4}}) {
        INFO(program);
        const auto stages = standin::stages_of(program);
        REQUIRE_FALSE(stages);
        CHECK(stages.error().place.line == line);
        once(runner.run(program, parts), {"failed"});
        CHECK(heard.error.code == "standin.gcode");
    }
    // The bench is gone in the middle of it.
    const RequestId lost = runner.run(tiles, parts);
    REQUIRE(heard.answered(lost));
    bench.kill();
    once(lost, {"waits", "failed"});
    once(runner.run(head + stroke, parts), {"ran"});
}

TEST_CASE("who asks while the bench comes up does not start it anew", "[bench_link][run]") {
    LocalBench bench({QStringLiteral(FINCH_STANDIN), 7, 100000});
    Heard heard(bench.runner());
    const RequestId id = bench.runner().run("G21\nG90\nM5\nG0 X1 Y1\nM3 S500\nG1 X9 Y1 F60000\nM5\n", {});
    const qint64 begun = bench.process_id();
    QElapsedTimer patience;
    patience.start();
    while (heard.answers[id].empty() && patience.elapsed() < 20000) {
        bench.wake();
        QTest::qWait(0);
    }
    CHECK(heard.answers[id] == std::vector<std::string>{"ran"});
    CHECK(bench.process_id() == begun);
}

TEST_CASE("no program ends the controller", "[bench_link][run]") {
    std::mt19937 draw(5);
    const std::string whole = job_gcode(in_tray(part(14, 10, 9), {2, 1, 20, 20, 5, {}}).value()).value();
    const auto number = [&](std::size_t below) {
        return std::uniform_int_distribution<std::size_t>(0, below - 1)(draw);
    };
    const std::string some = "GMXYZAFPS0123456789.-+e; \n\r\t\xff";
    int understood = 0;
    for (int i = 0; i < 3000; ++i) {
        std::string text = whole.substr(0, number(1500));
        for (std::size_t k = number(4); k-- > 0 && !text.empty();)
            text[number(text.size())] = some[number(some.size())];
        const auto stages = standin::stages_of(text);
        if (!stages) {
            CHECK(stages.error().place.line > 0);
            continue;
        }
        ++understood;
        for (const standin::Stage& s : *stages)
            for (const auto& stroke : s.strokes) {
                CHECK(std::isfinite(stroke.line.to.x));
                CHECK(stroke.speed_mm_s > 0);
            }
    }
    CHECK(understood > 300);
}
