// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/judgement_board.h"
#include "app/session/aim_flow.h"

#include <QWidget>

class QLabel;
class QMenu;
class QPushButton;
class QScrollArea;

namespace finch::app {

/// What must come out, judged against everything that the bench can do.
class AimStation final : public QWidget {
    Q_OBJECT
public:
    AimStation(Workbench& workbench, AimFlow& aims, QWidget* parent = nullptr);
    void add_wish(WishKind kind);
    void edit_piece();
    void show_wear();
    /// Takes the candidate of a column.
    void take(std::size_t column);

protected:
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent*) override;

private:
    QWidget* make_left();
    void refresh();
    void edit_wish(int row);
    void place_buttons();

    Workbench& workbench_;
    AimFlow& aims_;
    QLabel* headline_ = nullptr;
    QLabel* under_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* facts_ = nullptr;
    QLabel* impossible_ = nullptr;
    WishList* wishes_ = nullptr;
    JudgementBoard* board_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    std::vector<QPushButton*> take_;
    QMenu* add_menu_ = nullptr;
};

} // namespace finch::app
