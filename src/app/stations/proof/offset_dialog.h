// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QSpinBox>

namespace finch::app {

/// How far out of focus, and at how many offsets, a film is tried.
class OffsetDialog final : public QDialog {
    Q_OBJECT
public:
    OffsetDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    void refresh();
    void plan();

    Workbench& workbench_;
    ProofFlow& flow_;
    QDoubleSpinBox* reach_;
    QSpinBox* offsets_;
    QLabel* says_;
};

} // namespace finch::app
