// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "physics/patch.h"

#include <memory>
#include <QImage>

namespace finch::app {

/// View data of the simulated surface: heights lit from the side, or the corner of a film.
struct SurfaceView {
    std::shared_ptr<const PatchResult> patch; ///< of removed metal
    std::vector<Lab> corner;                  ///< of a film: colour from outside the fill to its inside
    double corner_um = 100;                   ///< length that the list covers
    Lab tone;                                 ///< of the lit metal
    QString words;
};

/// Heights as a picture lit from the upper left. Grey keeps to the tone of the metal.
[[nodiscard]] QImage lit_surface(const SurfacePatch& surface, const Lab& tone);
void paint_surface(QPainter& painter, const QRectF& box, const SurfaceView& view, const Theme& theme);

class SurfaceWidget final : public Instrument {
    Q_OBJECT
public:
    explicit SurfaceWidget(const QString& name, QWidget* parent = nullptr);
    void show_view(SurfaceView view);
    [[nodiscard]] const SurfaceView& view() const { return view_; }
    [[nodiscard]] QSize sizeHint() const override { return {150, 150}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    SurfaceView view_;
};

} // namespace finch::app
