// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/logbook_desk.h"
#include "app/session/workbench.h"

#include <set>

namespace finch::app {

/// Reads what the record holds into the ledger: at the start the sheets of the work at hand and the focus, and for each
/// bench and stock that is put in front of the operator what was ever measured there. In the logbook's thread.
class KnowledgeKeeper final : public QObject {
    Q_OBJECT
public:
    KnowledgeKeeper(Workbench& workbench, LogbookDesk& desk, QObject* parent = nullptr);
    /// Whether everything that was asked of the record has come.
    [[nodiscard]] bool up_to_date() const { return asked_.empty(); }

Q_SIGNALS:
    void learned();

private:
    void load_work();
    void look_up();

    Workbench& workbench_;
    LogbookDesk& desk_;
    std::set<std::string> asked_;
};

} // namespace finch::app
