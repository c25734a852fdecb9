// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// One row of a list of things that must be so, or that happened.
struct CheckRow {
    QString title, why;
    QString who;                     ///< and when, at the right
    std::optional<State> state = {}; ///< of what is known or answered
    bool box = false;                ///< a tick box stands before it
    QString button = {};             ///< what is done with it; empty: nothing
    bool heading = false;            ///< a line above a group
    QString key = {};                ///< by which it stays chosen when others come and go
};

/// Rows with what is known of them; Up and Down choose one, Space ticks it or presses its button.
class CheckList final : public Instrument {
    Q_OBJECT
public:
    CheckList(const QString& name, const QString& spoken, QWidget* parent = nullptr);
    void show_rows(std::vector<CheckRow> rows);
    [[nodiscard]] std::optional<std::size_t> chosen() const { return chosen_; }
    /// Where the button of a row is, for a menu.
    [[nodiscard]] QPoint below_button(std::size_t row) const;

Q_SIGNALS:
    /// A tick box or button was pressed.
    void pressed(std::size_t row);
    /// A row was chosen; its middle, for a scroll area.
    void chosen_at(int y);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    [[nodiscard]] bool presses(std::size_t row) const { return rows_[row].box || !rows_[row].button.isEmpty(); }
    [[nodiscard]] QRectF box_of(std::size_t row) const { return tops_.at(row); }
    [[nodiscard]] QRectF button_of(std::size_t row) const;
    void lay_out();
    void choose(std::size_t row);
    std::vector<CheckRow> rows_;
    std::vector<QRectF> tops_;
    std::optional<std::size_t> chosen_;
};

} // namespace finch::app
