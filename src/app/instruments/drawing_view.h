// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <QPainterPath>
#include <QPolygonF>
#include <vector>

namespace finch::app {

/// Layers are told apart by what fills them, the same on drawing, list and time bar; never by colour.
inline constexpr int layer_textures = 6;
/// Fills a path with a texture of its own; a guide is a dashed line and empty.
void paint_texture(QPainter& painter, const QPainterPath& path, int texture, bool guide, const Theme& theme);
/// What a texture is called: "lines", "dense diagonal".
[[nodiscard]] QString texture_name(int texture, bool guide);

/// A drawing in the field of the lens. Places are mm on the page, y up.
struct DrawingPicture {
    struct Layer {
        QPainterPath area;
        QString name;
        int texture = 0;
        bool guide = false, chosen = false;
    };
    struct Mark {
        QPointF at;
        State state = State::warn;
        bool chosen = false;
    };
    double field_mm = 100, width_mm = 0, height_mm = 0;
    std::vector<Layer> layers; ///< in the order of marking
    std::vector<Mark> marks;   ///< ringed
    bool close_up = false;     ///< the page fills the view instead of the field
    QString empty;             ///< what to do where there is no drawing
};

/// The field, the page in its middle, the layers and what is ringed on them.
class DrawingView final : public Instrument {
    Q_OBJECT
public:
    explicit DrawingView(QWidget* parent = nullptr, const QString& name = QStringLiteral("drawing"));
    void show_picture(DrawingPicture picture);
    /// From now on, or no longer, the pointer draws a line round something.
    void set_drawing_round(bool on);
    [[nodiscard]] bool drawing_round() const { return drawing_round_; }

Q_SIGNALS:
    void layer_asked(std::size_t layer);
    void mark_asked(std::size_t mark);
    /// Dragged with the button held, by so much on the page; after layer_asked() of what was pressed.
    void dragged(const QPointF& by_mm);
    /// A line was drawn round something, on the page.
    void drawn_round(const QPolygonF& line_mm);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    [[nodiscard]] QRectF field_box() const;
    [[nodiscard]] QTransform to_screen() const;
    DrawingPicture picture_;
    QPointF held_; ///< where the pointer was last
    bool drawing_round_ = false;
    QPolygonF round_; ///< that is being drawn, on the screen
};

/// The lines of a layer as they lie at one place, under a lens.
struct LensPicture {
    QPainterPath area;               ///< near the place, mm
    std::vector<QLineF> runs;        ///< near the place, mm
    std::vector<QLineF> before = {}; ///< of earlier passes, fainter
    QPointF at;
    double across_mm = 1; ///< what the lens shows
    double spot_mm = 0;   ///< ring; 0 = none
    QString words;        ///< under it
};
class HatchLens final : public Instrument {
    Q_OBJECT
public:
    explicit HatchLens(QWidget* parent = nullptr, const QString& name = QStringLiteral("hatch_lens"));
    void show_picture(std::optional<LensPicture> picture);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<LensPicture> picture_;
};

} // namespace finch::app
