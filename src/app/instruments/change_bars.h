// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// View data of a table of changes: every share on one logarithmic scale about "the same".
struct ChangeBarsView {
    struct Cell {
        QString text;
        std::optional<double> ratio = std::nullopt; ///< new over old; empty: a text alone
    };
    struct Row {
        QString name, note; ///< what is changed, and what that does
        std::optional<State> state = std::nullopt;
        std::vector<Cell> cells; ///< one for each column; may be fewer
    };
    QStringList columns;
    std::vector<Row> rows;
    double reach = 1.5;        ///< a bar of full length is this factor, or one part in it
    double name_width = 190;   ///< px
    double column_width = 100; ///< px
    bool note_beside = false;  ///< behind the columns instead of below the name
    bool compact = false;      ///< lower rows, for names without notes
    bool choosable = false;    ///< a row can be pointed at
    int chosen = 0;

    [[nodiscard]] int row_height() const { return note_beside || compact ? 36 : 46; }
    [[nodiscard]] int height() const;
    [[nodiscard]] int width() const;
    /// The row under a height, or -1.
    [[nodiscard]] int row_at(double y) const;
};

void paint_change_bars(QPainter& painter, const QRectF& box, const ChangeBarsView& view, const Theme& theme);
/// "same", "+10 %", "−33 %", "× 4.1": how a ratio is said.
[[nodiscard]] QString ratio_words(double ratio);

/// What is kept and what changes, drawn. With rows that can be chosen: arrows or a click move, Enter or a double click
/// takes.
class ChangeBars final : public Instrument {
    Q_OBJECT
public:
    explicit ChangeBars(const QString& name, QWidget* parent = nullptr);
    void show_view(ChangeBarsView view);
    [[nodiscard]] const ChangeBarsView& view() const { return view_; }
    [[nodiscard]] QSize sizeHint() const override { return {view_.width(), view_.height()}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

Q_SIGNALS:
    void chosen(int row);
    void taken(int row);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void choose(int row);
    void describe();
    ChangeBarsView view_;
};

} // namespace finch::app
