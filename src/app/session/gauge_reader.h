// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"
#include "bench_link/bench_link.h"
#include "proof/depth_list.h"

namespace finch::app {

/// Asks the gauge of the bench how deep the cells of a sheet are. What it says is shown first and kept by the operator.
class GaugeReader final : public QObject {
    Q_OBJECT
public:
    GaugeReader(Workbench& workbench, Gauge& gauge, QObject* parent = nullptr);

    [[nodiscard]] bool running() const { return probe_.has_value(); }
    /// The middle of every cell that was burned; the sheet must lie on the bench.
    void measure(const ProofSheet& sheet);
    void cancel();

Q_SIGNALS:
    void changed();
    void measured(int sheet, const std::vector<finch::CellDepth>& depths);

private:
    void end();

    Workbench& workbench_;
    Gauge& gauge_;
    std::optional<RequestId> probe_;
    int sheet_ = 0;
    std::vector<std::size_t> cells_;
};

} // namespace finch::app
