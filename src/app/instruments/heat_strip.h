// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <vector>

namespace finch::app {

/// Orders of marking below each other, to one scale of time and one of warmth: each mark stands as wide as it takes and
/// as high as the plate is warm where it begins. What is no mark is a pause.
class HeatStrip final : public Instrument {
    Q_OBJECT
public:
    struct Mark {
        double from_s = 0, seconds = 0, preheat_k = 0;
    };
    struct Row {
        QString name, value; ///< "plain order", "34 K"
        State state = State::unknown;
        std::vector<Mark> marks;
    };
    explicit HeatStrip(QWidget* parent = nullptr);
    void show_rows(std::vector<Row> rows);
    [[nodiscard]] QSize sizeHint() const override { return {680, 290}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<Row> rows_;
};

} // namespace finch::app
