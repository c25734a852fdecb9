// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QSpinBox>

namespace finch::app {

/// Between which powers of the recipe a threshold is looked for.
class ThresholdDialog final : public QDialog {
    Q_OBJECT
public:
    ThresholdDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    [[nodiscard]] ThresholdRequest request() const;
    void refresh();
    void plan();

    Workbench& workbench_;
    ProofFlow& flow_;
    QDoubleSpinBox* low_;
    QDoubleSpinBox* high_;
    QSpinBox* powers_;
    QSpinBox* times_;
    QLabel* says_;
};

} // namespace finch::app
