// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QSpinBox>

namespace finch::app {

/// How a focus ladder is laid, with the plate and the minutes that it takes.
class LadderDialog final : public QDialog {
    Q_OBJECT
public:
    LadderDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    [[nodiscard]] LadderRequest request() const;
    void refresh();
    void plan();

    Workbench& workbench_;
    ProofFlow& flow_;
    QDoubleSpinBox *reach_, *about_;
    QSpinBox* steps_;
    QRadioButton *close_, *over_field_;
    QLabel* takes_;
    QPushButton* plan_ = nullptr;
};

} // namespace finch::app
