// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"
#include "patience.h"
#include "record/facts.h"
#include "record/logbook.h"
#include "record/outbox.h"
#include "record/run_record.h"

#include <catch2/catch.hpp>
#include <csignal>
#include <cstdint>
#include <cstdlib>
#include <functional>
#include <map>
#include <optional>
#include <QDateTime>
#include <QDir>
#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>
#include <random>
#include <set>

using namespace finch;
using namespace finch::tests;

namespace {

/// What is on the disk of a workshop, in the logbook or on its way there.
struct OnDisk {
    std::set<std::string> uids, sheets;
    std::vector<std::pair<std::string, std::string>> readings; ///< and the sheets they are of
    std::set<int> numbers;

    void add(const Entry& e) {
        uids.insert(e.uid);
        if (e.kind == EntryKind::sheet) {
            sheets.insert(e.uid);
            CHECK(numbers.insert(burned_sheet(e).value().sheet.number).second); // no number is ever given twice
        } else if (e.kind == EntryKind::reading) {
            CHECK(read_sheet(e));
            readings.emplace_back(e.uid, e.parent_uid);
        }
    }
};

OnDisk look(const QString& folder) {
    OnDisk out;
    const QString logbook = folder + QStringLiteral("/logbook.sqlite");
    if (QFile::exists(logbook)) {
        const auto book = Logbook::open(logbook).value();
        EntryFilter all;
        all.limit = 1000000;
        const auto heads = book->list(all).value();
        for (const Entry& head : heads) {
            out.add(book->entry(head.id).value());
            if (head.kind == EntryKind::reading)
                CHECK(book->pictures(head.id).value().size() == 2);
        }
    }
    const Outbox outbox(folder + QStringLiteral("/outbox"));
    for (const std::string& uid : outbox.waiting())
        if (!out.uids.contains(uid))
            out.add(outbox.read(uid).value().entry);
    return out;
}

/// The program until it is killed, once what it said is enough, and all that it said.
QByteArray driven_and_killed(const QStringList& how, const std::function<bool(const QByteArray&)>& enough,
                             qint64* killed_at = nullptr) {
    QProcess drive;
    drive.start(QStringLiteral(FINCH_DRIVE), how);
    QByteArray said;
    while (!said.contains("ready") && drive.waitForReadyRead(patience))
        said += drive.readAllStandardOutput();
    INFO(drive.readAllStandardError().toStdString());
    REQUIRE(said.contains("ready"));
    QElapsedTimer waited;
    waited.start();
    while (!enough(said) && waited.elapsed() < patience) {
        drive.waitForReadyRead(5);
        said += drive.readAllStandardOutput();
    }
    if (killed_at != nullptr)
        *killed_at = QDateTime::currentMSecsSinceEpoch();
    ::kill(static_cast<pid_t>(drive.processId()), SIGKILL);
    REQUIRE(drive.waitForFinished(patience));
    return said + drive.readAllStandardOutput();
}

/// From now on, when so many milliseconds are over.
std::function<bool(const QByteArray&)> after_ms(std::uint_fast32_t ms) {
    const QDateTime until = QDateTime::currentDateTime().addMSecs(static_cast<qint64>(ms));
    return [until](const QByteArray&) { return QDateTime::currentDateTime() >= until; };
}

int kills_asked(int usual) {
    const char* asked = std::getenv("FINCH_KILLS");
    return asked != nullptr ? std::atoi(asked) : usual;
}

} // namespace

