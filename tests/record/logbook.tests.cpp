// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "document/json_fields.h"
#include "formats/file_out.h"
#include "recipe/borrowed.h"
#include "record/exchange.h"
#include "record/facts.h"
#include "record/outbox.h"

#include "bench/bench_json.h"
#include "proof/reading.h"
#include "sample_entry.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <functional>
#include <QBuffer>
#include <QDir>
#include <QFile>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QtTest/QTest>
#include <QUuid>
#include <set>
#include <sstream>

using namespace finch;
using finch::tests::sample;
using json = nlohmann::json;

namespace {

struct Folder {
    QTemporaryDir dir;
    [[nodiscard]] QString path() const { return dir.filePath(QStringLiteral("logbook.sqlite")); }
};

/// A second connection to the same file, as another program would have it.
class Intruder {
public:
    explicit Intruder(const QString& path) : name_(QUuid::createUuid().toString()) {
        database_ = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), name_);
        database_.setDatabaseName(path);
        REQUIRE(database_.open());
    }
    ~Intruder() {
        database_.close();
        database_ = {};
        QSqlDatabase::removeDatabase(name_);
    }
    void run(const char* sql) {
        QSqlQuery query(database_);
        INFO(sql);
        REQUIRE(query.exec(QString::fromLatin1(sql)));
    }

private:
    QString name_;
    QSqlDatabase database_;
};

} // namespace

TEST_CASE("an entry comes back whole, with its pictures, after the logbook was closed", "[record]") {
    Folder f;
    long long id = 0;
    const QByteArray png("\x89PNG\0\r\n", 7);
    {
        const auto book = Logbook::open(f.path()).value();
        id = book->add(sample("noon line"), {{"photo", png}}).value();
    }
    const auto book = Logbook::open(f.path()).value();
    const Entry e = book->entry(id).value();
    const Entry expected = sample("noon line");
    CHECK(e.title == expected.title);
    CHECK(e.setup == expected.setup);
    CHECK(e.body == expected.body);
    CHECK(e.outcome == Outcome::good);
    CHECK(setup_from_json(e.setup, "").value() == tests::DemoBench().setup);
    const auto pictures = book->pictures(id).value();
    REQUIRE(pictures.size() == 1);
    CHECK(pictures[0].bytes == png);
    CHECK(book->entry(999).error().code == "record.no_entry");
}

TEST_CASE("words filter over every column and never act as patterns", "[record]") {
    Folder f;
    const auto book = Logbook::open(f.path()).value();
    for (int i = 0; i < 25; ++i)
        REQUIRE(book->add(sample("entry " + std::to_string(i), i % 2 == 0 ? EntryKind::sheet : EntryKind::reading)));
    Entry odd = sample("100%_sure'; DROP TABLE entry; --");
    odd.lot = "T2-03";
    REQUIRE(book->add(odd));
    const auto hits = [&](const std::string& words) {
        EntryFilter filter;
        filter.words = words;
        return book->list(filter).value().size();
    };
    CHECK(hits("") == 26);
    CHECK(hits("s316") == 25);
    CHECK(hits("T2 SURE") == 1);
    CHECK(hits("100%") == 1);
    CHECK(hits("entry_1") == 0);
    CHECK(hits("'; DROP") == 1);
    EntryFilter page;
    page.limit = 10;
    page.kind = EntryKind::sheet;
    const auto first = book->list(page).value();
    CHECK(first.size() == 10);
    page.before_id = first.back().id;
    CHECK(book->list(page).value().size() == 3);
    CHECK(book->count(EntryFilter{}).value() == 26);
}

