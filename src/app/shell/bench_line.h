// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/run_flow.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"

namespace finch::app {

/// The four things on which everything rests, and the bench that is driven; each a click from its editor.
class BenchLine final : public Instrument {
    Q_OBJECT
public:
    BenchLine(Workbench& workbench, const BenchLink& link, const RunFlow& run, QWidget* parent = nullptr);
    struct Chip {
        QString icon, first, second;
        std::optional<State> state;
        bool stale = false;
    };
    [[nodiscard]] const std::vector<Chip>& chips() const { return chips_; }

Q_SIGNALS:
    /// 0 source, 1 lens, 2 stock, 3 focus, 4 stand-in.
    void asked(int chip);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void refresh();
    [[nodiscard]] QRectF chip_box(int i) const;

    Workbench& workbench_;
    const BenchLink& link_;
    const RunFlow& run_;
    std::vector<Chip> chips_;
};

} // namespace finch::app
