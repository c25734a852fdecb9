// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/stations/proof/proof_view.h"

#include <QCheckBox>
#include <QLineEdit>

namespace finch::app {

/// Thumbnails of the rounds with the reason for the next between them.
class RoundStrip final : public Instrument {
    Q_OBJECT
public:
    explicit RoundStrip(QWidget* parent = nullptr);
    void show_rounds(std::vector<RoundView> rounds);

Q_SIGNALS:
    void asked(int round);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] std::size_t first_shown() const;
    [[nodiscard]] double reason_width() const;
    std::vector<RoundView> rounds_;
};

/// View data of the ranking column.
struct RankingView {
    QString target_name;
    QString accept;
    std::optional<Lab> target, chosen;
    std::optional<DepthMark> depth; ///< where a depth is wanted; of the chosen cell
    QString chosen_name;
    struct Row {
        std::size_t cell = 0;
        QString name;
        Lab lab;
        double off = 0, uneven = 0, time_s = 0; ///< `off`: um of a depth, else CIEDE2000
        double um = 0;                          ///< measured
        bool passes = false;
        bool current = false;
    };
    std::vector<Row> rows;
    QString verdict;
};
[[nodiscard]] RankingView ranking_view(const Workbench& workbench, const std::vector<RankedCell>& ranking);

/// Target against chosen cell, and the cells in the order of their colour difference.
class RankingPanel final : public Instrument {
    Q_OBJECT
public:
    explicit RankingPanel(QWidget* parent = nullptr);
    void show_view(RankingView view);

Q_SIGNALS:
    void asked(std::size_t cell);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] std::size_t visible_rows() const;
    void paint_depth_head(QPainter& painter, const QRectF& mat) const;
    void paint_look_head(QPainter& painter, const QRectF& mat) const;
    RankingView view_;
};

/// The chosen cell: predicted, measured and target side by side, with what follows.
class CellPanel final : public Instrument {
    Q_OBJECT
public:
    explicit CellPanel(QWidget* parent = nullptr);
    void show_detail(std::optional<CellDetail> detail, const QString& hint);

Q_SIGNALS:
    void spoiled_ticked(bool spoiled);
    /// What was typed as the depth of the cell.
    void depth_typed(const QString& text);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QCheckBox* spoiled_;
    QLineEdit* depth_;
    std::optional<CellDetail> detail_;
    QString hint_;
};

/// Seconds per cell as bars laid out like the sheet: which cells eat the time.
class TimePanel final : public Instrument {
    Q_OBJECT
public:
    explicit TimePanel(QWidget* parent = nullptr)
        : Instrument(QStringLiteral("time_per_cell"), tr("Time per cell"), parent) {
        setMinimumHeight(132);
    }
    void show_times(const Workbench& workbench);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::size_t columns_ = 0;
    std::vector<double> seconds_;
    std::optional<std::size_t> chosen_;
    QString total_, slowest_, chosen_text_, share_;
};

} // namespace finch::app
