// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"
#include "patience.h"
#include "record/facts.h"
#include "record/logbook.h"
#include "record/outbox.h"

#include <catch2/catch.hpp>
#include <csignal>
#include <cstdlib>
#include <QDateTime>
#include <QDir>
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

} // namespace

TEST_CASE("a kill at any moment loses nothing that was shown as kept, and at most a second of the draft", "[kill]") {
    const char* asked = std::getenv("FINCH_KILLS");
    const int kills = asked != nullptr ? std::atoi(asked) : 60;
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
        QProcess drive;
        drive.start(QStringLiteral(FINCH_DRIVE), {folder->path(), QStringLiteral(FINCH_STANDIN)});
        QByteArray said;
        while (!said.contains("ready") && drive.waitForReadyRead(30000))
            said += drive.readAllStandardOutput();
        INFO(drive.readAllStandardError().toStdString());
        REQUIRE(said.contains("ready"));
        const QDateTime until = QDateTime::currentDateTime().addMSecs(static_cast<int>(random() % 3000));
        while (QDateTime::currentDateTime() < until) {
            drive.waitForReadyRead(5);
            said += drive.readAllStandardOutput();
        }
        const qint64 killed_at = QDateTime::currentMSecsSinceEpoch();
        ::kill(static_cast<pid_t>(drive.processId()), SIGKILL);
        REQUIRE(drive.waitForFinished(patience));
        said += drive.readAllStandardOutput();
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
        if (surely > 0) {
            const auto recovered = app::recover_draft(draft);
            REQUIRE(recovered);
            late += recovered->request.across.to < surely ? 1 : 0;
        } else if (QFile::exists(draft))
            CHECK(app::recover_draft(draft));
    }
    CHECK(late <= kills / 30);
}
