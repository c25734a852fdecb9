// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "recipe/regime_map.h"

#include <memory>
#include <QImage>
#include <QPixmap>

namespace finch::app {

/// View data of a regime map: what happens over two knobs, and where the recipe stands.
struct RegimeMapView {
    std::shared_ptr<const RegimeMap> map; ///< none yet: an empty field
    QString across_name, across_unit, down_name, down_unit;
    double x = 0.5, y = 0.5; ///< shares: the recipe
    struct Dot {
        double x = 0, y = 0;
        Lab lab;
    };
    std::vector<Dot> tested; ///< measured cells
    bool finished = false;
    bool removal_wanted = false; ///< removing is what the recipe is for, not what spoils it
    QString here;                ///< what happens at the cross hair, in words
};

/// Outcomes, borders and lines of a map; then what moves over it. Both need a map.
void paint_map_ground(QPainter& painter, const QRectF& box, const RegimeMapView& view, const Theme& theme);
void paint_map_places(QPainter& painter, const QRectF& box, const RegimeMapView& view, const Theme& theme);
/// What the solid lines show: equal depth where much of the map cuts, else equal pulses.
[[nodiscard]] MapField solid_field(const RegimeMap& map);
/// Where the field itself lies inside the box.
[[nodiscard]] QRectF regime_field(const QRectF& box);

class RegimeMapWidget final : public Instrument {
    Q_OBJECT
public:
    explicit RegimeMapWidget(const QString& name, QWidget* parent = nullptr);
    void show_view(RegimeMapView view);
    [[nodiscard]] const RegimeMapView& view() const { return view_; }
    [[nodiscard]] QSize sizeHint() const override { return {440, 330}; }

Q_SIGNALS:
    /// The operator asks for other values, as shares of the axes.
    void moved(double x, double y);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// What the painted ground depends on.
    struct Ground {
        std::shared_ptr<const RegimeMap> map;
        bool finished = false, removal_wanted = false;
        QSize size;
        double scale = 1;
        const Theme* theme = nullptr;
        bool operator==(const Ground&) const = default;
    };
    void go_to(QPointF at);
    RegimeMapView view_;
    Ground ground_;
    QPixmap ground_picture_;
};

} // namespace finch::app
