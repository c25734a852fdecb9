// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/scanner_timer.h"

#include <algorithm>
#include <QUuid>

namespace finch::app {

ScannerTimer::ScannerTimer(Workbench& workbench, Recorder& recorder, Mirrors& mirrors, QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), mirrors_(mirrors) {
    connect(&workbench_, &Workbench::scanner_timed, this, [this](const TimedScanner& timed) {
        recorder_.record(entry_of(timed, workbench_.draft().setup,
                                  QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString(),
                                  workbench_.metal().name, FINCH_VERSION),
                         {}, [this](const Expected<void>& kept) {
                             if (kept)
                                 workbench_.say(tr("The times of the scanner are kept for the logbook."));
                             else
                                 workbench_.fail(kept.error());
                         });
    });
    connect(&mirrors_, &Mirrors::driven, this, [this](RequestId id, double took_s) {
        if (waiting_.empty() || driven_ != id)
            return;
        const std::size_t row = waiting_.back().row;
        waiting_.pop_back();
        next();
        Q_EMIT timed(row, took_s);
        Q_EMIT changed();
    });
    connect(&mirrors_, &Mirrors::failed, this, [this](RequestId id, const Error& error) {
        if (waiting_.empty() || driven_ != id)
            return;
        waiting_.clear();
        Q_EMIT changed();
        workbench_.fail(error);
    });
}

void ScannerTimer::time(std::vector<Scan> scans) {
    if (running() || scans.empty())
        return;
    waiting_ = std::move(scans);
    std::ranges::reverse(waiting_);
    next();
    Q_EMIT changed();
}

void ScannerTimer::next() {
    if (!waiting_.empty())
        driven_ = mirrors_.drive(waiting_.back().lines, waiting_.back().speed_mm_s, waiting_.back().passes);
}

void ScannerTimer::cancel() {
    if (!running())
        return;
    mirrors_.cancel(driven_);
    waiting_.clear();
    Q_EMIT changed();
}

void ScannerTimer::keep(const std::vector<TimedRun>& runs) {
    if (runs.empty())
        return;
    workbench_.take_timed(with_runs(workbench_.bench().scanner.timed, runs));
}

void ScannerTimer::forget() {
    if (!workbench_.bench().scanner.timed.empty())
        workbench_.take_timed({});
}

} // namespace finch::app

#include "moc_scanner_timer.cpp"
