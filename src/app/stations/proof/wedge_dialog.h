// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QLabel>
#include <QSpinBox>

namespace finch::app {

/// Up to how many passes a step wedge goes, and in how many steps.
class WedgeDialog final : public QDialog {
    Q_OBJECT
public:
    WedgeDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    [[nodiscard]] WedgeRequest request() const;
    void refresh();

    Workbench& workbench_;
    QSpinBox* passes_;
    QSpinBox* steps_;
    QSpinBox* times_;
    QLabel* says_;
};

} // namespace finch::app
