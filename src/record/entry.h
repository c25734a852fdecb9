// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <nlohmann/json.hpp>
#include <optional>
#include <QByteArray>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

enum class EntryKind { sheet, reading, recipe, bench };
enum class Outcome { good, caution, bad, unknown };

/// Words in files and in the database, in the order of the enumeration.
[[nodiscard]] const std::vector<std::string_view>& entry_kind_words();
[[nodiscard]] const std::vector<std::string_view>& outcome_words();
[[nodiscard]] std::string_view word(EntryKind kind);
[[nodiscard]] std::string_view word(Outcome outcome);

/// A picture that belongs to an entry, in the bytes in which it came.
struct EntryPicture {
    std::string name; ///< "photo", "rectified"
    QByteArray bytes; ///< of a PNG or JPEG
};

/// One entry of the logbook. What was burned, read or kept, with the whole bench state of that moment and what it rests
/// on. A fact: written once, never changed.
struct Entry {
    long long id = 0; ///< given by the logbook; another one in another logbook
    std::string uid;  ///< the same everywhere, for ever
    EntryKind kind = EntryKind::sheet;
    std::string when_utc; ///< ISO 8601
    std::string by;       ///< initials
    std::string title;
    std::string summary;
    Outcome outcome = Outcome::unknown;
    std::string bench, metal, lot; ///< repeated from the setup, for lists and filters
    int sheet = 0;                 ///< number of the proof sheet that it is about; 0 = none
    long long parent = 0;          ///< id of the sheet of a reading, the reading of a recipe; 0 = none
    std::string parent_uid;        ///< the same, for what is not in a logbook yet
    nlohmann::json setup;          ///< finch-setup
    /// finch-sheet-record, -reading-record, -recipe-record, -job-record, finch-focus, finch-film-work,
    /// finch-scrap or finch-timed-runs
    nlohmann::json body;
    std::string program_version;
};

/// An entry as a document, and back. Errors name the field.
[[nodiscard]] nlohmann::json to_json(const Entry& entry);
[[nodiscard]] Expected<Entry> entry_from_json(const nlohmann::json& document, const std::string& file);

/// An id for entries of before they had one: the same for the same entry in every copy of a logbook.
[[nodiscard]] std::string uid_of_old(const std::string& when_utc, std::string_view kind, const std::string& title,
                                     int same_before);

} // namespace finch
