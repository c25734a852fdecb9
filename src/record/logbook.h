// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <QByteArray>
#include <QSqlDatabase>
#include <QString>
#include <string>
#include <vector>

namespace finch {

enum class EntryKind { sheet, reading, recipe, bench };
enum class Outcome { good, caution, bad, unknown };

[[nodiscard]] const char* word(EntryKind kind);
[[nodiscard]] const char* word(Outcome outcome);

/// A picture that belongs to an entry.
struct EntryPicture {
    std::string name; ///< "photo", "rectified"
    QByteArray png;
};

/// One entry of the logbook. What was burned, read or kept, with the whole bench state and what it rests on.
struct Entry {
    long long id = 0; ///< given by the logbook
    EntryKind kind = EntryKind::sheet;
    std::string when_utc; ///< ISO 8601
    std::string by;       ///< initials
    std::string title;
    std::string summary;
    Outcome outcome = Outcome::unknown;
    std::string bench, metal, lot; ///< repeated from the setup, for lists and filters
    long long parent = 0;          ///< the sheet of a reading, the reading of a recipe; 0 = none
    nlohmann::json setup;          ///< finch-setup
    nlohmann::json body;           ///< finch-sheet, finch-reading or finch-recipe with its evidence
    std::string program_version;
};

/// What to list. Empty fields do not filter.
struct EntryFilter {
    std::string words; ///< each word must occur in title, summary, lot, metal, bench, operator or kind
    std::optional<EntryKind> kind;
    int limit = 200;
    long long before_id = 0; ///< for paging: only older entries
};

/// The logbook: an SQLite file that loses nothing once `add` has returned.
class Logbook {
public:
    /// Opens or creates. Errors: record.cannot_open, record.not_a_logbook, record.newer_version, record.locked.
    [[nodiscard]] static Expected<std::unique_ptr<Logbook>> open(const QString& path);
    ~Logbook();
    Logbook(const Logbook&) = delete;
    Logbook& operator=(const Logbook&) = delete;

    /// Writes an entry and its pictures in one transaction and returns its id when both are on the disk.
    /// Errors: record.locked, record.full, record.failed. Nothing is half written.
    [[nodiscard]] Expected<long long> add(const Entry& entry, const std::vector<EntryPicture>& pictures = {});

    /// Newest first, without setup and body.
    [[nodiscard]] Expected<std::vector<Entry>> list(const EntryFilter& filter = {}) const;
    [[nodiscard]] Expected<long long> count(const EntryFilter& filter = {}) const;
    /// Errors: record.no_entry.
    [[nodiscard]] Expected<Entry> entry(long long id) const;
    [[nodiscard]] Expected<std::vector<EntryPicture>> pictures(long long id) const;
    [[nodiscard]] QString path() const { return path_; }

    /// All matching entries whole, as a finch-logbook document; pictures as base64 if asked for.
    [[nodiscard]] Expected<nlohmann::json> export_json(const EntryFilter& filter, bool with_pictures) const;
    /// Adds the entries of a finch-logbook document that are not there yet (same time, kind and title).
    /// Errors: document.*. Returns how many were added.
    [[nodiscard]] Expected<int> import_json(const nlohmann::json& document, const std::string& file);

private:
    Logbook(const QSqlDatabase& database, QString path);
    [[nodiscard]] Expected<bool> prepare();

    QSqlDatabase database_;
    QString path_;
};

/// One line per read cell with all knobs, the colour and the lot; sheets without a reading give no line.
[[nodiscard]] Expected<std::string> export_cells_csv(const Logbook& logbook, const EntryFilter& filter);

/// A field of two entries that differs.
struct Difference {
    std::string field; ///< "focus offset", "hatch pitch"
    std::string a, b;  ///< as text with unit
};
/// Only what differs between two entries: setup and body, field by field; equal ones are counted.
struct Comparison {
    std::vector<Difference> differences;
    int equal = 0;
};
[[nodiscard]] Comparison compare(const Entry& a, const Entry& b);

} // namespace finch
