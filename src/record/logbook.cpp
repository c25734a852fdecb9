// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/logbook.h"

#include <array>
#include <QFileInfo>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>

namespace finch {
namespace {

using json = nlohmann::json;
using namespace Qt::StringLiterals;

constexpr int schema_version = 1;
constexpr int application_id = 0x46694e43; // "FiNC"

constexpr std::array kind_words{"sheet", "reading", "recipe", "bench"};
constexpr std::array outcome_words{"good", "caution", "bad", "unknown"};

const char* const schema[]{
    "CREATE TABLE entry ("
    " id INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, when_utc TEXT NOT NULL, operator TEXT NOT NULL,"
    " title TEXT NOT NULL, summary TEXT NOT NULL, outcome TEXT NOT NULL, bench TEXT NOT NULL, metal TEXT NOT NULL,"
    " lot TEXT NOT NULL, parent INTEGER REFERENCES entry(id), setup_json TEXT NOT NULL, body_json TEXT NOT NULL,"
    " program_version TEXT NOT NULL, words TEXT NOT NULL)",
    "CREATE TABLE picture ("
    " id INTEGER PRIMARY KEY, entry INTEGER NOT NULL REFERENCES entry(id) ON DELETE CASCADE, name TEXT NOT NULL,"
    " png BLOB NOT NULL)",
    "CREATE INDEX picture_entry ON picture(entry)",
    "CREATE INDEX entry_kind ON entry(kind, id)",
};

QString q(const std::string& s) {
    return QString::fromStdString(s);
}

Error database_error(const QSqlError& e, const QString& path) {
    const int native = e.nativeErrorCode().toInt();
    const Place place{path.toStdString(), 0, {}};
    switch (native & 0xff) {
    case 5: // SQLITE_BUSY
    case 6: // SQLITE_LOCKED
        return {"record.locked", "Another program holds the logbook.",
                "Close it there and try again; nothing is lost here.", place};
    case 13: // SQLITE_FULL
        return {"record.full", "The disk is full, so the entry was not written.",
                "Make room and save again; it is kept in the window.", place};
    case 8: // SQLITE_READONLY
        return {"record.read_only", "The logbook may not be written.",
                "Check the permissions of the file and its folder.", place};
    case 11: // SQLITE_CORRUPT
    case 26: // SQLITE_NOTADB
        return {"record.not_a_logbook", "This file is damaged or not a logbook.",
                "Choose another file, or restore a copy of it.", place};
    case 14: // SQLITE_CANTOPEN
        return {"record.cannot_open", "The logbook cannot be opened.",
                "Check that the folder exists and may be written.", place};
    default:
        return {"record.failed", "The logbook reported: " + e.text().toStdString(),
                "Try again; if it stays, restore a copy.", place};
    }
}

template <std::size_t N>
std::size_t index_of(const std::array<const char*, N>& words, const QString& word, std::size_t otherwise) {
    for (std::size_t i = 0; i < N; ++i)
        if (word == QLatin1StringView(words[i]))
            return i;
    return otherwise;
}

constexpr const char* head_columns =
    "id, kind, when_utc, operator, title, summary, outcome, bench, metal, lot, parent, program_version";

Entry read_head(const QSqlQuery& row) {
    Entry e;
    e.id = row.value(0).toLongLong();
    e.kind = static_cast<EntryKind>(index_of(kind_words, row.value(1).toString(), 0));
    e.when_utc = row.value(2).toString().toStdString();
    e.by = row.value(3).toString().toStdString();
    e.title = row.value(4).toString().toStdString();
    e.summary = row.value(5).toString().toStdString();
    e.outcome = static_cast<Outcome>(index_of(outcome_words, row.value(6).toString(), 3));
    e.bench = row.value(7).toString().toStdString();
    e.metal = row.value(8).toString().toStdString();
    e.lot = row.value(9).toString().toStdString();
    e.parent = row.value(10).toLongLong();
    e.program_version = row.value(11).toString().toStdString();
    return e;
}

json parse_stored(const QString& text) {
    return json::parse(text.toStdString(), nullptr, false);
}

/// " WHERE ..." with its bindings.
struct Where {
    QString text;
    QVariantList values;
};

Where where(const EntryFilter& filter) {
    QStringList parts;
    Where out;
    if (filter.kind) {
        parts << u"kind = ?"_s;
        out.values << QString::fromLatin1(word(*filter.kind));
    }
    if (filter.before_id > 0) {
        parts << u"id < ?"_s;
        out.values << filter.before_id;
    }
    for (const QString& w : q(filter.words).toLower().split(u' ', Qt::SkipEmptyParts)) {
        QString escaped = w;
        escaped.replace(u'\\', u"\\\\"_s).replace(u'%', u"\\%"_s).replace(u'_', u"\\_"_s);
        parts << u"words LIKE ? ESCAPE '\\'"_s;
        out.values << u'%' + escaped + u'%';
    }
    if (!parts.isEmpty())
        out.text = u" WHERE "_s + parts.join(u" AND "_s);
    return out;
}

bool run(QSqlQuery& query, const Where& w) {
    for (const QVariant& v : w.values)
        query.addBindValue(v);
    return query.exec();
}

QString words_of(const Entry& e) {
    return q(e.title + ' ' + e.summary + ' ' + e.lot + ' ' + e.metal + ' ' + e.bench + ' ' + e.by + ' ' + word(e.kind))
        .toLower();
}

/// Rolls back unless committed.
class Transaction {
public:
    explicit Transaction(QSqlDatabase& database) : database_(database) {
        open_ = QSqlQuery(database_).exec(u"BEGIN IMMEDIATE"_s);
    }
    ~Transaction() {
        if (open_)
            QSqlQuery(database_).exec(u"ROLLBACK"_s);
    }
    Transaction(const Transaction&) = delete;
    Transaction& operator=(const Transaction&) = delete;
    [[nodiscard]] bool open() const { return open_; }
    [[nodiscard]] QSqlError commit() {
        QSqlQuery query(database_);
        if (!query.exec(u"COMMIT"_s))
            return query.lastError();
        open_ = false;
        return {};
    }

private:
    QSqlDatabase& database_;
    bool open_ = false;
};

} // namespace

const char* word(EntryKind kind) {
    return kind_words.at(static_cast<std::size_t>(kind));
}
const char* word(Outcome outcome) {
    return outcome_words.at(static_cast<std::size_t>(outcome));
}

Logbook::Logbook(const QSqlDatabase& database, QString path) : database_(database), path_(std::move(path)) {}

Logbook::~Logbook() {
    const QString name = database_.connectionName();
    database_.close();
    database_ = {};
    QSqlDatabase::removeDatabase(name);
}

Expected<std::unique_ptr<Logbook>> Logbook::open(const QString& path) {
    QSqlDatabase database = QSqlDatabase::addDatabase(u"QSQLITE"_s, QUuid::createUuid().toString());
    database.setDatabaseName(path);
    database.setConnectOptions(u"QSQLITE_BUSY_TIMEOUT=1500"_s);
    std::unique_ptr<Logbook> book(new Logbook(database, path));
    database = {};
    if (!book->database_.open())
        return tl::unexpected(database_error(book->database_.lastError(), path));
    if (const auto ready = book->prepare(); !ready)
        return tl::unexpected(ready.error());
    return book;
}

Expected<bool> Logbook::prepare() {
    QSqlQuery query(database_);
    const auto fault = [&] { return tl::unexpected(database_error(query.lastError(), path_)); };
    const auto number = [&](const QString& pragma) {
        return query.exec(pragma) && query.next() ? query.value(0).toInt() : -1;
    };
    for (const auto* pragma : {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"})
        if (!query.exec(QString::fromLatin1(pragma)))
            return fault();
    query.finish();
    const int version = number(u"PRAGMA user_version"_s);
    const int application = number(u"PRAGMA application_id"_s);
    const int tables = number(u"SELECT count(*) FROM sqlite_master"_s);
    query.finish();
    if (version < 0 || tables < 0)
        return fault();
    const Place place{path_.toStdString(), 0, {}};
    if (tables > 0 && application != application_id)
        return failure("record.not_a_logbook", "This database is not a logbook of this program.",
                       "Choose another file.", place);
    if (version > schema_version)
        return failure("record.newer_version", "The logbook was written by a newer program.",
                       "Open it with that program; it was not changed.", place);
    if (version == schema_version)
        return true;
    Transaction transaction(database_);
    if (!transaction.open())
        return tl::unexpected(database_error(database_.lastError(), path_));
    for (const char* statement : schema)
        if (!query.exec(QString::fromLatin1(statement)))
            return fault();
    if (!query.exec(u"PRAGMA application_id = %1"_s.arg(application_id)) ||
        !query.exec(u"PRAGMA user_version = %1"_s.arg(schema_version)))
        return fault();
    if (const QSqlError e = transaction.commit(); e.isValid())
        return tl::unexpected(database_error(e, path_));
    return true;
}

Expected<long long> Logbook::add(const Entry& e, const std::vector<EntryPicture>& pictures) {
    QSqlQuery query(database_);
    Transaction transaction(database_);
    if (!transaction.open())
        return failure("record.locked", "Another program holds the logbook.",
                       "Close it there and try again; nothing is lost here.", {path_.toStdString(), 0, {}});
    const auto fault = [&] { return tl::unexpected(database_error(query.lastError(), path_)); };
    query.prepare(u"INSERT INTO entry (kind, when_utc, operator, title, summary, outcome, bench, metal, lot, parent,"
                  " setup_json, body_json, program_version, words) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?)"_s);
    const QVariant parent = e.parent > 0 ? QVariant(e.parent) : QVariant(QMetaType(QMetaType::LongLong));
    for (const QVariant& v :
         {QVariant(QString::fromLatin1(word(e.kind))), QVariant(q(e.when_utc)), QVariant(q(e.by)), QVariant(q(e.title)),
          QVariant(q(e.summary)), QVariant(QString::fromLatin1(word(e.outcome))), QVariant(q(e.bench)),
          QVariant(q(e.metal)), QVariant(q(e.lot)), parent, QVariant(q(e.setup.dump())), QVariant(q(e.body.dump())),
          QVariant(q(e.program_version)), QVariant(words_of(e))})
        query.addBindValue(v);
    if (!query.exec())
        return fault();
    const long long id = query.lastInsertId().toLongLong();
    for (const EntryPicture& p : pictures) {
        query.prepare(u"INSERT INTO picture (entry, name, png) VALUES (?,?,?)"_s);
        query.addBindValue(id);
        query.addBindValue(q(p.name));
        query.addBindValue(p.png);
        if (!query.exec())
            return fault();
    }
    if (const QSqlError error = transaction.commit(); error.isValid())
        return tl::unexpected(database_error(error, path_));
    return id;
}

Expected<std::vector<Entry>> Logbook::list(const EntryFilter& filter) const {
    QSqlQuery query(database_);
    query.setForwardOnly(true);
    const Where w = where(filter);
    query.prepare(u"SELECT %1 FROM entry%2 ORDER BY id DESC LIMIT %3"_s.arg(QString::fromLatin1(head_columns), w.text)
                      .arg(filter.limit));
    if (!run(query, w))
        return tl::unexpected(database_error(query.lastError(), path_));
    std::vector<Entry> out;
    while (query.next())
        out.push_back(read_head(query));
    return out;
}

Expected<long long> Logbook::count(const EntryFilter& filter) const {
    QSqlQuery query(database_);
    const Where w = where(filter);
    query.prepare(u"SELECT count(*) FROM entry"_s + w.text);
    if (!run(query, w) || !query.next())
        return tl::unexpected(database_error(query.lastError(), path_));
    return query.value(0).toLongLong();
}

Expected<Entry> Logbook::entry(long long id) const {
    QSqlQuery query(database_);
    query.prepare(u"SELECT %1, setup_json, body_json FROM entry WHERE id = ?"_s.arg(QString::fromLatin1(head_columns)));
    query.addBindValue(id);
    if (!query.exec())
        return tl::unexpected(database_error(query.lastError(), path_));
    if (!query.next())
        return failure("record.no_entry", "The logbook has no entry " + std::to_string(id) + ".",
                       "List the entries to see their numbers.", {path_.toStdString(), 0, {}});
    Entry e = read_head(query);
    e.setup = parse_stored(query.value(12).toString());
    e.body = parse_stored(query.value(13).toString());
    return e;
}

Expected<std::vector<EntryPicture>> Logbook::pictures(long long id) const {
    QSqlQuery query(database_);
    query.prepare(u"SELECT name, png FROM picture WHERE entry = ? ORDER BY id"_s);
    query.addBindValue(id);
    if (!query.exec())
        return tl::unexpected(database_error(query.lastError(), path_));
    std::vector<EntryPicture> out;
    while (query.next())
        out.push_back({query.value(0).toString().toStdString(), query.value(1).toByteArray()});
    return out;
}

} // namespace finch
