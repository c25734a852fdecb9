// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/bench_json.h"
#include "bench_link/local_bench.h"
#include "bench_link/protocol.h"
#include "demo_plate.h"
#include "fake_bench.h"
#include "patience.h"
#include "standin/server.h"

#include <catch2/catch.hpp>
#include <csignal>
#include <nlohmann/json.hpp>
#include <QLocalSocket>
#include <QTemporaryDir>
#include <QtTest/QTest>

using namespace finch;
using namespace finch::tests;

namespace {

/// What a bench answered, request by request.
struct Heard {
    std::map<RequestId, std::vector<std::string>> answers;
    double last_share = 0;
    Error last_error;

    Heard(BenchLink& link, Camera& camera, Gauge* gauge = nullptr) {
        QObject::connect(&link, &BenchLink::progressed, &context_,
                         [this](RequestId, double share, const QString&) { last_share = share; });
        QObject::connect(&link, &BenchLink::burned, &context_,
                         [this](RequestId id, double) { answers[id].emplace_back("burned"); });
        QObject::connect(&link, &BenchLink::cancelled, &context_,
                         [this](RequestId id) { answers[id].emplace_back("cancelled"); });
        QObject::connect(&link, &BenchLink::failed, &context_, [this](RequestId id, const Error& e, bool lost) {
            answers[id].emplace_back(lost ? "lost" : "failed");
            last_error = e;
        });
        QObject::connect(&camera, &Camera::photographed, &shots_,
                         [this](RequestId id, const QByteArray&) { photos[id].emplace_back("photo"); });
        QObject::connect(&camera, &Camera::photographed_print, &shots_,
                         [this](RequestId id, const QByteArray&, const LabByName& m) {
                             photos[id].emplace_back("print");
                             measured = m;
                         });
        QObject::connect(&camera, &Camera::failed, &shots_, [this](RequestId id, const Error& e) {
            photos[id].emplace_back("failed");
            last_error = e;
        });
        if (gauge == nullptr)
            return;
        QObject::connect(gauge, &Gauge::measured, &shots_, [this](RequestId id, const std::vector<GaugeDepth>& d) {
            probes[id].emplace_back("measured");
            depths = d;
        });
        QObject::connect(gauge, &Gauge::failed, &shots_, [this](RequestId id, const Error& e) {
            probes[id].emplace_back("failed");
            last_error = e;
        });
    }
    std::map<RequestId, std::vector<std::string>> probes;
    std::vector<GaugeDepth> depths;
    LabByName measured;
    bool touched(RequestId id) {
        return QTest::qWaitFor([&] { return !probes[id].empty(); }, patience);
    }
    void listen(Mirrors& mirrors) {
        QObject::connect(&mirrors, &Mirrors::driven, &shots_, [this](RequestId id, double s) {
            probes[id].emplace_back("driven");
            driven_s = s;
        });
        QObject::connect(&mirrors, &Mirrors::failed, &shots_, [this](RequestId id, const Error& e) {
            probes[id].emplace_back("failed");
            last_error = e;
        });
    }
    double driven_s = 0;
    std::map<RequestId, std::vector<std::string>> photos;
    bool answered(RequestId id) {
        return QTest::qWaitFor([&] { return !answers[id].empty(); }, patience);
    }
    bool shown(RequestId id) {
        return QTest::qWaitFor([&] { return !photos[id].empty(); }, patience);
    }

private:
    QObject context_, shots_;
};

struct Job {
    DemoBench demo;
    ProofSheet sheet = demo.sheet();
    SheetLayout at = layout(sheet);
    std::vector<ToolStep> steps = tool_steps(sheet, at, fiducial_modules(at));
};

/// The contract of bench_link.h, on any bench. `end` lets the burn that is under way end by itself.
void keeps_the_contract(BenchLink& link, Camera& camera, Gauge& gauge, const std::function<void()>& end,
                        const std::function<void()>& develop, const std::function<void()>& fail) {
    const Job job;
    Heard heard(link, camera, &gauge);
    const auto once = [&](RequestId id, const char* answer) {
        REQUIRE(heard.answered(id));
        QTest::qWait(30);
        CHECK(heard.answers[id] == std::vector<std::string>{answer});
    };
    // A cancel in the same breath as the request: nothing is burned.
    const RequestId first = link.burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    CHECK(heard.answers.empty()); // answers never come from within a request
    link.cancel(first);
    once(first, "cancelled");
    // A burn to its end.
    const RequestId second = link.burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    CHECK(second != first);
    end();
    once(second, "burned");
    // A cancel after the end, and of something never asked for, is answered by nothing.
    link.cancel(second);
    link.cancel(4711);
    QTest::qWait(30);
    CHECK(heard.answers[second].size() == 1);
    CHECK_FALSE(heard.answers.contains(4711));
    // Two at a time: the second is refused, the first goes on.
    const RequestId third = link.burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    const RequestId fourth = link.burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    once(fourth, "failed");
    end();
    once(third, "burned");
    // A photograph, one that is given up, and one too many.
    const RequestId shot = camera.photograph(job.at.white_card, 0);
    const RequestId crowd = camera.photograph(job.at.white_card, 0);
    REQUIRE(heard.shown(crowd));
    CHECK(heard.photos[crowd] == std::vector<std::string>{"failed"});
    develop();
    REQUIRE(heard.shown(shot));
    CHECK(heard.photos[shot] == std::vector<std::string>{"photo"});
    const RequestId given_up = camera.photograph(job.at.white_card, 0);
    camera.cancel(given_up);
    develop();
    QTest::qWait(50);
    CHECK_FALSE(heard.photos.contains(given_up));
    // A print is another photograph, and its patches are measured by their names.
    const ColourPrint print{20, 10, {{"A1", {40, 30, 20}, {{2, 2, 5, 5}}}, {"", {18, 0, 0}, {{10, 2, 5, 5}}}}};
    const RequestId printed = camera.photograph_print(print);
    develop();
    REQUIRE(heard.shown(printed));
    CHECK(heard.photos[printed] == std::vector<std::string>{"print"});
    REQUIRE(heard.measured.contains("A1"));
    CHECK(std::abs(heard.measured["A1"][0] - 40) < 12);
    ColourPrint huge = print, none = print;
    huge.width_mm = 900;
    none.patches.clear();
    for (const ColourPrint& hopeless : {huge, none}) {
        const RequestId refused = camera.photograph_print(hopeless);
        fail();
        REQUIRE(heard.shown(refused));
        CHECK(heard.photos[refused] == std::vector<std::string>{"failed"});
    }
    // The gauge: one depth for each place, one request at a time, and nothing for one that was given up.
    const RequestId probe = gauge.measure({{30, 20}, {1, 1}});
    const RequestId second_probe = gauge.measure({{30, 20}});
    REQUIRE(heard.touched(second_probe));
    CHECK(heard.probes[second_probe] == std::vector<std::string>{"failed"});
    develop();
    REQUIRE(heard.touched(probe));
    CHECK(heard.probes[probe] == std::vector<std::string>{"measured"});
    CHECK(heard.depths.size() == 2);
    const RequestId unasked = gauge.measure({{30, 20}});
    gauge.cancel(unasked);
    develop();
    QTest::qWait(50);
    CHECK_FALSE(heard.probes.contains(unasked));
}

} // namespace

