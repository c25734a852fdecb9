// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"

namespace finch::app {

/// Burns one sheet at a time and makes a fact of it, with the set-up of the moment at which it began.
class BurnRun final : public QObject {
    Q_OBJECT
public:
    BurnRun(Workbench& workbench, Recorder& recorder, BenchLink& link, QObject* parent = nullptr);

    [[nodiscard]] bool running() const { return running_.has_value(); }
    [[nodiscard]] double progress() const { return progress_; }
    [[nodiscard]] QString progress_text() const { return text_; }
    /// Burns the shown sheet, if the focus is confirmed, the bench is the one it was planned for, and nothing that any
    /// of its cells would do is blocked.
    void start();
    void cancel();

Q_SIGNALS:
    void changed();
    void burned(int sheet);

private:
    [[nodiscard]] std::optional<QString> obstacle(const Round& round) const;
    void finished(double time_s);
    void end();

    struct Running {
        RequestId id = 0;
        BurnedSheet sheet;
    };
    Workbench& workbench_;
    Recorder& recorder_;
    BenchLink& link_;
    std::optional<Running> running_;
    double progress_ = 0;
    QString text_;
};

} // namespace finch::app
