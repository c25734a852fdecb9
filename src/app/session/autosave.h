// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"

#include <condition_variable>
#include <mutex>
#include <thread>

namespace finch::app {

/// Keeps the draft on the disk: each change is handed to a thread at once, which writes the newest, some tenths of a
/// second after the one before. Nothing waits for an interface that is busy with what was changed. A write that fails
/// is tried again until it succeeds.
class Autosave final : public QObject {
    Q_OBJECT
public:
    Autosave(Workbench& workbench, QString path, QObject* parent = nullptr);
    ~Autosave() override; ///< what is still pending is tried once
    /// Writes now, and waits for it. False if what is pending could not be written.
    bool flush();
    [[nodiscard]] bool pending() const;
    [[nodiscard]] QString path() const { return path_; }

Q_SIGNALS:
    void saved();

private:
    void take(const Draft& draft);
    void work();
    void finished(const Expected<void>& written);

    Workbench& workbench_;
    QString path_;
    bool warned_ = false;
    // Shared with the thread, under the mutex.
    mutable std::mutex mutex_;
    std::condition_variable asked_for_, tried_;
    std::optional<Draft> next_; ///< not written yet
    int taken_ = 0;             ///< drafts
    int last_tried_ = 0;        ///< of them
    long tries_ = 0;
    bool unkept_ = false; ///< the last try failed
    bool at_once_ = false, stop_ = false;
    std::thread thread_;
};

/// The draft kept at `path`, or an error (file.missing if there is none). A draft that cannot be read, or is of a newer
/// program, is kept beside it under another name: the next save would replace it.
[[nodiscard]] Expected<Draft> recover_draft(const QString& path);

} // namespace finch::app