TEST_CASE("a fake bench keeps the contract of a bench", "[bench_link]") {
    FakeBench link;
    FakeCamera camera;
    FakeGauge gauge;
    keeps_the_contract(
        link, camera, gauge, [&] { link.finish(); },
        [&] {
            camera.answer("picture");
            gauge.answer(12);
        },
        [&] { camera.fail(); });
}

TEST_CASE("the stand-in keeps the contract of a bench", "[bench_link]") {
    LocalBench bench({QStringLiteral(FINCH_STANDIN), 7, 100000});
    keeps_the_contract(
        bench.laser(), bench.camera(), bench.gauge(), [] {}, [] {}, [] {});
}

TEST_CASE("a stand-in that is stopped, killed or missing is noticed, and the next burn works", "[bench_link]") {
    const Job job;
    LocalBench bench({QStringLiteral(FINCH_STANDIN), 7, 20, 15000, 700, 500});
    Heard heard(bench.laser(), bench.camera());
    const auto begun = [&] { return QTest::qWaitFor([&] { return heard.last_share > 0; }, patience); };
    RequestId id = bench.laser().burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    REQUIRE(begun());
    SECTION("killed") {
        bench.kill();
        REQUIRE(heard.answered(id));
        CHECK(heard.answers[id] == std::vector<std::string>{"lost"});
    }
    SECTION("stopped in the middle of a burn") {
        ::kill(static_cast<pid_t>(bench.process_id()), SIGSTOP);
        REQUIRE(heard.answered(id));
        CHECK(heard.last_error.code == "bench.silent");
    }
    SECTION("stopped, and then cancelled") {
        ::kill(static_cast<pid_t>(bench.process_id()), SIGSTOP);
        bench.laser().cancel(id);
        REQUIRE(heard.answered(id));
        CHECK(heard.last_error.code == "bench.will_not_stop");
    }
    heard.last_share = 0;
    id = bench.laser().burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    REQUIRE(begun());
    bench.laser().cancel(id);
    REQUIRE(heard.answered(id));
    CHECK(heard.answers[id] == std::vector<std::string>{"cancelled"});
    LocalBench missing({QStringLiteral("/nowhere/finch-standin"), 7, 100});
    Heard lost(missing.laser(), missing.camera());
    const RequestId nothing = missing.laser().burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    REQUIRE(lost.answered(nothing));
    CHECK(lost.last_error.code == "bench.not_started");
}

