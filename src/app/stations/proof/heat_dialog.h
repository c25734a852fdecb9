// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/change_bars.h"
#include "app/session/workbench.h"
#include "recipe/knob_effects.h"

#include <QDialog>

class QPushButton;

namespace finch::app {

class Ladder;

/// Which knob to turn for more or less heat, with its price and its side effect drawn on one scale; and the four things
/// that the pulse frequency does, apart.
class HeatDialog final : public QDialog {
    Q_OBJECT
public:
    explicit HeatDialog(Workbench& workbench, QWidget* parent = nullptr);

private:
    void fill(bool more);
    /// Shows on the ladders where a piece of advice would lead.
    void point_at(int row);
    void turn(int row);

    Workbench& workbench_;
    std::vector<KnobEffect> advice_;
    Ladder* dose_ = nullptr;
    Ladder* fluence_ = nullptr;
    ChangeBars* bars_ = nullptr;
    QPushButton* turn_ = nullptr;
};

} // namespace finch::app
