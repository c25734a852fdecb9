// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/actions/registry.h"
#include "app/session/autosave.h"
#include "app/session/proof_flow.h"

#include <filesystem>
#include <QMainWindow>

class QLabel;
class QStackedWidget;

namespace finch::app {

class BenchLine;
class AimFlow;
class AimStation;
class BenchStation;
class ConsequencesPanel;
class LogbookStation;
class Perch;
class ProofStation;

/// The line at the foot: what the tool is doing, and where the record was saved.
class StatusLine;

/// The shell: menus, bench line, perch, the stations, consequences and status.
class MainWindow final : public QMainWindow {
    Q_OBJECT
public:
    struct Parts {
        Workbench& workbench;
        ProofFlow& flow;
        Logbook* logbook;
        BenchLink& link;
        Autosave* autosave;
        std::filesystem::path data_folder;
        QString workshop;
    };
    explicit MainWindow(const Parts& parts, QWidget* parent = nullptr);
    ~MainWindow() override;

    enum class StationId { bench, aim, proof, logbook };
    void show_station(StationId id);
    [[nodiscard]] const ActionRegistry& actions() const { return *actions_; }
    [[nodiscard]] ConsequencesPanel& consequences() { return *consequences_; }
    [[nodiscard]] AimStation& aim() { return *aim_; }
    [[nodiscard]] AimFlow& aims() { return *aims_; }
    [[nodiscard]] ProofStation& proof() { return *proof_; }
    [[nodiscard]] LogbookStation& logbook() { return *log_; }
    [[nodiscard]] QString status_text() const;
    void use_theme(const QString& name);

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void make_actions();
    void make_menus();
    void fold_consequences(bool folded);
    void show_commands();
    void show_help();
    void refresh_marks();
    void load_history();
    void borrow();
    void carry();
    void restore_state();

    Parts parts_;
    ActionRegistry* actions_;
    BenchLine* bench_line_;
    Perch* perch_;
    QStackedWidget* stations_;
    AimFlow* aims_;
    BenchStation* bench_;
    AimStation* aim_;
    ProofStation* proof_;
    LogbookStation* log_;
    ConsequencesPanel* consequences_;
    StatusLine* status_;
    std::array<bool, 4> folded_{true, true, false, true}; ///< consequences, by station
};

} // namespace finch::app
