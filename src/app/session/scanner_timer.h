// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"

namespace finch::app {

/// Has scans driven by the mirrors of the bench, one after the other, and keeps for good how long they took.
class ScannerTimer final : public QObject {
    Q_OBJECT
public:
    ScannerTimer(Workbench& workbench, Recorder& recorder, Mirrors& mirrors, QObject* parent = nullptr);

    struct Scan {
        std::size_t row = 0; ///< of whoever asks
        std::vector<LineMm> lines;
        double speed_mm_s = 1000;
        int passes = 1;
    };
    [[nodiscard]] bool running() const { return !waiting_.empty(); }
    void time(std::vector<Scan> scans);
    void cancel();

    /// Adds runs to those of the bench at hand. One of the same scan takes the other's place.
    void keep(const std::vector<TimedRun>& runs);
    /// The scanner is again as scanners usually are.
    void forget();

Q_SIGNALS:
    void changed();
    void timed(std::size_t row, double took_s);

private:
    void next();

    Workbench& workbench_;
    Recorder& recorder_;
    Mirrors& mirrors_;
    std::vector<Scan> waiting_; ///< the last is driven now
    RequestId driven_ = 0;
};

} // namespace finch::app
