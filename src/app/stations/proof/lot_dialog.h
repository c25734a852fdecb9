// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace finch::app {

/// What a recipe looked like where it was proven, before it is checked on another lot.
class LotDialog final : public QDialog {
    Q_OBJECT
public:
    LotDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    void refresh();
    void plan();

    Workbench& workbench_;
    ProofFlow& flow_;
    QLineEdit* expected_;
    QDoubleSpinBox* accept_;
    QLabel* says_;
    QPushButton* plan_ = nullptr;
};

} // namespace finch::app
