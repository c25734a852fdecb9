// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <QDialog>
#include <vector>

namespace finch::app {

/// One part of a screen that a newcomer is shown.
struct GuidePart {
    QString object; ///< name of the widget; a part that is not to be seen is left out
    QString name;
    QString words; ///< one sentence
};

/// A picture of the window as it is now, with its parts ringed and numbered.
class GuidePicture final : public Instrument {
public:
    struct Ring {
        QRectF box; ///< in the window's own pixels
        QString name;
    };
    GuidePicture(const QPixmap& picture, std::vector<Ring> rings, QWidget* parent = nullptr);
    [[nodiscard]] const std::vector<Ring>& rings() const { return rings_; }
    [[nodiscard]] QSize sizeHint() const override { return {760, 480}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QPixmap picture_;
    std::vector<Ring> rings_;
};

/// What F1 shows: the station, its parts by number, and the cautions.
class GuideDialog final : public QDialog {
public:
    /// `shown` is what the picture is taken of; the parts are looked for in it.
    GuideDialog(QWidget& shown, const QString& title, const QString& what_for, const std::vector<GuidePart>& parts,
                QWidget* parent);
};

/// What every station has: the bench line, the consequences, the line below.
[[nodiscard]] std::vector<GuidePart> common_parts();

} // namespace finch::app
