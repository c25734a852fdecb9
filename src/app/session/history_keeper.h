// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/logbook_desk.h"
#include "app/session/workbench.h"

namespace finch::app {

/// Tells the workbench what went wrong before on the stock in front of the operator: asked of the record whenever metal
/// or lot change, and after every entry.
class HistoryKeeper final : public QObject {
    Q_OBJECT
public:
    HistoryKeeper(Workbench& workbench, LogbookDesk& desk, QObject* parent = nullptr);
    void look_up();

private:
    Workbench& workbench_;
    LogbookDesk& desk_;
    std::string metal_, lot_;
};

} // namespace finch::app
