// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"

#include <QTimer>

namespace finch::app {

/// Keeps the draft on the disk, half a second after the last change at the latest a second after the first.
class Autosave final : public QObject {
    Q_OBJECT
public:
    Autosave(Workbench& workbench, QString path, QObject* parent = nullptr);
    /// Writes now if anything is pending.
    void flush();
    [[nodiscard]] QString path() const { return path_; }

Q_SIGNALS:
    void saved();

private:
    Workbench& workbench_;
    QString path_;
    QTimer quiet_, latest_;
    bool pending_ = false;
    bool warned_ = false;
};

/// The draft kept at `path`, or an error (file.missing if there is none). A damaged draft is moved aside, not deleted.
[[nodiscard]] Expected<Draft> recover_draft(const QString& path);

} // namespace finch::app
