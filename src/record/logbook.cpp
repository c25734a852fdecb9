// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/logbook.h"

#include "document/json_fields.h"
#include "record/schema.h"

#include <algorithm>
#include <QFileInfo>
#include <QSqlError>
#include <QSqlQuery>
#include <QUrl>
#include <QUuid>
#include <QVariant>

namespace finch {
namespace {

using json = nlohmann::json;
using namespace Qt::StringLiterals;
using record::database_error;

QString q(std::string_view s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

constexpr auto head_columns = "entry.id, kind, when_utc, operator, title, summary, outcome, bench, metal, lot, parent,"
                              " program_version, uid, sheet";
constexpr int head_count = 14;

std::size_t index_of(const std::vector<std::string_view>& words, const std::string& word, std::size_t otherwise) {
    const auto it = std::find(words.begin(), words.end(), word);
    return it != words.end() ? static_cast<std::size_t>(it - words.begin()) : otherwise;
}

Entry read_head(const QSqlQuery& row) {
    const auto text = [&](int i) { return row.value(i).toString().toStdString(); };
    Entry e;
    e.id = row.value(0).toLongLong();
    e.kind = static_cast<EntryKind>(index_of(entry_kind_words(), text(1), 0));
    e.when_utc = text(2);
    e.by = text(3);
    e.title = text(4);
    e.summary = text(5);
    e.outcome = static_cast<Outcome>(index_of(outcome_words(), text(6), 3));
    e.bench = text(7);
    e.metal = text(8);
    e.lot = text(9);
    e.parent = row.value(10).toLongLong();
    e.program_version = text(11);
    e.uid = text(12);
    e.sheet = row.value(13).toInt();
    return e;
}

/// " FROM ... WHERE ..." with its bindings.
struct Where {
    QString text;
    QVariantList values;
    bool by_words = false; ///< the word index leads
};

Where where(const EntryFilter& filter) {
    QStringList parts;
    Where out;
    const auto exactly = [&](const char* column, const QVariant& value) {
        parts << QString::fromLatin1(column) + u" = ?"_s;
        out.values << value;
    };
    if (filter.kind)
        exactly("kind", q(word(*filter.kind)));
    for (const auto& [column, value] :
         {std::pair{"bench", &filter.bench}, {"metal", &filter.metal}, {"lot", &filter.lot}})
        if (!value->empty())
            exactly(column, q(*value));
    if (filter.sheet_from > 0) {
        parts << u"sheet >= ?"_s;
        out.values << filter.sheet_from;
    }
    if (filter.before_id > 0) {
        parts << u"entry.id < ?"_s;
        out.values << filter.before_id;
    }
    const QStringList words = q(filter.words).toLower().split(u' ', Qt::SkipEmptyParts);
    // The index knows every three letters in a row; shorter words walk its narrow table.
    QStringList indexed;
    for (const QString& w : words) {
        if (w.size() >= 3) {
            indexed << u'"' + QString(w).replace(u'"', u"\"\""_s) + u'"';
            continue;
        }
        parts << u"instr(entry_words.words, ?) > 0"_s;
        out.values << w;
    }
    if (!indexed.isEmpty()) {
        parts << u"entry_words MATCH ?"_s;
        out.values << indexed.join(u" AND "_s);
    }
    out.by_words = !words.isEmpty();
    out.text = words.isEmpty() ? u" FROM entry"_s : u" FROM entry_words JOIN entry ON entry.id = entry_words.rowid"_s;
    if (!parts.isEmpty())
        out.text += u" WHERE "_s + parts.join(u" AND "_s);
    return out;
}

bool run(QSqlQuery& query, const Where& w) {
    for (const QVariant& v : w.values)
        query.addBindValue(v);
    return query.exec();
}

QString words_of(const Entry& e) {
    return q(e.title + ' ' + e.summary + ' ' + e.lot + ' ' + e.metal + ' ' + e.bench + ' ' + e.by + ' ' +
             std::string(word(e.kind)))
        .toLower();
}

} // namespace

Logbook::Logbook(const QSqlDatabase& database, QString path) : database_(database), path_(std::move(path)) {}

Logbook::~Logbook() {
    const QString name = database_.connectionName();
    database_.close();
    database_ = {};
    QSqlDatabase::removeDatabase(name);
}

Expected<std::unique_ptr<Logbook>> Logbook::open(const QString& path, LogbookUse use) {
    if (const auto ours = record::recognise(path); !ours)
        return tl::unexpected(ours.error());
    const bool look = use == LogbookUse::look_only;
    if (look && QFileInfo(path).size() == 0)
        return failure("record.not_a_logbook", "This file is empty.", "Choose another file.",
                       {path.toStdString(), 0, {}});
    QSqlDatabase database = QSqlDatabase::addDatabase(u"QSQLITE"_s, QUuid::createUuid().toString());
    database.setConnectOptions(u"QSQLITE_BUSY_TIMEOUT=1500"_s);
    database.setDatabaseName(path);
    if (look) {
        // Where nothing can be written beside the file, nobody else can be writing to it either.
        const QFileInfo there(path);
        const bool frozen = !QFileInfo(there.absolutePath()).isWritable() || !there.isWritable();
        QUrl url = QUrl::fromLocalFile(there.absoluteFilePath());
        url.setQuery(frozen && !QFileInfo::exists(path + u"-wal"_s) ? u"mode=ro&immutable=1"_s : u"mode=ro"_s);
        database.setDatabaseName(url.toString(QUrl::FullyEncoded));
        database.setConnectOptions(u"QSQLITE_BUSY_TIMEOUT=1500;QSQLITE_OPEN_URI;QSQLITE_OPEN_READONLY"_s);
    }
    std::unique_ptr<Logbook> book(new Logbook(database, path));
    database = {};
    if (!book->database_.open())
        return tl::unexpected(database_error(book->database_.lastError(), path));
    QSqlQuery query(book->database_);
    if (look) {
        if (!query.exec(u"PRAGMA user_version"_s) || !query.next())
            return tl::unexpected(database_error(query.lastError(), path));
        if (query.value(0).toInt() < record::schema_version)
            return failure("record.older_version", "The logbook was written by an older program.",
                           "Start the program with it once, which brings it up to date.", {path.toStdString(), 0, {}});
        query.finish();
        return book;
    }
    if (const auto ready = record::bring_up_to_date(book->database_, path); !ready)
        return tl::unexpected(ready.error());
    for (const auto* pragma : {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"})
        if (!query.exec(QString::fromLatin1(pragma)))
            return tl::unexpected(database_error(query.lastError(), path));
    query.finish();
    return book;
}

Expected<void> Logbook::at_once(const std::function<Expected<void>()>& work) {
    record::Transaction transaction(database_);
    if (transaction.fault())
        return tl::unexpected(database_error(*transaction.fault(), path_));
    at_once_ = true;
    const auto done = work();
    at_once_ = false;
    if (!done)
        return done;
    if (const auto error = transaction.commit())
        return tl::unexpected(database_error(*error, path_));
    return {};
}

Expected<long long> Logbook::add(const Entry& e, const std::vector<EntryPicture>& pictures) {
    if (at_once_)
        return insert(e, pictures);
    long long id = 0;
    const auto done = at_once([&]() -> Expected<void> {
        const auto written = insert(e, pictures);
        if (!written)
            return tl::unexpected(written.error());
        id = *written;
        return {};
    });
    if (!done)
        return tl::unexpected(done.error());
    return id;
}

Expected<long long> Logbook::insert(const Entry& e, const std::vector<EntryPicture>& pictures) {
    std::string uid = e.uid;
    if (uid.empty())
        uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    if (const auto there = id_of(uid); !there || *there > 0)
        return there;
    long long parent = e.parent;
    if (!e.parent_uid.empty()) {
        const auto known = id_of(e.parent_uid);
        if (!known)
            return known;
        parent = *known;
    }
    QSqlQuery query(database_);
    const auto fault = [&] { return tl::unexpected(database_error(query.lastError(), path_)); };
    query.prepare(u"INSERT INTO entry (kind, when_utc, operator, title, summary, outcome, bench, metal, lot, parent,"
                  " setup_json, body_json, program_version, words, uid, sheet)"
                  " VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,'',?,?)"_s);
    for (const QVariant& v :
         {QVariant(q(word(e.kind))), QVariant(q(e.when_utc)), QVariant(q(e.by)), QVariant(q(e.title)),
          QVariant(q(e.summary)), QVariant(q(word(e.outcome))), QVariant(q(e.bench)), QVariant(q(e.metal)),
          QVariant(q(e.lot)), parent > 0 ? QVariant(parent) : QVariant(QMetaType(QMetaType::LongLong)),
          QVariant(q(json_text(e.setup))), QVariant(q(json_text(e.body))), QVariant(q(e.program_version)),
          QVariant(q(uid)), QVariant(e.sheet)})
        query.addBindValue(v);
    if (!query.exec())
        return fault();
    const long long id = query.lastInsertId().toLongLong();
    query.prepare(u"INSERT INTO entry_words(rowid, words) VALUES (?,?)"_s);
    query.addBindValue(id);
    query.addBindValue(words_of(e));
    if (!query.exec())
        return fault();
    for (const EntryPicture& p : pictures) {
        query.prepare(u"INSERT INTO picture (entry, name, bytes) VALUES (?,?,?)"_s);
        query.addBindValue(id);
        query.addBindValue(q(p.name));
        query.addBindValue(p.bytes);
        if (!query.exec())
            return fault();
    }
    return id;
}

Expected<std::vector<Entry>> Logbook::list(const EntryFilter& filter) const {
    QSqlQuery query(database_);
    query.setForwardOnly(true);
    const Where w = where(filter);
    // The word index walks its own rows backwards, so that it stops at the limit; ordered by the other table it would
    // first find all.
    query.prepare(
        u"SELECT %1%2 ORDER BY %3 DESC LIMIT %4"_s
            .arg(QString::fromLatin1(head_columns), w.text, w.by_words ? u"entry_words.rowid"_s : u"entry.id"_s)
            .arg(filter.limit));
    if (!run(query, w))
        return tl::unexpected(database_error(query.lastError(), path_));
    std::vector<Entry> out;
    while (query.next())
        out.push_back(read_head(query));
    if (query.lastError().isValid())
        return tl::unexpected(database_error(query.lastError(), path_));
    return out;
}

Expected<long long> Logbook::count(const EntryFilter& filter) const {
    QSqlQuery query(database_);
    const Where w = where(filter);
    query.prepare(u"SELECT count(*)"_s + w.text);
    if (!run(query, w) || !query.next())
        return tl::unexpected(database_error(query.lastError(), path_));
    return query.value(0).toLongLong();
}

Expected<Entry> Logbook::entry(long long id) const {
    QSqlQuery query(database_);
    query.prepare(
        u"SELECT %1, setup_json, body_json, (SELECT p.uid FROM entry p WHERE p.id = entry.parent) FROM entry WHERE id = ?"_s
            .arg(QString::fromLatin1(head_columns)));
    query.addBindValue(id);
    if (!query.exec())
        return tl::unexpected(database_error(query.lastError(), path_));
    const Place place{path_.toStdString(), 0, "entry " + std::to_string(id)};
    if (!query.next()) {
        if (query.lastError().isValid())
            return tl::unexpected(database_error(query.lastError(), path_));
        return failure("record.no_entry", "The logbook has no entry " + std::to_string(id) + ".",
                       "List the entries to see their numbers.", place);
    }
    Entry e = read_head(query);
    e.parent_uid = query.value(head_count + 2).toString().toStdString();
    for (const auto& [column, to] : {std::pair{head_count, &e.setup}, {head_count + 1, &e.body}}) {
        const auto document = parse_json(query.value(column).toString().toStdString(), path_.toStdString());
        if (!document || !document->is_object())
            return failure("record.damaged_entry", "What this entry holds cannot be read.",
                           "Restore the logbook from a copy, or leave the entry as it is.", place);
        *to = *document;
    }
    return e;
}

Expected<long long> Logbook::id_of(const std::string& uid) const {
    QSqlQuery query(database_);
    query.prepare(u"SELECT id FROM entry WHERE uid = ?"_s);
    query.addBindValue(q(uid));
    if (!query.exec())
        return tl::unexpected(database_error(query.lastError(), path_));
    const long long id = query.next() ? query.value(0).toLongLong() : 0;
    if (query.lastError().isValid())
        return tl::unexpected(database_error(query.lastError(), path_));
    return id;
}

Expected<std::vector<EntryPicture>> Logbook::pictures(long long id) const {
    QSqlQuery query(database_);
    query.prepare(u"SELECT name, bytes FROM picture WHERE entry = ? ORDER BY id"_s);
    query.addBindValue(id);
    if (!query.exec())
        return tl::unexpected(database_error(query.lastError(), path_));
    std::vector<EntryPicture> out;
    while (query.next())
        out.push_back({query.value(0).toString().toStdString(), query.value(1).toByteArray()});
    if (query.lastError().isValid())
        return tl::unexpected(database_error(query.lastError(), path_));
    return out;
}

Expected<int> Logbook::last_sheet() const {
    QSqlQuery query(database_);
    if (!query.exec(u"SELECT coalesce(max(sheet), 0) FROM entry"_s) || !query.next())
        return tl::unexpected(database_error(query.lastError(), path_));
    return query.value(0).toInt();
}

} // namespace finch
