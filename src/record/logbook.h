// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/entry.h"

#include <functional>
#include <memory>
#include <QSqlDatabase>
#include <QString>

namespace finch {

/// What to list. Empty fields do not filter.
struct EntryFilter {
    std::string words; ///< each word must occur in title, summary, lot, metal, bench, operator or kind
    std::optional<EntryKind> kind;
    int limit = 200;
    long long before_id = 0;       ///< for paging: only older entries
    std::string bench, metal, lot; ///< exactly these
    int sheet_from = 0;            ///< only entries about sheets of this number and above
};

enum class LogbookUse { write, look_only };

/// The logbook: an SQLite file that loses nothing once `add` has returned. Belongs to the thread that opened it.
class Logbook {
public:
    /// Opens, and for writing creates or brings up to date. A file that is no logbook, or a newer one, is not touched;
    /// for looking nothing is written at all, not even beside it.
    /// Errors: record.cannot_open, record.not_a_logbook, record.newer_version, record.older_version (look only),
    /// record.locked, record.damaged.
    [[nodiscard]] static Expected<std::unique_ptr<Logbook>> open(const QString& path,
                                                                 LogbookUse use = LogbookUse::write);
    ~Logbook();
    Logbook(const Logbook&) = delete;
    Logbook& operator=(const Logbook&) = delete;

    /// Writes an entry and its pictures in one transaction and returns its id when both are on the disk. An entry whose
    /// uid is there already is not written again: its id is returned.
    /// Errors: record.locked, record.full, record.read_only, record.failed. Nothing is half written.
    [[nodiscard]] Expected<long long> add(const Entry& entry, const std::vector<EntryPicture>& pictures = {});

    /// Newest first, without setup and body. A list that could not be read to its end is an error, never a shorter
    /// list.
    [[nodiscard]] Expected<std::vector<Entry>> list(const EntryFilter& filter = {}) const;
    [[nodiscard]] Expected<long long> count(const EntryFilter& filter = {}) const;
    /// Errors: record.no_entry, record.damaged_entry.
    [[nodiscard]] Expected<Entry> entry(long long id) const;
    /// Id of an entry by its uid, 0 if it is not here.
    [[nodiscard]] Expected<long long> id_of(const std::string& uid) const;
    [[nodiscard]] Expected<std::vector<EntryPicture>> pictures(long long id) const;
    /// The highest number that a sheet ever had, 0 if there was none.
    [[nodiscard]] Expected<int> last_sheet() const;
    [[nodiscard]] QString path() const { return path_; }

    /// Runs `work` in one transaction: all of it is written, or nothing.
    [[nodiscard]] Expected<void> at_once(const std::function<Expected<void>()>& work);

private:
    Logbook(const QSqlDatabase& database, QString path);
    [[nodiscard]] Expected<long long> insert(const Entry& entry, const std::vector<EntryPicture>& pictures);

    QSqlDatabase database_;
    QString path_;
    bool at_once_ = false;
};

} // namespace finch