TEST_CASE("a logbook travels to another bench and back without doubling, whatever its size", "[record]") {
    Folder a, b;
    const auto from = Logbook::open(a.path()).value();
    Entry sheet = sample("Sheet 07", EntryKind::sheet);
    const long long parent = from->add(sheet).value();
    Entry reading = sample("Sheet 07, reading", EntryKind::reading);
    reading.parent = parent;
    // Twenty pictures of seven megabytes: more than any document of one piece could carry.
    const QByteArray photo = QByteArray("\x89PNG") + QByteArray(7 << 20, 'p');
    REQUIRE(from->add(reading, {{"photo", photo}, {"rectified", QByteArray("\xff\xd8 abc")}}));
    for (int i = 0; i < 18; ++i)
        REQUIRE(from->add(sample("reading " + std::to_string(i), EntryKind::reading), {{"photo", photo}}));
    const QString folder = a.dir.filePath(QStringLiteral("out"));
    REQUIRE(export_folder(*from, {}, folder).value() == 20);
    CHECK(export_folder(*from, {}, folder).error().code == "file.exists");
    const auto to = Logbook::open(b.path()).value();
    REQUIRE(to->add(sample("own entry")));
    CHECK(import_entries(*to, folder).value() == 20);
    CHECK(import_entries(*to, folder).value() == 0);
    EntryFilter readings;
    readings.kind = EntryKind::reading;
    const auto list = to->list(readings).value();
    const Entry& first = list.back();
    CHECK(to->entry(first.parent).value().title == "Sheet 07");
    CHECK(to->entry(first.id).value().uid == from->entry(2).value().uid);
    const auto pictures = to->pictures(first.id).value();
    REQUIRE(pictures.size() == 2);
    CHECK(pictures[0].bytes == photo);
    CHECK(QFile::exists(folder + QStringLiteral("/pictures/0000002-2.jpg")));
}

TEST_CASE("an import that cannot go on changes nothing, and says which line", "[record]") {
    Folder a, b;
    const QString folder = a.dir.filePath(QStringLiteral("out"));
    {
        const auto from = Logbook::open(a.path()).value();
        for (int i = 0; i < 5; ++i)
            REQUIRE(from->add(sample("entry " + std::to_string(i)), {{"photo", QByteArray("abc")}}));
        REQUIRE(export_folder(*from, {}, folder));
    }
    const auto to = Logbook::open(b.path()).value();
    const QString lines = folder + QStringLiteral("/entries.jsonl");
    const std::string good = read_text_file(lines.toStdString()).value();
    struct Row {
        const char* what;
        std::function<void(std::vector<std::string>&)> change;
        const char* code;
        int line;
    };
    const std::vector<Row> rows{
        {"a line cut short", [](auto& l) { l[3].resize(40); }, "document.not_json", 4},
        {"no title", [](auto& l) { l[2].replace(l[2].find("\"title\""), 7, "\"tilte\""); }, "document.bad_field", 3},
        {"a body that is a list",
         [](auto& l) {
             json j = json::parse(l[5]);
             j["body"] = json::array();
             l[5] = j.dump();
         },
         "document.bad_field", 6},
        {"a picture outside the folder",
         [](auto& l) {
             json j = json::parse(l[1]);
             j["pictures"][0]["file"] = "../../logbook.sqlite";
             l[1] = j.dump();
         },
         "document.bad_field", 2},
        {"a picture that is gone",
         [](auto& l) {
             json j = json::parse(l[4]);
             j["pictures"][0]["file"] = "gone.png";
             l[4] = j.dump();
         },
         "document.bad_field", 5},
        {"another format", [](auto& l) { l[0] = "{\"format\":\"finch-sheet\",\"version\":1}"; },
         "document.wrong_format", 0},
        {"a newer format", [](auto& l) { l[0] = "{\"format\":\"finch-logbook\",\"version\":9}"; },
         "document.newer_version", 0},
    };
    for (const Row& row : rows) {
        INFO(row.what);
        std::vector<std::string> all;
        std::istringstream in(good);
        for (std::string line; std::getline(in, line);)
            all.push_back(line);
        REQUIRE(all.size() == 6);
        row.change(all);
        std::string text;
        for (const std::string& line : all)
            text += line + "\n";
        REQUIRE(write_file(lines, text));
        const auto refused = import_entries(*to, folder);
        REQUIRE_FALSE(refused);
        CHECK(refused.error().code == row.code);
        CHECK(refused.error().place.line == row.line);
        CHECK(to->count().value() == 0);
    }
    REQUIRE(write_file(lines, good));
    int seen = 0;
    CHECK(import_entries(*to, folder, [&](std::size_t, std::size_t) { return ++seen < 3; }).error().code ==
          "work.cancelled");
    CHECK(to->count().value() == 0);
    CHECK(import_entries(*to, folder).value() == 5);
}

