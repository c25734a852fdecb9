// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of the named colours of a palette.
struct SwatchListView {
    struct Row {
        std::size_t colour = 0; ///< among the palette's
        QString name, holds, repeat;
        Lab lab;
        std::vector<Lab> tilt;
        double holds_share = 0; ///< of the tilt strip
        bool shaky = false;     ///< repeats worse than is accepted
        bool current = false;
    };
    std::vector<Row> rows;
    QString of; ///< "of 48 cells"
};

/// Named colours with their tilt, thin films first.
class SwatchList final : public Instrument {
    Q_OBJECT
public:
    explicit SwatchList(QWidget* parent = nullptr);
    void show_view(SwatchListView view);
    [[nodiscard]] QPoint row_point(std::size_t row) const;

Q_SIGNALS:
    void asked(std::size_t colour);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] std::size_t visible_rows() const;
    SwatchListView view_;
};

/// View data of the colours that a design asks for.
struct WantedView {
    struct Box {
        QString label, name, short_by, holds, next;
        Lab wanted;
        std::optional<Lab> reached;
        bool met = false;
        bool current = false;
    };
    std::vector<Box> boxes;
    QString accept;
};

/// Wanted against reached, side by side.
class WantedRow final : public Instrument {
    Q_OBJECT
public:
    explicit WantedRow(QWidget* parent = nullptr);
    void show_view(WantedView view);
    [[nodiscard]] QPoint box_point(std::size_t box) const;

Q_SIGNALS:
    void asked(std::size_t box);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF box_of(std::size_t box) const;
    WantedView view_;
};

} // namespace finch::app