TEST_CASE("a bench that does not keep to the protocol is told apart in time, and nothing it says is believed",
          "[bench_link]") {
    const Job job;
    struct Row {
        const char* how;
        const char* answer;
        const char* code; ///< empty: whatever is right
    };
    const std::vector<Row> rows{
        {"never_listens", "lost", "bench.not_started"},
        {"mute", "lost", "bench.not_started"},
        {"silent", "lost", "bench.silent"},
        {"half_line", "lost", "bench.silent"},
        {"wrong_version", "lost", "protocol.version"},
        {"garbage", "lost", "document.not_json"},
        {"number", "lost", "protocol.unknown"},
        {"unknown", "lost", "protocol.unknown"},
        {"null_share", "lost", "document.bad_field"},
        {"text_share", "lost", "document.bad_field"},
        {"endless_time", "lost", "document.bad_field"},
        {"overflow", "lost", "document.not_json"},
        {"bad_utf8", "lost", "document.not_json"},
        {"deep", "lost", "document.too_deep"},
        {"no_base64", "lost", "document.bad_field"},
        {"endless_line", "lost", ""},
        {"dies", "lost", "bench.died"},
        {"other_job", "burned", ""},
        {"twice", "burned", ""},
    };
    for (const Row& row : rows) {
        INFO(row.how);
        qputenv("FINCH_HOSTILE", row.how);
        LocalBench bench({QStringLiteral(FINCH_SOURCE "/tests/bench_link/hostile_bench.py"), 7, 100, 3000, 700, 400});
        Heard heard(bench.laser(), bench.camera());
        const RequestId id = bench.laser().burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
        REQUIRE(heard.answered(id));
        QTest::qWait(20);
        CHECK(heard.answers[id] == std::vector<std::string>{row.answer});
        if (row.code[0] != '\0')
            CHECK(heard.last_error.code == row.code);
    }
    for (const auto& [how, code] :
         {std::pair{"few_depths", "protocol.depths"}, {"deep_depths", "document.bad_field"}}) {
        INFO(how);
        qputenv("FINCH_HOSTILE", how);
        LocalBench bench({QStringLiteral(FINCH_SOURCE "/tests/bench_link/hostile_bench.py"), 7, 100, 3000, 700, 400});
        Heard heard(bench.laser(), bench.camera(), &bench.gauge());
        const RequestId id = bench.gauge().measure({{1, 1}, {2, 2}});
        REQUIRE(heard.touched(id));
        CHECK(heard.probes[id] == std::vector<std::string>{"failed"});
        CHECK(heard.last_error.code == code);
    }
    {
        qputenv("FINCH_HOSTILE", "endless_drive");
        LocalBench bench({QStringLiteral(FINCH_SOURCE "/tests/bench_link/hostile_bench.py"), 7, 100, 3000, 700, 400});
        Heard heard(bench.laser(), bench.camera());
        heard.listen(bench.mirrors());
        const RequestId id = bench.mirrors().drive({{{0, 0}, {1, 0}}}, 1000, 1);
        REQUIRE(heard.touched(id));
        CHECK(heard.probes[id] == std::vector<std::string>{"failed"});
        CHECK(heard.last_error.code == "document.bad_field");
    }
    qputenv("FINCH_HOSTILE", "will_not_stop");
    LocalBench bench({QStringLiteral(FINCH_SOURCE "/tests/bench_link/hostile_bench.py"), 7, 100, 5000, 2000, 300});
    Heard heard(bench.laser(), bench.camera());
    const RequestId id = bench.laser().burn(job.demo.setup, job.steps, BenchLink::Piece::fresh);
    REQUIRE(QTest::qWaitFor([&] { return heard.last_share > 0; }, patience));
    bench.laser().cancel(id);
    REQUIRE(heard.answered(id));
    CHECK(heard.last_error.code == "bench.will_not_stop");
}