TEST_CASE("a logbook of the first version is brought up to date and loses nothing", "[record]") {
    Folder f;
    REQUIRE(QFile::copy(QStringLiteral(FINCH_SOURCE "/tests/data/old/logbook-v1.sqlite"), f.path()));
    QFile::setPermissions(f.path(), QFile::ReadOwner | QFile::WriteOwner);
    CHECK(Logbook::open(f.path(), LogbookUse::look_only).error().code == "record.older_version");
    const auto book = Logbook::open(f.path()).value();
    const auto list = book->list().value();
    REQUIRE(list.size() >= 4);
    CHECK(book->last_sheet().value() == 1);
    EntryFilter words;
    words.words = "noon s316";
    CHECK(book->count(words).value() == 1);
    std::set<std::string> uids;
    for (const Entry& head : list) {
        INFO(head.title);
        const Entry e = book->entry(head.id).value();
        CHECK(uids.insert(e.uid).second);
        CHECK(setup_from_json(e.setup, ""));
        if (e.kind == EntryKind::sheet)
            CHECK(burned_sheet(e).value().sheet.number == 1);
        if (e.kind == EntryKind::reading) {
            const ReadSheet read = read_sheet(e).value();
            CHECK(read.reading.count(CellState::read) > 20);
            CHECK(observed(read).size() == read.reading.count(CellState::read));
            CHECK(book->pictures(e.id).value().size() == 2);
            CHECK_FALSE(e.parent_uid.empty());
        }
        if (e.kind == EntryKind::bench)
            CHECK(focus_confirmation(e).value().bench == "Wren");
    }
    // The export that 0.2.0 made of the same logbook holds the same entries: they are known again.
    CHECK(import_entries(*book, QStringLiteral(FINCH_SOURCE "/tests/data/old/logbook-v1-export.json")).value() == 0);
    Folder other;
    const auto fresh = Logbook::open(other.path()).value();
    CHECK(import_entries(*fresh, QStringLiteral(FINCH_SOURCE "/tests/data/old/logbook-v1-export.json")).value() ==
          static_cast<int>(list.size()));
}

TEST_CASE("looking at a logbook changes nothing, not even beside it", "[record]") {
    Folder f;
    {
        const auto book = Logbook::open(f.path()).value();
        REQUIRE(book->add(sample("one")));
    }
    const auto files = [&] { return QDir(f.dir.path()).entryList(QDir::Files); };
    const auto before = files();
    const QByteArray bytes = [&] {
        QFile file(f.path());
        return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    }();
    {
        const auto book = Logbook::open(f.path(), LogbookUse::look_only).value();
        CHECK(book->list().value().size() == 1);
        CHECK_FALSE(book->add(sample("two")));
    }
    QFile file(f.path());
    REQUIRE(file.open(QIODevice::ReadOnly));
    CHECK(file.readAll() == bytes);
    CHECK(Logbook::open(f.dir.filePath(QStringLiteral("none.sqlite")), LogbookUse::look_only).error().code ==
          "record.not_a_logbook");
    std::ofstream(f.dir.filePath(QStringLiteral("empty.sqlite")).toStdString()).close();
    CHECK_FALSE(Logbook::open(f.dir.filePath(QStringLiteral("empty.sqlite")), LogbookUse::look_only));
    CHECK(QFileInfo(f.dir.filePath(QStringLiteral("empty.sqlite"))).size() == 0);
}

