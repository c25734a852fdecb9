// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <vector>

namespace finch::app {

/// View data of a piece from the scrap bin: both faces, in mm from the upper left corner of each.
struct ScrapPicture {
    struct Mark {
        QRectF where;
        QString what;
        enum class Is { used, planned, shown } is = Is::used;
    };
    struct Face {
        QString name;
        double bare_cm2 = 0;
        QRectF largest; ///< bare rectangle; of no width where there is none
        std::vector<Mark> marks;
    };
    double width_mm = 0, height_mm = 0; ///< 0: no piece
    std::vector<Face> faces;
    QString words;
};

/// A piece of scrap to scale: what it carries, what is to come, and what is bare.
class ScrapView final : public Instrument {
    Q_OBJECT
public:
    explicit ScrapView(QWidget* parent = nullptr);
    void show_picture(ScrapPicture picture);
    [[nodiscard]] const ScrapPicture& picture() const { return picture_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    ScrapPicture picture_;
};

} // namespace finch::app
