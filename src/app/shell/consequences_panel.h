// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/shell/consequences_view.h"

#include <QTimer>

namespace finch::app {

/// Rows of numbers, each of which opens its "why".
class NumberList final : public Instrument {
    Q_OBJECT
public:
    explicit NumberList(QWidget* parent = nullptr);
    void show_lines(std::vector<NumberLine> lines);
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    void asked(finch::Quantity quantity, const QPoint& global);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::vector<NumberLine> lines_;
    int current_ = 0;
};

/// The right-hand panel: what the recipe set now will do.
class ConsequencesPanel final : public QWidget {
    Q_OBJECT
public:
    explicit ConsequencesPanel(Workbench& workbench, QWidget* parent = nullptr);
    void set_folded(bool folded);
    [[nodiscard]] bool folded() const { return folded_; }
    /// Recomputes and repaints now; used by the benchmark of one knob move.
    void refresh();
    void explain_quantity(Quantity quantity, const QPoint& global);

Q_SIGNALS:
    void fold_asked();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void arrange();
    [[nodiscard]] int numbers_top() const;

    Workbench& workbench_;
    ConsequencesView view_;
    Ladder* dose_;
    Ladder* fluence_;
    PulseStamp* stamp_;
    Swatch* swatch_;
    NumberList* numbers_;
    int tilt_ = 6;
    bool folded_ = false;
};

/// A small window with the explanation of a number, closed by a click anywhere.
void show_explanation(QWidget* parent, const Explanation& explanation, const QPoint& global);

} // namespace finch::app