TEST_CASE("a kill in the middle of a run loses no pass that was told, and the next start takes it up", "[kill]") {
    std::mt19937 random(20261128);
    const QTemporaryDir folder;
    const RunJournal journal(folder.filePath(QStringLiteral("runs")));
    std::map<std::string, std::set<int>> told;
    std::size_t taken_up = 0;
    for (int i = 0, kills = kills_asked(24); i < kills; ++i) {
        INFO("kill " << i);
        const auto left_before = journal.kept();
        // After some passes, however long they take, and in whatever the program does next.
        const auto passes = static_cast<qsizetype>(random() % 10);
        std::optional<std::function<bool(const QByteArray&)>> then;
        const QByteArray said = driven_and_killed({folder.path(), QStringLiteral(FINCH_STANDIN), QStringLiteral("run")},
                                                  [&](const QByteArray& so_far) {
                                                      if (!then && so_far.count("passed ") >= passes)
                                                          then = after_ms(random() % 60);
                                                      return then && (*then)(so_far);
                                                  });
        for (const QByteArray& line : said.split('\n'))
            if (const QList<QByteArray> words = line.split(' '); words.size() == 3 && words[0] == "passed") {
                const std::string uid = words[1].toStdString();
                told[uid].insert(words[2].toInt());
                taken_up += std::ranges::count(left_before, uid) > 0 ? 1 : 0;
            }
        std::map<std::string, RunRecord> there;
        const auto left = journal.kept();
        CHECK(left.size() <= 2); // one that just went into the record, and the next
        for (const std::string& uid : left)
            there[uid] = journal.read(uid).value();
        if (const QString logbook = folder.filePath(QStringLiteral("logbook.sqlite")); QFile::exists(logbook)) {
            const auto book = Logbook::open(logbook).value();
            EntryFilter all;
            all.limit = 1000000;
            const auto heads = book->list(all).value();
            for (const Entry& head : heads)
                if (told.contains(head.uid))
                    there[head.uid] = run_record(book->entry(head.id).value()).value();
        }
        const Outbox outbox(folder.filePath(QStringLiteral("outbox")));
        for (const std::string& uid : outbox.waiting())
            if (told.contains(uid))
                there[uid] = run_record(outbox.read(uid).value().entry).value();
        for (const auto& [uid, portions] : told) {
            REQUIRE(there.contains(uid));
            const RunStand stand = stand_of(there.at(uid));
            for (const int p : portions)
                CHECK(stand.passed.at(static_cast<std::size_t>(p)));
        }
    }
    CHECK(told.size() > 2);
    CHECK(taken_up > 20);
}

TEST_CASE("a kill at any moment loses nothing that was shown as kept, and at most a second of the draft", "[kill]") {
    const int kills = kills_asked(60);
    constexpr int kills_a_folder = 10;
    std::mt19937 random(20261126);
    std::unique_ptr<QTemporaryDir> folder;
    std::set<std::string> kept;
    int late = 0;
    for (int i = 0; i < kills; ++i) {
        if (i % kills_a_folder == 0) {
            folder = std::make_unique<QTemporaryDir>();
            kept.clear();
        }
        INFO("kill " << i << " in " << folder->path().toStdString());
        qint64 killed_at = 0;
        std::optional<std::function<bool(const QByteArray&)>> then; // begins once it is ready
        const QByteArray said = driven_and_killed(
            {folder->path(), QStringLiteral(FINCH_STANDIN)},
            [&](const QByteArray& so_far) {
                if (!then)
                    then = after_ms(random() % 3000);
                return (*then)(so_far);
            },
            &killed_at);
        double surely = 0; ///< what was set long enough before the kill to be on the disk
        for (const QByteArray& line : said.split('\n')) {
            const QList<QByteArray> words = line.split(' ');
            if (words.size() == 2 && words[0] == "kept")
                kept.insert(words[1].toStdString());
            // Half a second more than promised, for a machine that does other things as well.
            if (words.size() == 3 && words[0] == "set" && words[2].toLongLong() < killed_at - 1500)
                surely = words[1].toDouble();
        }
        const OnDisk there = look(folder->path());
        for (const std::string& uid : kept)
            CHECK(there.uids.contains(uid));
        for (const auto& [reading, sheet] : there.readings)
            CHECK(there.sheets.contains(sheet)); // no photograph without its sheet
        const QString draft = folder->path() + QStringLiteral("/draft.json");
        if (QFile::exists(draft)) {
            const auto recovered = app::recover_draft(draft);
            INFO((recovered ? std::string() : sentence(recovered.error())));
            REQUIRE(recovered); // never half a draft
            late += recovered->request.across.to < surely ? 1 : 0;
        } else
            late += surely > 0 ? 1 : 0; // a folder's first draft may be as late as any other
    }
    CHECK(late <= kills / 30);
}
