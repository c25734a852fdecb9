// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/entry.h"

#include <functional>
#include <memory>
#include <QObject>
#include <QString>
#include <QThread>

namespace finch::app {

/// Writes facts, in the order in which they came: first into the outbox on the disk, then from there into the logbook.
/// A logbook that is locked, full or missing delays the second step, never the first; whatever waits, also from an
/// earlier start, is tried again every few seconds. Works in a thread of its own.
class Recorder final : public QObject {
    Q_OBJECT
public:
    struct Places {
        QString logbook, outbox;
        bool look_only = false; ///< every entry is refused
        int retry_ms = 3000;
    };
    explicit Recorder(Places places, QObject* parent = nullptr);
    ~Recorder() override;

    /// `kept` is told, in this thread, once the entry is safely on the disk, or why it could not be put there yet; it
    /// is then held in memory and tried again.
    void record(Entry entry, std::vector<EntryPicture> pictures, std::function<void(const Expected<void>&)> kept);
    [[nodiscard]] bool look_only() const { return look_only_; }
    /// Entries that are only in memory: closing now would lose them.
    [[nodiscard]] int at_risk() const { return at_risk_; }
    /// Entries that are on the disk but not in the logbook yet.
    [[nodiscard]] int waiting() const { return waiting_; }
    /// Waits until everything asked for so far was tried once.
    void finish();
    /// Tries again now.
    void retry();

Q_SIGNALS:
    /// An entry is safely on the disk.
    void kept(const QString& uid);
    /// An entry is in the logbook.
    void written(const QString& uid, qlonglong id);
    /// The logbook cannot be written now; said once until it can again.
    void delayed(const finch::Error& error);
    void counts_changed();

private:
    class Worker;
    bool look_only_;
    QThread thread_;
    Worker* worker_;
    int asked_ = 0, at_risk_ = 0, waiting_ = 0;
};

} // namespace finch::app
