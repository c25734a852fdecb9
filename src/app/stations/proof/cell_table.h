// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"

#include <QAbstractTableModel>

namespace finch::app {

/// All cells of the shown sheet with their knobs, predicted and measured colours.
class CellTable final : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit CellTable(const Workbench& workbench, QObject* parent = nullptr)
        : QAbstractTableModel(parent), workbench_(workbench) {}
    void reload();
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    const Workbench& workbench_;
    std::vector<std::vector<QString>> rows_;
    QStringList heads_;
    int name_column_ = 0; ///< words, not numbers
};

} // namespace finch::app