TEST_CASE("the stand-in refuses what it cannot burn, in words, and goes on", "[bench_link]") {
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("bench"));
    const auto world = standin::draw_world(standin::Grade::honest, 7);
    standin::Server server(*nature(), world, 100000);
    REQUIRE(server.listen(path));
    // Nobody's file is taken for an old socket, and a bench that listens is not pushed aside.
    const QString file = folder.filePath(QStringLiteral("precious"));
    {
        QFile out(file);
        REQUIRE(out.open(QIODevice::WriteOnly));
        out.write("keep");
    }
    standin::Server other(*nature(), world, 1);
    CHECK_FALSE(other.listen(file));
    CHECK(QFileInfo(file).size() == 4);
    CHECK_FALSE(other.listen(path));

    QLocalSocket socket;
    socket.connectToServer(path);
    REQUIRE(socket.waitForConnected(3000));
    const auto ask = [&](const QByteArray& line) {
        socket.write(line + '\n');
        REQUIRE(QTest::qWaitFor([&] { return socket.canReadLine(); }, patience));
        return nlohmann::json::parse(socket.readLine().toStdString());
    };
    const Job job;
    const auto burn = [&](const std::function<void(nlohmann::json&)>& change) {
        nlohmann::json steps = nlohmann::json::array();
        steps.push_back(protocol::to_json(job.steps.back()));
        nlohmann::json request{{"do", "burn"}, {"job", 3}, {"setup", to_json(job.demo.setup)}, {"steps", steps}};
        change(request);
        return ask(QByteArray::fromStdString(request.dump()));
    };
    using json = nlohmann::json;
    CHECK(ask("not json")["is"] == "fault");
    CHECK(ask(QByteArray(200000, '['))["is"] == "fault");
    CHECK(ask(R"({"do":5})")["is"] == "fault");
    CHECK(ask(R"({"do":"dance"})")["code"] == "protocol.unknown");
    CHECK(ask(R"({"do":"photograph","shot":1})")["code"] == "standin.no_plate");
    CHECK(ask(R"({"do":"measure","probe":1,"at_mm":[[1,2]]})")["code"] == "standin.no_plate");
    CHECK(burn([](json& j) { j["setup"] = 5; })["is"] == "fault");
    CHECK(burn([](json& j) { j["setup"]["stock"]["metal"] = "cheese"; })["is"] == "fault");
    CHECK(burn([](json& j) { j["steps"] = 7; })["is"] == "fault");
    CHECK(burn([](json& j) { j["steps"][0]["recipe"] = nullptr; })["is"] == "fault");
    CHECK(burn([](json& j) { j["steps"][0]["hatch_mm"] = {{0, 0, 1e300, 1}}; })["is"] == "fault");
    CHECK(burn([](json& j) { j["steps"][0]["hatch_mm"] = {{0, 0, 900, 1}}; })["code"] == "standin.too_large");
    CHECK(burn([](json& j) { j["steps"][0]["strokes_mm"] = {{{0, 0}, {1e300, 0}}}; })["is"] == "fault");
    CHECK(burn([](json& j) { j["steps"][0]["recipe"]["hatch_pitch_mm"] = 0.00001; })["is"] == "fault");
    CHECK(burn([](json& j) {
              j["steps"][0]["recipe"]["scan_speed_mm_s"] = 1;
              j["steps"][0]["recipe"]["hatch_pitch_mm"] = 0.001;
              j["steps"][0]["recipe"]["passes"] = 1000;
          })["code"] == "standin.too_long");
    CHECK(burn([](json&) {})["is"] == "started");
    json last = json::object();
    REQUIRE(QTest::qWaitFor(
        [&] {
            while (socket.canReadLine())
                last = json::parse(socket.readLine().toStdString());
            return last.value("is", "") == "burned";
        },
        patience));
    CHECK(last["job"] == 3);
    for (const char* bad : {R"("blur_px":1e6)", R"("glares":100000)", R"("exposure":0)", R"("white_card_mm":[1])",
                            R"("seed":"x")", R"("quarter_turns":1e300)"}) {
        INFO(bad);
        CHECK(ask(QByteArray(R"({"do":"photograph","shot":1,)") + bad + "}")["is"] == "fault");
    }
    CHECK(ask(R"({"do":"photograph","shot":9,"white_card_mm":[-100,-100,20,20]})")["is"] == "photo");
    for (const char* bad : {"5", "[]", "[[1]]", "[[1,1e300]]", R"([["x",1]])", "null"}) {
        INFO(bad);
        const auto said = ask(QByteArray(R"({"do":"measure","probe":4,"at_mm":)") + bad + "}");
        CHECK(said["code"] == "protocol.bad_places");
        CHECK(said["probe"] == 4);
    }
    for (const char* bad :
         {R"("lines_mm":[[1,2,3]],"speed_mm_s":1000,"passes":1)", R"("lines_mm":[[1,2,3,4]],"speed_mm_s":0,"passes":1)",
          R"("lines_mm":[[1,2,3,4]],"speed_mm_s":1000,"passes":1e9)", R"("speed_mm_s":1000,"passes":1)"}) {
        INFO(bad);
        const auto said = ask(QByteArray(R"({"do":"drive","drive":6,)") + bad + "}");
        CHECK(said["is"] == "fault");
        CHECK(said["drive"] == 6);
    }
    const json driven =
        ask(R"({"do":"drive","drive":7,"lines_mm":[[0,0,50,0],[50,1,0,1]],"speed_mm_s":100,"passes":2})");
    CHECK(driven["is"] == "driven");
    CHECK(driven["time_s"].get<double>() > 2); // the lines alone
    CHECK(driven["time_s"].get<double>() < 4);
    const json depths = ask(R"({"do":"measure","probe":5,"at_mm":[[0.1,0.1],[900,900]]})");
    CHECK(depths["is"] == "depths");
    CHECK(depths["depths_um"].size() == 2);
    // A second client that comes and goes does not end the bench of the first.
    bool left = false;
    QObject::connect(&server, &standin::Server::last_client_left, &socket, [&] { left = true; });
    {
        QLocalSocket guest;
        guest.connectToServer(path);
        REQUIRE(guest.waitForConnected(3000));
        QTest::qWait(20);
    }
    QTest::qWait(50);
    CHECK_FALSE(left);
    CHECK(ask(R"({"do":"hello","version":3})")["version"] == 3);
}