TEST_CASE("a damaged page is an error, never a shorter list", "[record]") {
    Folder f;
    constexpr int entries = 150;
    {
        const auto book = Logbook::open(f.path()).value();
        for (int i = 0; i < entries; ++i)
            REQUIRE(book->add(sample("entry " + std::to_string(i))));
    }
    QFile file(f.path());
    REQUIRE(file.open(QIODevice::ReadOnly));
    const QByteArray good = file.readAll();
    file.close();
    const int pages = static_cast<int>(good.size() / 4096);
    int whole = 0, refused = 0;
    for (int page = 1; page < pages; page += 3) {
        QByteArray bad = good;
        for (int i = 0; i < 4096; ++i)
            bad[page * 4096 + i] = static_cast<char>((i * 131 + page * 17) & 0xff);
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(bad);
        file.close();
        const auto book = Logbook::open(f.path(), LogbookUse::look_only);
        if (!book) {
            ++refused;
            continue;
        }
        EntryFilter all;
        all.limit = 1000000;
        const auto list = (*book)->list(all);
        INFO("page " << page);
        CHECK((!list || list->size() == entries));
        const auto document = entries_document(**book, all);
        CHECK((!document || document->at("entries").size() == entries));
        (list && document ? whole : refused) += 1;
    }
    CHECK(refused > pages / 12);
}

TEST_CASE("the outbox keeps an entry whole or not at all, and in order", "[record]") {
    QTemporaryDir dir;
    const Outbox outbox(dir.filePath(QStringLiteral("outbox")));
    CHECK(outbox.waiting().empty());
    for (const char* uid : {"b-1", "a-2"}) {
        Entry e = sample(uid);
        e.uid = uid;
        REQUIRE(outbox.keep(e, {{"photo", QByteArray("abc")}, {"rectified", QByteArray()}}));
        REQUIRE(outbox.keep(e, {})); // the same fact once more changes nothing
        QTest::qSleep(20);
    }
    CHECK(outbox.waiting() == std::vector<std::string>{"b-1", "a-2"});
    const auto kept = outbox.read("b-1").value();
    CHECK(kept.entry.title == "b-1");
    CHECK(kept.entry.setup == sample("b-1").setup);
    REQUIRE(kept.pictures.size() == 2);
    CHECK(kept.pictures[0].bytes == "abc");
    // What a kill leaves of an entry that was being kept is no entry.
    QDir().mkpath(dir.filePath(QStringLiteral("outbox/c-3.part")));
    CHECK(outbox.waiting().size() == 2);
    std::ofstream(dir.filePath(QStringLiteral("outbox/a-2/entry.json")).toStdString()) << "{";
    CHECK_FALSE(outbox.read("a-2"));
    outbox.set_aside("a-2");
    CHECK(outbox.waiting() == std::vector<std::string>{"b-1"});
    CHECK(QDir(dir.filePath(QStringLiteral("outbox/a-2.unreadable"))).exists());
    outbox.drop("b-1");
    CHECK(outbox.waiting().empty());
    Entry bad = sample("x");
    bad.uid = "../x";
    CHECK_FALSE(outbox.keep(bad, {}));
}

