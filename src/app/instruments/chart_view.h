// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of the places by which a camera is set right, in rows as they lie.
struct ChartPicture {
    struct Patch {
        QString name;
        Lab asked; ///< what was printed or predicted; shown pale until the place is measured
        std::optional<Lab> measured, corrected;
        double apart = 0; ///< CIEDE2000 between the two
    };
    std::size_t columns = 6;
    std::vector<Patch> patches;
    QString words;
};

/// Each place in halves: what an instrument measured, and what this camera sees once it is set right.
class ChartView final : public Instrument {
    Q_OBJECT
public:
    explicit ChartView(QWidget* parent = nullptr);
    void show_picture(ChartPicture picture);
    [[nodiscard]] const ChartPicture& picture() const { return picture_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    ChartPicture picture_;
};

} // namespace finch::app
