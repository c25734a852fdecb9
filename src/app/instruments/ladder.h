// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of a ladder: one logarithmic scale with the bands of what happens on this stock.
struct LadderView {
    struct Band {
        QString name;
        double from = 0, to = 0;
    };
    struct Film {
        double at = 0; ///< value on the scale
        Lab lab;
    };
    /// Shares of the effects at one value: `upto[i]` is the sum of the first i + 1 layers.
    struct Shared {
        double at = 0;
        std::vector<double> upto;
        bool operator==(const Shared&) const = default;
    };
    QString title, unit;
    double low = 0.01, high = 100; ///< ends of the scale
    double value = 1;
    double spread = 0;           ///< one standard deviation in ln units, drawn as a soft band
    std::optional<double> ghost; ///< the last saved recipe
    std::vector<Band> bands;     ///< rising: what is most likely
    std::vector<Shared> shared;  ///< rising: how likely everything is; drawn as soft borders
    std::vector<Film> film;      ///< rising; empty: no strip
};

void paint_ladder(QPainter& painter, const QRectF& box, const LadderView& view, const Theme& theme);
/// Value at a height of the ladder, for dragging.
[[nodiscard]] double ladder_value_at(const QRectF& box, const LadderView& view, double y);

class Ladder final : public Instrument {
    Q_OBJECT
public:
    explicit Ladder(const QString& name, QWidget* parent = nullptr);
    void show_view(LadderView view);
    [[nodiscard]] const LadderView& view() const { return view_; }
    [[nodiscard]] QSize sizeHint() const override { return {112, 248}; }

Q_SIGNALS:
    /// The operator asks for another value.
    void moved(double value);
    /// The operator asks why the value is what it is.
    void asked();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    LadderView view_;
};

} // namespace finch::app
