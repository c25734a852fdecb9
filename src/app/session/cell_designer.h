// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/workbench.h"
#include "proof/designed_sheet.h"

namespace finch::app {

/// What a search for the target of the draft begins with.
[[nodiscard]] SheetRequest design_request(const Draft& draft);

/// Designs the cells of the first or next sheet for the target, in the background, from all that was burned and read on
/// this bench and lot.
class CellDesigner final : public QObject {
    Q_OBJECT
public:
    explicit CellDesigner(Workbench& workbench, QObject* parent = nullptr);

    [[nodiscard]] bool running() const { return work_.running(); }
    /// Begins from the recipe in the draft; what is under way is given up.
    /// `frame`: whose bare places they are for; they are of its size, and no more than it has room for.
    void start(const std::optional<OpenFrame>& frame);
    void cancel();

Q_SIGNALS:
    void changed();
    /// For the set-up of the draft as it is now; the number of the sheet is still to be given.
    void designed(const finch::DesignedSheet& sheet);

private:
    void finish(const Setup& setup, const Expected<DesignedSheet>& result);

    Workbench& workbench_;
    Latest work_;
};

} // namespace finch::app
