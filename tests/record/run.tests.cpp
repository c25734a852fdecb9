// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "document/json_fields.h"
#include "formats/folders.h"
#include "record/run_record.h"

#include <catch2/catch.hpp>
#include <QFile>
#include <QTemporaryDir>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

RunRecord some_run() {
    RunRecord out;
    RunStart& s = out.start;
    s.uid = "11111111-2222-3333-4444-555555555555";
    s.when_utc = "2026-11-24T09:12:00Z";
    s.by = "OD";
    s.name = "canal gauge";
    s.code = "GF-1234";
    s.setup = DemoBench().setup;
    s.portions = 6, s.parts = 2;
    s.answers = {{"eyewear", "", "OD", "2026-11-24T09:10:00Z"}, {"under", "metal", "OD", "2026-11-24T09:11:00Z"}};
    s.job = {{"format", "finch-job"}};
    using Kind = RunEvent::Kind;
    const auto event = [&](Kind kind, int portion, int line = 0, double time_s = 0) {
        RunEvent e;
        e.kind = kind, e.when_utc = "2026-11-24T09:13:00Z", e.by = "OD", e.portion = portion, e.line = line;
        e.time_s = time_s, e.marked_mm = 10 * time_s;
        out.events.push_back(e);
    };
    event(Kind::sent, 0), event(Kind::passed, 0, 0, 2), event(Kind::sent, 1), event(Kind::at, 1, 40);
    event(Kind::passed, 1, 0, 2), event(Kind::sent, 2), event(Kind::at, 2, 17), event(Kind::held, 2, 23);
    out.events.back().note = "The enclosure was opened.";
    event(Kind::went_on, 2), event(Kind::passed, 2, 0, 3), event(Kind::sent, 3), event(Kind::at, 3, 12);
    event(Kind::set_aside, 3);
    out.events.back().place = 2;
    out.events.back().note = "bent";
    return out;
}

void same(const RunStand& a, const RunStand& b) {
    CHECK(a.passed == b.passed);
    CHECK(a.aside == b.aside);
    CHECK(a.over == b.over);
    CHECK(a.time_s == Approx(b.time_s));
    CHECK(a.marked_mm == Approx(b.marked_mm));
}

} // namespace

