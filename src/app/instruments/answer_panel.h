// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/state.h"
#include "physics/colour.h"

#include <optional>
#include <vector>

namespace finch::app {

/// One measure over what was varied.
struct AnswerPlot {
    struct Span {
        double at = 0, from = 0, to = 0;
    };
    struct Dot {
        double x = 0, y = 0;
        std::optional<Lab> colour; ///< as read; none: the series' own
        bool chosen = false;
    };
    QString name; ///< what rises upwards, with its unit
    double low = 0, high = 1;
    std::optional<double> passes_to; ///< up to which it passes
    std::vector<Dot> dots;
    std::optional<Span> found = {}; ///< on the scale, with how surely
    bool joined = true;             ///< dots follow one another; else each is for itself
};

/// View data of a sheet that asked one question over one scale.
struct AnswerView {
    QString title, x_name;
    bool by_ratio = false; ///< equal ratios are equally far apart
    double x_low = 0, x_high = 1;
    std::vector<double> ticks;
    std::vector<AnswerPlot> plots;
    State state = State::unknown;
    QString words; ///< the answer, or why there is none yet
};

/// One or two plots over a scale, what was found on it, and the answer in words.
class AnswerPanel final : public Instrument {
    Q_OBJECT
public:
    explicit AnswerPanel(QWidget* parent = nullptr);
    void show_view(AnswerView view);
    [[nodiscard]] const AnswerView& view() const { return view_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    [[nodiscard]] double x_of(double value) const;
    void paint_plot(QPainter& painter, const QRectF& box, const AnswerPlot& plot) const;
    AnswerView view_;
};

} // namespace finch::app
