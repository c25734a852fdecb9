// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/depth_rule.h"
#include "app/instruments/instrument.h"
#include "proof/reading.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of a proof sheet: cells as predicted, or predicted against measured.
struct SheetView {
    struct Cell {
        QString name;
        QString label; ///< what sets it apart, shown instead of the predicted distance
        CellFate fate = CellFate::marks;
        bool left_out = false;
        bool hidden = false;      ///< could not be read
        bool spoiled = false;     ///< ticked by the operator
        bool bare = false;        ///< a place of a frame that waits for a later round
        std::optional<Lab> other; ///< what another round left on this place of the frame
        std::optional<Lab> predicted;
        std::optional<Lab> measured;
        std::optional<double> predicted_de, measured_de;
        std::optional<DepthMark> depth; ///< where a depth is wanted instead of a look
        double risk = 0;                ///< share of the outcomes in which something else shows
        int rank = 0;                   ///< 1.. for the best, 0 = none
        QString tip;
    };
    struct Line {
        QString label;
        std::vector<LevelLine::Point> from, to;
    };
    std::size_t columns = 0, rows = 0;
    QString across_name, across_unit, down_name, down_unit;
    std::vector<QString> across_values, down_values;
    std::vector<Cell> cells;
    std::vector<Line> lines;
    QString lines_unit; ///< "pulses per mm²"
    std::optional<std::size_t> chosen;
    bool read = false;
};

/// Where the cells lie in a box: the same numbers for painting and for the mouse.
struct SheetGeometry {
    QRectF grid;
    double cell_w = 0, cell_h = 0, pitch_x = 0, pitch_y = 0;
    [[nodiscard]] QRectF cell(std::size_t column, std::size_t row) const;
};
[[nodiscard]] SheetGeometry sheet_geometry(const QRectF& box, const SheetView& view);
void paint_sheet(QPainter& painter, const QRectF& box, const SheetView& view, const Theme& theme);

class SheetWidget final : public Instrument {
    Q_OBJECT
public:
    explicit SheetWidget(const QString& name, QWidget* parent = nullptr);
    void show_view(SheetView view);
    [[nodiscard]] const SheetView& view() const { return view_; }
    /// Middle of a cell in widget coordinates.
    [[nodiscard]] QPoint cell_point(std::size_t cell) const;

Q_SIGNALS:
    void chosen(std::size_t cell);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] std::optional<std::size_t> cell_at(QPointF point) const;
    SheetView view_;
};

} // namespace finch::app
