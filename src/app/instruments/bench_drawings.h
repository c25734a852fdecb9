// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "bench/setup.h"
#include "physics/pulse.h"

#include <functional>

namespace finch::app {

/// Pulse energy over frequency with the source's limits, and the recipe as a dot.
struct SourceView {
    Source source;
    Setting setting;
};
void paint_source(QPainter& painter, const QRectF& box, const SourceView& view, const Theme& theme);

/// The square field from above with the longest bar that fits, turned, and the zone of the largest sheet.
struct FieldView {
    double field_mm = 100;
    double sheet_w_mm = 0, sheet_h_mm = 0; ///< the shown proof sheet, 0 = none
    LongestPart longest;
    double bar_mm = 12;
};
void paint_field(QPainter& painter, const QRectF& box, const FieldView& view, const Theme& theme);

/// Lens, working distance and stock on its support, from the side; a circle shows the surface ten times as large.
struct StockSideView {
    double working_distance_mm = 200;
    double thickness_mm = 2;
    double surface_error_mm = 0; ///< - = nearer the lens
    QString under_it;
};
void paint_stock_side(QPainter& painter, const QRectF& box, const StockSideView& view, const Theme& theme);

/// The beam round its waist with the confirmed surface and where the surface is now.
struct CausticView {
    BeamWaist waist;
    double offset_mm = 0; ///< wanted
    double surface_error_mm = 0;
    double tolerance_mm = 0; ///< offset at which the spot has grown by a tenth
    QString confirmed;       ///< "09:12", empty = never
    bool stale = false;
};
void paint_caustic(QPainter& painter, const QRectF& box, const CausticView& view, const Theme& theme);

/// A widget for any of these: holds a paint function over its view data.
class Drawing final : public Instrument {
    Q_OBJECT
public:
    using Paint = std::function<void(QPainter&, const QRectF&, const Theme&)>;
    Drawing(const QString& name, const QString& spoken, QWidget* parent = nullptr) : Instrument(name, spoken, parent) {}
    void show_drawing(Paint paint, const QString& description) {
        paint_ = std::move(paint);
        speak(description);
        setToolTip(description);
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        if (paint_)
            paint_(painter, QRectF(rect()), theme());
    }

private:
    Paint paint_;
};

} // namespace finch::app
