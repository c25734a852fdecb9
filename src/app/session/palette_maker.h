// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/workbench.h"
#include "proof/palette.h"

namespace finch::app {

/// Works out the palette of the bench and lot in front of the operator, in the background, when it is asked for.
class PaletteMaker final : public QObject {
    Q_OBJECT
public:
    explicit PaletteMaker(Workbench& workbench, QObject* parent = nullptr);

    /// What it was worked out for last, unless the set-up is another by now.
    [[nodiscard]] const std::optional<Palette>& palette() const { return palette_; }
    /// Why there is none, in a sentence.
    [[nodiscard]] const QString& reason() const { return reason_; }
    [[nodiscard]] bool running() const { return work_.running(); }
    /// Works it out again if something that it rests on has changed; what is under way for older choices is given up.
    void want();

Q_SIGNALS:
    void changed();

private:
    struct Asked {
        Setup setup;
        Recipe base;
        std::vector<WantedColour> wanted;
        double accept_de = 3;
        std::size_t observations = 0;
        Evidence evidence;
        bool operator==(const Asked&) const = default;
    };
    [[nodiscard]] Asked now() const;

    Workbench& workbench_;
    Latest work_;
    std::optional<Asked> asked_;
    std::optional<Palette> palette_;
    QString reason_;
};

} // namespace finch::app
