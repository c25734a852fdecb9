// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of a control over the days.
struct ControlView {
    struct Day {
        int sheet = 0;
        QString when;       ///< "24 Nov"
        double percent = 0; ///< dose that the bench gives, against where the recipe was proven
        std::optional<std::pair<double, double>> usual; ///< percent, nine in ten
        double off_de = 0;                              ///< beside the path of its colours
        bool alarm = false;
        bool counts = true; ///< for what is usual
    };
    std::vector<Day> days;
    QString words;
};

/// The dose of a bench day by day with what is usual, and how far its colours lie beside their path.
class ControlChart final : public Instrument {
    Q_OBJECT
public:
    explicit ControlChart(QWidget* parent = nullptr);
    void show_view(ControlView view);
    [[nodiscard]] const ControlView& view() const { return view_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    ControlView view_;
};

} // namespace finch::app
