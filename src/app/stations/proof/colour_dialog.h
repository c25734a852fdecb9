// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>

namespace finch::app {

/// Colours of the cells of a sheet as an instrument gave them: typed, pasted or from a file, one cell a line.
class ColourDialog final : public QDialog {
    Q_OBJECT
public:
    ColourDialog(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet, QWidget* parent = nullptr);

private:
    void refresh();
    void ask_file();
    void keep();

    Workbench& workbench_;
    ProofFlow& flow_;
    ProofSheet sheet_;
    QPlainTextEdit* list_;
    QLabel* said_;
    QPushButton* keep_ = nullptr;
};

} // namespace finch::app
