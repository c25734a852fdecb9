// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <array>
#include <optional>

namespace finch::app {

inline constexpr std::size_t tilt_steps = 13; ///< 0, 5 .. 60 degrees

/// Predicted colour with its band, and how it shifts with the viewing angle.
struct SwatchView {
    bool valid = true;            ///< false: removed or molten, no colour is shown
    QString reason;               ///< why not, in words
    std::optional<Lab> flat;      ///< the look that stands in for it
    Lab thinner, middle, thicker; ///< at the tilt chosen
    std::array<Lab, tilt_steps> tilt;
    int tilt_index = 0;
    QString spread; ///< "10 % film"
};

void paint_swatch(QPainter& painter, const QRectF& box, const SwatchView& view, const Theme& theme);

class Swatch final : public Instrument {
    Q_OBJECT
public:
    explicit Swatch(const QString& name, QWidget* parent = nullptr);
    void show_view(const SwatchView& view);
    [[nodiscard]] QSize sizeHint() const override { return {240, 146}; }

Q_SIGNALS:
    void tilted(int index);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void tilt_to(double x);
    SwatchView view_;
};

/// A flat patch on the neutral mat.
void paint_patch(QPainter& painter, const QRectF& box, const QColor& colour, const Theme& theme, double margin = 8);

} // namespace finch::app
