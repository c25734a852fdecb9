// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/round.h"
#include "proof/lot_check.h"

#include <optional>

namespace finch::app {

/// View data of a lot check: what was expected, what was read by dose, and what it says.
struct LotView {
    struct Cell {
        double dose = 1; ///< factor on the recipe's
        std::optional<Lab> read;
    };
    Lab expected;
    double accept_de = 3;
    std::vector<Cell> cells;
    std::optional<LotFinding> finding;
    QString note;   ///< why there is none yet
    QString course; ///< what the days before say together with it; empty where it is no control
    State course_state = State::unknown;
};

/// A lot check as it was settled, with what its reading says; the sheet must be one.
[[nodiscard]] LotView lot_view(const Round& round);

/// The expected colour over the cells in order of dose, how far each dose is from it, and the verdict.
class LotPanel final : public Instrument {
    Q_OBJECT
public:
    explicit LotPanel(QWidget* parent = nullptr);
    void show_view(LotView view);
    [[nodiscard]] const LotView& view() const { return view_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paint_path(QPainter& painter, const QRectF& box) const;
    LotView view_;
};

} // namespace finch::app
