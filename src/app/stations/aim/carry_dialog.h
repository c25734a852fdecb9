// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/aim_flow.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QTableWidget;

namespace finch::app {

/// What the recipe at hand becomes on another bench: what is kept, what is not, and what that will do.
class CarryDialog final : public QDialog {
    Q_OBJECT
public:
    CarryDialog(Workbench& workbench, AimFlow& aims, QWidget* parent = nullptr);

private:
    void show_bench(int index);
    void take();

    Workbench& workbench_;
    AimFlow& aims_;
    QComboBox* benches_ = nullptr;
    QLabel* verdict_ = nullptr;
    QLabel* cannot_ = nullptr;
    QLabel* typed_ = nullptr;
    QTableWidget* report_ = nullptr;
    QPushButton* take_ = nullptr;
    std::optional<Carried> carried_;
    std::vector<Bench> choices_;
};

/// Fills a table with what a transfer keeps.
void show_report(QTableWidget& table, const TransferResult& result);
[[nodiscard]] QString verdict_text(const TransferResult& result);

} // namespace finch::app
