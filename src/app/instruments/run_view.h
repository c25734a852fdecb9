// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "quantity/plane.h"

#include <optional>
#include <QPainterPath>
#include <vector>

namespace finch::app {

/// The bench as a run finds and leaves it, in mm, y up.
struct RunPicture {
    enum class Stand { waits, now, done, aside };
    struct Part {
        int number = 0;
        QRectF box;      ///< y up, so its top is its lower edge
        PointMm by;      ///< of the marks
        bool own = true; ///< has the marks; else they are drawn once, and boxes lie over them
        Stand stand = Stand::waits;
        double share = 0; ///< of it that is marked
        QPainterPath only = {};
    };
    double width_mm = 0, height_mm = 0;
    std::optional<QRectF> field, frame;
    QPainterPath marks, guides;
    std::vector<Part> parts;
    QString part_word; ///< "nest"
    bool numbered = false;
    std::optional<std::size_t> chosen;
    QString words, empty;
};

/// Parts on the bench with how each stands. Arrows walk over them; Delete asks to set one aside, or to bring it back.
class RunView final : public Instrument {
    Q_OBJECT
public:
    explicit RunView(QWidget* parent = nullptr);
    void show_picture(RunPicture picture);

Q_SIGNALS:
    void part_asked(std::size_t part);
    void aside_asked();
    /// Space: the beam off.
    void hold_asked();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QTransform to_screen() const;
    RunPicture picture_;
};

/// What a run takes, in the order of marking: what is done, and where it is.
struct RunBarPicture {
    struct Span {
        double seconds = 0, done_s = 0;
        QString name;
        bool now = false;
    };
    std::vector<Span> spans;
    QString words;
};
class RunBar final : public Instrument {
    Q_OBJECT
public:
    explicit RunBar(QWidget* parent = nullptr);
    void show_picture(RunBarPicture picture);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    RunBarPicture picture_;
};

} // namespace finch::app
