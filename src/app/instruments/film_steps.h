// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <QDateTime>
#include <vector>

namespace finch::app {

/// A procedure beside one axis of time: what each step is, how long it takes with hands, waiting or beam, and what it
/// asks for.
struct FilmStepsPicture {
    enum class Stand { done, skipped, now, later };
    struct Span {
        enum class Kind { hands, wait, beam };
        Kind kind = Kind::hands;
        double minutes = 0;
    };
    struct Step {
        QString title, text, minutes, caution;
        Stand stand = Stand::later;
        double from_min = 0, to_min = 0;
        std::vector<Span> spans;                        ///< as planned
        std::optional<std::pair<double, double>> range; ///< when its end is to be looked for, min
    };
    std::vector<Step> steps;
    double now_min = 0;
    bool begun = false;
    QDateTime began; ///< of the axis, once begun
};

class FilmSteps final : public Instrument {
    Q_OBJECT
public:
    explicit FilmSteps(QWidget* parent = nullptr);
    void show_picture(FilmStepsPicture picture);
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    /// The step at hand was done, says somebody (Space).
    void done_asked();

protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void paint_step(QPainter& painter, std::size_t i, double left, double per_min) const;
    void paint_caution(QPainter& painter, std::size_t i, double left, double per_min) const;
    FilmStepsPicture picture_;
};

} // namespace finch::app
