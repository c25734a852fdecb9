// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/aim_flow.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QPushButton;

namespace finch::app {

class ChangeBars;
class Ladder;
class VerdictLine;

/// What the recipe at hand becomes on another bench: what is kept, what is not, and what that will do.
class CarryDialog final : public QDialog {
    Q_OBJECT
public:
    CarryDialog(Workbench& workbench, AimFlow& aims, QWidget* parent = nullptr);

private:
    void show_bench(int index);
    void show_ladders(const Bench& to);
    void take();

    Workbench& workbench_;
    AimFlow& aims_;
    QComboBox* benches_ = nullptr;
    TransferVerdict verdict_now_ = TransferVerdict::equivalent;
    VerdictLine* verdict_ = nullptr;
    QLabel* cannot_ = nullptr;
    ChangeBars* settings_ = nullptr;
    ChangeBars* kept_ = nullptr;
    QWidget* ladders_ = nullptr;
    Ladder* dose_ = nullptr;
    Ladder* fluence_ = nullptr;
    QPushButton* take_ = nullptr;
    std::optional<Carried> carried_;
    std::vector<Bench> choices_;
};

} // namespace finch::app
