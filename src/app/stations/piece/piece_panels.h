// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/scrolled.h"
#include "app/stations/piece/piece_view.h"

class QDoubleSpinBox;
class QGridLayout;

namespace finch::app {

/// Layers in the order of marking. Up and down choose, Alt with them moves, Delete makes a guide of one.
class LayerList final : public Instrument {
    Q_OBJECT
public:
    explicit LayerList(QWidget* parent = nullptr);
    void show_rows(std::vector<LayerRowView> rows);

Q_SIGNALS:
    void asked(std::size_t row);
    void move_asked(int by);
    void guide_asked();
    void fill_asked();
    void recipe_asked();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::vector<LayerRowView> rows_;
};

/// What is to be known of the drawing. Those that have a place are shown on it.
class FindingList final : public Instrument {
    Q_OBJECT
public:
    explicit FindingList(QWidget* parent = nullptr);
    void show_rows(std::vector<FindingRowView> rows);

Q_SIGNALS:
    void asked(std::size_t row);
    void other_asked(); ///< the chosen one is to be the other way

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::vector<FindingRowView> rows_;
};

/// A number with its unit, and its label left of it, or what stands for one, in the next row of a grid.
struct NumberField {
    QString name, label, unit;
    double low = 0, high = 0, value = 0;
    int decimals = 2;
};
QDoubleSpinBox* add_number(QGridLayout* grid, const NumberField& field, QWidget* parent, QWidget* label = nullptr);

} // namespace finch::app
