// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"

#include <QFutureWatcher>
#include <QTimer>

namespace finch::app {

/// Keeps the draft on the disk, half a second after the last change, at the latest a second after the first. Written in
/// a worker; a write that fails is tried again until it succeeds.
class Autosave final : public QObject {
    Q_OBJECT
public:
    Autosave(Workbench& workbench, QString path, QObject* parent = nullptr);
    ~Autosave() override;
    /// Writes now, and waits for it. False if what is pending could not be written.
    bool flush();
    [[nodiscard]] bool pending() const { return pending_; }
    [[nodiscard]] QString path() const { return path_; }

Q_SIGNALS:
    void saved();

private:
    void start();
    void finished(const Expected<void>& written);

    Workbench& workbench_;
    QString path_;
    QTimer quiet_, latest_, again_;
    QFutureWatcher<Expected<void>> writing_;
    bool pending_ = false;
    bool warned_ = false;
};

/// The draft kept at `path`, or an error (file.missing if there is none). A draft that cannot be read, or is of a newer
/// program, is kept beside it under another name: the next save would replace it.
[[nodiscard]] Expected<Draft> recover_draft(const QString& path);

} // namespace finch::app
