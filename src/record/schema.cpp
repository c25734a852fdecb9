// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/schema.h"

#include "record/entry.h"

#include <array>
#include <map>
#include <QFile>
#include <QFileInfo>
#include <QSqlError>
#include <QSqlQuery>
#include <QtEndian>
#include <QVariant>

namespace finch::record {
namespace {

using namespace Qt::StringLiterals;

constexpr int application_id = 0x46694e43; // "FiNC"

// The first version, as 0.2.0 made it; what came later is added by migrations, so that both ways are one.
const std::array first_schema{
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

// Version 2: stable ids, the number of the sheet, and an index of the words in a table of their own, so that a filter
// reads neither set-ups nor bodies.
const std::array second_schema{
    "ALTER TABLE entry ADD COLUMN uid TEXT",
    "ALTER TABLE entry ADD COLUMN sheet INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE picture RENAME COLUMN png TO bytes",
    "CREATE VIRTUAL TABLE entry_words USING fts5(words, tokenize='trigram')",
    "INSERT INTO entry_words(rowid, words) SELECT id, words FROM entry",
    "UPDATE entry SET sheet = coalesce(json_extract(body_json, '$.sheet.number'), 0)"
    " WHERE kind IN ('sheet', 'reading') AND json_valid(body_json)"
    " AND json_type(body_json, '$.sheet.number') = 'integer'",
};
const std::array second_indexes{
    "CREATE UNIQUE INDEX entry_uid ON entry(uid)",
    "CREATE INDEX entry_sheet ON entry(sheet, kind)",
    "CREATE INDEX entry_stock ON entry(kind, bench, metal, lot, id)",
};

template <std::size_t N>
bool all(QSqlQuery& query, const std::array<const char*, N>& statements) {
    for (const char* statement : statements)
        if (!query.exec(QString::fromLatin1(statement)))
            return false;
    return true;
}

bool name_old_entries(QSqlDatabase& database, QSqlQuery& query) {
    std::map<std::string, int> same;
    std::vector<std::pair<long long, std::string>> names;
    if (!query.exec(u"SELECT id, when_utc, kind, title FROM entry ORDER BY id"_s))
        return false;
    while (query.next()) {
        const auto text = [&](int i) { return query.value(i).toString().toStdString(); };
        const int before = same[text(1) + '|' + text(2) + '|' + text(3)]++;
        names.emplace_back(query.value(0).toLongLong(), uid_of_old(text(1), text(2), text(3), before));
    }
    if (query.lastError().isValid())
        return false;
    query.finish();
    QSqlQuery update(database);
    update.prepare(u"UPDATE entry SET uid = ? WHERE id = ?"_s);
    for (const auto& [id, uid] : names) {
        update.addBindValue(QString::fromStdString(uid));
        update.addBindValue(id);
        if (!update.exec())
            return false;
    }
    return true;
}

bool to_second(QSqlDatabase& database, QSqlQuery& query) {
    return all(query, second_schema) && name_old_entries(database, query) && all(query, second_indexes);
}

Place place_of(const QString& path) {
    return {path.toStdString(), 0, {}};
}

tl::unexpected<Error> foreign(const QString& path) {
    return failure("record.not_a_logbook", "This file is no logbook of this program.", "Choose another file.",
                   place_of(path));
}

tl::unexpected<Error> newer(const QString& path) {
    return failure("record.newer_version", "The logbook was written by a newer program.",
                   "Open it with that program; it was not changed.", place_of(path));
}

} // namespace

Error database_error(const QSqlError& e, const QString& path) {
    const int native = e.nativeErrorCode().toInt();
    const Place place = place_of(path);
    switch (native & 0xff) {
    case 5: // SQLITE_BUSY
    case 6: // SQLITE_LOCKED
        return {"record.locked", "Another program holds the logbook.",
                "Close it there; what is not written yet is kept and written then.", place};
    case 13: // SQLITE_FULL
        return {"record.full", "The disk is full, so the entry was not written.",
                "Make room; what is not written yet is kept and written then.", place};
    case 8: // SQLITE_READONLY
        return {"record.read_only", "The logbook may not be written.",
                "Check the permissions of the file and its folder.", place};
    case 10: // SQLITE_IOERR
        return {"record.disk", "The disk that holds the logbook does not answer as it should.",
                "Check that it is there and sound; then try again.", place};
    case 11: // SQLITE_CORRUPT
    case 26: // SQLITE_NOTADB
        return {"record.damaged", "This logbook is damaged, or no logbook.",
                "Choose another file, or restore a copy of it.", place};
    case 14: // SQLITE_CANTOPEN
        return {"record.cannot_open", "The logbook cannot be opened.",
                "Check that the folder exists and may be written.", place};
    default:
        return {"record.failed", "The logbook reported: " + e.text().toStdString(),
                "Try again; if it stays, restore a copy.", place};
    }
}

Expected<void> recognise(const QString& path) {
    // The first hundred bytes say it all; a database program would already change the file by looking.
    QFile file(path);
    if (!file.exists() || file.size() == 0)
        return {};
    if (!file.open(QIODevice::ReadOnly))
        return failure("record.cannot_open", "The logbook cannot be read.", "Check its permissions.", place_of(path));
    const QByteArray head = file.read(100);
    if (head.size() < 100 || !head.startsWith("SQLite format 3"))
        return foreign(path);
    const auto number = [&head](int at) { return qFromBigEndian<qint32>(head.constData() + at); };
    const int version = number(60), application = number(68);
    if (application != application_id) {
        // A logbook whose making was cut short has its journal beside it; it is judged when that was played back.
        const bool unfinished = QFileInfo::exists(path + u"-journal"_s) || QFileInfo::exists(path + u"-wal"_s);
        return unfinished ? Expected<void>() : foreign(path);
    }
    if (version > schema_version)
        return newer(path);
    return {};
}

Expected<void> bring_up_to_date(QSqlDatabase& database, const QString& path) {
    QSqlQuery query(database);
    const auto fault = [&] { return tl::unexpected(database_error(query.lastError(), path)); };
    const auto number = [&](const QString& pragma) {
        const int value = query.exec(pragma) && query.next() ? query.value(0).toInt() : -1;
        query.finish();
        return value;
    };
    const auto state = [&] {
        return std::array{number(u"PRAGMA user_version"_s), number(u"PRAGMA application_id"_s),
                          number(u"SELECT count(*) FROM sqlite_master"_s)};
    };
    auto [version, application, tables] = state();
    if (version < 0 || tables < 0)
        return fault();
    if (tables > 0 && application != application_id)
        return foreign(path);
    if (version > schema_version)
        return newer(path);
    if (version == schema_version)
        return {};
    Transaction transaction(database);
    if (transaction.fault())
        return tl::unexpected(database_error(*transaction.fault(), path));
    // Another window may have done it while this one waited.
    version = number(u"PRAGMA user_version"_s);
    if (version == schema_version)
        return {};
    if (version == 0 && !all(query, first_schema))
        return fault();
    if (version <= 1 && !to_second(database, query))
        return fault();
    if (!query.exec(u"PRAGMA application_id = %1"_s.arg(application_id)) ||
        !query.exec(u"PRAGMA user_version = %1"_s.arg(schema_version)))
        return fault();
    if (const auto e = transaction.commit())
        return tl::unexpected(database_error(*e, path));
    return {};
}

Transaction::Transaction(QSqlDatabase& database) : database_(database) {
    QSqlQuery query(database_);
    open_ = query.exec(u"BEGIN IMMEDIATE"_s);
    if (!open_)
        fault_ = query.lastError();
}

Transaction::~Transaction() {
    if (open_)
        QSqlQuery(database_).exec(u"ROLLBACK"_s);
}

std::optional<QSqlError> Transaction::commit() {
    QSqlQuery query(database_);
    if (!query.exec(u"COMMIT"_s))
        return query.lastError();
    open_ = false;
    return std::nullopt;
}

} // namespace finch::record
