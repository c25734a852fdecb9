// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/tool_step.h"

#include <array>
#include <QDialog>
#include <QImage>
#include <QWidget>

namespace finch::app {

/// A photograph with four rings on it that are dragged, or moved with the arrow keys, to the outer corners of the
/// square marks. Round the ring that is being moved the picture is shown larger.
class CornerPlacer final : public QWidget {
    Q_OBJECT
public:
    explicit CornerPlacer(QImage photo, QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override { return {760, 520}; }
    /// In pixels of the photograph: upper left, upper right, lower right, lower left of the sheet.
    [[nodiscard]] const std::array<PointMm, 4>& corners() const { return corners_; }
    void place(std::size_t corner, const PointMm& at);
    void choose(std::size_t corner);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF frame() const;
    [[nodiscard]] QPointF on_screen(const PointMm& p) const;
    void paint_loupe(QPainter& painter) const;

    QImage photo_;
    std::array<PointMm, 4> corners_;
    std::size_t chosen_ = 0;
};

/// Asks where the sheet lies in a photograph in which it was not found.
class CornersDialog final : public QDialog {
    Q_OBJECT
public:
    CornersDialog(const QImage& photo, const QString& trouble, QWidget* parent = nullptr);

Q_SIGNALS:
    void placed(const std::array<finch::PointMm, 4>& corners_px);

private:
    CornerPlacer* placer_;
};

} // namespace finch::app
