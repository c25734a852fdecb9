// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/sheet_view.h"
#include "app/session/opening_finder.h"
#include "app/session/proof_flow.h"

#include <QDialog>

class QLabel;
class QPushButton;
class QTableWidget;

namespace finch::app {

/// The ways to begin side by side: cells, minutes, plate, the chance that the first sheet meets the target, and what
/// may be spoiled. One of them is planned.
class OpeningsDialog final : public QDialog {
    Q_OBJECT
public:
    OpeningsDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    void refresh();
    void show_chosen();
    void plan();
    [[nodiscard]] const OpeningPlan* chosen() const;

    Workbench& workbench_;
    ProofFlow& flow_;
    OpeningFinder finder_;
    QTableWidget* table_;
    SheetWidget* preview_;
    QLabel* idea_;
    QLabel* state_;
    QPushButton* plan_ = nullptr;
};

} // namespace finch::app
