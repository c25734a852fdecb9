// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "piece/height_map.h"

#include <vector>

namespace finch::app {

/// A section through a relief: depth over width, deeper than it is by a factor that is said.
struct ReliefSection {
    std::vector<double> depth_um; ///< along it
    double width_mm = 0, deepest_um = 0;
};
class SectionChart final : public Instrument {
    Q_OBJECT
public:
    explicit SectionChart(QWidget* parent = nullptr);
    void show_section(ReliefSection section);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    ReliefSection section_;
};

/// The greys of a picture with the points between which they become depth; both can be dragged, or moved by Left and
/// Right (the black point) and with Shift (the white point).
class GreyHistogram final : public Instrument {
    Q_OBJECT
public:
    explicit GreyHistogram(QWidget* parent = nullptr);
    /// `curve` of layers over grey, 0 to 1 each, from black to white.
    void show_greys(const GreyUse* use, double black, double white, std::vector<double> curve);

Q_SIGNALS:
    void black_asked(double grey);
    void white_asked(double grey);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void drag(double x);
    GreyUse use_;
    bool any_ = false, white_held_ = false;
    double black_ = 0, white_ = 1;
    std::vector<double> curve_;
};

} // namespace finch::app
