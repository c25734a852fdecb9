// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/control_chart.h"
#include "app/session/control_keeper.h"
#include "app/session/proof_flow.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QPushButton>

namespace finch::app {

/// The control of the bench over the days, and today's five cells.
class ControlDialog final : public QDialog {
    Q_OBJECT
public:
    ControlDialog(Workbench& workbench, ProofFlow& flow, ControlKeeper& keeper, QWidget* parent = nullptr);

Q_SIGNALS:
    /// There is none yet: a first lot check begins one.
    void first_asked();

private:
    void fill();
    void show_chosen();
    void plan();
    [[nodiscard]] const RecordedControl* chosen() const;

    Workbench& workbench_;
    ProofFlow& flow_;
    ControlKeeper& keeper_;
    QComboBox* which_;
    ControlChart* chart_;
    QLabel* state_;
    QLabel* says_;
    QPushButton* plan_ = nullptr;
};

} // namespace finch::app
