// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "quantity/plane.h"

#include <optional>
#include <QPainterPath>
#include <vector>

namespace finch::app {

/// How a drawing lies on the work, in mm, y up.
struct PlacePicture {
    struct Part {
        int number = 0;
        QRectF box;            ///< of a nest, tile or strip; y up, so its top is its lower edge
        PointMm by;            ///< of the marks in it
        bool shows_all = true; ///< else the marks are drawn once, and boxes lie over them
        QPainterPath own = {}; ///< marks that this part alone has
    };
    double width_mm = 0, height_mm = 0; ///< of all that is shown
    std::optional<QRectF> field;        ///< of the lens
    QPainterPath marks, guides;         ///< of one part, or of the whole drawing
    std::vector<Part> parts;
    bool numbered = true;
    std::optional<double> up_deg; ///< where the drawing's own up points, to the left from up
    QString words, empty;
};

class PlaceView final : public Instrument {
    Q_OBJECT
public:
    explicit PlaceView(QWidget* parent = nullptr);
    void show_picture(PlacePicture picture);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    PlacePicture picture_;
};

} // namespace finch::app
