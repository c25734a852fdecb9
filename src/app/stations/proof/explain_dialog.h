// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/workbench.h"
#include "evidence/what_explains.h"

#include <QDialog>
#include <QLabel>
#include <QTableWidget>

namespace finch::app {

/// Which number of the settings goes with the colours that were read on this bench and lot.
class ExplainDialog final : public QDialog {
    Q_OBJECT
public:
    explicit ExplainDialog(Workbench& workbench, QWidget* parent = nullptr);

private:
    void show_found(const Expected<Explanations>& found);

    Latest work_;
    QTableWidget* table_;
    QLabel* words_;
};

} // namespace finch::app
