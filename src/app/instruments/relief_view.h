// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "piece/relief.h"

#include <memory>
#include <optional>
#include <QImage>

namespace finch::app {

/// A relief part-way or done. Depths are um below the surface after 0, 1 .. layers.
struct ReliefPicture {
    std::shared_ptr<const ReliefMap> map; ///< none: `empty` is said
    std::vector<double> depth_um;
    int layers_done = 0;
    QString empty;
};
/// A relief on so many screen pixels, row by row from the top.
struct ScreenRelief {
    QSize size;
    std::vector<float> depth_um;
    float deepest_um = 1;
    double pixel_um = 1; ///< of the part, that a screen pixel covers
};
[[nodiscard]] ScreenRelief screen_relief(const ReliefPicture& picture, QSize size);
/// Lit from `light_deg` (0 = from the right, to the left about) and as if it were `steeper` times as deep.
[[nodiscard]] QImage lit_relief(const ScreenRelief& relief, double light_deg, double steeper);
/// How much steeper a relief is drawn so that its slopes are seen.
[[nodiscard]] double shown_steeper(const ReliefPicture& picture);

/// The relief with rulers in mm; its light, the section line and what lies between can be dragged. Left and Right turn
/// the light, Up and Down move the section.
class ReliefView final : public Instrument {
    Q_OBJECT
public:
    explicit ReliefView(QWidget* parent = nullptr);
    void show_picture(ReliefPicture picture);
    [[nodiscard]] double light_deg() const { return light_deg_; }
    /// Row of the map under the section line.
    [[nodiscard]] int section_row() const;

Q_SIGNALS:
    void section_moved();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Drag { nothing, light, section };
    [[nodiscard]] QRectF box() const;
    [[nodiscard]] QPointF compass() const;
    void drag(QPointF to);
    void tell();

    ReliefPicture picture_;
    ScreenRelief on_screen_; ///< kept while nothing but light and section move
    QImage image_;           ///< kept while nothing but the section moves
    double light_deg_ = 135, section_ = 0.5, imaged_light_ = -1;
    Drag drag_ = Drag::nothing;
};

/// How far a relief is: a wedge of depth over its layers with what is seen from when on, and a pointer that can be
/// dragged or moved by the arrow keys.
struct LayerProgress {
    std::vector<double> depth_um; ///< after 0, 1 .. layers
    int layers_done = 0;
    struct Stage {
        double layer = 0;
        QString name;
    };
    std::vector<Stage> stages;
    QString words;
};
class LayerScrubber final : public Instrument {
    Q_OBJECT
public:
    explicit LayerScrubber(QWidget* parent = nullptr);
    void show_progress(LayerProgress progress);

Q_SIGNALS:
    void asked(int layers_done);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void ask_at(double x);
    LayerProgress progress_;
};

} // namespace finch::app