TEST_CASE("what cannot be opened or written is said, and nothing is half written", "[record]") {
    Folder f;
    SECTION("a text file") {
        std::ofstream(f.path().toStdString())
            << "this is not a database, it is a text of some length, longer than a header of a database would be, "
               "so that it cannot be taken for a short file";
        const auto book = Logbook::open(f.path());
        REQUIRE_FALSE(book);
        CHECK(book.error().code == "record.not_a_logbook");
    }
    SECTION("a database of another program") {
        {
            Intruder other(f.path());
            other.run("CREATE TABLE stamps (id INTEGER)");
        }
        QFile file(f.path());
        REQUIRE(file.open(QIODevice::ReadOnly));
        const QByteArray before = file.readAll();
        CHECK(Logbook::open(f.path()).error().code == "record.not_a_logbook");
        file.seek(0);
        CHECK(file.readAll() == before);
        CHECK_FALSE(QFile::exists(f.path() + QStringLiteral("-wal")));
    }
    SECTION("a logbook from the future") {
        { const auto book = Logbook::open(f.path()).value(); }
        {
            Intruder other(f.path());
            other.run("PRAGMA user_version = 99");
        }
        CHECK(Logbook::open(f.path()).error().code == "record.newer_version");
    }
    SECTION("a folder that is not there") {
        CHECK(Logbook::open(f.dir.filePath(QStringLiteral("no/such/folder.sqlite"))).error().code ==
              "record.cannot_open");
    }
    SECTION("another program holds it") {
        const auto book = Logbook::open(f.path()).value();
        REQUIRE(book->add(sample("before")));
        Intruder other(f.path());
        other.run("BEGIN IMMEDIATE");
        CHECK(book->add(sample("meanwhile")).error().code == "record.locked");
        CHECK(book->list().value().size() == 1);
        other.run("ROLLBACK");
        CHECK(book->add(sample("after")));
    }
    SECTION("a body that is no document") {
        const auto book = Logbook::open(f.path()).value();
        const long long id = book->add(sample("one")).value();
        {
            Intruder other(f.path());
            other.run("UPDATE entry SET body_json = '{'");
        }
        CHECK(book->entry(id).error().code == "record.damaged_entry");
        CHECK(entries_document(*book, {}).error().code == "record.damaged_entry");
    }
    SECTION("the same fact twice") {
        const auto book = Logbook::open(f.path()).value();
        Entry e = sample("once");
        e.uid = "u-1";
        const long long id = book->add(e).value();
        CHECK(book->add(e).value() == id);
        CHECK(book->count().value() == 1);
    }
    SECTION("the disk is full while pictures are written") {
        { const auto book = Logbook::open(f.path()).value(); }
        const auto book = Logbook::open(f.path()).value();
        // The page limit is a property of the connection; SQLite then answers as it does on a full disk.
        QSqlQuery limit(QSqlDatabase::database(QSqlDatabase::connectionNames().constLast()));
        REQUIRE(limit.exec(QStringLiteral("PRAGMA max_page_count = 40")));
        limit.finish();
        const auto id = book->add(sample("too much"), {{"photo", QByteArray(400000, 'x')}});
        REQUIRE_FALSE(id);
        CHECK(id.error().code == "record.full");
        CHECK(book->list().value().empty());
    }
}

TEST_CASE("read cells are exported as a table that a spreadsheet opens", "[record]") {
    Folder f;
    const tests::DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    SheetReading reading;
    reading.sheet_number = 7;
    reading.cells.resize(sheet.cells());
    reading.cells[11] = {CellState::read, {34, 4, -33}, 0.6, 0.9};
    reading.cells[12].state = CellState::hidden;
    Entry e = sample("Sheet 07, reading", EntryKind::reading);
    e.by = "=OD";
    e.body = {{"sheet", to_json(sheet)}, {"reading", to_json(reading, sheet)}};
    const auto book = Logbook::open(f.path()).value();
    REQUIRE(book->add(e));
    Entry sly = e;
    sly.when_utc = "=2+5,\"x";
    sly.by = "\t=1";
    sly.lot = "-1+1";
    REQUIRE(book->add(sly));
    QBuffer out;
    out.open(QIODevice::ReadWrite);
    REQUIRE(export_cells_csv(*book, {}, out).value() == 2);
    const std::string csv = out.data().toStdString();
    // No field of any row is a formula, and no row has shifted columns.
    BorrowedTable table = borrowed_table(csv, "cells.csv").value();
    for (const auto& row : table.rows)
        for (const std::string& cell : row)
            CHECK((cell.empty() || std::string("=+@").find(cell[0]) == std::string::npos));
    CHECK(std::count(csv.begin(), csv.end(), '\n') == 5);
    CHECK(csv.find(",D2,13,300,26,1000,0.0035,0,0,0,1,0,read,34.000,4.000,-33.000,0.600,0.900") != std::string::npos);
    CHECK(csv.find(",'=OD,") != std::string::npos);
    CHECK(csv.find(",E2,") != std::string::npos);
}
