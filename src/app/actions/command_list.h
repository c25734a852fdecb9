// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/actions/registry.h"

#include <QDialog>

class QLineEdit;
class QListWidget;

namespace finch::app {

/// Searchable list of all actions.
class CommandList final : public QDialog {
    Q_OBJECT
public:
    CommandList(const ActionRegistry& registry, QWidget* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void filter(const QString& words);
    void run_current();

    const ActionRegistry& registry_;
    QLineEdit* words_;
    QListWidget* list_;
};

} // namespace finch::app
