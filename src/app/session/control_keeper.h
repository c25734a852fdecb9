// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/logbook_desk.h"
#include "app/session/workbench.h"
#include "record/control_record.h"

#include <memory>
#include <set>

namespace finch::app {

/// The controls of what lies on the bench: the same five cells, burned again over the days. They are of the whole
/// record, with what was read a moment ago; an alarm is said when its sheet is read.
class ControlKeeper final : public QObject {
    Q_OBJECT
public:
    ControlKeeper(Workbench& workbench, LogbookDesk& desk, QObject* parent = nullptr);

    /// Of the bench, lens, metal, finish and lot of now; the one that was read last comes first.
    [[nodiscard]] const std::vector<RecordedControl>& controls() const { return controls_; }
    /// The one that a sheet belongs to; null where there is none.
    [[nodiscard]] const RecordedControl* of(const ProofSheet& sheet) const;
    [[nodiscard]] bool running() const { return running_; }

Q_SIGNALS:
    void changed();

private:
    /// What they follow from: the set-up, and the readings of the sheets at hand.
    using Basis = std::pair<std::string, std::set<std::string>>;
    [[nodiscard]] Basis basis() const;
    void look_up();

    Workbench& workbench_;
    LogbookDesk& desk_;
    Basis basis_;
    std::vector<RecordedControl> controls_;
    bool running_ = false;
};

} // namespace finch::app
