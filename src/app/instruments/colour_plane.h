// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of a palette in the a* b* plane of CIELAB.
struct ColourPlaneView {
    struct Dot {
        Lab lab;
        QString tip;
        bool named = false; ///< larger: one of those that are listed
    };
    struct Path {
        double nm = 0;
        Lab lab;
        bool reached = false;
    };
    struct Wanted {
        QString label;
        Lab lab;
        std::optional<std::size_t> nearest; ///< dot that comes nearest
        bool met = false;
    };
    std::vector<Dot> dots; ///< thin films first
    std::vector<Path> path;
    std::vector<Wanted> wanted;
    std::optional<std::size_t> chosen;
    QString empty; ///< what to say when there is nothing
};

/// Equal scales on both axes, wide enough for all that is shown.
struct PlaneGeometry {
    QRectF box;
    double a_mid = 0, b_mid = 0, scale = 1; ///< pixels per unit
    [[nodiscard]] QPointF at(const Lab& lab) const {
        return {box.center().x() + (lab.a - a_mid) * scale, box.center().y() - (lab.b - b_mid) * scale};
    }
};
[[nodiscard]] PlaneGeometry plane_geometry(const QRectF& box, const ColourPlaneView& view);
void paint_colour_plane(QPainter& painter, const QRectF& box, const ColourPlaneView& view, const Theme& theme);

class ColourPlane final : public Instrument {
    Q_OBJECT
public:
    explicit ColourPlane(const QString& name, QWidget* parent = nullptr);
    void show_view(ColourPlaneView view);
    [[nodiscard]] const ColourPlaneView& view() const { return view_; }
    [[nodiscard]] QPoint dot_point(std::size_t dot) const;

Q_SIGNALS:
    void chosen(std::size_t dot);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] QRectF box() const { return QRectF(rect()); }
    [[nodiscard]] std::optional<std::size_t> dot_at(QPointF point) const;
    ColourPlaneView view_;
};

} // namespace finch::app
