// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// One process judged: a column of the board.
struct JudgedColumn {
    QString label, group, bench; ///< group: over columns that stand side by side
    QString tally;               ///< "7/8"
    bool best = false;
    QString recipe, recipe_more;
    std::optional<Lab> look, around; ///< mark and its surroundings
    QString words, lightness;
    struct Row {
        State state = State::unknown;
        bool must = true;
        QString number, reason;
    };
    std::vector<Row> rows;
    std::optional<double> swing; ///< share of the bar, 0 to 1
    QString swing_text, tolerance, rests_on, sentence;
    bool sentence_warns = false;
};

struct BoardMeasures {
    static constexpr int column = 184, head = 152, row = 41, foot = 128;
    [[nodiscard]] static int height(std::size_t rows) { return head + row * static_cast<int>(rows) + foot; }
};

void paint_column(QPainter& painter, const QRectF& box, const JudgedColumn& column, const Theme& theme);

/// The columns side by side. A column is chosen by a click or with the arrow keys.
class JudgementBoard final : public Instrument {
    Q_OBJECT
public:
    explicit JudgementBoard(const QString& name, QWidget* parent = nullptr);
    void show_columns(std::vector<JudgedColumn> columns);
    [[nodiscard]] const std::vector<JudgedColumn>& columns() const { return columns_; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;
    /// What is cut off in a cell is told whole.
    bool event(QEvent* event) override;

private:
    std::vector<JudgedColumn> columns_;
};

/// What is wished, row by row beside the board.
struct WishLine {
    QString name, what;
    bool must = true;
};

class WishList final : public Instrument {
    Q_OBJECT
public:
    explicit WishList(const QString& name, QWidget* parent = nullptr);
    void show_lines(std::vector<WishLine> lines);
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    void toggled(int row);
    void edit_asked(int row);
    void remove_asked(int row);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void tell();
    std::vector<WishLine> lines_;
    int current_ = 0;
};

/// Abrasion against corrosion, both in classes 0 to 4 with one class either way.
struct WearPoint {
    QString name;
    double abrasion = 2, corrosion = 2;
};
class WearChart final : public Instrument {
    Q_OBJECT
public:
    explicit WearChart(const QString& name, QWidget* parent = nullptr);
    void show_points(std::vector<WearPoint> points, double need_abrasion, double need_corrosion);
    [[nodiscard]] QSize sizeHint() const override { return {460, 380}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<WearPoint> points_; ///< one for each place, with all its names
    double need_abrasion_ = 0, need_corrosion_ = 0;
};

} // namespace finch::app
