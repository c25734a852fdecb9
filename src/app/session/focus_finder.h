// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/workbench.h"
#include "proof/focus_ladder.h"

namespace finch::app {

/// Judges the ladder of focus offsets that is looked at, in the background, and takes the head to what it found.
class FocusFinder final : public QObject {
    Q_OBJECT
public:
    explicit FocusFinder(Workbench& workbench, QObject* parent = nullptr);

    /// The ladder that is looked at: the shown sheet if it is one, otherwise the newest of this bench that was read, or
    /// else that was planned; null if none.
    [[nodiscard]] const Round* ladder() const;
    /// What it says, once it was worked out.
    [[nodiscard]] const std::optional<LadderFinding>& finding() const { return finding_; }
    /// Why there is none, in a sentence.
    [[nodiscard]] const QString& reason() const { return reason_; }
    [[nodiscard]] bool running() const { return work_.running(); }
    /// Judges it again if it, its reading or what is accepted has changed.
    void want();

    /// Why the head cannot be taken there now, in words; empty if it can.
    [[nodiscard]] QString held_back() const;
    /// The head is where this ladder found the focus, and nothing has changed since.
    [[nodiscard]] bool taken() const;
    /// The focus is where the ladder found it: confirmed, with the head moved.
    void take();

Q_SIGNALS:
    void changed();

private:
    struct Asked {
        ProofSheet sheet;
        SheetReading reading;
        Bench bench;
        double accept_de = 3;
        bool operator==(const Asked&) const = default;
    };

    /// What taking it confirms; only where nothing holds it back.
    [[nodiscard]] FocusConfirmation confirmed() const;

    Workbench& workbench_;
    Latest work_;
    std::shared_ptr<const Asked> asked_;
    std::optional<LadderFinding> finding_;
    QString reason_;
};

} // namespace finch::app
