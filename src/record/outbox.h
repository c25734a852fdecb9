// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/entry.h"

#include <QString>

namespace finch {

/// A queue on the disk of entries on their way into the logbook. What is in it outlives a crash, a kill and a logbook
/// that cannot be written now; each entry is one folder that appears when it is complete.
class Outbox {
public:
    explicit Outbox(QString folder) : folder_(std::move(folder)) {}

    /// Puts an entry, which needs a uid, and its pictures on the disk. Errors: file.not_written.
    [[nodiscard]] Expected<void> keep(const Entry& entry, const std::vector<EntryPicture>& pictures) const;
    /// Uids of what waits, in the order in which it was kept.
    [[nodiscard]] std::vector<std::string> waiting() const;

    struct Kept {
        Entry entry;
        std::vector<EntryPicture> pictures;
    };
    /// Errors: file.missing, document.*.
    [[nodiscard]] Expected<Kept> read(const std::string& uid) const;
    /// Takes an entry out: it is in the logbook.
    void drop(const std::string& uid) const;
    /// Lays an entry that cannot be read aside, so that it stops nothing else and is not lost.
    void set_aside(const std::string& uid) const;

private:
    [[nodiscard]] QString path_of(const std::string& uid) const;

    QString folder_;
};

} // namespace finch
