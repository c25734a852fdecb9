// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/logbook.h"

#include "bench/bench_json.h"
#include "demo_bench.h"
#include "proof/reading.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <QFile>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QUuid>

using namespace finch;

namespace {

Entry sample(const std::string& title, EntryKind kind = EntryKind::recipe) {
    Entry e;
    e.kind = kind;
    e.when_utc = "2026-11-24T09:12:00Z";
    e.by = "OD";
    e.title = title;
    e.summary = "cell D2 of sheet 07, 0.7 from deep blue";
    e.outcome = Outcome::good;
    e.bench = "Wren";
    e.metal = "Stainless 316";
    e.lot = "S316-07";
    e.setup = to_json(tests::DemoBench().setup);
    e.body = {{"recipe", to_json(tests::DemoBench::blue())}};
    e.program_version = "0.1.0";
    return e;
}

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
    CHECK(pictures[0].png == png);
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

TEST_CASE("a logbook travels to another bench and back without doubling", "[record]") {
    Folder a, b;
    const auto from = Logbook::open(a.path()).value();
    Entry sheet = sample("Sheet 07", EntryKind::sheet);
    const long long parent = from->add(sheet).value();
    Entry reading = sample("Sheet 07, reading", EntryKind::reading);
    reading.parent = parent;
    REQUIRE(from->add(reading, {{"photo", QByteArray("abc")}}));
    const auto document = from->export_json({}, true).value();
    const auto to = Logbook::open(b.path()).value();
    REQUIRE(to->add(sample("own entry")));
    CHECK(to->import_json(document, "a.json").value() == 2);
    CHECK(to->import_json(document, "a.json").value() == 0);
    const auto list = to->list().value();
    REQUIRE(list.size() == 3);
    CHECK(list[0].parent == list[1].id);
    CHECK(to->pictures(list[0].id).value()[0].png == "abc");
    auto broken = document;
    broken["entries"][0].erase("title");
    const auto refused = to->import_json(broken, "a.json");
    REQUIRE_FALSE(refused);
    CHECK(refused.error().place.field == "entries[0].title");
    CHECK(to->list().value().size() == 3);
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
        CHECK(Logbook::open(f.path()).error().code == "record.not_a_logbook");
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
    SECTION("the disk is full while pictures are written") {
        { const auto book = Logbook::open(f.path()).value(); }
        const auto book = Logbook::open(f.path()).value();
        // The page limit is a property of the connection; SQLite then answers as it does on a full disk.
        QSqlQuery limit(QSqlDatabase::database(QSqlDatabase::connectionNames().constLast()));
        REQUIRE(limit.exec(QStringLiteral("PRAGMA max_page_count = 20")));
        limit.finish();
        const auto id = book->add(sample("too much"), {{"photo", QByteArray(400000, 'x')}});
        REQUIRE_FALSE(id);
        CHECK(id.error().code == "record.full");
        CHECK(book->list().value().empty());
    }
}

TEST_CASE("two entries are compared by what differs only", "[record]") {
    Entry a = sample("sheet 04"), b = sample("sheet 06");
    Setup other = tests::DemoBench().setup;
    other.focus.offset = mm(0.7);
    other.stock.start_temperature_c = 17;
    b.setup = to_json(other);
    b.by = "BR";
    const Comparison c = compare(a, b);
    REQUIRE(c.differences.size() == 3);
    CHECK(c.differences[0].field == "focus offset");
    CHECK(c.differences[0].a == "0 mm");
    CHECK(c.differences[0].b == "0.7 mm");
    CHECK(c.differences[1].field == "stock start temperature");
    CHECK(c.differences[2].field == "operator");
    CHECK(c.equal > 30);
    CHECK(compare(a, a).differences.empty());
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
    const std::string csv = export_cells_csv(*book, {}).value();
    CHECK(std::count(csv.begin(), csv.end(), '\n') == 3);
    CHECK(csv.find(",D2,13,300,26,1000,0.0035,0,0,0,1,0,read,34.000,4.000,-33.000,0.600,0.900") != std::string::npos);
    CHECK(csv.find(",'=OD,") != std::string::npos);
    CHECK(csv.find(",E2,") != std::string::npos);
}
