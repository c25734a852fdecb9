// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/workbench.h"
#include "proof/opening_plans.h"

namespace finch::app {

/// Works out, in the background, what each way to begin would cost and promise for the target of the draft.
class OpeningFinder final : public QObject {
    Q_OBJECT
public:
    explicit OpeningFinder(Workbench& workbench, QObject* parent = nullptr);

    [[nodiscard]] bool running() const { return work_.running(); }
    void start();
    [[nodiscard]] const std::vector<OpeningPlan>& plans() const { return plans_; }
    /// Why there are none; empty while they are worked out.
    [[nodiscard]] const QString& reason() const { return reason_; }
    /// Whether they are of the work at hand as it is now: nothing else may be planned from them.
    [[nodiscard]] bool up_to_date() const;

Q_SIGNALS:
    void changed();

private:
    struct Asked {
        Setup setup;
        Recipe recipe;
        Target target;
        SheetRequest request;
        Evidence evidence; ///< what is known: a reading that comes in meanwhile changes the chances
        bool operator==(const Asked&) const = default;
    };
    [[nodiscard]] Asked now() const;

    Workbench& workbench_;
    Latest work_;
    std::optional<Asked> asked_;
    std::vector<OpeningPlan> plans_;
    QString reason_;
};

} // namespace finch::app
