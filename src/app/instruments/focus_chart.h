// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <vector>

namespace finch::app {

/// View data of a read focus ladder. Offsets in mm, + = lens raised.
struct FocusChartView {
    struct Mark {
        double offset = 0;
        Lab lab;
        double apart_de = 0;   ///< from the look at the best focus
        bool far_side = false; ///< on the right half of the sheet
        bool doubtful = false;
    };
    struct Look {
        double off = 0, apart_de = 0; ///< by distance from the best focus
    };
    std::vector<Mark> marks;
    std::vector<Look> looks;
    double from = -1, to = 1; ///< of the ladder
    double best = 0, spread = 0;
    double near_best = 0, far_best = 0; ///< of the left and the right marks
    bool sides = false;                 ///< whether left and right are told apart
    double holds = 0, accept_de = 3;
    double spot_um = 50, rayleigh_mm = 1;
    QString empty; ///< said where there is nothing to show
};

/// A focus ladder over one scale of offsets: the marks as they were read, how far each is from the look at the best
/// focus, and the beam.
class FocusChart final : public Instrument {
    Q_OBJECT
public:
    explicit FocusChart(const QString& name, QWidget* parent = nullptr);
    void show_view(FocusChartView view);
    [[nodiscard]] const FocusChartView& view() const { return view_; }
    [[nodiscard]] QSize sizeHint() const override { return {640, 420}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    FocusChartView view_;
};

/// View data of the best focus over the field.
struct FieldMapView {
    struct Place {
        double x = 0, y = 0; ///< -1 to 1 over the field
        double best = 0;     ///< against the middle, mm
    };
    struct Dot {
        double x = 0, y = 0;
        Lab lab;
    };
    std::vector<Place> places; ///< nine; empty: tilt is not known
    std::vector<Dot> dots;     ///< the marks
    double field_mm = 110;
    QString note; ///< said where there are no places
};

/// The field seen from above: where the marks lie, and how much higher or lower the best focus is there.
class FieldMap final : public Instrument {
    Q_OBJECT
public:
    explicit FieldMap(const QString& name, QWidget* parent = nullptr);
    void show_view(FieldMapView view);
    [[nodiscard]] const FieldMapView& view() const { return view_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    FieldMapView view_;
};

} // namespace finch::app
