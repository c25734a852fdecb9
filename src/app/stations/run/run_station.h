// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/stations/run/run_words.h"

class QCheckBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QStackedWidget;

namespace finch::app {

/// What must be so before a job is run, the run itself, and how it ended.
class RunStation final : public QWidget {
    Q_OBJECT
public:
    RunStation(Workbench& workbench, RunFlow& run, QWidget* parent = nullptr);
    /// The beam off. Never on: who presses twice in haste wants it off.
    void hold();
    void hold_after_pass();
    void looked();
    /// The beam on, once nothing locks it.
    void start_or_go_on();
    /// Asks why, and ends the run.
    void ask_give_up();
    /// Asks why, and sets the chosen part aside; or brings it back.
    void ask_aside();

protected:
    void showEvent(QShowEvent* event) override;

private:
    QWidget* make_head();
    QWidget* make_gates();
    QWidget* make_running();
    void refresh();
    void press(std::size_t row);
    void ask_choice(std::size_t row, const Gate& gate);

    Workbench& workbench_;
    RunFlow& run_;
    std::shared_ptr<const RunPicture> outlines_;
    const ReadyJob* drawn_ = nullptr; ///< whose outlines they are; never looked into
    std::optional<std::size_t> part_;
    std::optional<std::size_t> looked_at_; ///< portion of which `look_` tells
    GateRows gates_;
    QLabel* title_ = nullptr;
    QLabel* under_ = nullptr;
    RunView* view_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    CheckList* list_ = nullptr;
    QScrollArea* list_scroll_ = nullptr;
    QLabel* lock_ = nullptr;
    QLabel* rule_ = nullptr;
    CheckList* events_ = nullptr;
    QLabel* now_ = nullptr;
    QLabel* look_ = nullptr;
    QLabel* stay_ = nullptr;
    RunBar* bar_ = nullptr;
    QLabel* left_ = nullptr;
    QCheckBox* counts_ = nullptr;
    QPushButton* start_ = nullptr;
    QPushButton* take_up_ = nullptr;
    QPushButton* again_ = nullptr;
    QPushButton* away_ = nullptr;
    QPushButton* at_end_ = nullptr;
    QPushButton* hold_ = nullptr;
    QPushButton* go_on_ = nullptr;
    QPushButton* give_up_ = nullptr;
    QPushButton* lies_ = nullptr;
    QPushButton* here_ = nullptr;
    QPushButton* aside_ = nullptr;
};

} // namespace finch::app
