// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/actions/registry.h"
#include "app/session/workshop.h"
#include "app/shell/guide.h"
#include "app/shell/perch.h"

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
class PieceStation;
class ProofStation;
class RunStation;

/// The line at the foot: what the tool is doing, and where the record was saved.
class StatusLine;

/// The shell: menus, bench line, perch, the stations, consequences and status.
class MainWindow final : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Workshop& workshop, QWidget* parent = nullptr);
    ~MainWindow() override;

    /// In the order of work; those that are not built yet keep their numbers on the perch.
    enum class StationId { bench, aim, proof, piece, run, logbook };
    void show_station(StationId id);
    [[nodiscard]] const ActionRegistry& actions() const { return *actions_; }
    [[nodiscard]] ConsequencesPanel& consequences() { return *consequences_; }
    [[nodiscard]] AimStation& aim() { return *aim_; }
    [[nodiscard]] AimFlow& aims() { return *aims_; }
    [[nodiscard]] ProofStation& proof() { return *proof_; }
    [[nodiscard]] PieceStation& piece() { return *piece_; }
    [[nodiscard]] RunStation& run() { return *run_; }
    [[nodiscard]] LogbookStation& logbook() { return *log_; }
    [[nodiscard]] QString status_text() const;
    /// All that F1 names, on all stations.
    [[nodiscard]] std::vector<GuidePart> guide_parts() const;
    void use_theme(const QString& name);

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void add(const QString& id, const QString& text, const QString& help, const QKeySequence& keys, const QString& menu,
             const std::function<void()>& run);
    void make_actions();
    void make_recipe_actions();
    void make_piece_actions();
    void make_run_actions();
    /// The piece as it lies becomes what is run next.
    void hand_over();
    void make_menus();
    void fold_consequences(bool folded);
    void show_commands();
    void show_help();
    void refresh_marks();
    void borrow();
    void carry();
    void restore_state();

    /// All that the shell knows of a station: adding one is one entry in make_stations().
    struct Station {
        int number = 1; ///< on the perch and its shortcut
        QString key;    ///< in the settings
        QString icon, title;
        QString what;                 ///< one line, for menus and the command list
        QString help;                 ///< what it is for, in F1
        std::vector<GuidePart> parts; ///< what F1 names on its picture
        QWidget* page = nullptr;
        bool folded = true; ///< consequences, until the operator says otherwise
        std::function<Perch::Mark()> mark;
    };
    void make_stations();
    [[nodiscard]] Station& current_station();
    void wire();
    void ask_before_closing(const QStringList& lost);

    Workshop& shop_;
    Workbench& workbench_;
    ProofFlow& flow_;
    std::vector<Station> table_;
    ActionRegistry* actions_;
    BenchLine* bench_line_;
    Perch* perch_ = nullptr;
    QStackedWidget* stations_;
    AimFlow* aims_;
    BenchStation* bench_;
    AimStation* aim_;
    ProofStation* proof_;
    PieceStation* piece_;
    RunStation* run_;
    LogbookStation* log_;
    ConsequencesPanel* consequences_;
    StatusLine* status_;
    bool closing_ = false; ///< the operator knows what is lost
};

} // namespace finch::app
