// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/film_cards.h"
#include "app/instruments/film_steps.h"
#include "app/instruments/parts_bar.h"
#include "app/session/film_work.h"
#include "app/stations/piece/piece_panels.h"

#include <QTimer>

class QLabel;
class QPushButton;
class QSpinBox;

namespace finch::app {

/// Work with a sprayed film: its steps on a time line, what a dry coat looks like, what washes it off, the scratch
/// ladder, and what a piece costs.
class FilmPage final : public QWidget {
    Q_OBJECT
public:
    FilmPage(Workbench& workbench, const PieceReader& reader, QWidget* parent = nullptr);
    /// Shows the procedure of the pieces at hand, or why there is none.
    void refresh();
    /// The step at hand was done: it is said once.
    void say_done();
    /// Asks why, and leaves the step at hand out.
    void ask_skip();
    /// The last step was not done after all.
    void take_back();
    /// Nothing more is done with these pieces.
    void put_away();

private:
    void tick();
    void show_work();
    void show_ladder();
    void grade(std::size_t rung, std::optional<double> grade);
    [[nodiscard]] const StepPlan* at_hand() const;

    Workbench& workbench_;
    const PieceReader& reader_;
    std::optional<FilmWork> work_;
    std::vector<std::optional<double>> grades_; ///< of the ladder, until it is kept
    std::string graded_;                        ///< pieces that they are of
    QTimer clock_;
    FindingList* said_ = nullptr;
    QLabel* mass_ = nullptr;
    QLabel* score_ = nullptr;
    QLabel* cost_ = nullptr;
    QSpinBox* together_ = nullptr;
    FilmSteps* steps_ = nullptr;
    DryLook* look_ = nullptr;
    FindingList* wash_ = nullptr;
    ScratchLadder* ladder_ = nullptr;
    PartsBar* parts_ = nullptr;
    QPushButton* done_ = nullptr;
    QPushButton* skip_ = nullptr;
    QPushButton* back_ = nullptr;
    QPushButton* away_ = nullptr;
};

} // namespace finch::app
