// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace finch::app {

/// A sheet photographed once more at one tilt after the other: how its cells look there, and up to which each holds.
class TiltDialog final : public QDialog {
    Q_OBJECT
public:
    /// The sheet was photographed from above.
    TiltDialog(Workbench& workbench, ProofFlow& flow, int sheet, QWidget* parent = nullptr);

private:
    void fill();
    void ask_file();

    Workbench& workbench_;
    ProofFlow& flow_;
    int sheet_;
    QDoubleSpinBox* deg_;
    QTableWidget* table_;
    QLabel* says_;
    QPushButton *photograph_ = nullptr, *file_ = nullptr;
    std::optional<std::size_t> angles_; ///< that were read when it was filled last
};

} // namespace finch::app