TEST_CASE("a run that was cut off at any byte is known up to its last whole line", "[run]") {
    const RunRecord run = some_run();
    QTemporaryDir folder;
    const RunJournal journal(folder.filePath(QStringLiteral("runs")));
    REQUIRE(journal.begin(run.start));
    for (const RunEvent& e : run.events)
        REQUIRE(journal.append(run.start.uid, e));
    CHECK(journal.kept() == std::vector{run.start.uid});
    const RunRecord back = journal.read(run.start.uid).value();
    CHECK(back.events == run.events);
    CHECK(to_json(back.start) == to_json(run.start));
    const RunStand stand = stand_of(back);
    CHECK(stand.done() == 3);
    CHECK(stand.under_way == 3);
    CHECK(stand.line == 12);
    CHECK_FALSE(stand.line_told);
    CHECK(stand.aside == std::set<int>{2});

    QFile file(
        folder.filePath(QStringLiteral("runs/") + QString::fromStdString(run.start.uid) + QStringLiteral(".jsonl")));
    REQUIRE(file.open(QIODevice::ReadOnly));
    const QByteArray whole = file.readAll();
    file.close();
    const auto first = whole.indexOf('\n') + 1;
    for (qint64 cut = first; cut <= whole.size(); ++cut) {
        REQUIRE(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
        file.write(whole.left(cut));
        file.close();
        const auto lines = whole.mid(first, cut - first).count('\n');
        const auto read = journal.read(run.start.uid);
        REQUIRE(read);
        CHECK(static_cast<qsizetype>(read->events.size()) == lines);
        // What is written behind a torn line is there.
        if (cut % 7 == 0) {
            RunEvent next;
            next.kind = RunEvent::Kind::looked, next.when_utc = "2026-11-24T10:00:00Z";
            REQUIRE(journal.append(run.start.uid, next));
            const RunRecord more = journal.read(run.start.uid).value();
            REQUIRE(static_cast<qsizetype>(more.events.size()) == lines + 1);
            CHECK(more.events.back() == next);
        }
    }
    // Cut in its first line, it was never begun.
    REQUIRE(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
    file.write(whole.left(first / 2));
    file.close();
    CHECK_FALSE(journal.read(run.start.uid));
    journal.set_aside(run.start.uid);
    CHECK(journal.kept().empty());
    CHECK_FALSE(journal.append(run.start.uid, run.events.front())); // a journal that is gone is not begun anew
}

TEST_CASE("a run is one entry of the logbook, with passes that followed each other as one", "[run]") {
    RunRecord run = some_run();
    RunEvent end;
    end.kind = RunEvent::Kind::ended, end.when_utc = "2026-11-24T09:20:00Z";
    run.events.push_back(end);
    const Entry e = entry_of(run, "Stainless 316", "0.15.0");
    CHECK(e.title == "Run of canal gauge");
    CHECK(e.outcome == Outcome::caution); // a part was set aside
    CHECK(e.summary.find("3 of 6 passes") != std::string::npos);
    const auto through = entry_from_json(parse_json(json_text(to_json(e)), "entry").value(), "entry").value();
    const RunRecord back = run_record(through).value();
    CHECK(back.start.answers == run.start.answers);
    same(stand_of(back), stand_of(run));
    CHECK(back.events.size() == 6); // two passes, held, went on, one pass, set aside, ended
    CHECK(back.events.front().count == 2);
    RunEvent given_up = end;
    given_up.kind = RunEvent::Kind::given_up, given_up.note = "the part moved";
    run.events.back() = given_up;
    CHECK(entry_of(run, "x", "0").outcome == Outcome::bad);
    CHECK(entry_of(run, "x", "0").summary.find("the part moved") != std::string::npos);
    // Fields that are wrong are named.
    for (const char* field : {"uid", "portions", "when_utc"}) {
        auto document = to_json(run.start);
        document.erase(field);
        const auto read = run_start(document, "run.jsonl");
        REQUIRE_FALSE(read);
        CHECK(sentence(read.error()).find(field) != std::string::npos);
    }
}

TEST_CASE("whatever a journal, an event or a shop's table holds is read or refused", "[run]") {
    std::mt19937 draw(3);
    const auto number = [&](std::size_t below) {
        return std::uniform_int_distribution<std::size_t>(0, below - 1)(draw);
    };
    const RunRecord run = some_run();
    const std::string start = json_text(to_json(run.start)),
                      table = read_text_file(FINCH_SOURCE "/data/safety.json").value();
    const std::string some = "{}[]:,\"0123456789-e.ntfu \n\xff\x00";
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("x.jsonl"));
    const RunJournal journal(folder.path());
    int starts = 0, events = 0;
    for (int trial = 0; trial < 4000; ++trial) {
        const auto spoilt = [&](std::string text) {
            for (std::size_t k = number(4); k-- > 0;)
                if (const std::size_t at = number(text.size()); number(3) == 0)
                    text.erase(at, number(9));
                else
                    text[at] = some[number(some.size())];
            return text;
        };
        if (const auto document = parse_json(spoilt(start), "x"))
            if (const auto read = run_start(*document, "x")) {
                ++starts;
                CHECK(run_start(to_json(*read), "x").value().answers == read->answers);
            }
        const RunEvent& one = run.events[number(run.events.size())];
        if (const auto document = parse_json(spoilt(json_text(to_json(one))), "x"))
            if (const auto read = run_event(*document, "x")) {
                ++events;
                RunStand stand;
                stand.passed.assign(5, false);
                follow(stand, *read);
                CHECK(stand.done() <= 5);
            }
        if (trial % 20 != 0)
            continue;
        if (const auto document = parse_json(spoilt(table), "x"))
            (void)safety_from_json(*document, "x");
        std::string whole = start + '\n';
        for (const RunEvent& e : run.events)
            whole += json_text(to_json(e)) + '\n';
        QFile file(path);
        REQUIRE(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
        file.write(QByteArray::fromStdString(spoilt(whole)));
        file.close();
        if (const auto read = journal.read("x"))
            CHECK(stand_of(*read).done() <= read->start.portions);
    }
    CHECK(starts > 200);
    CHECK(events > 200);
}
